import { addressBits, formatPrefix, sizeOfLength } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { addOperation, asProposed, applyOperations, byId, newId, withFallbacks } from '../plan/index.js';
import type { Cluster, Operation, Plan, Profile, Site, Subnet } from '../plan/index.js';
import { bitsFor, isFromSubnet, rangesNeeded, sizingOf, subnetZones } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import { starterOperations } from '../starter/index.js';
import type { StarterName } from '../starter/index.js';
import { FreeSpace } from './freeSpace.js';
import { PoolSpace } from './poolSpace.js';
import { propose } from './propose.js';

/** How large a new cluster is. Source: common practice; small is one control node and three workers in one zone. */
export interface SizePlan {
  readonly zones: number;
  readonly controlNodes: number;
  readonly workersNow: number;
  readonly workersHorizon: number;
  readonly services: number;
}

/** The size plans that ship. */
export const sizePlans = {
  small: { zones: 1, controlNodes: 1, workersNow: 3, workersHorizon: 6, services: 60 },
  medium: { zones: 3, controlNodes: 3, workersNow: 9, workersHorizon: 30, services: 200 },
  large: { zones: 3, controlNodes: 3, workersNow: 45, workersHorizon: 150, services: 800 },
} as const satisfies Record<string, SizePlan>;

/** The fields of a cluster that a size plan decides. A hosted control plane has no nodes of its own. */
export function sizeFields(
  size: SizePlan,
): Pick<Cluster, 'controlPlane' | 'controlNodes' | 'zoneCount' | 'nodesNow' | 'nodesHorizon' | 'services'> {
  return {
    controlPlane: size.controlNodes > 0 ? 'self-run' : 'hosted',
    controlNodes: Math.max(1, size.controlNodes),
    zoneCount: size.zones,
    nodesNow: size.workersNow,
    nodesHorizon: size.workersHorizon,
    services: size.services,
  };
}

/** What a cluster is for: it says which ways in its network gets. */
export type Workload = 'public' | 'internal' | 'batch';

/** Every workload with what it means. */
export const workloads: Readonly<Record<Workload, string>> = {
  public: 'Services for everyone: load balancers in public subnets',
  internal: 'Services for the own networks: load balancers in private subnets',
  batch: 'Jobs without callers: no load-balancer subnets',
};

/** What a quick start is asked for. */
export interface QuickStartRequest {
  /** The new cluster's name; network and subnets are named after it. */
  readonly name: string;
  readonly siteId: string;
  readonly size: SizePlan;
  readonly workload: Workload;
  readonly podMode: Cluster['podMode'];
  readonly podsPerNode: number;
  /** A starter for a site that is made with it, named by siteName; then siteId names none. */
  readonly starter?: StarterName;
  readonly siteName?: string;
}

/** A complete proposed network as a change that has not been made, or why there is none. */
export type QuickStart =
  | { readonly ok: true; readonly operations: readonly Operation[]; readonly notes: readonly string[] }
  | { readonly ok: false; readonly reason: string; readonly fix: string };

const ENTRY_LENGTH = 27;
const ENDPOINT_LENGTH = 27;
const NAT_LENGTH = 28;

/** A route table by its name and where its default route leads. */
interface Table {
  readonly name: string;
  readonly leads: 'nat' | 'internet' | 'nowhere';
  /** The zone whose main table it is; undefined for a table of certain subnets only. */
  readonly mainOf?: string;
}

interface Piece {
  readonly subnet: Omit<Subnet, 'id' | 'prefix' | 'networkId' | 'siteId' | 'routeTableId'>;
  readonly table: Table;
  readonly length: number;
  /** The need that the subnet serves, for node subnets. */
  readonly need: Need | undefined;
}

/**
 * Plans a network for one new cluster: an address block from the pools; in it private node subnets, load-balancer subnets,
 * a public subnet with a NAT device, one for endpoints; their route tables with default routes; pod and service ranges.
 */
export function quickStart(plan: Plan, request: QuickStartRequest): QuickStart {
  if (request.starter !== undefined) return quickStartAtNewSite(plan, request, request.starter);
  const site = byId(plan.sites, request.siteId);
  const profile = site === undefined ? undefined : byId(plan.profiles, site.profileId);
  if (site === undefined || profile === undefined)
    return { ok: false, reason: 'That site is not in the plan.', fix: 'Choose a site of this plan.' };
  const notes: string[] = [];
  noteZones(site, request, notes);
  const cluster = clusterOf(request, { site, profile }, notes);
  // The cluster is not in the plan yet; its site and profile are.
  const sizing = sizingOf(plan, cluster);
  const needs = rangesNeeded(sizing).filter(({ purpose }) => isFromSubnet(cluster, purpose));
  const pieces = piecesOf(request, subnetZones(sizing), needs, profile);
  const length = blockLength(pieces, needs, profile, notes);
  const placed = new PoolSpace(plan).place({
    clusterId: cluster.id,
    siteId: site.id,
    networkId: '',
    purpose: 'node',
    family: 4,
    length,
    roomLength: length,
    isInternal: false,
    isSubnet: false,
  });
  if (placed === undefined)
    return {
      ok: false,
      reason: `The network needs a /${length}, and no pool for node ranges at ${site.name} has one free.`,
      fix: 'Add a pool for node ranges, or choose a smaller size.',
    };
  return complete(plan, { request, site, cluster, needs, pieces, block: placed.prefix, notes });
}

