import { moveGround } from '@wide-lattice/core/allocation';
import type { MovingKind } from '@wide-lattice/core/allocation';
import type { SliceHost } from '../sliceHost';
import { diagramView } from './diagram';
import { reachRows } from './reach';
import { subnetUses } from './subnetUses';

/** What is there, and who reaches whom. */
export const groundSlices = {
  diagram: ({ evaluation }: SliceHost) => diagramView(evaluation),
  /** Who lives in each subnet of the ground, and how much of it is taken. */
  subnetUses: ({ plan }: SliceHost) => subnetUses(plan),
  /** A block or subnet moved with all in it, or why it cannot be. */
  groundMove: ({ plan }: SliceHost, kind: MovingKind, id: string, to: string) =>
    id === '' ? undefined : moveGround(plan, kind, id, to),
  reach: ({ evaluation }: SliceHost) => reachRows(evaluation),
};
