import { familyName, formatPrefix, prefixSize } from '@wide-lattice/core/address';
import { clusterCost, totalOf } from '@wide-lattice/core/money';
import { rangeOf } from '@wide-lattice/core/plan';
import {
  countsToHold,
  nodesInMonth,
  nodeSubnetDemand,
  isFromSubnet,
  reservedIn,
  subnetLength,
  subnetZones,
} from '@wide-lattice/core/sizing';
import { worstVerdict } from '@wide-lattice/core/verdicts';
import { formatSize } from '@wide-lattice/core/working';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { DescribedFinding } from '@wide-lattice/core/findings';
import type { Allocation, Cluster, Purpose, Reservation } from '@wide-lattice/core/plan';
import type { ClusterResult, DemandProblem, PodSizesContext, Raise, Sizing } from '@wide-lattice/core/sizing';
import type { VerdictState } from '@wide-lattice/core/verdicts';
import { shown } from './figures';
import type { ShownFigure } from './figures';

/** One range the cluster needs, beside what it has; another subnet has a row of its own. */
export interface NeedRow {
  readonly purpose: Purpose;
  readonly zone: string;
  readonly family: 'IPv4' | 'IPv6';
  readonly turn: number;
  /** Whether it is another subnet that is wanted only if the others cannot grow. */
  readonly isOffered: boolean;
  /** What all ranges of the need have to hold, at the first of them. */
  readonly needed: ShownFigure | undefined;
  readonly allocation: Allocation | undefined;
  readonly size: string;
  readonly isLargeEnough: boolean;
  readonly verdict: VerdictState;
}

/** One limit on the scale of nodes, with ways to raise it. */
interface ShownLimit {
  readonly name: string;
  readonly nodes: ShownFigure;
  readonly month: ShownFigure;
  readonly raises: readonly Raise[];
}

/** What one node subnet has to hold. */
interface ShownSubnet {
  /** Empty for one that spans the region. */
  readonly zone: string;
  readonly parts: readonly { readonly name: string; readonly how: string; readonly addresses: number }[];
  readonly addresses: number;
  readonly reserved: number;
  readonly length: ShownFigure;
}

/** One item of what the cluster costs per month. */
interface ShownCost {
  readonly item: string;
  readonly now: ShownFigure | undefined;
  readonly horizon: ShownFigure | undefined;
  readonly cannot: string;
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
  /** Worker nodes of all its pools. */
  readonly nodesNow: number;
  readonly nodesHorizon: number;
  readonly limits: readonly ShownLimit[];
  /** Nodes wanted over time, three horizons far. */
  readonly course: readonly { readonly month: number; readonly nodes: number }[];
  /** What each node subnet has to hold. */
  readonly subnets: readonly ShownSubnet[];
  /** What hangs together with the sizes of its pods. */
  readonly podSizes: PodSizesContext & { readonly podsPerNode: number; readonly perNodeLength: number };
  readonly costs: readonly ShownCost[];
  readonly costNow: number;
  readonly costHorizon: number;
  readonly problems: readonly DemandProblem[];
  readonly reservations: readonly Reservation[];
  readonly findings: readonly DescribedFinding[];
}

/** The consequences of one cluster; undefined when it is not in the plan. */
export function clusterSheet(evaluation: Evaluation, clusterId: string): ClusterSheet | undefined {
  const result = evaluation.clusters.find(({ cluster }) => cluster.id === clusterId);
  if (result === undefined) return undefined;
  const { cluster, site, network, profile, figures, sizing } = result;
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
    nodesNow: sizing.growth.nodesNow,
    nodesHorizon: sizing.growth.nodesHorizon,
    limits: figures.limits.map(({ name, nodes, month, raises }) => ({
      name,
      nodes: shown(nodes),
      month: shown(month),
      raises: raises(),
    })),
    course: courseOf(sizing),
    subnets: subnetsOf(sizing),
    podSizes: {
      surge: sizing.groups[0]?.surge ?? { percent: 0, least: 0 },
      besides: sizing.control.nodes + sizing.control.spare,
      podsPerNode: sizing.podsPerNode,
      perNodeLength: figures.perNode.find(({ family }) => family === 4)?.length.value ?? 24,
    },
    ...costsOf(sizing),
    problems: figures.problems,
    reservations: evaluation.plan.reservations.filter((run) => run.clusterId === clusterId),
    findings: evaluation.findingsInWordsOf(clusterId),
  };
}

