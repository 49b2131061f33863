import { addressBits, formatPrefix } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Plan, Purpose } from '../plan/index.js';
import { nodesToAddress, perNodeOf, perNodePrefix, podRangeLength, sizingOf } from '../sizing/index.js';
import { demandsOf } from './demand.js';
import { PoolSpace } from './poolSpace.js';

/** The largest block that still fits for one need of a cluster. */
export interface LargestFit {
  readonly purpose: Purpose;
  readonly zone: string;
  readonly family: 4 | 6;
  readonly needed: number;
  /** "10.64.0.0/14"; empty when nothing is free. */
  readonly prefix: string;
  readonly sourceName: string;
}

/** What a longer prefix for each node would mean. */
export interface SmallerPerNode {
  readonly length: number;
  /** Pods per node that still leave each address twice, so that one rests before it is used again. */
  readonly podsPerNode: number;
  readonly podRangeLength: number;
  /** Addresses freed against the pod range as it is, or as it is needed when there is none. */
  readonly freed: number;
  readonly holdsToday: boolean;
}

/** The largest free block for each of a cluster's needs; undefined when the cluster is not in the plan. */
export function largestFits(plan: Plan, clusterId: string): LargestFit[] | undefined {
  const cluster = byId(plan.clusters, clusterId);
  if (cluster === undefined) return undefined;
  const space = new PoolSpace(plan);
  return demandsOf(plan, cluster).map(({ need, demand }) => {
    const found = space.largestFor(demand);
    return {
      purpose: need.purpose,
      zone: need.zone,
      family: need.family,
      needed: need.length.value,
      prefix: found === undefined ? '' : formatPrefix(found.prefix),
      sourceName: found?.source.name ?? '',
    };
  });
}

/** What each longer IPv4 per-node prefix would free, down to 4 pods per node; empty for native pods and IPv6 only. */
export function smallerPerNode(plan: Plan, clusterId: string): SmallerPerNode[] {
  const cluster = byId(plan.clusters, clusterId);
  if (cluster === undefined || cluster.podMode === 'native' || cluster.family === 'ipv6') return [];
  const sizing = sizingOf(plan, cluster);
  const nodes = nodesToAddress(sizing);
  const now = perNodeOf(sizing, 4);
  const held = plan.allocations.find(
    (range) => range.clusterId === clusterId && range.purpose === 'pod' && rangeOf(range).family === 4,
  );
  const size = (length: number) => 2 ** (addressBits(4) - length);
  const present = size(held === undefined ? podRangeLength(nodes, now).value : rangeOf(held).length);
  const rows: SmallerPerNode[] = [];
  for (let length = now.value + 1; length <= 29; length++) {
    const podsPerNode = size(length) / 2;
    const wanted = podRangeLength(nodes, perNodePrefix(4, podsPerNode, length)).value;
    rows.push({
      length,
      podsPerNode,
      podRangeLength: wanted,
      freed: present - size(wanted),
      holdsToday: podsPerNode >= sizing.podsPerNode,
    });
  }
  return rows;
}
