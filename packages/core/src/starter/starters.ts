import { addOperation, applyOperations, emptyPlan, newId, withFallbacks } from '../plan/index.js';
import type { EntityOf, Kind, Operation, Plan, Profile } from '../plan/index.js';

/** The generic kinds of place that a plan can start from. */
export type StarterName = 'lan' | 'zonal' | 'regional';

/** A generic provider profile with machine shapes, said in a few words. */
export interface Starter {
  readonly label: string;
  readonly about: string;
  readonly profile: Partial<Omit<Profile, 'id'>> & Pick<Profile, 'name' | 'subnetScope'>;
  readonly siteKind: EntityOf['sites']['kind'];
  readonly zones: readonly string[];
  /** Name, vCPU, memory in GiB, interfaces, slots on each, pod cap, price per month. */
  readonly shapes: readonly (readonly [string, number, number, number, number, number, number])[];
}

/**
 * An invented price list: a hosted control plane, a load balancer, a NAT device, a gigabyte through it, a public
 * address, a gigabyte between zones, one that leaves.
 */
function prices(
  controlPlane: number,
  balancer: number,
  nat: number,
  natGb: number,
  address: number,
  zoneGb: number,
  egressGb: number,
) {
  return {
    priceControlPlane: controlPlane,
    priceBalancer: balancer,
    priceNat: nat,
    priceNatGb: natGb,
    priceAddress: address,
    priceZoneGb: zoneGb,
    priceEgressGb: egressGb,
  };
}

/**
 * Every starter. Sizes and quotas are usual ones of their kind (common practice, no source), prices are invented; all
 * are meant to be edited.
 */
export const starters: Readonly<Record<StarterName, Starter>> = {
  lan: {
    label: 'Plain LAN',
    about: 'your own data centre or edge: network and broadcast address reserved, subnets span the site',
    profile: {
      name: 'Plain LAN',
      reservedFirst: 1,
      reservedLast: 1,
      subnetScope: 'region',
      nativeRule: 'none',
      ...prices(0, 0, 0, 0, 0, 0, 0.02),
    },
    siteKind: 'data centre',
    zones: ['a'],
    shapes: [
      ['lan-8', 8, 32, 4, 15, 110, 90],
      ['lan-32', 32, 128, 8, 30, 250, 320],
    ],
  },
  zonal: {
    label: 'Zonal subnets',
    about: 'a cloud whose subnets each lie in one zone: five addresses reserved in each, native pods by prefixes',
    profile: {
      name: 'Zonal subnets',
      reservedFirst: 4,
      reservedLast: 1,
      subnetScope: 'zone',
      smallestSubnet: 28,
      largestSubnet: 16,
      smallestBlock: 28,
      largestBlock: 16,
      routesPerTable: 200,
      nativeRule: 'prefixes',
      warmSpare: 2,
      leastSurge: 1,
      ...prices(60, 20, 30, 0.03, 3, 0.008, 0.07),
    },
    siteKind: 'region',
    zones: ['a', 'b', 'c'],
    shapes: [
      ['zonal-4', 4, 16, 4, 15, 110, 110],
      ['zonal-16', 16, 64, 8, 30, 110, 420],
    ],
  },
  regional: {
    label: 'Regional subnets',
    about: 'a cloud whose subnets span a region: four addresses reserved in each, pods in an overlay or routed',
    profile: {
      name: 'Regional subnets',
      reservedFirst: 2,
      reservedLast: 2,
      subnetScope: 'region',
      smallestSubnet: 29,
      largestSubnet: 12,
      smallestBlock: 29,
      largestBlock: 12,
      routesPerTable: 250,
      nativeRule: 'none',
      leastSurge: 1,
      ...prices(55, 18, 28, 0.03, 3, 0.008, 0.07),
    },
    siteKind: 'region',
    zones: ['a', 'b', 'c'],
    shapes: [
      ['regional-4', 4, 16, 2, 15, 110, 105],
      ['regional-16', 16, 64, 8, 15, 110, 400],
    ],
  },
};

/** Private space (RFC 1918, RFC 6598) apart from what most use by default. */
const poolFields: readonly Omit<EntityOf['pools'], 'id'>[] = [
  { name: 'Nodes', prefix: '10.160.0.0/12', purposes: ['node', 'entry'], siteId: null, isShared: false },
  { name: 'Pods', prefix: '10.176.0.0/12', purposes: ['pod'], siteId: null, isShared: false },
  { name: 'Overlay pods', prefix: '100.80.0.0/12', purposes: ['pod'], siteId: null, isShared: true },
  { name: 'Services', prefix: '100.112.0.0/14', purposes: ['service'], siteId: null, isShared: true },
];

/** What a starter adds to a plan, and the ids of what others refer to. */
export interface Started {
  readonly operations: readonly Operation[];
  readonly profileId: string;
  readonly siteId: string;
  readonly networkId: string;
}

/** What parts of a starter are wanted. */
export interface StarterParts {
  /** Names of the first site and network; without them only the profile, its shapes and the pools come. */
  readonly site?: string;
  readonly network?: string;
}

/**
 * The change that adds a starter: profile and shapes, pools where the plan has none, and a site and network where they
 * are named. Names that are taken get a number.
 */
export function starterOperations(plan: Plan, name: StarterName, { site, network }: StarterParts = {}): Started {
  const { profile, siteKind, zones, shapes } = starters[name];
  const [profileId, siteId, networkId] = [newId(), newId(), newId()];
  const add = <K extends Kind>(kind: K, fields: Partial<EntityOf[K]>): Operation =>
    addOperation(kind, withFallbacks(kind, { id: newId(), ...fields }));
  const free = (kind: 'profiles' | 'shapes' | 'sites' | 'networks', wanted: string) => freeName(plan[kind], wanted);
  return {
    profileId,
    siteId,
    networkId,
    operations: [
      add('profiles', { ...profile, id: profileId, name: free('profiles', profile.name) }),
      ...shapes.map(([shape, vcpus, memoryGib, interfaces, slotsPerInterface, podCap, price]) =>
        add('shapes', {
          name: free('shapes', shape),
          profileId,
          vcpus,
          memoryGib,
          interfaces,
          slotsPerInterface,
          podCap,
          price,
        }),
      ),
      ...(site === undefined
        ? []
        : [add('sites', { id: siteId, name: free('sites', site), kind: siteKind, profileId, zones: [...zones] })]),
      ...(network === undefined ? [] : [add('networks', { id: networkId, name: free('networks', network) })]),
      ...(plan.pools.length === 0 ? poolFields.map((fields) => add('pools', fields)) : []),
    ],
  };
}

/** A new plan with a starter in it. */
export function starterPlan(name: string, starter: StarterName, parts: StarterParts): Plan {
  const empty = emptyPlan({ name });
  const applied = applyOperations(empty, starterOperations(empty, starter, parts).operations);
  if (!applied.ok) throw new Error(`starter ${starter}: ${applied.problems[0]?.message ?? ''}`);
  return applied.plan;
}

function freeName(taken: readonly { readonly name: string }[], wanted: string): string {
  const names = new Set(taken.map(({ name }) => name.toLowerCase()));
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} ${n}`;
    if (!names.has(name.toLowerCase())) return name;
  }
}