const SHOWN_HORIZONS = 3;
const STEPS = 36;

function courseOf({ growth }: Sizing): ClusterSheet['course'] {
  const until = SHOWN_HORIZONS * growth.horizonMonths;
  const even = Array.from({ length: STEPS + 1 }, (_, i) => Math.round((i * until) / STEPS));
  // Steps are drawn as steps: the month before each stands beside it.
  const steps = [...growth.steps.map(({ month }) => month), growth.horizonMonths].flatMap((month) => [
    month - 1,
    month,
  ]);
  const months = growth.kind === 'steps' ? [...even, ...steps] : even;
  return [...new Set(months)]
    .filter((month) => month >= 0 && month <= until)
    .sort((a, b) => a - b)
    .map((month) => ({ month, nodes: nodesInMonth(growth, month) }));
}

function subnetsOf(sizing: Sizing): ShownSubnet[] {
  const counts = countsToHold(sizing);
  const reserved = reservedIn(sizing.profile);
  return subnetZones(sizing).map((zone) => {
    const demand = nodeSubnetDemand(sizing, counts, zone);
    const parts = demand.parts();
    return {
      zone,
      parts,
      addresses: demand.addresses,
      reserved,
      length: shown(subnetLength('Node subnet needed', demand, reserved, sizing.profile.smallestSubnet)),
    };
  });
}

function costsOf(sizing: Sizing): Pick<ClusterSheet, 'costs' | 'costNow' | 'costHorizon'> {
  const [now, horizon] = [clusterCost(sizing, 'now'), clusterCost(sizing, 'horizon')];
  const items = [...new Set([...horizon, ...now].map(({ item }) => item))];
  const find = (lines: typeof now, item: string) => lines.find((line) => line.item === item);
  const show = (lines: typeof now, item: string) => {
    const figure = find(lines, item)?.monthly;
    return figure === undefined ? undefined : shown(figure);
  };
  return {
    costs: items.map((item) => ({
      item,
      now: show(now, item),
      horizon: show(horizon, item),
      cannot: (find(horizon, item) ?? find(now, item))?.cannot ?? '',
    })),
    costNow: totalOf(now),
    costHorizon: totalOf(horizon),
  };
}

function needRows(evaluation: Evaluation, { cluster, figures }: ClusterResult): NeedRow[] {
  return figures.needs.flatMap(({ need, ranges, isLargeEnough }) => {
    const row = (allocation: Allocation | undefined, turn: number): NeedRow => ({
      purpose: need.purpose,
      zone: need.zone,
      family: familyName(need.family),
      turn,
      isOffered: allocation === undefined && turn > 1,
      needed: allocation === ranges[0] ? shown(need.length) : undefined,
      allocation,
      size: allocation === undefined ? '' : formatSize(prefixSize(rangeOf(allocation))),
      isLargeEnough,
      verdict: worstVerdict(allocation === undefined ? [] : evaluation.verdictsOf(allocation.id)),
    });
    if (ranges.length === 0) return [row(undefined, 1)];
    const held = ranges.map((range) => row(range, range.turn));
    const isFuller = !isLargeEnough && need.family === 4 && isFromSubnet(cluster, need.purpose);
    return isFuller ? [...held, row(undefined, 1 + Math.max(...ranges.map(({ turn }) => turn)))] : held;
  });
}
