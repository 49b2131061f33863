import type { NestExpressApplication } from '@nestjs/platform-express';
import { demoPlan } from '@wide-lattice/core/demo';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { applyOperations } from '@wide-lattice/core/plan';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import { addressOf, startTestApp, TestClient } from '../../test/testApp.js';

/** Requests of one run; the same ones each time. */
const REQUESTS = 1500;
const SEED = 20_261_125;

interface Schema {
  readonly $ref?: string;
  readonly type?: string;
  readonly enum?: readonly unknown[];
  readonly oneOf?: readonly Schema[];
  readonly items?: Schema;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly format?: string;
}

interface Parameter {
  readonly name: string;
  readonly in: string;
  readonly schema?: Schema;
}

interface Endpoint {
  readonly path: string;
  readonly method: string;
  readonly parameters: readonly Parameter[];
  readonly body: Schema | undefined;
}

const demo = demoPlan();

let app: NestExpressApplication;
let client: TestClient;
let address: string;

beforeAll(async () => {
  app = await startTestApp();
  address = await addressOf(app);
  client = new TestClient(address);
});
afterAll(() => app.close());

/** Numbers from 0 to 1, the same ones for a seed (mulberry32). */
function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const odd: readonly unknown[] = [
  null,
  true,
  '',
  ' ',
  'x'.repeat(5000),
  0,
  -1,
  1.5,
  3e9,
  1e308,
  '18446744073709551616',
  [],
  {},
  [[[]]],
  { __proto__: { a: 1 }, constructor: 1 },
  '\u0000',
  '\ud800',
  '\u202eabc',
  'a\ufe0f',
  '10.0.0.1/8',
  '10.0.0.0/33',
  '::/0',
  '019aa000-0001-7000-8000-000000000001',
  'settings',
  "'; DROP TABLE plan; --",
];

class Maker {
  constructor(
    private readonly random: () => number,
    private readonly schemas: Readonly<Record<string, Schema>>,
    private readonly ids: readonly string[],
  ) {}

  pick<T>(items: readonly T[]): T {
    return items[Math.floor(this.random() * items.length)] as T;
  }

  chance(share: number): boolean {
    return this.random() < share;
  }

  /** A value by its schema, now and then anything else. */
  value(schema: Schema | undefined, level = 0): unknown {
    if (schema === undefined || level > 6 || this.chance(0.08)) return this.pick(odd);
    if (schema.$ref !== undefined) return this.value(this.schemas[schema.$ref.split('/').at(-1) ?? ''], level + 1);
    if (schema.enum !== undefined) return this.pick(schema.enum);
    if (schema.oneOf !== undefined) return this.value(this.pick(schema.oneOf), level + 1);
    switch (schema.type) {
      case 'object':
        return this.object(schema.properties ?? {}, level);
      case 'array':
        return Array.from({ length: Math.floor(this.random() * 4) }, () => this.value(schema.items, level + 1));
      case 'integer':
      case 'number': {
        const low = schema.minimum ?? 0;
        return Math.round(low + this.random() * Math.min(1000, (schema.maximum ?? 1000) - low));
      }
      case 'boolean':
        return this.chance(0.5);
      default:
        return schema.format === 'uuid' || this.chance(0.5)
          ? this.pick(this.ids)
          : `t${Math.floor(this.random() * 1e6)}`;
    }
  }

  private object(properties: Readonly<Record<string, Schema>>, level: number): Record<string, unknown> {
    const entries = Object.entries(properties).filter(() => !this.chance(0.06));
    const found = Object.fromEntries(entries.map(([name, schema]) => [name, this.value(schema, level + 1)]));
    return this.chance(0.05) ? { ...found, unknown: this.pick(odd) } : found;
  }
}

async function endpoints(): Promise<{ all: Endpoint[]; schemas: Record<string, Schema> }> {
  const document = (await client.get('/openapi.json').expect(200)).body as {
    paths: Record<
      string,
      Record<string, { parameters?: Parameter[]; requestBody?: { content: Record<string, { schema: Schema }> } }>
    >;
    components: { schemas: Record<string, Schema> };
  };
  const all = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, { parameters = [], requestBody }]): Endpoint => ({
      path,
      method,
      parameters,
      body: requestBody?.content['application/json']?.schema,
    })),
  );
  return { all, schemas: document.components.schemas };
}

