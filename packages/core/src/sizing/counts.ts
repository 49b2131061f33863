import { inMillionths, nodesInMonth } from './growth.js';
import type { NodeGroup, Sizing } from './sizing.js';
import { withSurge } from './surge.js';

/** Nodes of each group, and pods of each pool without nodes, at one time. */
export interface Counts {
  readonly nodes: readonly number[];
  readonly pods: readonly number[];
}

/** What runs now. */
export function countsRunning({ groups, lonePods }: Sizing): Counts {
  return { nodes: groups.map(({ now }) => now), pods: lonePods.map(({ now }) => now) };
}

/** What today's ranges must hold: what each may scale up to. At least one node, so that every range has a size. */
export function countsToday({ groups, lonePods }: Sizing): Counts {
  return { nodes: atLeastOne(groups.map(({ most }) => most)), pods: lonePods.map(({ most }) => most) };
}

/** What there is at the horizon. */
export function countsAtHorizon({ groups, lonePods }: Sizing): Counts {
  return { nodes: groups.map(({ horizon }) => horizon), pods: lonePods.map(({ horizon }) => horizon) };
}

/** What ranges must hold until the horizon: of each the more of today's and the horizon's, since a cluster may shrink. */
export function countsToHold({ groups, lonePods }: Sizing): Counts {
  const more = ({ most, horizon }: { most: number; horizon: number }) => Math.max(most, horizon);
  return { nodes: groups.map(more), pods: lonePods.map(more) };
}

/** What ranges must hold in a month; a cluster that shrinks keeps what it has today. */
export function countsInMonth(sizing: Sizing, month: number): Counts {
  const { nodesNow, nodesHorizon, horizonMonths } = sizing.growth;
  const way =
    nodesHorizon === nodesNow
      ? month / horizonMonths
      : (nodesInMonth(sizing.growth, month) - nodesNow) / (nodesHorizon - nodesNow);
  const grown = ({ most, now, horizon }: { most: number; now: number; horizon: number }) =>
    Math.max(most, Math.ceil(inMillionths(now + (horizon - now) * way)));
  return { nodes: atLeastOne(sizing.groups.map(grown)), pods: sizing.lonePods.map(grown) };
}

/** A total of nodes shared out as at the horizon, each share rounded up: at the horizon's total exactly the horizon's counts. */
export function countsOf({ groups, lonePods }: Sizing, total: number): Counts {
  const atHorizon = groups.reduce((sum, { horizon }) => sum + horizon, 0);
  const share = (horizon: number) => Math.ceil((total * horizon) / atHorizon);
  if (atHorizon === 0) return { nodes: groups.map((_, i) => (i === 0 ? total : 0)), pods: lonePods.map(() => 0) };
  return {
    nodes: groups.map(({ horizon }) => share(horizon)),
    pods: lonePods.map(({ horizon }) => share(horizon)),
  };
}

/** Workers that run at once while an upgrade rolls, those of chosen groups only where a choice is made. */
export function workersAtOnce(
  { groups }: Sizing,
  { nodes }: Counts,
  isCounted: (group: NodeGroup) => boolean = () => true,
): number {
  return groups.reduce((sum, group, i) => sum + (isCounted(group) ? withSurge(nodes[i] ?? 0, group.surge) : 0), 0);
}

/** Nodes that run at once while an upgrade rolls: workers with their surge, control nodes with their spare. */
export function nodesAtOnce(sizing: Sizing, counts: Counts): number {
  return workersAtOnce(sizing, counts) + sizing.control.nodes + sizing.control.spare;
}

/** All nodes at rest, control nodes included. */
export function nodesAtRest({ control }: Sizing, { nodes }: Counts): number {
  return nodes.reduce((sum, count) => sum + count, 0) + control.nodes;
}

/** Most pods that these nodes run, with the pods that have no nodes. */
export function podsOf({ groups }: Sizing, { nodes, pods }: Counts): number {
  const onNodes = groups.reduce((sum, { podsPerNode }, i) => sum + podsPerNode * (nodes[i] ?? 0), 0);
  return onNodes + pods.reduce((sum, count) => sum + count, 0);
}

function atLeastOne(nodes: readonly number[]): readonly number[] {
  return nodes.length > 0 && nodes.every((count) => count === 0) ? [1, ...nodes.slice(1)] : nodes;
}
