import { growsInPlace, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster } from '../plan/index.js';
import { addressesIn, countsToday, isFromSubnet, rangesNeeded, reservedIn, usableAddresses } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { sayNumber } from '../working/index.js';
import { finding } from './finding.js';
import type { Finding, Fix } from './finding.js';

/** A range is allocated, and smaller than today or the horizon needs: an error, but a warning for a subnet that holds today's nodes and may grow. */
export function rangeTooSmall(result: ClusterResult): Finding[] {
  const { cluster, sizing, figures } = result;
  const small = figures.needs.filter(({ isLargeEnough }) => !isLargeEnough);
  if (small.length === 0) return [];
  const today = rangesNeeded(sizing, countsToday(sizing));
  const lengthToday = ({ purpose, zone, family }: Need) =>
    today.find((need) => need.purpose === purpose && need.zone === zone && need.family === family)?.length.value ?? 0;
  return small.map(({ need, allocation }) => {
    // A need that is not served large enough has a range, or it would be missing.
    const range = allocation as Allocation;
    if (rangeOf(range).length <= need.length.value) return tooManyIn(result, range);
    return finding(
      'range.too-small',
      isFromSubnet(cluster, need.purpose) && lengthToday(need) >= rangeOf(range).length ? 'warning' : 'error',
      [
        { kind: 'allocations', id: range.id },
        { kind: 'clusters', id: cluster.id },
      ],
      {
        title: `${cluster.name}: the ${need.purpose} range ${range.prefix} is too small`,
        detail: `${lengthToday(need) === need.length.value ? 'Today’s nodes need' : 'The horizon needs'} a /${need.length.value}${need.zone === '' ? '' : ` in zone ${need.zone}`}. ${howToMend(cluster, need)}`,
      },
      range.isFixed ? [] : fixesOf(cluster, range),
    );
  });
}

/** A subnet that holds each who lives in it, and not all of them. */
function tooManyIn({ cluster, sizing, beside }: ClusterResult, range: Allocation): Finding {
  const others = beside.get(range.id) ?? [];
  const own = addressesIn(sizing, range.purpose, range.zone);
  const usable = usableAddresses(rangeOf(range).length, reservedIn(sizing)).value;
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
      detail: `It has ${sayNumber(usable)} addresses to give; at their largest ${cluster.name} takes ${sayNumber(own)} and ${taken}. Move one of them to a subnet of its own, or give them a larger one.`,
    },
    range.isFixed || cluster.isBuilt ? [] : [{ kind: 'move', allocationId: range.id }],
  );
}

function howToMend(cluster: Cluster, { purpose }: Need): string {
  if (cluster.isBuilt)
    return growsInPlace(purpose)
      ? 'Grow it in place; the cluster is built, so moving it is a rebuild.'
      : 'The cluster is built: a larger range is a rebuild.';
  return isFromSubnet(cluster, purpose)
    ? 'Grow it in place, or move it to a larger range.'
    : 'Move it to a larger range before the cluster is built.';
}

function fixesOf(cluster: Cluster, { id, purpose }: Allocation): Fix[] {
  const grow: Fix = { kind: 'grow', allocationId: id };
  if (cluster.isBuilt) return growsInPlace(purpose) ? [grow] : [];
  return [grow, { kind: 'move', allocationId: id }];
}
