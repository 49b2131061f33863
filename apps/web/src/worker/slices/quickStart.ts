import { quickStart } from '@wide-lattice/core/allocation';
import { comparePlans } from '@wide-lattice/core/evaluation';
import { applyOperations } from '@wide-lattice/core/plan';
import type { QuickStartRequest } from '@wide-lattice/core/allocation';
import type { DescribedFinding } from '@wide-lattice/core/findings';
import type { Operation, Plan } from '@wide-lattice/core/plan';

/** One thing a quick start would make. */
interface MadeRow {
  readonly what: string;
  readonly name: string;
  readonly range: string;
  readonly internetEgress: string;
  readonly routeTable: string;
}

/** A quick start as it is shown: what it makes and what that brings, or why there is none. */
export type ShownStart =
  | {
      readonly ok: true;
      readonly clusterId: string;
      readonly operations: readonly Operation[];
      readonly rows: readonly MadeRow[];
      readonly notes: readonly string[];
      readonly gained: readonly DescribedFinding[];
    }
  | { readonly ok: false; readonly reason: string; readonly fix: string };

const wayOuts = { none: 'none', nat: 'by NAT', hub: 'by the hub', direct: 'direct, public' } as const;

/** Plans a quick start and says what is in it. */
export function shownStart(plan: Plan, request: QuickStartRequest): ShownStart {
  const start = quickStart(plan, request);
  if (!start.ok) return start;
  const after = applyOperations(plan, start.operations);
  if (!after.ok) {
    const [first] = after.problems;
    return { ok: false, reason: first?.message ?? '', fix: first?.fix ?? '' };
  }
  const added = start.operations.flatMap((operation) => (operation.op === 'add' ? [operation] : []));
  const cluster = added.find(({ kind }) => kind === 'clusters');
  const tables = new Map(
    added.flatMap((each) => (each.kind === 'routeTables' ? [[each.entity.id, each.entity.name]] : [])),
  );
  return {
    ok: true,
    clusterId: cluster?.entity.id ?? '',
    operations: start.operations,
    rows: added.flatMap((each) => rowOf(each, (id) => tables.get(id ?? '') ?? '')),
    notes: start.notes,
    gained: comparePlans(plan, after.plan).gained,
  };
}

function rowOf(operation: Extract<Operation, { op: 'add' }>, tableName: (id: string | null) => string): MadeRow[] {
  const plain = { internetEgress: '', routeTable: '', range: '' };
  switch (operation.kind) {
    case 'networks':
      return [{ ...plain, what: 'network', name: operation.entity.name }];
    case 'blocks':
      return [{ ...plain, what: 'address block', name: '', range: operation.entity.prefix }];
    case 'clusters': {
      const { name, nodesNow, nodesHorizon, podMode } = operation.entity;
      return [{ ...plain, what: 'cluster', name: `${name}: ${nodesNow} to ${nodesHorizon} nodes, ${podMode} pods` }];
    }
    case 'subnets': {
      const { name, prefix, purpose, delegatedTo, isPublic, internetEgress, routeTableId } = operation.entity;
      const what = `${isPublic ? 'public' : 'private'} ${delegatedTo === '' ? purpose : delegatedTo} subnet`;
      return [
        { what, name, range: prefix, internetEgress: wayOuts[internetEgress], routeTable: tableName(routeTableId) },
      ];
    }
    case 'allocations': {
      const { purpose, prefix, zone } = operation.entity;
      return purpose === 'node' ? [] : [{ ...plain, what: `${purpose} range`, name: zone, range: prefix }];
    }
    case 'profiles':
      return [{ ...plain, what: 'provider profile', name: operation.entity.name }];
    case 'sites':
      return [{ ...plain, what: 'site', name: operation.entity.name }];
    case 'pools':
      return [{ ...plain, what: 'address pool', name: operation.entity.name, range: operation.entity.prefix }];
    case 'natDevices':
      return [{ ...plain, what: 'NAT device', name: operation.entity.name }];
    default:
      return [];
  }
}
