import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { saySurge, withSurge } from './surge.js';
import type { Surge } from './surge.js';

/** Nodes that need addresses at once: the count at the horizon and the surge on top. Source: common practice. */
export function nodesToAddress(nodes: number, surge: Surge): Figure {
  const value = withSurge(nodes, surge);
  return figure(value, 'nodes', () => ({
    title: 'Nodes to address',
    formula: 'nodes at horizon + ⌈nodes × surge⌉, and at least what the provider adds',
    inputs: [
      { name: 'Nodes at horizon', value: sayNumber(nodes) },
      { name: 'Surge', value: saySurge(surge) },
    ],
    steps: [
      `${sayNumber(nodes)} × ${surge.percent} % = ${sayNumber((nodes * surge.percent) / 100)}, rounded up to whole nodes`,
      `${sayNumber(nodes)} + ${sayNumber(value - nodes)} = ${sayNumber(value)}`,
    ],
    result: `${sayNumber(value)} nodes`,
    source: { mark: 'C', text: 'Common practice: while an upgrade rolls, old and new nodes run side by side' },
  }));
}
