import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import type { HeldRange } from './bound.js';
import { countsInMonth, countsOf } from './counts.js';
import type { Counts } from './counts.js';
import { firstMonthFrom, LAST_MONTH, nodesInMonth } from './growth.js';
import type { Resident } from './residents.js';
import { takenIn } from './row.js';
import type { Sizing } from './sizing.js';
import { usableAddresses } from './subnetDemand.js';

interface SharedRoom {
  readonly sizing: Sizing;
  readonly held: readonly HeldRange[];
  /** IPv4 addresses that the cluster asks for with these counts. */
  readonly demand: (counts: Counts) => number;
}

/**
 * The first month in which a cluster and all who live in its subnets ask for more than there is, each taken as it is in
 * that month; -1 when that does not come within a hundred years, 0 when it is so now. Source: common practice.
 */
export function monthFull({ sizing, held, demand }: SharedRoom): Figure {
  const others = held.flatMap((each) => each.others);
  const usable = held.reduce((sum, { range }) => sum + usableAddresses(range.length, sizing.profile).value, 0);
  const ownIn = (month: number) => demand(countsOf(sizing, Math.ceil(nodesInMonth(sizing.growth, month))));
  const takenBy = ({ placement, addresses }: Resident, month: number) =>
    placement === undefined ? addresses : takenIn(placement, countsInMonth(placement.sizing, month));
  const othersIn = (month: number) => others.reduce((sum, other) => sum + takenBy(other, month), 0);
  const isOver = (month: number) => ownIn(month) + othersIn(month) > usable;
  const hasSteps = [sizing, ...others.flatMap(({ placement }) => placement?.sizing ?? [])].some(
    ({ growth }) => growth.kind === 'steps',
  );
  const value = hasSteps ? firstOfAll(isOver) : firstMonthFrom(isOver);
  return figure(value, 'months', () => ({
    title: 'Month the subnet is full',
    formula: 'first whole t with own(t) + others(t) > usable',
    inputs: [
      { name: 'Usable addresses', value: formatNumber(usable) },
      { name: 'Taken now', value: formatNumber(ownIn(0)) },
      ...others.map((other) => ({ name: `Taken by ${other.name} now`, value: formatNumber(takenBy(other, 0)) })),
    ],
    steps: (value <= 0 ? [0] : [value - 1, value]).map((month) =>
      [
        `${month === 0 ? 'now' : `month ${month}`}:`,
        `${[ownIn(month), ...others.map((other) => takenBy(other, month))].map(formatNumber).join(' + ')} = ${formatNumber(ownIn(month) + othersIn(month))}`,
      ].join(' '),
    ),
    result: value < 0 ? 'never at this growth' : value === 0 ? 'full already' : `month ${value}`,
    source: { mark: 'C', text: 'Common practice: all that live in a subnet, month by month' },
  }));
}

/** Steps may fall again, so each month is looked at. */
function firstOfAll(isOver: (month: number) => boolean): number {
  for (let month = 0; month <= LAST_MONTH; month++) if (isOver(month)) return month;
  return -1;
}
