import { useState } from 'react';
import { toggled } from './toggled';

/** Rows marked to be changed together, by id, and the row that a stretch is marked from. */
export interface Marked {
  readonly ids: ReadonlySet<string>;
  /** Marks this row alone, or nothing when `id` is undefined. */
  readonly only: (id: string | undefined) => void;
  readonly toggle: (id: string) => void;
  /** Marks every row between the last one marked and this one. */
  readonly extend: (order: readonly string[], id: string) => void;
  readonly all: (order: readonly string[]) => void;
}

/** Keeps which rows of a sheet are marked. */
export function useMarked(): Marked {
  const [{ ids, from }, set] = useState<{ ids: ReadonlySet<string>; from: string | undefined }>({
    ids: new Set(),
    from: undefined,
  });
  return {
    ids,
    only: (id) => set({ ids: new Set(id === undefined ? [] : [id]), from: id }),
    toggle: (id) => set({ ids: toggled(ids, id), from: id }),
    extend: (order, id) => {
      const start = from === undefined ? -1 : order.indexOf(from);
      const end = order.indexOf(id);
      const [low, high] = start < 0 ? [end, end] : [Math.min(start, end), Math.max(start, end)];
      set({ ids: new Set(order.slice(low, high + 1)), from: from ?? id });
    },
    all: (order) => set({ ids: new Set(order), from: order[0] }),
  };
}
