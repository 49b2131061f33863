import { forwarding } from '../forwarding/index.js';
import { section } from '../section/index.js';
import { namingReads, NameState } from './nameState.js';

/** The names of the plan, compiled as they are asked for; after an edit of records only their names are compiled anew. */
export const naming = section({
  name: 'naming',
  reads: namingReads,
  needs: { forwarding },
  build: (parts, needed) => new NameState(parts, needed.forwarding),
  follow: (last, parts, needed) => new NameState(parts, needed.forwarding, last.value),
});
