import fc from 'fast-check';
import { formatPrefix } from '../src/address/index.js';
import { applyOperations, kinds, newId, removalOf, rulesOf, setOperation, withRebuilds } from '../src/plan/index.js';
import type { Entity, FieldRule, Kind, Operation, Plan } from '../src/plan/index.js';
import { crowdedPrefix } from './arbitraries.js';

/** Picks for one edit; what they mean depends on the plan they meet. */
export interface Edit {
  readonly where: number;
  readonly which: number;
  readonly field: number;
  readonly value: number;
  readonly prefix: string;
  readonly isRemoval: boolean;
}

/** Any field of any kind set to any value that its rule allows, the plan's own fields included, or an entity removed. */
export const anyEdit: fc.Arbitrary<Edit> = fc.record({
  where: fc.nat({ max: 10_000 }),
  which: fc.nat({ max: 10_000 }),
  field: fc.nat({ max: 10_000 }),
  value: fc.nat({ max: 1_000_000 }),
  prefix: crowdedPrefix(4).map(formatPrefix),
  isRemoval: fc.nat({ max: 12 }).map((n) => n === 0),
});

/** The plan after an edit, and what was edited; undefined where the plan refuses it. */
export function edited(plan: Plan, edit: Edit): { plan: Plan; what: string } | undefined {
  const places: (Kind | 'settings')[] = [...kinds.filter((kind) => plan[kind].length > 0), 'settings'];
  const kind = at(places, edit.where);
  const operations = operationsOf(plan, kind, edit);
  const decision = { reason: 'test', decidedOn: '2026-11-25', decidedBy: 'test' };
  const applied = applyOperations(plan, withRebuilds(plan, operations, decision));
  const [first] = operations;
  const field = first?.op === 'set' ? Object.keys(first.fields)[0] : 'removed';
  return applied.ok && first !== undefined ? { plan: applied.plan, what: `${kind}.${field}` } : undefined;
}

function operationsOf(plan: Plan, kind: Kind | 'settings', edit: Edit): Operation[] {
  const [field, rule] = at(Object.entries(rulesOf(kind)), edit.field);
  if (kind === 'settings')
    return [{ op: 'set', kind, fields: { [field]: valueFor(plan, rule, edit, (plan.settings as never)[field]) } }];
  const entity = at<Entity>(plan[kind], edit.which);
  if (edit.isRemoval) return removalOf(plan, kind, entity.id);
  const old = (entity as unknown as Record<string, unknown>)[field];
  return [setOperation(kind, entity.id, { [field]: valueFor(plan, rule, edit, old) })];
}

function valueFor(plan: Plan, rule: FieldRule, { value, prefix }: Edit, old: unknown): unknown {
  const some = <T>(items: readonly T[]) => items.filter((_, i) => ((value >> (i % 20)) & 1) === 1);
  switch (rule.type) {
    case 'text':
      return rule.min === 0 && value % 4 === 0 ? '' : newId().slice(0, Math.min(20, rule.max));
    case 'integer':
    case 'optionalInteger':
      if (rule.type === 'optionalInteger' && value % 4 === 0) return null;
      // Small steps are what breaks most; large ones are tried too.
      return Math.min(
        rule.max,
        Math.max(rule.min, value % 3 === 0 ? rule.min + (value % 40) : Number(old ?? 0) + (value % 7) - 3),
      );
    case 'decimal':
      return rule.isOptional && value % 4 === 0 ? null : Math.min(rule.max, Math.max(rule.min, value % 100));
    case 'choice':
      return at(rule.options, value);
    case 'flag':
      return old !== true;
    case 'prefix':
      return value % 2 === 0 ? prefix : at([...plan.allocations, { prefix }], value).prefix;
    case 'address':
      return rule.isOptional && value % 4 === 0 ? null : prefix.split('/')[0];
    case 'addresses':
      return value % 3 === 0 ? [] : [prefix.split('/')[0]];
    case 'date':
      return '2026-01-01';
    case 'reference':
      return rule.isOptional && value % 4 === 0
        ? null
        : at<{ readonly id: string | null }>([...plan[rule.to], { id: null }], value).id;
    case 'references':
      return some(plan[rule.to] as readonly Entity[])
        .map(({ id }) => id)
        .slice(0, rule.max);
    case 'prefixes':
      return value % 3 === 0 ? [] : [prefix];
    case 'choices':
      return some(rule.options);
    case 'texts':
      return (old as readonly string[]).slice(value % 2);
  }
}

function at<T>(items: readonly T[], n: number): T {
  return items[n % Math.max(1, items.length)] as T;
}
