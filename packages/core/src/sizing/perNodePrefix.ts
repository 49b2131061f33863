import type { Family } from '../address/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { bitsFor } from './bits.js';

/**
 * Length of the prefix each node hands to its pods (overlay and routed). IPv4: the longest prefix with at
 * least twice the pods, so that an address is not used again at once; IPv6: /64. A decided length wins.
 * Source: common practice; table: 8 pods /28, 16 /27, 32 /26, 64 /25, 110 and 128 /24, 256 /23.
 */
export function perNodePrefix(family: Family, podsPerNode: number, decided: number | null): Figure {
  const needed = family === 6 ? 64 : 32 - bitsFor(2 * podsPerNode);
  const isDecided = family === 4 && decided !== null;
  const length = isDecided ? decided : needed;
  return figure(length, 'bits', () => ({
    title: 'Per-node pod prefix',
    formula: family === 6 ? 'IPv6: a /64 for each node' : 'longest q with 2^(32 − q) ≥ 2 × pods per node',
    inputs: [
      { name: 'Pods per node', value: formatNumber(podsPerNode) },
      ...(isDecided ? [{ name: 'Decided length', value: `/${decided}` }] : []),
    ],
    steps:
      family === 6
        ? ['The interface identifier takes the last 64 bits, so a node gets a /64.']
        : [
            `2 × ${podsPerNode} = ${formatNumber(2 * podsPerNode)} addresses wanted`,
            `2^${32 - needed} = ${formatNumber(2 ** (32 - needed))} is the smallest power of two that holds them: /${needed}`,
            ...(isDecided
              ? [`The cluster decides /${decided}: ${formatNumber(2 ** (32 - decided))} addresses per node.`]
              : []),
          ],
    result: `/${length}`,
    source:
      family === 6
        ? { mark: 'S', text: 'RFC 4291 2.5.1: 64-bit interface identifiers' }
        : { mark: 'C', text: 'Common practice: twice the pods, so an address rests before it is used again' },
  }));
}
