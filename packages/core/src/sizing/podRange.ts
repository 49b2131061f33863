import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { bitsFor } from './bits.js';

/** The node part of a pod range may be at most this many bits. From memory: the Kubernetes API's node address controller. */
export const MAX_NODE_BITS = 16;

/** Length of the pod range that gives every node its own prefix (overlay and routed). Nodes: 1 to 65,536. */
export function podRangeLength(nodes: Figure, perNode: Figure): Figure {
  const bits = bitsFor(nodes.value);
  const length = perNode.value - bits;
  return figure(length, 'bits', () => ({
    title: 'Pod range needed',
    formula: 'p = q − ⌈log2(nodes)⌉',
    inputs: [
      { name: 'Nodes to address', value: formatNumber(nodes.value) },
      { name: 'Per-node prefix q', value: `/${perNode.value}` },
    ],
    steps: [
      `⌈log2(${formatNumber(nodes.value)})⌉ = ${bits}: room for ${formatNumber(2 ** bits)} nodes`,
      `${perNode.value} − ${bits} = ${length}`,
    ],
    result: `/${length}`,
    source: { mark: 'C', text: 'Common practice: one prefix per node, cut from the pod range' },
  }));
}

/** Nodes that a pod range can serve: 2^(q − p), at most 65,536; 0 when the range is smaller than one node's prefix. */
export function nodesServed(podLength: number, perNode: Figure): Figure {
  const bits = perNode.value - podLength;
  const value = bits < 0 ? 0 : 2 ** Math.min(bits, MAX_NODE_BITS);
  return figure(value, 'nodes', () => ({
    title: 'Nodes the pod range serves',
    formula: `min(2^(q − p), ${formatNumber(2 ** MAX_NODE_BITS)})`,
    inputs: [
      { name: 'Pod range p', value: `/${podLength}` },
      { name: 'Per-node prefix q', value: `/${perNode.value}` },
    ],
    steps: [
      `q − p = ${bits}`,
      ...(bits < 0 ? ['The range is smaller than the prefix of one node.'] : []),
      ...(bits > MAX_NODE_BITS ? [`Only ${MAX_NODE_BITS} of those bits can be used.`] : []),
    ],
    result: `${formatNumber(value)} nodes`,
    source: {
      mark: 'M',
      text: 'Kubernetes API node address controller: prefix per node, node part at most 16 bits (from memory)',
    },
  }));
}

/** Length of a native pod subnet or node subnet in IPv6. */
export function ipv6SubnetLength(title: string): Figure {
  return figure(64, 'bits', () => ({
    title,
    formula: 'IPv6: one /64 for each subnet',
    inputs: [],
    steps: ['Addresses in a subnet are formed with a 64-bit interface identifier.'],
    result: '/64',
    source: { mark: 'S', text: 'RFC 4291 2.5.1' },
  }));
}