async function readPlan(planId: string): Promise<{ revision: number; plan: Plan }> {
  return (await client.get(`/plans/${planId}`).expect(200)).body as { revision: number; plan: Plan };
}

test(`${REQUESTS} requests made from the documented schema: none fails the server, none hangs, and the plan is what its history says`, async () => {
  const { body } = await client.importFile(writePlanFile(demo, 'json')).expect(201);
  const planId = (body as { id: string }).id;
  const { all, schemas } = await endpoints();
  expect(all.length).toBeGreaterThan(12);
  const random = seeded(SEED);
  const ids = [
    planId,
    ...demo.clusters.slice(0, 4).map(({ id }) => id),
    ...demo.networks.slice(0, 3).map(({ id }) => id),
  ];
  const maker = new Maker(random, schemas, ids);
  const failures: string[] = [];
  const statuses = new Map<number, number>();
  for (let n = 0; n < REQUESTS; n++) {
    // Changes are where most can go wrong.
    const endpoint =
      n % 3 === 0
        ? (all.find(({ path, method }) => method === 'post' && path.endsWith('/changes')) as Endpoint)
        : maker.pick(all);
    // A stream does not end, and removing the plan would end the test. Evaluations, exports and copies take long; a few of each do.
    if (endpoint.path.endsWith('/events') || endpoint.method === 'delete') continue;
    if (/export|findings|duplicate/.test(endpoint.path) && !maker.chance(0.03)) continue;
    const path = endpoint.path.replace(/\{(\w+)\}/g, (_, name: string) =>
      encodeURIComponent(name === 'id' && !maker.chance(0.05) ? planId : text(maker.pick([0, 1, 2, ...odd]))),
    );
    const query = endpoint.parameters
      .filter((parameter) => parameter.in === 'query' && maker.chance(0.8))
      .map(({ name, schema }) => `${name}=${encodeURIComponent(text(maker.value(schema)))}`);
    if (maker.chance(0.05)) query.push('unknown=1');
    const url = `${address}${path}${query.length === 0 ? '' : `?${query.join('&')}`}`;
    const sent = endpoint.body === undefined ? undefined : JSON.stringify(bodyFor(endpoint, maker, planId));
    const answer = await fetch(url, {
      method: endpoint.method.toUpperCase(),
      ...(sent === undefined ? {} : { body: sent, headers: { 'content-type': 'application/json' } }),
      signal: AbortSignal.timeout(60_000),
    });
    await answer.arrayBuffer();
    statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
    if (answer.status >= 500) failures.push(`${answer.status} ${endpoint.method} ${url} ${sent?.slice(0, 1500) ?? ''}`);
  }
  expect(failures).toEqual([]);
  // It reaches what stands behind the checks, and the checks.
  expect(statuses.get(200)).toBeGreaterThan(100);
  expect(statuses.get(400)).toBeGreaterThan(100);
  expect(statuses.get(422)).toBeGreaterThan(50);
  const present = await readPlan(planId);
  expect(present.revision).toBeGreaterThan(5);
  let plan = demo;
  for (let after = 0; after < present.revision; after += 200) {
    const changes = (await client.get(`/plans/${planId}/changes?after=${after}`)).body as { operations: Operation[] }[];
    for (const { operations } of changes) {
      const applied = applyOperations(plan, operations);
      if (!applied.ok) throw new Error(applied.problems[0]?.message);
      plan = applied.plan;
    }
  }
  expect(present.plan).toEqual(plan);
}, 600_000);

/** A body by the schema; now and then a change that is good, so that the plan moves. */
function bodyFor({ path, body }: Endpoint, maker: Maker, planId: string): unknown {
  if (!path.endsWith('/changes') || maker.chance(0.7)) return maker.value(body);
  return {
    baseRevision: 0,
    label: 'fuzz',
    author: 'fuzz',
    clientId: planId,
    operations: [
      {
        op: 'set',
        kind: 'networks',
        id: maker.pick(demo.networks).id,
        fields: { mtu: maker.pick([1400, 1500, 9000]) },
      },
    ],
  };
}

function text(value: unknown): string {
  const said = typeof value === 'string' ? value : JSON.stringify(value);
  // What cannot stand in an address at all never reaches the server.
  return /\p{Surrogate}/u.test(said) ? 'x' : said;
}
