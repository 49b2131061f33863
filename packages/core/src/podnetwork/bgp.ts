import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** BGP sessions when every node peers with every other: n(n − 1)/2. */
export function fullMeshSessions(nodes: number): Figure {
  const value = (nodes * (nodes - 1)) / 2;
  return figure(value, 'sessions', () => ({
    title: 'BGP sessions in a full mesh',
    formula: 'n × (n − 1) ÷ 2',
    inputs: [{ name: 'Nodes', value: formatNumber(nodes) }],
    steps: [`${formatNumber(nodes)} × ${formatNumber(nodes - 1)} ÷ 2 = ${formatNumber(value)}`],
    result: `${formatNumber(value)} sessions`,
    source: { mark: 'S', text: 'RFC 4456 1: internal BGP speakers are fully meshed unless routes are reflected' },
  }));
}

/** BGP sessions with route reflectors: each other node with each reflector, and the reflectors among themselves. */
export function reflectedSessions(nodes: number, reflectors: number): Figure {
  const clients = Math.max(0, nodes - reflectors);
  const among = (reflectors * (reflectors - 1)) / 2;
  const value = clients * reflectors + among;
  return figure(value, 'sessions', () => ({
    title: `BGP sessions with ${reflectors} route reflectors`,
    formula: '(n − r) × r + r × (r − 1) ÷ 2',
    inputs: [
      { name: 'Nodes', value: formatNumber(nodes) },
      { name: 'Reflectors among them', value: formatNumber(reflectors) },
    ],
    steps: [`${formatNumber(clients)} × ${reflectors} + ${among} = ${formatNumber(value)}`],
    result: `${formatNumber(value)} sessions`,
    source: { mark: 'S', text: 'RFC 4456 4: clients peer with the reflectors, which are fully meshed' },
  }));
}

/** Prefixes that reach a router: one a node and family, or the pod ranges alone where they are summed up on the way. */
export function advertisedPrefixes(nodes: number, families: number, isSummed: boolean): Figure {
  const value = isSummed ? families : nodes * families;
  return figure(value, 'prefixes', () => ({
    title: isSummed ? 'Prefixes advertised, summed up' : 'Prefixes advertised',
    formula: isSummed ? 'one pod range for each family' : 'nodes × families',
    inputs: [
      { name: 'Nodes', value: formatNumber(nodes) },
      { name: 'Families', value: String(families) },
    ],
    steps: [
      isSummed
        ? 'Each per-node prefix lies within the pod range.'
        : `${formatNumber(nodes)} × ${families} = ${formatNumber(value)}`,
    ],
    result: `${formatNumber(value)} prefixes`,
    source: isSummed
      ? { mark: 'S', text: 'RFC 4271 9.2.2.2: routes within one range are advertised as one' }
      : { mark: 'C', text: 'Common practice: each node advertises its own prefix' },
  }));
}
