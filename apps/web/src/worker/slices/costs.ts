import { planCost } from '@wide-lattice/core';
import type { CostLine, CostTime, Plan } from '@wide-lattice/core';
import { shown } from './figures';
import type { ShownFigure } from './figures';

/** One item of one cluster's cost. */
interface CostRow {
  readonly id: string;
  readonly clusterId: string;
  readonly cluster: string;
  readonly site: string;
  readonly item: string;
  readonly quantity: string;
  readonly price: number | null;
  readonly monthly: ShownFigure | undefined;
  readonly cannot: string;
}

/** What the plan costs a month. */
export interface CostSheet {
  readonly total: number;
  readonly rows: readonly CostRow[];
  /** The same by item, dearest first. */
  readonly items: readonly { readonly item: string; readonly amount: number }[];
  readonly uncounted: number;
}

/** Every item, the dearest first; those that cannot be computed last. */
export function costSheet(plan: Plan, time: CostTime): CostSheet {
  const { lines, total } = planCost(plan, time);
  const items = new Map<string, number>();
  // Pools of nodes are one item here.
  for (const { item, monthly } of lines) {
    const name = item.split(',')[0] ?? item;
    items.set(name, (items.get(name) ?? 0) + (monthly?.value ?? 0));
  }
  return {
    total,
    rows: lines.map(rowOf).sort((a, b) => (b.monthly?.value ?? -1) - (a.monthly?.value ?? -1)),
    items: [...items]
      .map(([item, amount]) => ({ item, amount }))
      .filter(({ amount }) => amount > 0)
      .sort((a, b) => b.amount - a.amount),
    uncounted: lines.filter(({ monthly }) => monthly === undefined).length,
  };
}

function rowOf({ clusterId, clusterName, siteName, item, quantity, unit, price, monthly, cannot }: CostLine): CostRow {
  return {
    id: `${clusterId} ${item}`,
    clusterId,
    cluster: clusterName,
    site: siteName,
    item,
    quantity: `${quantity.toLocaleString('en-US')} ${unit}`,
    price,
    monthly: monthly === undefined ? undefined : shown(monthly),
    cannot,
  };
}
