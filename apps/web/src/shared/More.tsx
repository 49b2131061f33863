import { formatNumber } from '@wide-lattice/core/working';
/** What a shortened list says below it; nothing when all of it is shown. */
export function More({ all, shown }: { readonly all: number; readonly shown: number }) {
  return all > shown ? <p className="quiet mt-1">and {formatNumber(all - shown)} more</p> : null;
}
