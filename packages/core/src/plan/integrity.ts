import { parsePrefix } from '../address/index.js';
import { byId } from './collection.js';
import { rulesOf } from './checkField.js';
import { kindNames, kinds } from './entities.js';
import type { Allocation, Attachment, Block, Entity, Kind, NodePool, Plan } from './entities.js';
import { lockProblems } from './locks.js';
import type { Operation, OperationProblem } from './operations.js';
import { relationProblems, strandedSubnets } from './relations.js';

/** What the plan as a whole refuses: missing references, names taken twice, hanging references, locked decisions changed in passing. Only what the change touched is looked at. */
export function integrityProblems(before: Plan, after: Plan, operations: readonly Operation[]): OperationProblem[] {
  const problems: OperationProblem[] = [];
  const taken = new Map<Kind, Map<string, string>>();
  operations.forEach((operation, at) => {
    if (operation.kind === 'settings') return;
    if (operation.op === 'remove') {
      if (byId<Entity>(after[operation.kind], operation.id) !== undefined) return; // added back by a later step
      const hanging = referrerOf(after, operation.kind, operation.id);
      const gone = byId<Entity>(before[operation.kind], operation.id);
      if (hanging !== undefined) {
        problems.push({
          operation: at,
          field: 'id',
          code: 'entity.referred-to',
          message: `The ${kindNames[operation.kind]} ${labelOf(after, gone)} is still used by the ${kindNames[hanging.kind]} ${labelOf(after, hanging.entity)}.`,
          mend: `Move or remove that ${kindNames[hanging.kind]} first.`,
        });
      } else if (operation.kind === 'blocks' && gone !== undefined) {
        // A removed block was one before.
        const stranded = strandedSubnets(after, (gone as Block).networkId);
        problems.push(...stranded.map((problem) => ({ operation: at, ...problem, field: 'id' })));
      }
      return;
    }
    const id = operation.op === 'add' ? operation.entity.id : operation.id;
    const entity = byId<Entity>(after[operation.kind], id);
    if (entity === undefined) return;
    const fields = Object.keys(operation.op === 'add' ? operation.entity : operation.fields);
    const missing = missingReferences(after, operation.kind, entity, fields, at);
    problems.push(...missing);
    if (missing.length === 0) {
      const wrong = relationProblems(after, operation.kind, entity);
      problems.push(...wrong.map((problem) => ({ operation: at, ...problem })));
    }
    const twice = takenTwice(after, operation.kind, entity, fields, taken);
    if (twice !== undefined) problems.push({ operation: at, ...twice });
  });
  problems.push(...lockProblems(before, after, operations));
  return problems;
}

function missingReferences(
  plan: Plan,
  kind: Kind,
  entity: Entity,
  fields: readonly string[],
  at: number,
): OperationProblem[] {
  const rules = rulesOf(kind);
  const values = entity as unknown as Record<string, unknown>;
  const problems: OperationProblem[] = [];
  for (const field of fields) {
    const rule = rules[field];
    if (rule?.type !== 'reference' && rule?.type !== 'references') continue;
    const value = values[field];
    const ids = Array.isArray(value) ? (value as string[]) : value === null ? [] : [value as string];
    if (ids.every((id) => byId<Entity>(plan[rule.to], id) !== undefined)) continue;
    problems.push({
      operation: at,
      field,
      code: 'reference.missing',
      message: `${rule.label}: that ${kindNames[rule.to]} is not in the plan.`,
      mend: `Choose a ${kindNames[rule.to]} of this plan.`,
    });
  }
  return problems;
}

/** What may stand once only: a name within its kind, an allocation's place within its cluster, a network on a link. Exported for imports, which look for takers first. */
export function uniqueKeyOf(kind: Kind, entity: Entity): string | undefined {
  if (kind === 'allocations') {
    const { clusterId, purpose, zone, prefix } = entity as Allocation;
    const parsed = parsePrefix(prefix);
    return `${clusterId} ${purpose} ${zone} ${parsed.ok ? parsed.value.family : ''}`;
  }
  if (kind === 'attachments') return `${(entity as Attachment).linkId} ${(entity as Attachment).networkId}`;
  if (kind === 'nodePools')
    return `${(entity as NodePool).clusterId} ${(entity as NodePool).name.trim().toLowerCase()}`;
  return 'name' in entity ? entity.name.trim().toLowerCase() : undefined;
}

const uniqueFields = new Set(['name', 'clusterId', 'purpose', 'zone', 'prefix', 'linkId', 'networkId']);

function takenTwice(
  plan: Plan,
  kind: Kind,
  entity: Entity,
  fields: readonly string[],
  cache: Map<Kind, Map<string, string>>,
) {
  if (!fields.some((field) => uniqueFields.has(field))) return undefined;
  const key = uniqueKeyOf(kind, entity);
  if (key === undefined) return undefined;
  let owners = cache.get(kind);
  if (owners === undefined) {
    owners = new Map();
    for (const other of plan[kind]) {
      const otherKey = uniqueKeyOf(kind, other);
      if (otherKey === undefined) continue;
      if (owners.has(otherKey)) owners.set(otherKey, 'several');
      else owners.set(otherKey, other.id);
    }
    cache.set(kind, owners);
  }
  if (owners.get(key) === entity.id) return undefined;
  return sayTaken(kind, entity);
}

function sayTaken(kind: Kind, entity: Entity) {
  if (kind === 'allocations')
    return {
      field: 'purpose',
      code: 'allocation.twice',
      message: 'This cluster has a range for that purpose, zone and family already.',
      mend: 'Change that one instead.',
    };
  if (kind === 'attachments')
    return {
      field: 'networkId',
      code: 'attachment.twice',
      message: 'This network has an attachment to that link already.',
      mend: 'Change that one instead.',
    };
  return {
    field: 'name',
    code: 'name.taken',
    message: `The name "${(entity as { name: string }).name}" is taken by another ${kindNames[kind]}.`,
    mend: 'Choose another name.',
  };
}

function referrerOf(plan: Plan, kind: Kind, id: string): { kind: Kind; entity: Entity } | undefined {
  for (const other of kinds) {
    const fields = Object.entries(rulesOf(other)).filter(
      ([, rule]) => (rule.type === 'reference' || rule.type === 'references') && rule.to === kind,
    );
    if (fields.length === 0) continue;
    for (const entity of plan[other]) {
      const values = entity as unknown as Record<string, unknown>;
      const refers = fields.some(([field]) => {
        const value = values[field];
        return Array.isArray(value) ? value.includes(id) : value === id;
      });
      if (refers) return { kind: other, entity };
    }
  }
  return undefined;
}

/** How a person knows an entity: its name, or its prefix with its owner. */
export function labelOf(plan: Plan, entity: Entity | undefined): string {
  if (entity === undefined) return '';
  if ('name' in entity) return `"${entity.name}"`;
  if ('owner' in entity) return `${entity.prefix} (${entity.owner})`;
  if ('linkId' in entity)
    return `of ${byId(plan.networks, entity.networkId)?.name ?? ''} to ${byId(plan.links, entity.linkId)?.name ?? ''}`;
  if ('reason' in entity) return `of ${byId(plan.clusters, entity.clusterId)?.name ?? 'a cluster'}: ${entity.what}`;
  if (!('clusterId' in entity)) return `${entity.prefix} of ${byId(plan.networks, entity.networkId)?.name ?? ''}`;
  const cluster = byId(plan.clusters, entity.clusterId);
  return `${entity.prefix} (${entity.purpose} range of ${cluster?.name ?? 'a cluster'})`;
}
