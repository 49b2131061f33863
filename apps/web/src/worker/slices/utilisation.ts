import { utilisation } from '@wide-lattice/core/allocation';
import type { Plan, Purpose } from '@wide-lattice/core/plan';
import { shown } from './figures';
import type { ShownFigure } from './figures';

/** How full the ranges of one site and purpose are. */
export interface UtilisationRow {
  readonly id: string;
  readonly siteName: string;
  readonly purpose: Purpose;
  readonly ranges: number;
  readonly addresses: number;
  readonly usedNow: ShownFigure;
  readonly usedHorizon: ShownFigure;
  readonly routes: number;
}

/** One row a site and purpose. */
export function utilisationRows(plan: Plan): UtilisationRow[] {
  return utilisation(plan).map(({ siteId, usedNow, usedHorizon, ...row }) => ({
    ...row,
    id: `${siteId} ${row.purpose}`,
    usedNow: shown(usedNow),
    usedHorizon: shown(usedHorizon),
  }));
}
