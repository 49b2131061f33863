import type { RebuildDecision } from '@wide-lattice/core/plan';

/** Locked decisions are tried as if they were taken anew; the reason is asked for when they are. */
export const tentative: RebuildDecision = { reason: 'tried out', decidedOn: '2000-01-01', decidedBy: 'nobody' };
