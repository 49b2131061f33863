import { createHash } from 'node:crypto';
import type { QueryRunner } from 'typeorm';

const CHANGES_AT_ONCE = 50;

/** A subnet as it was when a route table was a name in its row. */
interface SubnetThen {
  networkId: string;
  routeTable: string;
}

type Fields = Readonly<Record<string, unknown>>;

/** Operations as they were stored: of any kind and with any fields. */
type StoredOperation =
  | { readonly op: 'add'; readonly kind: string; readonly entity: Fields & { readonly id: string } }
  | { readonly op: 'set'; readonly kind: string; readonly id: string; readonly fields: Fields }
  | { readonly op: 'remove'; readonly kind: string; readonly id: string };

interface StoredChange {
  readonly revision: number;
  readonly operations: string | StoredOperation[];
  readonly inverse: string | StoredOperation[];
}

/**
 * Makes tables of the names that subnets gave to their route tables, today and in every earlier revision: in each, there is
 * a table for each name that a subnet of its network had then. It comes with the change that first used it and goes with
 * the one that last did. All in one transaction, after which no name is left: cut off before its end, it begins again.
 */
export async function makeRouteTables(queryRunner: QueryRunner): Promise<void> {
  await queryRunner.query('START TRANSACTION');
  const plans = (await queryRunner.query('SELECT `id` FROM `plan`')) as { readonly id: string }[];
  for (const { id } of plans) await ofPlan(queryRunner, id);
  await queryRunner.query("UPDATE `subnet` SET `routeTable` = ''");
  await queryRunner.query('COMMIT');
}

async function ofPlan(queryRunner: QueryRunner, planId: string): Promise<void> {
  const tables = await Tables.of(queryRunner, planId);
  const rows = (await queryRunner.query('SELECT `id`, `networkId`, `routeTable` FROM `subnet` WHERE `planId` = ?', [
    planId,
  ])) as (SubnetThen & { readonly id: string })[];
  const past = new Past(rows, tables);
  await makePresent(queryRunner, planId, past, tables);
  for (let before = Number.MAX_SAFE_INTEGER; ;) {
    const changes = (await queryRunner.query(
      `SELECT \`revision\`, \`operations\`, \`inverse\` FROM \`plan_change\` WHERE \`planId\` = ? AND \`revision\` < ? ORDER BY \`revision\` DESC LIMIT ${CHANGES_AT_ONCE}`,
      [planId, before],
    )) as StoredChange[];
    const last = changes.at(-1);
    if (last === undefined) return;
    before = last.revision;
    for (const change of changes) {
      const { operations, inverse } = past.goBack(read(change.operations), read(change.inverse));
      await queryRunner.query(
        'UPDATE `plan_change` SET `operations` = ?, `inverse` = ?, `operationCount` = ? WHERE `planId` = ? AND `revision` = ?',
        [JSON.stringify(operations), JSON.stringify(inverse), operations.length, planId, change.revision],
      );
    }
  }
}

async function makePresent(queryRunner: QueryRunner, planId: string, past: Past, tables: Tables): Promise<void> {
  const made = new Set<string>();
  for (const [id, { networkId, routeTable }] of past.subnets) {
    const table = tables.of(networkId, routeTable);
    if (table === undefined) continue;
    if (!made.has(table.id) && !tables.isStored(table.id))
      await queryRunner.query(
        "INSERT INTO `route_table` (`planId`, `id`, `name`, `networkId`, `isMain`, `zone`, `note`, `intent`, `proposedAs`) VALUES (?, ?, ?, ?, 0, '', '', '', '')",
        [planId, table.id, table.name, networkId],
      );
    made.add(table.id);
    await queryRunner.query('UPDATE `subnet` SET `routeTableId` = ? WHERE `planId` = ? AND `id` = ?', [
      table.id,
      planId,
      id,
    ]);
  }
}

interface Table {
  readonly id: string;
  readonly name: string;
  readonly networkId: string;
}

/** The table that a name in a network stands for; names are one whatever their case and the spaces around them. */
class Tables {
  private readonly known = new Map<string, Table>();
  private readonly stored = new Set<string>();

  private constructor(private readonly planId: string) {}

  static async of(queryRunner: QueryRunner, planId: string): Promise<Tables> {
    const tables = new Tables(planId);
    const rows = (await queryRunner.query('SELECT `id`, `name`, `networkId` FROM `route_table` WHERE `planId` = ?', [
      planId,
    ])) as Table[];
    for (const row of rows) {
      tables.known.set(keyOf(row.networkId, row.name), row);
      tables.stored.add(row.id);
    }
    return tables;
  }