/** The same where there is no site yet: a generic profile with its shapes, a site and pools come with it. */
function quickStartAtNewSite(
  plan: Plan,
  { starter: _, siteName = '', ...request }: QuickStartRequest,
  name: StarterName,
): QuickStart {
  const site = siteName.trim() === '' ? 'Main' : siteName.trim();
  const { operations, siteId } = starterOperations(plan, name, { site });
  const begun = applyOperations(plan, operations);
  if (!begun.ok) return { ok: false, reason: begun.problems[0]?.message ?? '', fix: begun.problems[0]?.fix ?? '' };
  const start = quickStart(begun.plan, { ...request, siteId });
  return start.ok ? { ...start, operations: [...operations, ...start.operations] } : start;
}

interface Parts {
  readonly request: QuickStartRequest;
  readonly site: Site;
  readonly cluster: Cluster;
  readonly needs: readonly Need[];
  readonly pieces: readonly Piece[];
  readonly block: Prefix;
  readonly notes: string[];
}

function complete(plan: Plan, { request, site, cluster, pieces, block, notes }: Parts): QuickStart {
  const space = FreeSpace.within(block);
  const operations: Operation[] = [
    addOperation(
      'networks',
      withFallbacks('networks', {
        id: cluster.networkId,
        name: request.name,
        note: workloads[request.workload],
        internetEgress: 'one nat',
      }),
    ),
    addOperation('blocks', { id: newId(), networkId: cluster.networkId, prefix: formatPrefix(block), note: '' }),
    addOperation('clusters', cluster),
  ];
  const tables = new RouteTables(cluster.networkId);
  for (const { subnet, length, need, table } of [...pieces].sort((a, b) => a.length - b.length)) {
    const prefix = space.take(length);
    if (prefix === undefined) {
      notes.push(`The subnet ${subnet.name} found no room in ${formatPrefix(block)}.`);
      continue;
    }
    const text = formatPrefix(prefix);
    const place = { id: newId(), networkId: cluster.networkId, siteId: site.id, prefix: text };
    operations.push(addOperation('subnets', { ...subnet, ...place, routeTableId: tables.idOf(table) }));
    if (subnet.delegatedTo === 'nat') tables.addDevice(subnet.name, place.id);
    if (need !== undefined)
      operations.push(
        addOperation(
          'allocations',
          withFallbacks('allocations', {
            id: newId(),
            clusterId: cluster.id,
            purpose: need.purpose,
            zone: need.zone,
            prefix: text,
          }),
        ),
      );
  }
  operations.push(...tables.operations());
  const begun = applyOperations(plan, operations);
  if (!begun.ok) {
    const [first] = begun.problems;
    return { ok: false, reason: first?.message ?? '', fix: first?.fix ?? '' };
  }
  const rest = propose(begun.plan, { clusterIds: [cluster.id] });
  const refusals = rest.refusals.map(({ reason, fix }) => `${reason} ${fix}`);
  return { ok: true, operations: [...operations, ...rest.operations], notes: [...notes, ...refusals] };
}

/** The route tables that a quick start's subnets name, and the NAT device they lead to. */
class RouteTables {
  private readonly ids = new Map<string, { readonly id: string; readonly table: Table }>();
  private device: { readonly id: string; readonly name: string; readonly subnetId: string } | undefined;

  constructor(private readonly networkId: string) {}

  idOf(table: Table): string {
    const known = this.ids.get(table.name);
    if (known !== undefined) return known.id;
    const id = newId();
    this.ids.set(table.name, { id, table });
    return id;
  }

  addDevice(name: string, subnetId: string): void {
    this.device = { id: newId(), name, subnetId };
  }

  operations(): Operation[] {
    const made: Operation[] = [];
    const { device } = this;
    for (const { id, table } of this.ids.values()) {
      made.push(
        addOperation(
          'routeTables',
          asProposed(
            'routeTables',
            withFallbacks('routeTables', {
              id,
              name: table.name,
              networkId: this.networkId,
              isMain: table.mainOf !== undefined,
              zone: table.mainOf ?? '',
            }),
          ),
        ),
      );
      if (table.leads === 'nowhere' || (table.leads === 'nat' && device === undefined)) continue;
      const hop = table.leads === 'nat' ? { natDeviceId: device?.id ?? null } : {};
      const route = { id: newId(), routeTableId: id, prefix: '0.0.0.0/0', nextHop: table.leads, ...hop } as const;
      made.push(addOperation('routes', asProposed('routes', withFallbacks('routes', route))));
    }
    return device === undefined
      ? made
      : [
          ...made,
          addOperation(
            'natDevices',
            asProposed('natDevices', withFallbacks('natDevices', { ...device, publicAddresses: [] })),
          ),
        ];
  }
}

