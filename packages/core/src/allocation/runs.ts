import {
  addressFurther,
  addressValue,
  compareAddresses,
  containsAddress,
  formatAddress,
  lastAddress,
  overlaps,
  parseAddress,
} from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { byId, rangeOf, stretchOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan, Profile, Stretch } from '../plan/index.js';
import { expectGood } from '../result.js';
import { isFromSubnet } from '../sizing/index.js';
import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** Something that already holds addresses in a subnet. */
export interface Held extends Stretch {
  readonly what: string;
}

/** A place for a run, or why there is none. */
export type RunPlace =
  | { readonly ok: true; readonly first: string; readonly subnet: string }
  | { readonly ok: false; readonly reason: string; readonly mend: string };

/**
 * Addresses in a row that a self-run control plane needs: its nodes, one virtual address for the API, and one more for the
 * node that joins while an upgrade rolls. Source: common practice; three nodes need five.
 */
export function controlPlaneRun(nodes: number): Figure {
  const value = nodes + 2;
  return figure(value, 'addresses', () => ({
    title: 'Addresses in a row for the control plane',
    formula: 'control nodes + 1 virtual address + 1 for the rolling upgrade',
    inputs: [{ name: 'Control nodes', value: sayNumber(nodes) }],
    steps: [`${nodes} + 1 + 1 = ${value}`],
    result: `${value} addresses`,
    source: { mark: 'C', text: 'Common practice: three control nodes need five addresses in a row' },
  }));
}

/** The subnets of a cluster that runs can lie in: those for nodes and for entry. */
export function subnetsForRuns(cluster: Cluster, allocations: readonly Allocation[]): Allocation[] {
  return allocations.filter(
    ({ clusterId, purpose }) => clusterId === cluster.id && purpose !== 'pod' && isFromSubnet(cluster, purpose),
  );
}

/** What holds addresses in a subnet before a run is put there: the provider's reserved ones, other runs, ranges in use. */
export function heldInSubnet(
  plan: Pick<Plan, 'runs' | 'inUse'>,
  subnet: Prefix,
  profile: Profile,
  except?: string,
): Held[] {
  const end = lastAddress(subnet);
  const reserved: Held[] =
    subnet.family === 6
      ? [{ first: subnet, last: subnet, what: 'the subnet-router anycast address (RFC 4291 2.6.1)' }]
      : [
          {
            first: subnet,
            last: addressFurther(subnet, profile.reservedFirst - 1),
            what: `the first ${profile.reservedFirst} of the subnet, which ${profile.name} keeps`,
          },
          {
            first: addressFurther(end, 1 - profile.reservedLast),
            last: end,
            what: `the last ${profile.reservedLast} of the subnet, which ${profile.name} keeps`,
          },
        ];
  const runs = plan.runs
    .filter((run) => run.id !== except && expectGood(parseAddress(run.first)).family === subnet.family)
    .map((run): Held => ({ ...stretchOf(run), what: `the run ${run.name}` }))
    .filter(({ first, last }) => containsAddress(subnet, first) || containsAddress(subnet, last));
  const used = plan.inUse
    .filter((range) => rangeOf(range).length > subnet.length && overlaps(subnet, rangeOf(range)))
    .map((range): Held => ({ first: rangeOf(range), last: lastAddress(rangeOf(range)), what: range.owner }));
  return [...reserved, ...runs, ...used];
}

/** The lowest place in a cluster's subnets where this many addresses in a row are free. */
export function placeRun(plan: Plan, clusterId: string, count: number): RunPlace {
  const cluster = byId(plan.clusters, clusterId);
  const site = cluster === undefined ? undefined : byId(plan.sites, cluster.siteId);
  const profile = site === undefined ? undefined : byId(plan.profiles, site.profileId);
  const subnets = cluster === undefined ? [] : subnetsForRuns(cluster, plan.allocations);
  if (profile === undefined || subnets.length === 0)
    return { ok: false, reason: 'The cluster has no node or entry range yet.', mend: 'Allocate its ranges first.' };
  let longest = 0n;
  for (const subnet of subnets.map(rangeOf)) {
    const end = addressValue(lastAddress(subnet));
    let from: Address = subnet;
    const held = heldInSubnet(plan, subnet, profile).sort((a, b) => compareAddresses(a.first, b.first));
    for (const each of [...held, undefined]) {
      const free = (each === undefined ? end + 1n : addressValue(each.first)) - addressValue(from);
      if (free >= BigInt(count))
        return {
          ok: true,
          first: formatAddress(from),
          subnet: subnets.find((each) => rangeOf(each) === subnet)?.prefix ?? '',
        };
      if (free > longest) longest = free;
      if (each !== undefined && compareAddresses(each.last, from) >= 0) from = addressFurther(each.last, 1);
    }
  }
  return {
    ok: false,
    reason: `No ${count} addresses in a row are free; the longest run has ${longest}.`,
    mend: 'Ask for fewer, or enlarge the node range.',
  };
}
