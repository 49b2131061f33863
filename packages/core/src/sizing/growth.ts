import type { GrowthKind, GrowthStep } from '../plan/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** How a count of nodes grows from now on. */
export interface Growth {
  readonly kind: GrowthKind;
  readonly nodesNow: number;
  /** At the horizon; with a rate a year it is what the rate comes to. */
  readonly nodesHorizon: number;
  readonly horizonMonths: number;
  /** Compound growth in percent a year; null goes through the two counts. */
  readonly perYear: number | null;
  readonly steps: readonly GrowthStep[];
}

/** Growth is followed this far: 100 years. */
export const LAST_MONTH = 1200;

/**
 * Nodes wanted in a month, in millionths of a node: 50 growing by 10 % a year are 55 in month 12, and not a hair more.
 * Linear: n0 + (nH − n0) × t ÷ months. Compound: n0 × (1 + g)^(t ÷ 12), or through both counts n0 × (nH ÷ n0)^(t ÷ months).
 * Steps: the last step so far, and the count at the horizon from there on. Source: common practice.
 */
export function nodesInMonth(growth: Growth, month: number): number {
  return inMillionths(wanted(growth, month));
}

/** Keeps a product such as 50 × 1.1 from being a hair above the whole number it is: the one rounding of growth and limits. */
export function inMillionths(value: number): number {
  return Math.round(value * 1e6) / 1e6;
}

/** Nodes that ranges are sized for: what there is now, or at the horizon where that is more. */
export function mostNodes({ nodesNow, nodesHorizon }: Pick<Growth, 'nodesNow' | 'nodesHorizon'>): number {
  return Math.max(nodesNow, nodesHorizon);
}

function wanted(growth: Growth, month: number): number {
  const { kind, nodesNow, nodesHorizon, horizonMonths, perYear, steps } = growth;
  switch (kind) {
    case 'linear':
      return nodesNow + ((nodesHorizon - nodesNow) * month) / horizonMonths;
    case 'compound':
      if (perYear !== null) return nodesNow * (1 + perYear / 100) ** (month / 12);
      return nodesNow === 0 || nodesHorizon === 0
        ? nodesNow + ((nodesHorizon - nodesNow) * month) / horizonMonths
        : nodesNow * (nodesHorizon / nodesNow) ** (month / horizonMonths);
    case 'steps':
      if (month >= horizonMonths) return nodesHorizon;
      return steps.reduce((nodes, step) => (step.month <= month ? step.nodes : nodes), nodesNow);
  }
}

/**
 * The month in which a limit is exceeded: the first with more nodes than it allows. With exactly as many it is reached
 * and still holds. -1 when growth never gets there within a hundred years; month 0 is now.
 */
export function monthExceeded(growth: Growth, nodesAllowed: number): Figure {
  const { nodesNow, nodesHorizon, horizonMonths } = growth;
  const value = firstMonthOver(growth, nodesAllowed);
  return figure(value, 'months', () => ({
    title: 'Month the limit is exceeded',
    formula: `first whole t with ${formulas[growth.perYear === null ? growth.kind : 'rate']} > limit`,
    inputs: [
      { name: 'Nodes now', value: formatNumber(nodesNow) },
      { name: 'Nodes at horizon', value: formatNumber(nodesHorizon) },
      { name: 'Horizon', value: `${horizonMonths} months` },
      ...(growth.perYear === null ? [] : [{ name: 'Growth per year', value: `${growth.perYear} %` }]),
      { name: 'Limit', value: `${formatNumber(nodesAllowed)} nodes` },
    ],
    steps:
      value <= 0
        ? [`now: ${formatNumber(nodesNow)} nodes`]
        : [
            `month ${value - 1}: ${nodesInMonth(growth, value - 1).toFixed(2)} nodes`,
            `month ${value}: ${nodesInMonth(growth, value).toFixed(2)} nodes`,
          ],
    result: value < 0 ? 'never at this growth' : value === 0 ? 'exceeded already' : `month ${value}`,
    source: { mark: 'C', text: 'Common practice: linear, compound or stepwise growth between two counts' },
  }));
}

const formulas: Readonly<Record<GrowthKind | 'rate', string>> = {
  linear: 'now + t × (horizon − now) ÷ months',
  compound: 'now × (horizon ÷ now)^(t ÷ months)',
  rate: 'now × (1 + growth per year)^(t ÷ 12)',
  steps: 'the step that holds in month t',
};

function firstMonthOver(growth: Growth, allowed: number): number {
  const isOver = (month: number) => nodesInMonth(growth, month) > allowed;
  if (isOver(0)) return 0;
  if (growth.kind === 'steps') {
    const months = [...growth.steps.map(({ month }) => month), growth.horizonMonths].sort((a, b) => a - b);
    return months.find((month) => isOver(month)) ?? -1;
  }
  // Both curves rise all the way once they end above where they begin.
  return firstMonthFrom(isOver);
}

/** The first month in which something holds that holds ever after, 0 for now; -1 when it does not within a hundred years. */
export function firstMonthFrom(holds: (month: number) => boolean): number {
  if (holds(0)) return 0;
  if (!holds(LAST_MONTH)) return -1;
  let [low, high] = [1, LAST_MONTH];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (holds(middle)) high = middle;
    else low = middle + 1;
  }
  return low;
}
