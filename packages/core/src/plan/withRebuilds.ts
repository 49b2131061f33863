import { applyOperations } from './applyOperations.js';
import { byId } from './collection.js';
import type { Entity, Plan } from './entities.js';
import { fieldRules } from './fields.js';
import type { Cluster } from './kinds/clusters.js';
import { lockedFields } from './locks.js';
import { newId } from './newId.js';
import { addOperation } from './operations.js';
import type { Operation } from './operations.js';

/** Why and by whom locked decisions are taken anew. */
export interface RebuildDecision {
  readonly reason: string;
  /** The day, as 2026-11-23. */
  readonly decidedOn: string;
  readonly decidedBy: string;
}

/** A built cluster that a change would have built anew, and the locked decisions it changes. */
export interface NeededRebuild {
  readonly clusterId: string;
  readonly clusterName: string;
  /** "Pod network: overlay to native". */
  readonly changes: readonly string[];
}

/** The rebuilds a change needs before it can be made; none when it changes nothing that is locked, or is wrong in another way. */
export function rebuildsNeeded(plan: Plan, operations: readonly Operation[]): NeededRebuild[] {
  // Most changes touch nothing that can be locked, and need not be tried for it.
  if (!operations.some(mayBeLocked)) return [];
  const tried = applyOperations(plan, operations);
  if (tried.ok || tried.problems.some(({ code }) => code !== 'cluster.locked')) return [];
  const needed = new Map<string, string[]>();
  for (const at of new Set(tried.problems.map(({ operation }) => operation))) {
    const operation = operations[at];
    if (operation === undefined) continue;
    const { clusterId, changes } = changesOf(plan, operation);
    needed.set(clusterId, [...(needed.get(clusterId) ?? []), ...changes]);
  }
  return [...needed].map(([clusterId, changes]) => ({
    clusterId,
    clusterName: byId(plan.clusters, clusterId)?.name ?? '',
    changes,
  }));
}

function mayBeLocked(operation: Operation): boolean {
  if (operation.kind === 'allocations') return operation.op !== 'add';
  if (operation.kind !== 'clusters' || operation.op !== 'set') return false;
  return lockedFields.some((field) => Object.hasOwn(operation.fields, field));
}

/** The change with an entry in the ledger for each cluster that it has built anew; the same change when there is none. */
export function withRebuilds(plan: Plan, operations: readonly Operation[], decision: RebuildDecision): Operation[] {
  const entries = rebuildsNeeded(plan, operations).map(({ clusterId, changes }) =>
    addOperation('rebuilds', { id: newId(), clusterId, what: changes.join('; ').slice(0, 500), ...decision }),
  );
  return [...operations, ...entries];
}

function changesOf(plan: Plan, operation: Operation): { clusterId: string; changes: string[] } {
  if (operation.kind === 'allocations' && operation.op !== 'add') {
    const range = byId(plan.allocations, operation.id);
    const after = operation.op === 'set' ? (operation.fields.prefix ?? 'none') : 'none';
    return { clusterId: range?.clusterId ?? '', changes: [`${range?.purpose} range: ${range?.prefix} to ${after}`] };
  }
  if (operation.kind !== 'clusters' || operation.op !== 'set') return { clusterId: '', changes: [] };
  const cluster = byId(plan.clusters, operation.id);
  const changes = lockedFields.flatMap((field) => {
    const wanted = operation.fields[field];
    if (cluster === undefined || wanted === undefined || wanted === cluster[field]) return [];
    return [`${fieldRules.clusters[field].label}: ${say(plan, field, cluster[field])} to ${say(plan, field, wanted)}`];
  });
  return { clusterId: operation.id, changes };
}

function say(plan: Plan, field: (typeof lockedFields)[number], value: Cluster[typeof field]): string {
  if (value === null) return 'as the pods need';
  const rule = fieldRules.clusters[field];
  if (rule.type !== 'reference') return field === 'perNodeLength' ? `/${value}` : String(value);
  const entity = byId<Entity>(plan[rule.to], String(value));
  return entity !== undefined && 'name' in entity ? entity.name : '';
}
