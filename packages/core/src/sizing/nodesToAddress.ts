import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { withSurge } from './surge.js';

/** Nodes that need addresses at once: the count at the horizon and the surge on top. Source: common practice. */
export function nodesToAddress(nodes: number, surgePercent: number): Figure {
  const value = withSurge(nodes, surgePercent);
  return figure(value, 'nodes', () => ({
    title: 'Nodes to address',
    formula: '⌈nodes at horizon × (1 + surge)⌉',
    inputs: [
      { name: 'Nodes at horizon', value: sayNumber(nodes) },
      { name: 'Surge', value: `${surgePercent} %` },
    ],
    steps: [
      `${sayNumber(nodes)} × ${(100 + surgePercent) / 100} = ${sayNumber((nodes * (100 + surgePercent)) / 100)}`,
      'rounded up to whole nodes',
    ],
    result: `${sayNumber(value)} nodes`,
    source: { mark: 'C', text: 'Common practice: while an upgrade rolls, old and new nodes run side by side' },
  }));
}
