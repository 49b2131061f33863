import type { Family, Prefix } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Allocation } from '../plan/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { countsAtHorizon, podsOf } from './counts.js';
import { limitsBelow, limitsOf, nearestLimit } from './limits.js';
import type { LimitCode, LimitContext, Neighbours } from './bound.js';
import type { Limit } from './limits.js';
import { familiesOf, isFromSubnet, nodesToAddress, perNodeOf, rangesNeeded } from './needs.js';
import type { Need } from './needs.js';
import { MAX_NODE_BITS } from './podRange.js';
import { serviceBands, serviceUsable } from './serviceRange.js';
import type { ServiceBands } from './serviceRange.js';
import type { Resident } from './residents.js';
import type { DemandProblem, Sizing } from './sizing.js';
import { usableAddresses } from './subnetDemand.js';
import { addressesOf } from './residents.js';
import { takenIn } from './row.js';

/** One need beside the ranges that serve it. */
export interface FilledNeed {
  readonly need: Need;
  /** None while nothing is allocated; several subnets in the turn in which they are filled; of other ranges the first alone serves. */
  readonly ranges: readonly Allocation[];
  /** Whether they are at least as large as needed; true when none is allocated. */
  readonly isLargeEnough: boolean;
}

/** What follows from one cluster's decisions and ranges. */
export interface ClusterFigures {
  readonly needs: readonly FilledNeed[];
  /** Ranges that answer no need: another zone, family or mode. */
  readonly strays: readonly Allocation[];
  readonly nodesToAddress: Figure;
  readonly perNode: readonly { readonly family: Family; readonly length: Figure }[];
  readonly pods: Figure;
  readonly services: readonly {
    readonly range: Prefix;
    readonly usable: Figure;
    readonly bands: ServiceBands | undefined;
  }[];
  /** Every limit, the nearest first. */
  readonly limits: readonly Limit[];
  /** The limit that is reached first; undefined when nothing sets one. */
  readonly nearestLimit: Limit | undefined;
  /** The limits of these kinds that hold fewer nodes than given, the nearest first. */
  readonly limitsBelow: (codes: ReadonlySet<LimitCode>, total: number) => readonly Limit[];
  /** The same while nothing is upgraded, so that neither surge nor a spare control node takes anything. */
  readonly limitsAtRestBelow: (codes: ReadonlySet<LimitCode>, total: number) => readonly Limit[];
  /** What cannot be computed as asked, and what is doubtful. */
  readonly problems: readonly DemandProblem[];
}

/** What a cluster's figures are computed from. */
export interface ClusterContext {
  readonly sizing: Sizing;
  /** The cluster's own ranges. */
  readonly allocations: readonly Allocation[];
  readonly neighbours: Neighbours;
  /** Who else lives in its subnets, by the id of its range there. */
  readonly beside?: ReadonlyMap<string, readonly Resident[]>;
}

/** Computes needs, consequences and limits of one cluster; what few ask for is computed when they do. */
export function clusterFigures(context: ClusterContext): ClusterFigures {
  return new Computed(context);
}

class Computed implements ClusterFigures {
  readonly needs: readonly FilledNeed[];
  private readonly sizing: Sizing;
  private readonly allocations: readonly Allocation[];
  private readonly limitContext: LimitContext;
  private allLimits: readonly Limit[] | undefined;
  private first: { readonly limit: Limit | undefined } | undefined;

  constructor({ sizing, allocations, neighbours, beside }: ClusterContext) {
    this.sizing = sizing;
    this.allocations = allocations;
    const othersIn = ({ id }: Allocation) => beside?.get(id) ?? [];
    this.needs = rangesNeeded(sizing).map((need) => fill(sizing, need, allocations, othersIn));
    this.limitContext = {
      sizing,
      neighbours,
      rangesOf: (purpose, zone, family) =>
        this.held(purpose, zone, family).map((allocation) => ({
          range: rangeOf(allocation),
          others: othersIn(allocation),
        })),
    };
  }

  get strays(): readonly Allocation[] {
    const used = new Set(this.needs.flatMap(({ ranges }) => ranges));
    return this.allocations.filter((allocation) => !used.has(allocation));
  }

  get nodesToAddress(): Figure {
    return nodesToAddress(this.sizing);
  }

  get perNode() {
    return familiesOf(this.sizing.cluster).map((family) => ({ family, length: perNodeOf(this.sizing, family) }));
  }

  get pods(): Figure {
    return podsAtHorizon(this.sizing);
  }

  get services() {
    return this.needs.flatMap(({ need, ranges }) => (need.purpose === 'service' ? ranges.map(serviceFigures) : []));
  }

