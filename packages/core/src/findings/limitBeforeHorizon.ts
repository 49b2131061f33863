import { mostNodes } from '../sizing/index.js';
import type { ClusterResult, LimitCode } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Limits that are no range and no quota with a check of its own. */
const watched: ReadonlySet<LimitCode> = new Set([
  'machine-shape',
  'node-ports',
  'balancer-members',
  'snat-ports',
  'public-addresses',
  'pods-per-cluster',
]);

/** A limit is exceeded before the horizon; the cheapest way to raise it is said. */
export function limitBeforeHorizon({ cluster, sizing, figures }: ClusterResult): Finding[] {
  const planned = mostNodes(sizing.growth);
  return figures.limitsBelow(watched, planned).map(({ code, name, nodes, month, raises }) => {
    const [cheapest] = raises();
    return finding(
      'limit.before-horizon',
      'warning',
      [{ kind: 'clusters', id: cluster.id }],
      {
        cluster: cluster.name,
        limit: name,
        nodes: nodes.value,
        planned,
        month: month.value,
        cheapest: cheapest?.words,
      },
      { part: `${cluster.id} ${code}` },
    );
  });
}