/** Where the site has fewer zones than the size asks for, it is said. */
function noteZones(site: Site, { size }: QuickStartRequest, notes: string[]): void {
  if (size.zones > site.zones.length)
    notes.push(`${site.name} has ${site.zones.length} of the ${size.zones} zones that this size asks for.`);
}

function clusterOf(
  request: QuickStartRequest,
  { site, profile }: { readonly site: Site; readonly profile: Profile },
  notes: string[],
): Cluster {
  const { size, workload } = request;
  const podMode = request.podMode === 'native' && profile.nativeRule === 'none' ? 'overlay' : request.podMode;
  if (podMode !== request.podMode) notes.push(`${profile.name} offers no native pods, so the pods are in an overlay.`);
  return withFallbacks('clusters', {
    id: newId(),
    networkId: newId(),
    name: request.name,
    siteId: request.siteId,
    podMode,
    ...sizeFields(size),
    zoneCount: Math.min(size.zones, site.zones.length),
    apiEndpoint: 'private',
    podsPerNode: request.podsPerNode,
    surgePercent: workload === 'batch' ? 0 : 20,
    entryAddresses: 8,
  });
}

/** What a subnet has where nothing else is said. */
const SUBNET = { delegatedTo: '', isPublic: false, internetEgress: 'nat', gateway: null } as const;

function piecesOf(
  { name, workload }: QuickStartRequest,
  zones: readonly string[],
  needs: readonly Need[],
  profile: Profile,
): Piece[] {
  const fit = (length: number) => Math.min(profile.smallestSubnet, Math.max(profile.largestSubnet, length));
  const named = (what: string, zone: string) => [name, what, zone].filter((part) => part !== '').join('-');
  const privateIn = (zone: string): Table => ({ name: named('private', zone), leads: 'nat', mainOf: zone });
  const open: Table = { name: named('public', ''), leads: 'internet' };
  const [first = ''] = zones;
  const isPublic = workload === 'public';
  return [
    ...needs
      .filter(({ purpose, family }) => purpose === 'node' && family === 4)
      .map((need): Piece => ({
        subnet: {
          ...SUBNET,
          name: named('nodes', need.zone),
          purpose: 'node',
          zone: need.zone,
        },
        table: privateIn(need.zone),
        length: fit(need.length.value),
        need,
      })),
    ...(workload === 'batch' ? [] : zones).map((zone): Piece => ({
      subnet: {
        ...SUBNET,
        name: named('entry', zone),
        purpose: 'entry',
        zone,
        isPublic,
        internetEgress: isPublic ? 'direct' : 'nat',
      },
      table: isPublic ? open : privateIn(zone),
      length: fit(ENTRY_LENGTH),
      need: undefined,
    })),
    ...devicePieces(fit, named, open, first),
  ];
}

/** The subnets of the NAT device and of private endpoints, both in the first zone. */
function devicePieces(
  fit: (length: number) => number,
  named: (what: string, zone: string) => string,
  open: Table,
  first: string,
): Piece[] {
  return [
    {
      subnet: {
        ...SUBNET,
        name: named('nat', first),
        purpose: 'other',
        zone: first,
        delegatedTo: 'nat',
        isPublic: true,
        internetEgress: 'direct',
      },
      table: open,
      length: fit(NAT_LENGTH),
      need: undefined,
    },
    {
      subnet: {
        ...SUBNET,
        name: named('endpoints', first),
        purpose: 'endpoint',
        zone: first,
        internetEgress: 'none',
      },
      table: { name: named('endpoints', ''), leads: 'nowhere' },
      length: fit(ENDPOINT_LENGTH),
      need: undefined,
    },
  ];
}

/** The smallest block that holds the subnets and whatever else the cluster cuts from it, within what the provider makes. */
function blockLength(pieces: readonly Piece[], needs: readonly Need[], profile: Profile, notes: string[]): number {
  const own = needs.filter(({ family, purpose }) => family === 4 && purpose !== 'node');
  const sum = [...pieces.map(({ length }) => length), ...own.map(({ length }) => length.value)].reduce(
    (total, length) => total + Number(sizeOfLength(4, length)),
    0,
  );
  const wanted = addressBits(4) - bitsFor(sum);
  if (wanted < profile.largestBlock)
    notes.push(`${profile.name} makes blocks of a /${profile.largestBlock} at most; this network would fill more.`);
  return Math.min(profile.smallestBlock, Math.max(profile.largestBlock, wanted));
}
