import { MatrixMaker } from '../reach/index.js';
import type { Forwarding } from '../forwarding/index.js';
import type { MatrixCell } from '../reach/index.js';
import type { Plan } from '../plan/index.js';
import { causeOf, codeOfReason } from '../road/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Ways between clusters on which one direction passes a firewall that keeps state and the other does not. One finding for each firewall that is met so. */
export function asymmetricPaths(
  plan: Pick<Plan, 'clusters' | 'firewalls'>,
  { forwarding }: { readonly forwarding: Forwarding },
): readonly Finding[] {
  if (!plan.firewalls.some(({ isStateful }) => isStateful)) return [];
  const maker = new MatrixMaker(forwarding);
  const found = new Map<string, { cell: MatrixCell; count: number; clusterId: string }>();
  for (const cluster of plan.clusters) {
    const [cell] = maker.row(cluster, [{ kind: 'nodes', label: '' }]);
    const code = codeOfReason(cell?.why);
    if (cell === undefined || (code !== 'avoided' && code !== 'no-state')) continue;
    const cause = causeOf(cell.why);
    const known = found.get(cause);
    found.set(cause, { cell, clusterId: cluster.id, ...known, count: (known?.count ?? 0) + 1 });
  }
  return [...found.values()].map(({ cell, count, clusterId }, at) =>
    finding(
      'path.asymmetric',
      'error',
      [{ kind: 'clusters', id: clusterId }],
      { from: cell.from, to: cell.to, why: cell.why, clusters: count },
      { part: `${clusterId} ${at}` },
    ),
  );
}
