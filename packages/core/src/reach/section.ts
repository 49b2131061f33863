import { forwarding } from '../forwarding/index.js';
import { section } from '../section/index.js';
import { MatrixMaker } from './matrixMaker.js';
import { dependentsOf, dependentReads } from './dependents.js';

/** Makes rows of the matrix as they are asked for; after an edit those that rest on nothing that changed are kept. */
export const matrix = section({
  name: 'matrix',
  reads: [],
  needs: { forwarding },
  build: (_, needed) => new MatrixMaker(needed.forwarding),
  follow: ({ value }, _, needed) => new MatrixMaker(needed.forwarding, value),
});

/** What rests on each entity: expectations and needs. */
export const dependents = section({
  name: 'dependents',
  reads: dependentReads,
  needs: { forwarding },
  build: (parts, needed) => dependentsOf(parts, needed.forwarding),
});