  get limits(): readonly Limit[] {
    this.allLimits ??= limitsOf(this.limitContext);
    return this.allLimits;
  }

  get nearestLimit(): Limit | undefined {
    this.first ??= { limit: nearestLimit(this.limitContext) };
    return this.first.limit;
  }

  get problems(): readonly DemandProblem[] {
    return [...this.sizing.problems, ...podRangeProblems(this.sizing, this.held('pod', '', 4)[0])];
  }

  limitsBelow(codes: ReadonlySet<LimitCode>, total: number): readonly Limit[] {
    return limitsBelow(this.limitContext, codes, total);
  }

  limitsAtRestBelow(codes: ReadonlySet<LimitCode>, total: number): readonly Limit[] {
    const { groups, control } = this.sizing;
    const none = { percent: 0, least: 0 };
    const sizing = {
      ...this.sizing,
      groups: groups.map((group) => ({ ...group, surge: none })),
      control: { ...control, spare: 0 },
    };
    return limitsBelow({ ...this.limitContext, sizing }, codes, total);
  }

  private held(purpose: string, zone: string, family: Family): readonly Allocation[] {
    for (const { need, ranges } of this.needs)
      if (need.purpose === purpose && need.zone === zone && need.family === family) return ranges;
    return [];
  }
}

function fill(
  sizing: Sizing,
  need: Need,
  allocations: readonly Allocation[],
  othersIn: (allocation: Allocation) => readonly Resident[],
): FilledNeed {
  const all = allocations.filter(
    (a) => a.purpose === need.purpose && a.zone === need.zone && rangeOf(a).family === need.family,
  );
  const isSubnet = isFromSubnet(sizing.cluster, need.purpose);
  const ranges = isSubnet ? all : all.slice(0, 1);
  const [first, ...further] = ranges;
  const isLargeEnough =
    first === undefined ||
    ((further.length > 0 || rangeOf(first).length <= need.length.value) &&
      (!isSubnet || ranges.every((range) => holdsAll(sizing, range, ranges, othersIn(range)))));
  return { need, ranges, isLargeEnough };
}

/** Whether one of the subnets of a need holds what comes to it and all others that live in it. */
function holdsAll(sizing: Sizing, range: Allocation, row: readonly Allocation[], others: readonly Resident[]): boolean {
  const { family, length } = rangeOf(range);
  if (family === 6 || (others.length === 0 && row.length === 1)) return true;
  const own = takenIn({ sizing, range, row });
  return own + addressesOf(others) <= usableAddresses(length, sizing.profile).value;
}

function serviceFigures(allocation: Allocation) {
  const range = rangeOf(allocation);
  return { range, usable: serviceUsable(range), bands: serviceBands(range) };
}

/** A range smaller than one node's prefix serves nobody, and of one with too many nodes only a part can be used. */
function podRangeProblems(sizing: Sizing, allocation: Allocation | undefined): DemandProblem[] {
  if (allocation === undefined || sizing.cluster.podMode === 'native') return [];
  const range = rangeOf(allocation);
  const q = perNodeOf(sizing, 4).value;
  const at = { field: 'perNodeLength', poolId: null } as const;
  if (q < range.length)
    return [
      {
        ...at,
        isStopping: true,
        message: `the /${q} of one node is larger than the whole pod range, a /${range.length}`,
        fix: 'Decide a longer prefix per node, or give a larger pod range.',
      },
    ];
  if (q - range.length <= MAX_NODE_BITS) return [];
  return [
    {
      ...at,
      isStopping: false,
      message: `a /${q} per node in a /${range.length} leaves ${q - range.length} bits for the node, and ${MAX_NODE_BITS} can be used`,
      fix: 'Decide a shorter prefix per node, or take a smaller range.',
    },
  ];
}

function podsAtHorizon(sizing: Sizing): Figure {
  const counts = countsAtHorizon(sizing);
  const value = podsOf(sizing, counts);
  const { groups, lonePods } = sizing;
  return figure(value, 'pods', () => ({
    title: 'Pods at the horizon',
    formula: 'sum of nodes at horizon × pods per node',
    inputs: [
      ...groups.map(({ name, podsPerNode }, i) => ({
        name: groups.length === 1 ? 'Nodes × pods per node' : `Nodes × pods per node, ${name}`,
        value: `${formatNumber(counts.nodes[i] ?? 0)} × ${podsPerNode}`,
      })),
      ...lonePods.map(({ name }, i) => ({ name: `Pods of ${name}`, value: formatNumber(counts.pods[i] ?? 0) })),
    ],
    steps: [`${formatNumber(value)} in all`],
    result: `${formatNumber(value)} pods`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}
