import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** Straight growth from now to the horizon and on. */
export interface Growth {
  readonly nodesNow: number;
  readonly nodesHorizon: number;
  readonly horizonMonths: number;
}

/** The first month in which more nodes are wanted than allowed; -1 when growth never gets there. Month 0 is now. */
export function monthReached(growth: Growth, nodesAllowed: number): Figure {
  const { nodesNow, nodesHorizon, horizonMonths } = growth;
  const perMonth = (nodesHorizon - nodesNow) / horizonMonths;
  const value = nodesNow > nodesAllowed ? 0 : perMonth <= 0 ? -1 : Math.floor((nodesAllowed - nodesNow) / perMonth) + 1;
  return figure(value, 'months', () => ({
    title: 'Month the limit is passed',
    formula: 'first whole t with now + t × (horizon − now) ÷ months > limit',
    inputs: [
      { name: 'Nodes now', value: sayNumber(nodesNow) },
      { name: 'Nodes at horizon', value: sayNumber(nodesHorizon) },
      { name: 'Horizon', value: `${horizonMonths} months` },
      { name: 'Limit', value: `${sayNumber(nodesAllowed)} nodes` },
    ],
    steps: [`${perMonth.toFixed(2)} nodes a month`],
    result: value < 0 ? 'never at this growth' : value === 0 ? 'passed already' : `month ${value}`,
    source: { mark: 'C', text: 'Common practice: straight line between two counts' },
  }));
}
