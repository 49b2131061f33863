import { doorsOf } from '@wide-lattice/core/ingress';
import type { Doors, IngressState } from '@wide-lattice/core/ingress';

const known = new WeakMap<IngressState, Doors>();

/** The doors of a state of the plan, made once for all that show them. */
export function knownDoors(state: IngressState): Doors {
  const made = known.get(state) ?? doorsOf(state);
  known.set(state, made);
  return made;
}