  of(networkId: string, name: string): Table | undefined {
    if (name.trim() === '') return undefined;
    const key = keyOf(networkId, name);
    const known = this.known.get(key);
    if (known !== undefined) return known;
    const made = { id: idOf(`${this.planId} ${key}`), name: name.trim(), networkId };
    this.known.set(key, made);
    return made;
  }

  isStored(id: string): boolean {
    return this.stored.has(id);
  }
}

/** Subnets as they were, from today back: each change rewritten on the way. */
class Past {
  readonly subnets: Map<string, SubnetThen>;
  /** How many subnets use each table. */
  private readonly uses = new Map<string, { readonly table: Table; count: number }>();

  constructor(
    rows: readonly (SubnetThen & { readonly id: string })[],
    private readonly tables: Tables,
  ) {
    this.subnets = new Map(rows.map(({ id, networkId, routeTable }) => [id, { networkId, routeTable }]));
    for (const subnet of this.subnets.values()) this.count(subnet, 1);
  }

  /** Goes back over a change; gives it as it is stored now. */
  goBack(operations: readonly StoredOperation[], inverse: readonly StoredOperation[]) {
    const after = new Map(this.subnets);
    const usedAfter = this.used();
    for (const operation of inverse) if (operation.kind === 'subnets') this.apply(operation);
    const usedBefore = this.used();
    const gone = [...usedBefore].filter(([id]) => !usedAfter.has(id)).map(([, table]) => table);
    const come = [...usedAfter].filter(([id]) => !usedBefore.has(id)).map(([, table]) => table);
    const networkOf =
      (first: ReadonlyMap<string, SubnetThen>, second: ReadonlyMap<string, SubnetThen>) => (id: string) =>
        (first.get(id) ?? second.get(id))?.networkId ?? '';
    const forth = operations.map((each) => this.withTable(each, networkOf(after, this.subnets)));
    const back = inverse.map((each) => this.withTable(each, networkOf(this.subnets, after)));
    return {
      operations: [...come.map(adding), ...forth, ...gone.map(removing)],
      inverse: [...gone.map(adding), ...back, ...come.map(removing)],
    };
  }

  private apply(operation: StoredOperation): void {
    const id = operation.op === 'add' ? operation.entity.id : operation.id;
    const before = this.subnets.get(id);
    if (before !== undefined) this.count(before, -1);
    if (operation.op === 'remove') {
      this.subnets.delete(id);
      return;
    }
    const fields = operation.op === 'add' ? operation.entity : operation.fields;
    const text = (field: 'networkId' | 'routeTable') => {
      const value = fields[field];
      return typeof value === 'string' ? value : (before?.[field] ?? '');
    };
    const subnet = { networkId: text('networkId'), routeTable: text('routeTable') };
    this.subnets.set(id, subnet);
    this.count(subnet, 1);
  }

  private count({ networkId, routeTable }: SubnetThen, by: number): void {
    const table = this.tables.of(networkId, routeTable);
    if (table === undefined) return;
    const use = this.uses.get(table.id) ?? { table, count: 0 };
    use.count += by;
    this.uses.set(table.id, use);
  }

  private used(): ReadonlyMap<string, Table> {
    return new Map([...this.uses].filter(([, { count }]) => count > 0).map(([id, { table }]) => [id, table]));
  }

  private withTable(operation: StoredOperation, networkOf: (subnetId: string) => string): StoredOperation {
    if (operation.op === 'remove' || operation.kind !== 'subnets') return operation;
    const values = operation.op === 'add' ? operation.entity : operation.fields;
    const { routeTable, ...rest } = values;
    if (typeof routeTable !== 'string') return operation;
    const { networkId } = rest;
    const own = typeof networkId === 'string' ? networkId : undefined;
    const network = own ?? networkOf(operation.op === 'add' ? operation.entity.id : operation.id);
    const fields = { ...rest, routeTableId: this.tables.of(network, routeTable)?.id ?? null };
    return operation.op === 'add'
      ? { ...operation, entity: { ...fields, id: operation.entity.id } }
      : { ...operation, fields };
  }
}

function adding({ id, name, networkId }: Table): StoredOperation {
  const entity = { id, name, networkId, isMain: false, zone: '', note: '', intent: '', proposedAs: '' };
  return { op: 'add', kind: 'routeTables', entity };
}

function removing({ id }: Table): StoredOperation {
  return { op: 'remove', kind: 'routeTables', id };
}

function keyOf(networkId: string, name: string): string {
  return `${networkId} ${name.trim().toLowerCase()}`;
}

/** The same id each time for the same name, so that an upgrade that begins again makes the same tables (RFC 9562 5.8). */
function idOf(text: string): string {
  const hex = createHash('sha256').update(text).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

function read(stored: string | readonly StoredOperation[]): readonly StoredOperation[] {
  return typeof stored === 'string' ? (JSON.parse(stored) as StoredOperation[]) : stored;
}
