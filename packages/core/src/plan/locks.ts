import { contains } from '../address/index.js';
import { byId } from './collection.js';
import type { Plan } from './entities.js';
import { fieldRules } from './fields.js';
import type { Allocation } from './kinds/allocations.js';
import type { Cluster } from './kinds/clusters.js';
import type { Operation, OperationProblem } from './operations.js';
import { rangeOf } from './rangeOf.js';

/** Decisions that cannot be changed once a cluster runs (handbook 6). Common practice. */
export const lockedFields = [
  'siteId',
  'networkId',
  'podMode',
  'family',
  'perNodeLength',
] as const satisfies readonly (keyof Cluster)[];

/** Whether a range keeps what runs in it when it grows where it is: subnets of nodes and entries do, also of a built cluster. */
export function growsInPlace(purpose: Allocation['purpose']): boolean {
  return purpose === 'node' || purpose === 'entry';
}

/** Whether a range of a built cluster stays what it is for those that use it: unchanged, or, for node and entry subnets, grown in place. */
function isKept(before: Allocation, after: Allocation | undefined): boolean {
  if (after === undefined || after.clusterId !== before.clusterId) return false;
  if (after.purpose !== before.purpose || after.zone !== before.zone) return false;
  return after.prefix === before.prefix || (growsInPlace(before.purpose) && contains(rangeOf(after), rangeOf(before)));
}

/** A locked decision that a change takes anew. */
interface LockedChange {
  readonly operation: number;
  readonly clusterId: string;
  readonly field: string;
  /** "Pod network", "pod range". */
  readonly label: string;
}

/** The locked decisions of clusters, built before and after, that these operations change. */
function lockedChanges(before: Plan, after: Plan, operations: readonly Operation[]): LockedChange[] {
  return operations.flatMap((operation, at) => {
    if (operation.kind === 'clusters' && operation.op === 'set') {
      const old = byId(before.clusters, operation.id);
      const now = byId(after.clusters, operation.id);
      if (old?.isBuilt !== true || now?.isBuilt !== true) return [];
      return lockedFields
        .filter((field) => old[field] !== now[field])
        .map((field) => ({ operation: at, clusterId: old.id, field, label: fieldRules.clusters[field].label }));
    }
    if (operation.kind !== 'allocations' || operation.op === 'add') return [];
    const range = byId(before.allocations, operation.id);
    const now = byId(after.allocations, operation.id);
    if (range === undefined || isKept(range, now)) return [];
    const isBuilt = [before, after].every((plan) => byId(plan.clusters, range.clusterId)?.isBuilt === true);
    if (!isBuilt) return [];
    return [{ operation: at, clusterId: range.clusterId, field: 'prefix', label: `${range.purpose} range` }];
  });
}

/** Locked decisions change with a rebuild and its reason in the same change; taking that rebuild back changes them back. */
export function lockProblems(before: Plan, after: Plan, operations: readonly Operation[]): OperationProblem[] {
  const changes = lockedChanges(before, after, operations);
  if (changes.length === 0) return [];
  const rebuilt = new Set(
    operations.flatMap((operation) => {
      if (operation.kind !== 'rebuilds' || operation.op === 'set') return [];
      if (operation.op === 'add') return [operation.entity.clusterId];
      return byId(before.rebuilds, operation.id)?.clusterId ?? [];
    }),
  );
  return changes
    .filter(({ clusterId }) => !rebuilt.has(clusterId))
    .map(({ operation, clusterId, field, label }) => {
      const name = byId(before.clusters, clusterId)?.name ?? '';
      return {
        operation,
        field,
        code: 'cluster.locked',
        message: `${label}: ${name} is built, and this cannot be changed while it runs.`,
        fix: `Open ${name} and change it there: it becomes a rebuild with a reason.`,
      };
    });
}
