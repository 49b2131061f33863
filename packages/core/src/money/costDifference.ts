import type { Plan } from '../plan/index.js';
import { planCost } from './cost.js';
import type { CostLine, CostTime } from './cost.js';

/** One item of one cluster in two designs. */
export interface CostChange {
  readonly clusterName: string;
  readonly item: string;
  /** A month; null where it cannot be computed, 0 where there is none. */
  readonly before: number | null;
  readonly after: number | null;
  /** After less before; what cannot be computed counts as nothing. */
  readonly difference: number;
}

/** What two designs cost, and what drives the difference. */
export interface CostDifference {
  readonly before: number;
  readonly after: number;
  /** Items that differ, the largest difference first. */
  readonly drivers: readonly CostChange[];
}

/** Compares the monthly cost of two designs item by item; clusters are told apart by id, so a new name is no difference. */
export function costDifference(before: Plan, after: Plan, time: CostTime): CostDifference {
  const [old, now] = [planCost(before, time), planCost(after, time)];
  const had = keyed(old.lines);
  const has = keyed(now.lines);
  const drivers = [...new Set([...had.keys(), ...has.keys()])].flatMap((key): CostChange[] => {
    const [was, is] = [had.get(key), has.get(key)];
    const known = is ?? was;
    const [from, to] = [amountOf(was), amountOf(is)];
    if (known === undefined || from === to) return [];
    const difference = Math.round(100 * ((to ?? 0) - (from ?? 0))) / 100;
    return [{ clusterName: known.clusterName, item: known.item, before: from, after: to, difference }];
  });
  drivers.sort(
    (a, b) =>
      Math.abs(b.difference) - Math.abs(a.difference) ||
      (`${a.clusterName} ${a.item}` < `${b.clusterName} ${b.item}` ? -1 : 1),
  );
  return { before: old.total, after: now.total, drivers };
}

function keyed(lines: readonly CostLine[]): Map<string, CostLine> {
  return new Map(lines.map((line) => [`${line.clusterId} ${line.item}`, line]));
}

function amountOf(line: CostLine | undefined): number | null {
  if (line === undefined) return 0;
  return line.monthly?.value ?? null;
}
