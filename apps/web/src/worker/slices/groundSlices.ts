import type { SliceHost } from '../sliceHost';
import { diagramView } from './diagram';
import { reachRows } from './reach';
import { subnetUses } from './subnetUses';

/** What is there, and who reaches whom. */
export const groundSlices = {
  diagram: ({ evaluation }: SliceHost) => diagramView(evaluation),
  /** Who lives in each subnet of the ground, and how much of it is taken. */
  subnetUses: ({ plan }: SliceHost) => subnetUses(plan),
  reach: ({ evaluation }: SliceHost) => reachRows(evaluation),
};
