import { familyName, formatPrefix, prefixSize, rangeOf, saySize, worstVerdict } from '@wide-lattice/core';
import type {
  Allocation,
  Cluster,
  ClusterResult,
  Evaluation,
  Finding,
  Purpose,
  Run,
  VerdictState,
} from '@wide-lattice/core';
import { shown } from './figures';
import type { ShownFigure } from './figures';

/** One range the cluster needs, beside what it has. */
export interface NeedRow {
  readonly purpose: Purpose;
  readonly zone: string;
  readonly family: 'IPv4' | 'IPv6';
  readonly needed: ShownFigure;
  readonly allocation: Allocation | undefined;
  readonly size: string;
  readonly isLargeEnough: boolean;
  readonly verdict: VerdictState;
}

/** What follows from one cluster's decisions. */
export interface ClusterSheet {
  readonly cluster: Cluster;
  readonly siteName: string;
  readonly networkName: string;
  readonly profileName: string;
  readonly needs: readonly NeedRow[];
  readonly strays: readonly Allocation[];
  readonly figures: readonly { readonly label: string; readonly figure: ShownFigure }[];
  readonly services: readonly {
    readonly range: string;
    readonly apiServer: string;
    readonly clusterDns: string;
    readonly staticBand: string;
    readonly usable: ShownFigure;
    readonly staticSize: ShownFigure | undefined;
  }[];
  readonly limits: readonly { readonly name: string; readonly nodes: ShownFigure; readonly month: ShownFigure }[];
  readonly runs: readonly Run[];
  readonly findings: readonly Finding[];
}

/** The consequences of one cluster; undefined when it is not in the plan. */
export function clusterSheet(evaluation: Evaluation, clusterId: string): ClusterSheet | undefined {
  const result = evaluation.clusters.find(({ cluster }) => cluster.id === clusterId);
  if (result === undefined) return undefined;
  const { cluster, site, network, profile, figures } = result;
  return {
    cluster,
    siteName: site.name,
    networkName: network.name,
    profileName: profile.name,
    needs: needRows(evaluation, result),
    strays: figures.strays,
    figures: [
      { label: 'Nodes to address', figure: shown(figures.nodesToAddress) },
      ...(cluster.podMode === 'native'
        ? []
        : figures.perNode.map(({ family, length }) => ({
            label: `Per-node prefix, ${familyName(family)}`,
            figure: shown(length),
          }))),
      { label: 'Pods at the horizon', figure: shown(figures.pods) },
    ],
    services: figures.services.map(({ range, usable, bands }) => ({
      range: formatPrefix(range),
      apiServer: bands?.apiServer ?? 'none',
      clusterDns: bands?.clusterDns ?? 'none',
      staticBand: bands === undefined ? 'none' : `${bands.staticFirst} to ${bands.staticLast}`,
      usable: shown(usable),
      staticSize: bands === undefined ? undefined : shown(bands.staticSize),
    })),
    limits: figures.limits.map(({ name, nodes, month }) => ({ name, nodes: shown(nodes), month: shown(month) })),
    runs: evaluation.plan.runs.filter((run) => run.clusterId === clusterId),
    findings: evaluation.findingsOf(clusterId),
  };
}

function needRows(evaluation: Evaluation, { figures }: ClusterResult): NeedRow[] {
  return figures.needs.map(({ need, allocation, isLargeEnough }) => {
    const verdicts = allocation === undefined ? [] : evaluation.verdictsOf(allocation.id);
    return {
      purpose: need.purpose,
      zone: need.zone,
      family: familyName(need.family),
      needed: shown(need.length),
      allocation,
      size: allocation === undefined ? '' : saySize(prefixSize(rangeOf(allocation))),
      isLargeEnough,
      verdict: worstVerdict(verdicts),
    };
  });
}
