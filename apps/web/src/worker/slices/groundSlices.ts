import type { SliceHost } from '../sliceHost';
import { diagramView } from './diagram';
import { reachRows } from './reach';

/** What is there, and who reaches whom. */
export const groundSlices = {
  diagram: ({ evaluation }: SliceHost) => diagramView(evaluation),
  reach: ({ evaluation }: SliceHost) => reachRows(evaluation),
};
