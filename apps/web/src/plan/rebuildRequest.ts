import type { NeededRebuild } from '@wide-lattice/core/plan';

/** An edit that waits for the reason of the rebuilds it needs. */
export interface RebuildRequest {
  readonly label: string;
  readonly rebuilds: readonly NeededRebuild[];
  /** Gets the reason; undefined lets the edit go. */
  readonly answer: (reason: string | undefined) => void;
}

let present: RebuildRequest | undefined;
const listeners = new Set<() => void>();

function set(next: RebuildRequest | undefined): void {
  present = next;
  listeners.forEach((listener) => listener());
}

/** Asks whoever is at the page why locked decisions are taken anew; undefined when they are not. */
export function askForReason(label: string, rebuilds: readonly NeededRebuild[]): Promise<string | undefined> {
  present?.answer(undefined);
  return new Promise((resolve) => {
    set({
      label,
      rebuilds,
      answer: (reason) => {
        set(undefined);
        resolve(reason);
      },
    });
  });
}

/** The edit that waits now, for the dialog that asks. */
export const rebuildRequest = {
  snapshot: (): RebuildRequest | undefined => present,
  subscribe: (listener: () => void): (() => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
};
