import type { EntityOf, Kind } from './entities.js';
import { fallbacks } from './fields.js';

/** The fields of an entity with the usual values where some are missing: for entities written before a field came to be. */
export function withFallbacks<K extends Kind>(kind: K, fields: Partial<EntityOf[K]>): EntityOf[K] {
  // Whether the whole is an entity of its kind is checked when it is applied.
  return { ...fallbacks(kind), ...fields } as unknown as EntityOf[K];
}
