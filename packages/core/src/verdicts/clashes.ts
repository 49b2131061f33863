import { comparePrefixes, formatPrefix, overlaps } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { grouped, rangeOf, shownAs, translationsOf } from '../plan/index.js';
import type { Allocation, Cluster, ConnectionMethod, Member, Plan } from '../plan/index.js';

/** A range of a cluster that is joined or to be joined. */
export interface JoinedRange {
  readonly cluster: Cluster;
  readonly allocation: Allocation;
  readonly own: Prefix;
  /** What the others see of it; undefined where they do not see it at all. */
  readonly shown: Prefix | undefined;
}

/** Two ranges of different clusters that cannot both be what they are when these work as one. */
export interface Clash {
  readonly one: JoinedRange;
  readonly other: JoinedRange;
}

/** Clashes told at most; beyond them they are counted. */
const MAX_TOLD = 20_000;

/** The ranges of clusters as a kind of connection makes them meet; members that stand show their translations. */
function joinedRanges(
  plan: Pick<Plan, 'allocations'>,
  clusters: readonly Cluster[],
  way: ConnectionMethod,
  memberOf: (clusterId: string) => Member | undefined,
): JoinedRange[] {
  const byCluster = grouped(plan.allocations, 'clusterId');
  return clusters.flatMap((cluster) =>
    (byCluster.get(cluster.id) ?? []).flatMap((allocation): JoinedRange[] => {
      const own = rangeOf(allocation);
      const { purpose } = allocation;
      if (way === 'relays') return [];
      if (way === 'flat') {
        // Services never leave their cluster: they must not cover what others have, and may repeat among themselves.
        return [{ cluster, allocation, own, shown: purpose === 'service' ? undefined : own }];
      }
      if (purpose !== 'pod' && purpose !== 'service') return [{ cluster, allocation, own, shown: undefined }];
      const member = memberOf(cluster.id);
      const shown = member === undefined ? undefined : shownAs(own, translationsOf(member));
      return [{ cluster, allocation, own, shown: shown ?? own }];
    }),
  );
}

/** The pairs of ranges that clash: what one shows lies in what the other has or shows. */
function clashesOf(ranges: readonly JoinedRange[]): Clash[] {
  const places = ranges
    .flatMap((range) => [
      { range, prefix: range.own, isShown: false },
      ...(range.shown === undefined ? [] : [{ range, prefix: range.shown, isShown: true }]),
    ])
    .sort((a, b) => comparePrefixes(a.prefix, b.prefix));
  const found = new Map<string, Clash>();
  const open: (typeof places)[number][] = [];
  for (const place of places) {
    for (let top = open.at(-1); top !== undefined && !overlaps(top.prefix, place.prefix); top = open.at(-1)) open.pop();
    for (const outer of open) {
      if (outer.range.cluster === place.range.cluster || (!outer.isShown && !place.isShown) || found.size >= MAX_TOLD)
        continue;
      const [one, other] =
        outer.range.allocation.id < place.range.allocation.id ? [outer.range, place.range] : [place.range, outer.range];
      found.set(`${one.allocation.id} ${other.allocation.id}`, { one, other });
    }
    open.push(place);
  }
  return [...found.values()];
}

/** The clashes of the members of a connection as they are. */
export function clashesOfMembers(
  plan: Pick<Plan, 'allocations' | 'clusters'>,
  way: ConnectionMethod,
  members: readonly Member[],
): Clash[] {
  const byCluster = new Map(members.map((member) => [member.clusterId, member]));
  const clusters = plan.clusters.filter(({ id }) => byCluster.has(id));
  return clashesOf(joinedRanges(plan, clusters, way, (id) => byCluster.get(id)));
}

/** Each range that clashes, with the clusters that it clashes with. */
export function byRange(
  clashes: readonly Clash[],
): { readonly range: JoinedRange; readonly others: readonly Cluster[] }[] {
  const found = new Map<string, { range: JoinedRange; others: Set<Cluster> }>();
  for (const { one, other } of clashes)
    for (const [range, against] of [
      [one, other],
      [other, one],
    ] as const) {
      const known = found.get(range.allocation.id);
      if (known === undefined) found.set(range.allocation.id, { range, others: new Set([against.cluster]) });
      else known.others.add(against.cluster);
    }
  return [...found.values()].map(({ range, others }) => ({ range, others: [...others] }));
}

/**
 * Which of the ranges that clash have to go for none to be left: of each group those that disturb most stay, built
 * clusters and pinned ranges first.
 */
export function toMove(clashes: readonly Clash[]): JoinedRange[] {
  const weightOf = ({ cluster, allocation }: JoinedRange) =>
    (cluster.isBuilt ? 4 : 0) + (allocation.isPinned ? 2 : 0) + (allocation.purpose === 'node' ? 1 : 0);
  const against = new Map<string, { range: JoinedRange; with: Set<string> }>();
  for (const { one, other } of clashes)
    for (const [range, id] of [
      [one, other.allocation.id],
      [other, one.allocation.id],
    ] as const) {
      const known = against.get(range.allocation.id) ?? { range, with: new Set<string>() };
      known.with.add(id);
      against.set(range.allocation.id, known);
    }
  const moved: JoinedRange[] = [];
  // The lightest with the most clashes goes first, until nothing clashes.
  for (;;) {
    const open = [...against.values()].filter((each) => each.with.size > 0);
    const [next] = open.sort(
      (a, b) =>
        weightOf(a.range) - weightOf(b.range) ||
        b.with.size - a.with.size ||
        (a.range.allocation.id < b.range.allocation.id ? 1 : -1),
    );
    if (next === undefined) return moved;
    moved.push(next.range);
    for (const id of next.with) against.get(id)?.with.delete(next.range.allocation.id);
    next.with.clear();
  }
}

/** A clash in words. */
export function formatClash({ one, other }: Clash): string {
  const of = ({ cluster, allocation, own, shown }: JoinedRange) =>
    `the ${allocation.purpose} range ${formatPrefix(own)} of ${cluster.name}${shown === undefined || formatPrefix(shown) === formatPrefix(own) ? '' : `, shown as ${formatPrefix(shown)},`}`;
  return `${of(one)} and ${of(other)}`;
}
