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
import type { Counts, Need } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { sayNumber } from '../working/index.js';
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
          title: `${cluster.name}: the ${need.purpose} range ${range.prefix} is too small`,
          detail: [
            `${lengthToday(need) === need.length.value ? 'Today’s nodes need' : 'The horizon needs'} a /${need.length.value}${need.zone === '' ? '' : ` in zone ${need.zone}`}.`,
            howToMend(cluster, need),
          ].join(' '),
        },
        fixesOf(result, ranges),
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
    'range.too-small',
    wanted(countsToday(sizing)) <= usable ? 'warning' : 'error',
    [
      { kind: 'allocations', id: last.id },
      { kind: 'clusters', id: cluster.id },
      ...row.slice(0, -1).map(({ id }) => ({ kind: 'allocations', id }) as const),
    ],
    {
      title: `${cluster.name}: its ${row.length} ${purpose} subnets${zone === '' ? '' : ` in zone ${zone}`} are too small`,
      detail: [
        `${row.map(({ prefix }) => prefix).join(' and ')} have ${sayNumber(usable)} addresses to give,`,
        `and at its largest it takes ${sayNumber(wanted())}. Grow the last one, or add a further subnet.`,
      ].join(' '),
    },
    fixesOf(result, row),
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
  const taken = others.map(({ name, addresses }) => `${name} ${sayNumber(addresses)}`).join(', ');
  return finding(
    'range.too-small',
    'error',
    [
      { kind: 'allocations', id: range.id },
      { kind: 'clusters', id: cluster.id },
      ...others.map(({ kind, id }) => ({ kind, id })),
    ],
    {
      title: `${cluster.name}: the ${range.purpose} subnet ${range.prefix} is too small for all in it`,
      detail: [
        `It has ${sayNumber(usable)} addresses to give;`,
        `at their largest ${cluster.name} takes ${sayNumber(own)} and ${taken}.`,
        'Move one of them to a subnet of its own, or give them a larger one.',
      ].join(' '),
    },
    range.isFixed || cluster.isBuilt ? [] : [{ kind: 'move', allocationId: range.id }],
  );
}

function howToMend(cluster: Cluster, { purpose }: Need): string {
  if (cluster.isBuilt)
    return growsInPlace(purpose)
      ? 'Grow it in place, or add a further subnet; the cluster is built, so moving it is a rebuild.'
      : 'The cluster is built: a larger range is a rebuild.';
  return isFromSubnet(cluster, purpose)
    ? 'Grow it in place, move it to a larger range, or add a further subnet.'
    : 'Move it to a larger range before the cluster is built.';
}

function fixesOf({ cluster, sizing }: ClusterResult, row: readonly Allocation[]): Fix[] {
  const last = row.at(-1);
  if (last === undefined) return [];
  const { id, purpose, isFixed } = last;
  // A subnet that is only smaller than its provider makes them has nothing over for a further one.
  const isOver = isFromSubnet(cluster, purpose) && overflowOf(sizing, row) > 0;
  const further: readonly Fix[] = isOver ? [{ kind: 'further', allocationId: id }] : [];
  if (isFixed) return [...further];
  const grow: Fix = { kind: 'grow', allocationId: id };
  if (cluster.isBuilt) return growsInPlace(purpose) ? [grow, ...further] : [...further];
  return [grow, { kind: 'move', allocationId: id }, ...further];
}
