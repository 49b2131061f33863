import type { Plan } from './entities.js';
import { setOperation } from './operations.js';
import type { Operation } from './operations.js';
import { readOutageParts, writeOutage } from './question/outage.js';
import { readPlace, readWish, writePlace, writeWish } from './question/question.js';

/** The kinds whose names stand in questions. */
const named = [
  'clusters',
  'nodePools',
  'networks',
  'bastions',
  'needs',
  'inUse',
  'workloads',
  'services',
  'sites',
  'natDevices',
  'firewalls',
  'links',
] as const;

/** An edit with the expectations rewritten that name what it renames. */
export function withRenames(plan: Plan, operations: readonly Operation[]): readonly Operation[] {
  const after = renamed(plan, operations);
  if (after === undefined || plan.expectations.length === 0) return operations;
  const rewritten = plan.expectations.flatMap(({ id, from, to, during }) => {
    const place = readPlace(plan, from);
    const target = readWish(plan, to);
    const lost = readOutageParts(plan, during);
    if (!place.ok || !target.ok || !lost.ok) return [];
    const written = (names: Plan) => ({
      from: writePlace(names, place.value),
      to: writeWish(names, target.value),
      during: writeOutage(names, lost.value),
    });
    const [before, fields] = [written(plan), written(after)];
    const isSame = fields.from === before.from && fields.to === before.to && fields.during === before.during;
    return isSame ? [] : [setOperation('expectations', id, fields)];
  });
  return [...operations, ...rewritten];
}

/** The plan with the new names of an edit and nothing else of it; undefined when it renames nothing that questions name. */
function renamed(plan: Plan, operations: readonly Operation[]): Plan | undefined {
  let after: Plan | undefined;
  for (const operation of operations) {
    if (operation.op !== 'set' || operation.kind === 'settings') continue;
    const kind = named.find((each) => each === operation.kind);
    if (kind === undefined || !['name', 'namespace', 'prefix', 'owner'].some((field) => field in operation.fields))
      continue;
    const from: Plan = after ?? plan;
    const items = (from[kind] as readonly { readonly id: string }[]).map((entity) =>
      entity.id === operation.id ? { ...entity, ...operation.fields } : entity,
    );
    after = { ...from, [kind]: items };
  }
  return after;
}
