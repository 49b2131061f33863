import { bad, good } from '../result.js';
import type { Result } from '../result.js';
import { byId } from './collection.js';
import { kindNames } from './entities.js';
import type { Entity, Kind, Plan } from './entities.js';
import { kindRules } from './kinds/kindRules.js';

const known = new WeakMap<Plan, Map<Kind, ReadonlyMap<string, string>>>();

/** The id of the entity of a kind with that label, in any case, or with that id. */
export function idNamed(plan: Plan, kind: Kind, name: unknown): Result<string> {
  if (typeof name !== 'string')
    return bad('reference.form', `${JSON.stringify(name)} names no ${kindNames[kind]}.`, 'Give its name.');
  const text = name.trim();
  if (byId<Entity>(plan[kind], text) !== undefined) return good(text);
  const names = namesOf(plan, kind);
  const id = names.get(text.toLowerCase());
  if (id !== undefined) return good(id);
  const { label } = kindRules(kind);
  const some = (plan[kind] as readonly Entity[])
    .slice(0, 5)
    .map((entity) => label(entity, plan))
    .join(', ');
  return bad(
    'reference.unknown',
    `There is no ${kindNames[kind]} "${text}".`,
    some === '' ? `Add the ${kindNames[kind]} first.` : `Known are ${some}${names.size > 5 ? ' and others' : ''}.`,
  );
}

function namesOf(plan: Plan, kind: Kind): ReadonlyMap<string, string> {
  const books = known.get(plan) ?? new Map<Kind, ReadonlyMap<string, string>>();
  known.set(plan, books);
  const found = books.get(kind);
  if (found !== undefined) return found;
  const { label } = kindRules(kind);
  const names = new Map(
    (plan[kind] as readonly Entity[]).map((entity) => [label(entity, plan).trim().toLowerCase(), entity.id]),
  );
  books.set(kind, names);
  return names;
}
