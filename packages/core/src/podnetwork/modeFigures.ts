import { addressAt, addressBits, prefixAround } from '../address/index.js';
import type { Family } from '../address/index.js';
import {
  countsAtHorizon,
  familiesOf,
  limitsOf,
  MAX_NODES,
  nativePodsPerNode,
  nodesToAddress,
  perNodeOf,
  podsOf,
  rangesNeeded,
} from '../sizing/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import type { Context } from './modeContext.js';

export function routableAddresses({ cluster, sizing }: Pick<Context, 'cluster' | 'sizing'>): Figure {
  const needs = rangesNeeded(sizing).filter(({ purpose, family }) => purpose === 'pod' && family === 4);
  const sizes = needs.map(({ length }) => 2 ** (addressBits(4) - length.value));
  const value = cluster.podMode === 'overlay' ? 0 : sizes.reduce((sum, size) => sum + size, 0);
  return figure(value, 'addresses', () => ({
    title: 'IPv4 addresses the pods take from routable space',
    formula:
      cluster.podMode === 'overlay' ? 'none: overlay addresses stay inside the cluster' : 'sum of its pod ranges',
    inputs: needs.map(({ zone, length }) => ({
      name: zone === '' ? 'Pod range' : `Pod subnet, zone ${zone}`,
      value: `/${length.value}`,
    })),
    steps:
      cluster.podMode === 'overlay'
        ? ['The same range may serve many clusters.']
        : [`${sizes.length === 0 ? '0' : sizes.map(formatNumber).join(' + ')} = ${formatNumber(value)}`],
    result: `${formatNumber(value)} addresses`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

export function routesTaken({ cluster, sizing }: Pick<Context, 'cluster' | 'sizing'>): Figure {
  const { profile } = sizing;
  const nodes = nodesToAddress(sizing).value;
  const count = familiesOf(cluster).length;
  const value = cluster.podMode === 'routed' ? nodes * count : 0;
  return figure(value, 'routes', () => ({
    title: 'Routes the pods take in the route table',
    formula:
      cluster.podMode === 'routed' ? 'nodes with surge × families' : 'none: no prefix per node in the network’s table',
    inputs: [
      { name: 'Nodes with surge', value: formatNumber(nodes) },
      { name: 'Families', value: String(count) },
      { name: `Routes per table, ${profile.name}`, value: formatNumber(profile.routesPerTable) },
    ],
    steps: [`${formatNumber(value)} of ${formatNumber(profile.routesPerTable)}`],
    result: `${formatNumber(value)} routes`,
    source: { mark: 'C', text: 'Common practice; the limit is the profile’s' },
  }));
}

export function podsPerNode({ cluster, sizing }: Context): Figure {
  const [main] = sizing.groups;
  const shape = main?.shape;
  const wanted = main?.podsPerNode ?? cluster.podsPerNode;
  if (cluster.podMode === 'native' && shape !== undefined) return nativePodsPerNode(shape, sizing.profile);
  const family: Family = cluster.family === 'ipv6' ? 6 : 4;
  const prefix = perNodeOf(sizing, family).value;
  const byPrefix = family === 6 || cluster.podMode === 'native' ? wanted : Math.min(wanted, 2 ** (32 - prefix));
  const value = shape === undefined ? byPrefix : Math.min(byPrefix, shape.podCap);
  return figure(value, 'pods', () => ({
    title: 'Pods on a node',
    formula: 'what the cluster asks for, within the per-node prefix and the shape’s cap',
    inputs: [
      { name: 'Pods per node', value: formatNumber(wanted) },
      { name: 'Per-node prefix', value: cluster.podMode === 'native' ? 'none' : `/${prefix}` },
      { name: 'Shape', value: shape === undefined ? 'not decided' : `${shape.name}, cap ${shape.podCap}` },
    ],
    steps: [`${formatNumber(value)} pods`],
    result: `${formatNumber(value)} pods`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

/** Worker nodes at rest that pod ranges of the size it needs allow; ranges are powers of two, so it is more than is planned. */
export function nodesAllowed({ sizing, cluster }: Context): Figure {
  const needs = new Map(rangesNeeded(sizing).map((need) => [`${need.purpose} ${need.zone} ${need.family}`, need]));
  const limits = limitsOf({
    sizing,
    neighbours: { clusters: 1, publicAddresses: 0 },
    rangesOf: (purpose, zone, family) => {
      const need = purpose === 'pod' ? needs.get(`pod ${zone} ${family}`) : undefined;
      return need === undefined ? [] : [{ range: prefixAround(addressAt(family, 0n), need.length.value), others: [] }];
    },
  });
  const pods = limits.filter(({ code }) => code === 'pod-range' || code === 'pod-subnets');
  const [first] = pods;
  if (first !== undefined) return first.nodes;
  return figure(MAX_NODES, 'nodes', () => ({
    title: 'Nodes its pod ranges allow',
    formula: 'IPv6 subnets never fill',
    inputs: [{ name: 'Pod network', value: cluster.podMode }],
    steps: [`as many as are counted: ${formatNumber(MAX_NODES)}`],
    result: `${formatNumber(MAX_NODES)} nodes`,
    source: { mark: 'S', text: 'RFC 4291 2.5.1: a subnet has 2^64 addresses' },
  }));
}

/** Nodes that it takes to run the cluster's pods at the horizon, where a node holds this many. */
export function nodesForPods({ sizing }: Context, held: number): Figure {
  const wanted = podsOf(sizing, countsAtHorizon(sizing));
  const [main] = sizing.groups;
  const perNode = Math.min(held, main?.podsPerNode ?? held);
  const value = perNode === 0 ? 0 : Math.ceil(wanted / perNode);
  return figure(value, 'nodes', () => ({
    title: 'Nodes that hold its pods',
    formula: '⌈pods at the horizon ÷ pods on a node⌉',
    inputs: [
      { name: 'Pods at the horizon', value: formatNumber(wanted) },
      { name: 'Pods on a node', value: formatNumber(perNode) },
    ],
    steps:
      perNode === 0
        ? ['A node holds no pods this way.']
        : [`⌈${formatNumber(wanted)} ÷ ${formatNumber(perNode)}⌉ = ${formatNumber(value)}`],
    result: `${formatNumber(value)} nodes`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}
