import type { Entity, Kind, Plan } from './entities.js';
import { byId } from './collection.js';
import { newId } from './newId.js';
import { addOperation } from './operations.js';
import type { Operation } from './operations.js';

/** The change that adds a copy of an entity under a free name; a profile's machine shapes are copied with it. Empty when it is not in the plan. */
export function duplicateOf(plan: Plan, kind: Kind, id: string): Operation[] {
  const entity = byId<Entity>(plan[kind], id);
  if (entity === undefined) return [];
  const copyId = newId();
  const copied = (of: Kind, source: Entity, more: object) =>
    addOperation(of, { ...source, ...named(plan, of, source), ...more });
  const shapes = kind === 'profiles' ? plan.shapes.filter(({ profileId }) => profileId === id) : [];
  return [
    copied(kind, entity, { id: copyId }),
    ...shapes.map((shape) => copied('shapes', shape, { id: newId(), profileId: copyId })),
  ];
}

function named(plan: Plan, kind: Kind, entity: Entity): { name?: string } {
  if (!('name' in entity)) return {};
  const taken = new Set((plan[kind] as readonly { name?: string }[]).map(({ name }) => name?.trim().toLowerCase()));
  const base = entity.name.slice(0, 70);
  for (let n = 1; ; n++) {
    const name = n === 1 ? `${base} copy` : `${base} copy ${n}`;
    if (!taken.has(name.toLowerCase())) return { name };
  }
}
