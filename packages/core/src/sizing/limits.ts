import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import type { Bound, LimitCode, LimitContext } from './bound.js';
import { countsOf } from './counts.js';
import { monthExceeded, mostNodes } from './growth.js';
import { familiesOf } from './needs.js';
import { nodePortBound, publicAddressesToHold, publicBound, snatBound } from './portBounds.js';
import { balancerBound, podsBound, quotaBound, routesBound, shapeBounds, siteBound } from './quotaBounds.js';
import type { Raise } from './bound.js';
import { podRangeBound, serviceBound, subnetBounds } from './rangeBounds.js';
import type { Sizing } from './sizing.js';

/** Something that stops growth, on the one scale: worker nodes at rest. */
export interface Limit {
  readonly code: LimitCode;
  /** How it is shown. */
  readonly name: string;
  readonly nodes: Figure;
  readonly month: Figure;
  /** Ways to raise it to the nodes of the horizon (or one further when it holds them), the cheapest first; none when nothing but another cluster helps. */
  readonly raises: () => readonly Raise[];
}

/** Counting stops here: more nodes than any node part of a pod range can tell apart. */
const MAX_COUNTED = 65_536;

/** Every limit of a cluster (handbook 3), the nearest first. */
export function limitsOf(context: LimitContext): Limit[] {
  const { sizing } = context;
  return boundsOf(context)
    .map((bounds) => limitOf(sizing, nearest(sizing, bounds)))
    .sort((a, b) => a.nodes.value - b.nodes.value);
}

/** The limit that is reached first; undefined when nothing sets one. Cheaper than all of them: most are seen to lie farther off. */
export function nearestLimit(context: LimitContext): Limit | undefined {
  const { sizing } = context;
  let least: { bound: Bound; nodes: number } | undefined;
  for (const bound of boundsOf(context).flat()) {
    // Of equal limits the first stays, as in the list of all.
    if (least === undefined || !holdsAtLeast(sizing, bound, least.nodes)) least = lesser(sizing, bound, least);
  }
  return least === undefined ? undefined : limitOf(sizing, least);
}

/** The limits of these kinds that hold fewer nodes than given, the nearest first. */
export function limitsBelow(context: LimitContext, codes: ReadonlySet<LimitCode>, total: number): Limit[] {
  const { sizing } = context;
  return boundsOf(context)
    .filter(([bound]) => bound !== undefined && codes.has(bound.code))
    .filter((bounds) => bounds.some((bound) => !holds(sizing, bound, total)))
    .map((bounds) => limitOf(sizing, nearest(sizing, bounds)))
    .filter(({ nodes }) => nodes.value < total)
    .sort((a, b) => a.nodes.value - b.nodes.value);
}

function limitOf(sizing: Sizing, { bound, nodes }: { bound: Bound; nodes: number }): Limit {
  return {
    code: bound.code,
    name: bound.name,
    nodes: limitFigure(sizing, bound, nodes),
    month: bound.monthFull?.() ?? monthExceeded(sizing.growth, nodes),
    raises: () => bound.raises(Math.max(mostNodes(sizing.growth), nodes + 1)),
  };
}

function holds(sizing: Sizing, { capacity, demandOf }: Bound, total: number): boolean {
  return demandOf(countsOf(sizing, total), total) <= capacity.value;
}

function holdsAtLeast(sizing: Sizing, bound: Bound, nodes: number): boolean {
  return nodes === 0 || holds(sizing, bound, nodes);
}

function lesser(sizing: Sizing, bound: Bound, least: { bound: Bound; nodes: number } | undefined) {
  const nodes = mostHeld(sizing, bound);
  return least === undefined || nodes < least.nodes ? { bound, nodes } : least;
}

/** Of bounds that are one limit in several zones, the one that holds fewest nodes. */
function nearest(sizing: Sizing, bounds: readonly Bound[]): { bound: Bound; nodes: number } {
  const held = bounds.map((bound) => ({ bound, nodes: mostHeld(sizing, bound) }));
  return held.reduce((least, each) => (each.nodes < least.nodes ? each : least));
}

/** The most nodes whose demand the capacity holds; 0 when it holds not even one, MAX_COUNTED when it holds more than that. */
function mostHeld(sizing: Sizing, bound: Bound): number {
  if (!holds(sizing, bound, 1)) return 0;
  // Most limits lie near the horizon's count, so the search starts there.
  let low = 1;
  let high = Math.max(2, 2 * sizing.growth.nodesHorizon);
  while (high < MAX_COUNTED && holds(sizing, bound, high)) [low, high] = [high, 2 * high];
  high = Math.min(high, MAX_COUNTED);
  if (holds(sizing, bound, high)) return high;
  while (high - low > 1) {
    const middle = (low + high) >>> 1;
    if (holds(sizing, bound, middle)) low = middle;
    else high = middle;
  }
  return low;
}

function limitFigure(sizing: Sizing, { what, capacity, demandOf, formula, source }: Bound, value: number): Figure {
  return figure(value, 'nodes', () => {
    const at = (total: number) => formatNumber(demandOf(countsOf(sizing, total), total));
    const room = capacity.explain();
    return {
      title: `Nodes within the ${what}`,
      formula: `most nodes n with ${formula} ≤ capacity`,
      inputs: [
        ...room.inputs,
        { name: 'Capacity', value: `${formatNumber(capacity.value)} ${what}` },
        { name: 'Nodes at horizon', value: formatNumber(sizing.growth.nodesHorizon) },
      ],
      steps: [
        ...room.steps,
        value >= MAX_COUNTED
          ? `${formatNumber(MAX_COUNTED)} nodes, as far as is counted, ask for ${at(MAX_COUNTED)}`
          : `${formatNumber(value)} nodes ask for ${at(value)} of ${formatNumber(capacity.value)}; ${formatNumber(value + 1)} would ask for ${at(value + 1)}`,
      ],
      result: `${formatNumber(value)} nodes`,
      source,
    };
  });
}

function boundsOf(context: LimitContext): Bound[][] {
  const { sizing } = context;
  const { cluster } = sizing;
  return [
    ...familiesOf(cluster).flatMap((family) => [
      // A /64 never runs out of addresses, so IPv6 subnets set no limit.
      ...(family === 4 ? [subnetBounds(context, 'node')] : []),
      ...(cluster.podMode === 'native'
        ? family === 4
          ? [subnetBounds(context, 'pod')]
          : []
        : [podRangeBound(context, family)]),
      serviceBound(context, family),
    ]),
    [quotaBound(sizing)],
    [podsBound(sizing)],
    shapeBounds(sizing),
    cluster.podMode === 'routed' ? [routesBound(sizing)] : [],
    cluster.nodePortServices + cluster.balancerServices > 0 ? [nodePortBound(sizing)] : [],
    cluster.balancerServices > 0 ? [balancerBound(sizing)] : [],
    cluster.natAddresses > 0 ? [snatBound(sizing)] : [],
    publicAddressesToHold(sizing) > 0 ? [publicBound(context)] : [],
    [siteBound(context)],
  ].filter((bounds) => bounds.length > 0);
}
