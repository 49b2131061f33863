import { addressBits, formatAddress, parseAddress } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan, Profile, Run } from '../plan/index.js';
import { expectGood } from '../result.js';
import { isFromSubnet } from '../sizing/index.js';
import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** A stretch of addresses, first and last included. */
export interface Stretch {
  readonly first: bigint;
  readonly last: bigint;
}

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

/** The addresses of a run. */
export function stretchOf(run: Pick<Run, 'first' | 'count'>): Stretch {
  const { value } = expectGood(parseAddress(run.first));
  return { first: value, last: value + BigInt(run.count) - 1n };
}

/** The subnets of a cluster that runs can lie in: those for nodes and for entry. */
export function subnetsForRuns(cluster: Cluster, allocations: readonly Allocation[]): Allocation[] {
  return allocations.filter(
    ({ clusterId, purpose }) => clusterId === cluster.id && purpose !== 'pod' && isFromSubnet(cluster, purpose),
  );
}

/** What holds addresses in a subnet before a run is put there: the provider's reserved ones, other runs, ranges in use. */
export function heldInSubnet(plan: Plan, subnet: Prefix, profile: Profile, except?: string): Held[] {
  const end = subnet.base + (1n << BigInt(addressBits(subnet.family) - subnet.length)) - 1n;
  const reserved: Held[] =
    subnet.family === 6
      ? [{ first: subnet.base, last: subnet.base, what: 'the subnet-router anycast address (RFC 4291 2.6.1)' }]
      : [
          {
            first: subnet.base,
            last: subnet.base + BigInt(profile.reservedFirst) - 1n,
            what: `the first ${profile.reservedFirst} of the subnet, which ${profile.name} keeps`,
          },
          {
            first: end - BigInt(profile.reservedLast) + 1n,
            last: end,
            what: `the last ${profile.reservedLast} of the subnet, which ${profile.name} keeps`,
          },
        ];
  const runs = plan.runs
    .filter((run) => run.id !== except && expectGood(parseAddress(run.first)).family === subnet.family)
    .map((run): Held => ({ ...stretchOf(run), what: `the run ${run.name}` }));
  const used = plan.inUse
    .filter((range) => rangeOf(range).family === subnet.family && rangeOf(range).length > subnet.length)
    .map((range): Held => {
      const { base, length, family } = rangeOf(range);
      return { first: base, last: base + (1n << BigInt(addressBits(family) - length)) - 1n, what: range.owner };
    });
  return [...reserved, ...runs, ...used].filter(({ first, last }) => last >= subnet.base && first <= end);
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
    const end = subnet.base + (1n << BigInt(addressBits(subnet.family) - subnet.length)) - 1n;
    let from = subnet.base;
    const held = heldInSubnet(plan, subnet, profile).sort((a, b) => (a.first < b.first ? -1 : 1));
    for (const { first, last } of [...held, { first: end + 1n, last: end + 1n }]) {
      const free = first - from;
      if (free >= BigInt(count))
        return {
          ok: true,
          first: formatAddress({ family: subnet.family, value: from }),
          subnet: subnets.find((each) => rangeOf(each) === subnet)?.prefix ?? '',
        };
      if (free > longest) longest = free;
      if (last >= from) from = last + 1n;
    }
  }
  return {
    ok: false,
    reason: `No ${count} addresses in a row are free; the longest run has ${longest}.`,
    mend: 'Ask for fewer, or enlarge the node range.',
  };
}
