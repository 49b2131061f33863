import type { NestExpressApplication } from '@nestjs/platform-express';
import { demoPlan } from '@wide-lattice/core/demo';
import {
  operationsBetween,
  withFallbacks,
  addOperation,
  applyOperations,
  byId,
  kindOf,
  kinds,
  newId,
  removalOf,
  rulesOf,
  setOperation,
} from '@wide-lattice/core/plan';
import type { Entity, FieldRule, Kind, Operation, Plan } from '@wide-lattice/core/plan';
import { writePlanFile } from '@wide-lattice/core/exchange';
import request from 'supertest';
import { DataSource } from 'typeorm';
import { CHOICE_LENGTH } from '../db/rows/columnFor.js';
import { rowOf } from '../db/rows/index.js';
import { addressOf, startTestApp, TestClient } from '../../test/testApp.js';
import { PlanStore } from './planStore.js';

let app: NestExpressApplication;
let other: NestExpressApplication;
let client: TestClient;
let fresh: TestClient;
let address: string;

beforeAll(async () => {
  app = await startTestApp();
  other = await startTestApp();
  address = await addressOf(app);
  client = new TestClient(address);
  fresh = new TestClient(await addressOf(other));
  await begin();
});
afterAll(async () => {
  await app.close();
  await other.close();
});

const demo = demoPlan();

/** One plan for all kinds, as it should be now. */
let planId = '';
let plan = demo;
let revision = 0;

/** Begins with the demo anew. */
async function begin(): Promise<void> {
  const { body } = await client.importFile(writePlanFile(demo, 'json')).expect(201);
  planId = (body as { id: string }).id;
  plan = demo;
  revision = 0;
}

/** The plan as a server reads it from its tables, holding nothing of it in memory. */
async function readFresh(): Promise<Plan> {
  other.get(PlanStore).forget(planId);
  return ((await fresh.get(`/plans/${planId}`).expect(200)).body as { plan: Plan }).plan;
}

async function store(operations: readonly Operation[]): Promise<void> {
  const applied = applyOperations(plan, operations);
  expect(applied).toMatchObject({ ok: true });
  await client.change(planId, revision++, operations).expect(200);
  if (applied.ok) plan = applied.plan;
}

/** Another good value of a field, for those whose value stands alone. */
function another(rule: FieldRule, value: unknown): unknown {
  switch (rule.type) {
    case 'text':
      return `${String(value).slice(0, rule.max - 2)} ü`.slice(0, rule.max);
    case 'integer':
      return Math.min(rule.max, Number(value) + 1);
    case 'decimal':
      return rule.isOptional && value !== null ? null : Math.min(rule.max, 1 + 10 ** -rule.decimals);
    case 'flag':
      return value !== true;
    case 'date':
      return '2000-02-29';
    default:
      return value;
  }
}

describe.each(kinds)('%s', (kind) => {
  const [first] = demo[kind] as readonly Entity[];

  test('the demo has one to try', () => expect(first).toBeDefined());

  test('each field is stored and read back as it was set', async () => {
    const entity = first as Entity & Record<string, unknown>;
    const began = revision;
    for (const [field, rule] of Object.entries(rulesOf(kind))) {
      const operation = setOperation(kind, entity.id, { [field]: another(rule, entity[field]) } as never);
      // What stands between fields, and what a built cluster locks, is the core's matter.
      if (!applyOperations(plan, [operation]).ok) continue;
      await store([operation]);
    }
    expect(revision).toBeGreaterThan(began);
    expect(await readFresh()).toEqual(plan);
  });

  test('it is removed with what goes along, and comes back by the inverse', async () => {
    const before = plan;
    const found = (before[kind] as readonly Entity[]).map(({ id }) => removalOf(before, kind, id));
    const removal = found.find((operations) => applyOperations(before, operations).ok);
    if (removal === undefined) {
      // All of the demo's are in use; then the refusal must say by what.
      const { body } = await client.change(planId, revision, found[0] ?? []).expect(422);
      const { problems } = body as { problems: { code: string }[] };
      expect(new Set(problems.map(({ code }) => code))).toEqual(new Set(['entity.referred-to']));
      return;
    }
    await store(removal);
    expect(await readFresh()).toEqual(plan);
    await store(operationsBetween(plan, before));
    expect(await readFresh()).toEqual(before);
  });

  test('its table keeps every field in a column, and its class documents every field', async () => {
    const { columns } = app.get(DataSource).getMetadata(rowOf[kind]);
    const names = columns.map(({ propertyName }) => propertyName);
    expect(names).toEqual(expect.arrayContaining(['planId', 'id', ...Object.keys(rulesOf(kind))]));
    const { body } = await request(address).get('/api/openapi.json').expect(200);
    const { code } = kindOf[kind];
    const schema = (body as { components: { schemas: Record<string, { properties: object }> } }).components.schemas[
      `${code[0]?.toUpperCase()}${code.slice(1)}Dto`
    ];
    expect(Object.keys(schema?.properties ?? {})).toEqual(['id', ...Object.keys(rulesOf(kind))]);
  });

  test('every choice fits its column', () => {
    for (const rule of Object.values(rulesOf(kind)))
      if (rule.type === 'choice')
        for (const option of rule.options) expect(option.length).toBeLessThanOrEqual(CHOICE_LENGTH);
  });
});

