import { formatNumber } from '@wide-lattice/core/working';
import { planCost } from '@wide-lattice/core/money';
import type { CostLine, CostTime } from '@wide-lattice/core/money';
import type { Plan } from '@wide-lattice/core/plan';
import { shown } from './figures';
import type { ShownFigure } from './figures';

/** Lines beyond this are counted, not sent: each brings its working along. */
const SENT = 100;

/** One item of one cluster's cost. */
interface CostRow {
  readonly id: string;
  readonly clusterId: string;
  readonly cluster: string;
  readonly item: string;
  readonly quantity: string;
  readonly monthly: ShownFigure;
}

/** An item that cannot be computed, and why. */
interface MissingCost {
  readonly id: string;
  readonly clusterId: string;
  readonly cluster: string;
  readonly item: string;
  readonly cannot: string;
}

/** What the plan costs per month. */
export interface CostSheet {
  readonly total: number;
  /** The dearest lines. */
  readonly rows: readonly CostRow[];
  /** Lines that can be computed, in all. */
  readonly count: number;
  /** The same by item, dearest first. */
  readonly items: readonly { readonly item: string; readonly amount: number }[];
  readonly missing: readonly MissingCost[];
  readonly missingCount: number;
}

/** Every item added up, and the dearest lines with their working. */
export function costSheet(plan: Plan, time: CostTime): CostSheet {
  const { lines, total } = planCost(plan, time);
  const items = new Map<string, number>();
  // Pools of nodes are one item here.
  for (const { item, monthly } of lines) {
    const name = item.split(',')[0] ?? item;
    items.set(name, (items.get(name) ?? 0) + (monthly?.value ?? 0));
  }
  const counted = lines.filter(({ monthly }) => monthly !== undefined);
  const missing = lines.filter(({ monthly }) => monthly === undefined);
  counted.sort((a, b) => (b.monthly?.value ?? 0) - (a.monthly?.value ?? 0));
  return {
    total,
    rows: counted.slice(0, SENT).flatMap(rowOf),
    count: counted.length,
    items: [...items]
      .map(([item, amount]) => ({ item, amount }))
      .filter(({ amount }) => amount > 0)
      .sort((a, b) => b.amount - a.amount),
    missing: missing.slice(0, SENT).map(({ clusterId, clusterName, item, cannot }) => ({
      id: `${clusterId} ${item}`,
      clusterId,
      cluster: clusterName,
      item,
      cannot,
    })),
    missingCount: missing.length,
  };
}

function rowOf({ clusterId, clusterName, item, quantity, unit, monthly }: CostLine): CostRow[] {
  if (monthly === undefined) return [];
  const id = `${clusterId} ${item}`;
  const words = `${formatNumber(quantity)} ${unit}`;
  return [{ id, clusterId, cluster: clusterName, item, quantity: words, monthly: shown(monthly) }];
}
