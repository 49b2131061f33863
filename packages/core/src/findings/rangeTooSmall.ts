import { growsInPlace, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster } from '../plan/index.js';
import {
  addressesIn,
  countsToday,
  isFromSubnet,
  overflowOf,
  rangesNeeded,
  takenIn,
  usableIn,
} from '../sizing/index.js';
import type { Counts, Need, ClusterResult } from '../sizing/index.js';
import type { FactOf } from '../english/index.js';
import { finding } from './finding.js';
import type { Finding, Fix } from './finding.js';

/**
 * A range is allocated, and smaller than today or the horizon needs: an error, but a warning for a subnet that holds
 * today's nodes and may grow.
 */
export function rangeTooSmall(result: ClusterResult): Finding[] {
  const { cluster, sizing, figures } = result;
  const small = figures.needs.filter(({ isLargeEnough }) => !isLargeEnough);
  if (small.length === 0) return [];
  const today = rangesNeeded(sizing, countsToday(sizing));
  const lengthToday = ({ purpose, zone, family }: Need) =>
    today.find((need) => need.purpose === purpose && need.zone === zone && need.family === family)?.length.value ?? 0;
  return small.flatMap(({ need, ranges }) => {
    const full = ranges.find((range) => isOverfull(result, range, ranges));
    if (full !== undefined) return [tooManyIn(result, full, ranges)];
    const range = ranges.at(-1);
    // A need that is not served large enough has a range, or it would be missing.
    if (range === undefined) return [];
    if (ranges.length > 1) return [rowTooSmall(result, need, ranges)];
    return [
      finding(
        'range.too-small',
        isFromSubnet(cluster, need.purpose) && lengthToday(need) >= rangeOf(range).length ? 'warning' : 'error',
        [
          { kind: 'allocations', id: range.id },
          { kind: 'clusters', id: cluster.id },
        ],
        {
          cluster: cluster.name,
          purpose: need.purpose,
          prefix: range.prefix,
          length: need.length.value,
          isToday: lengthToday(need) === need.length.value,
          zone: need.zone,
          enlarging: enlarging(cluster, need),
        },
        { fixes: fixesOf(result, ranges) },
      ),
    ];
  });
}

/** Several subnets that together are too small. */
function rowTooSmall(result: ClusterResult, { purpose, zone }: Need, row: readonly Allocation[]): Finding {
  const { cluster, sizing } = result;
  const last = row.at(-1) as Allocation;
  const usable = row.reduce((sum, range) => sum + usableIn(sizing, range), 0);
  const wanted = (counts?: Counts) => addressesIn(sizing, purpose, zone, counts);
  return finding(
    'range.too-small:together',
    wanted(countsToday(sizing)) <= usable ? 'warning' : 'error',
    [
      { kind: 'allocations', id: last.id },
      { kind: 'clusters', id: cluster.id },
      ...row.slice(0, -1).map(({ id }) => ({ kind: 'allocations', id }) as const),
    ],
    { cluster: cluster.name, purpose, zone, prefixes: row.map(({ prefix }) => prefix), usable, needed: wanted() },
    { fixes: fixesOf(result, row) },
  );
}

/** Whether others live in a subnet and all together ask for more than it has. */
function isOverfull({ sizing, beside }: ClusterResult, range: Allocation, row: readonly Allocation[]): boolean {
  const others = beside.get(range.id) ?? [];
  if (others.length === 0 || rangeOf(range).family === 6) return false;
  const own = takenIn({ sizing, range, row });
  // What is too small for its own cluster is told so.
  if (own > usableIn(sizing, range)) return false;
  return own + others.reduce((sum, { addresses }) => sum + addresses, 0) > usableIn(sizing, range);
}

/** A subnet that holds each who lives in it, and not all of them. */
function tooManyIn({ cluster, sizing, beside }: ClusterResult, range: Allocation, row: readonly Allocation[]): Finding {
  const others = beside.get(range.id) ?? [];
  const own = takenIn({ sizing, range, row });
  const usable = usableIn(sizing, range);
  return finding(
    'range.too-small:shared',
    'error',
    [
      { kind: 'allocations', id: range.id },
      { kind: 'clusters', id: cluster.id },
      ...others.map(({ kind, id }) => ({ kind, id })),
    ],
    {
      cluster: cluster.name,
      purpose: range.purpose,
      prefix: range.prefix,
      usable,
      own,
      others: others.map(({ name, addresses }) => ({ name, addresses })),
    },
    { fixes: range.isPinned || cluster.isBuilt ? [] : [{ kind: 'move', allocationId: range.id }] },
  );
}

/** How a range of a cluster can be made larger. */
function enlarging(cluster: Cluster, { purpose }: Need): FactOf<'range.too-small'>['enlarging'] {
  if (cluster.isBuilt) return growsInPlace(purpose) ? 'built subnet' : 'built';
  return isFromSubnet(cluster, purpose) ? 'subnet' : 'free';
}

function fixesOf({ cluster, sizing }: ClusterResult, row: readonly Allocation[]): Fix[] {
  const last = row.at(-1);
  if (last === undefined) return [];
  const { id, purpose, isPinned } = last;
  // A subnet that is only smaller than its provider makes them has nothing over for a further one.
  const isOver = isFromSubnet(cluster, purpose) && overflowOf(sizing, row) > 0;
  const further: readonly Fix[] = isOver ? [{ kind: 'further', allocationId: id }] : [];
  if (isPinned) return [...further];
  const grow: Fix = { kind: 'grow', allocationId: id };
  if (cluster.isBuilt) return growsInPlace(purpose) ? [grow, ...further] : [...further];
  return [grow, { kind: 'move', allocationId: id }, ...further];
}
