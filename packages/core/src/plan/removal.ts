import { kinds } from './entities.js';
import type { Kind, Plan } from './entities.js';
import { setOperation } from './operations.js';
import type { Operation } from './operations.js';
import { idsIn, referenceFields } from './references.js';

/** The change that removes an entity with all that goes along with it: what each reference does is in the descriptor of its kind. */
export function removalOf(plan: Plan, kind: Kind, id: string): Operation[] {
  return removalOfAll(plan, kind, [id]);
}

/** The change that removes several entities of one kind, each with what goes along with it. */
export function removalOfAll(plan: Plan, kind: Kind, ids: readonly string[]): Operation[] {
  const gone = new Map<Kind, Set<string>>([[kind, new Set(ids)]]);
  const lists = new Map<string, { kind: Kind; id: string; fields: Record<string, unknown> }>();
  // What goes along may take more along, so the kinds are gone through until nothing is added.
  for (let isGrowing = true; isGrowing;) {
    isGrowing = false;
    for (const each of kinds) isGrowing = follow(plan, each, gone, lists) || isGrowing;
  }
  const kept = [...lists.values()].filter((list) => gone.get(list.kind)?.has(list.id) !== true);
  return [
    ...[...kinds].reverse().flatMap((each) => (each === kind ? [] : removals(each, gone.get(each) ?? []))),
    ...kept.map((list) => setOperation(list.kind, list.id, list.fields)),
    ...removals(kind, gone.get(kind) ?? []),
  ];
}

function removals(kind: Kind, ids: Iterable<string>): Operation[] {
  return [...ids].map((id) => ({ op: 'remove', kind, id }));
}

/** Takes along the entities of one kind that refer to what goes; returns whether any were added. */
function follow(
  plan: Plan,
  kind: Kind,
  gone: Map<Kind, Set<string>>,
  lists: Map<string, { kind: Kind; id: string; fields: Record<string, unknown> }>,
): boolean {
  const fields = referenceFields(kind).filter(({ rule }) => rule.onRemoval !== 'refuse' && gone.has(rule.to));
  if (fields.length === 0) return false;
  let isGrowing = false;
  for (const entity of plan[kind]) {
    if (gone.get(kind)?.has(entity.id) === true) continue;
    for (const { field, rule } of fields) {
      const left = idsIn(entity, field).filter((id) => gone.get(rule.to)?.has(id) !== true);
      if (left.length === idsIn(entity, field).length) continue;
      const isTooShort = rule.type === 'references' && left.length < rule.min;
      if (rule.onRemoval === 'cascade' || isTooShort) {
        gone.set(kind, (gone.get(kind) ?? new Set()).add(entity.id));
        isGrowing = true;
        break;
      }
      const list = lists.get(entity.id) ?? { kind, id: entity.id, fields: {} };
      list.fields[field] = rule.type === 'references' ? left : null;
      lists.set(entity.id, list);
    }
  }
  return isGrowing;
}
