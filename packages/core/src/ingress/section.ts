import { forwarding } from '../forwarding/index.js';
import { naming } from '../naming/index.js';
import { section } from '../section/index.js';
import { entryPointsOf } from './entryPoints.js';
import { ingressReads, IngressState } from './ingressState.js';

/** The entry points of the plan, compiled as they are asked for; after an edit of routes only their hosts are compiled anew. */
export const ingress = section({
  name: 'ingress',
  reads: ingressReads,
  needs: { forwarding, naming },
  build: (parts, needed) => new IngressState(parts, needed.forwarding, needed.naming),
  follow: (last, parts, needed) => new IngressState(parts, needed.forwarding, needed.naming, last.value),
});

/** The entry points of the plan as linked lists. */
export const entryPoints = section({
  name: 'entryPoints',
  reads: [],
  needs: { ingress },
  build: (_, needed) => entryPointsOf(needed.ingress),
});
