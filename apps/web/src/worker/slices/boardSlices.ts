import type { LookupAnswer } from '@wide-lattice/core/lookup';
import type { SliceHost } from '../sliceHost';
import { boardRows } from './board';

/** All clusters at a glance, and the quick find over everything. */
export const boardSlices = {
  board: ({ evaluation }: SliceHost) => boardRows(evaluation),
  find: ({ lookup }: SliceHost, query: string): LookupAnswer => lookup.find(query),
};