test('names swapped and places exchanged in one change are stored', async () => {
  await begin();
  const [a, b] = demo.networks;
  const [one, two] = demo.pools;
  await store([
    setOperation('networks', a?.id ?? '', { name: b?.name ?? '' }),
    setOperation('networks', b?.id ?? '', { name: a?.name ?? '' }),
    setOperation('pools', one?.id ?? '', { name: two?.name ?? '' }),
    setOperation('pools', two?.id ?? '', { name: one?.name ?? '' }),
  ]);
  expect(await readFresh()).toEqual(plan);
});

test('a network is replaced under its own name, and what referred to it goes over, in one change', async () => {
  await begin();
  const range = demo.inUse.find(({ networkId }) => networkId !== null);
  const old = byId(demo.networks, range?.networkId ?? '');
  const id = newId();
  const moved = Object.entries({ clusters: demo.clusters, inUse: demo.inUse }) as [
    Kind,
    readonly { id: string; networkId: string | null }[],
  ][];
  const operations = [
    addOperation('networks', withFallbacks('networks', { id, name: `${old?.name} again` })),
    ...moved.flatMap(([kind, all]) =>
      all
        .filter(({ networkId }) => networkId === old?.id)
        .map((each) => setOperation(kind, each.id, { networkId: id } as never)),
    ),
    ...demo.templates
      .filter(({ networkId }) => networkId === old?.id)
      .map((each) => setOperation('templates', each.id, { networkId: id })),
    ...removalOf(demo, 'networks', old?.id ?? ''),
    setOperation('networks', id, { name: old?.name ?? '' }),
  ];
  const tried = applyOperations(demo, operations);
  // A cluster that is built keeps its network; the demo's first range in use stands in one without such a cluster.
  expect(tried.ok).toBe(true);
  await store(operations);
  expect(await readFresh()).toEqual(plan);
});

describe('a plan goes out', () => {
  test('compressed to who takes it, plain to who does not, and not at all to who has it', async () => {
    await begin();
    const asked = (encoding: string) => request(address).get(`/api/plans/${planId}`).set('accept-encoding', encoding);
    const gzipped = await asked('gzip').expect(200);
    expect(gzipped.headers['content-encoding']).toBe('gzip');
    const plain = await asked('identity').expect(200);
    expect(plain.headers['content-encoding']).toBeUndefined();
    expect(plain.body).toEqual(gzipped.body);
    expect((plain.body as { plan: Plan }).plan).toEqual(demo);
    const tag = String(plain.headers['etag']);
    await asked('gzip').set('if-none-match', tag).expect(304);
    await client.change(planId, 0, [setOperation('networks', demo.networks[0]?.id ?? '', { note: 'x' })]).expect(200);
    const next = await asked('gzip').set('if-none-match', tag).expect(200);
    expect(next.body).toMatchObject({ revision: 1 });
  });
});
