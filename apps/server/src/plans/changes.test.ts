import { randomBytes } from 'node:crypto';
import { get } from 'node:http';
import { Logger } from '@nestjs/common';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { propose } from '@wide-lattice/core/allocation';
import { evaluate } from '@wide-lattice/core/evaluation';
import { handoverFiles, zipped } from '@wide-lattice/core/handover';
import type { Scope } from '@wide-lattice/core/rehearsal';
import { finished } from '@wide-lattice/core/working';
import { findingJson, writePlanFile } from '@wide-lattice/core/exchange';
import {
  addOperation,
  applyOperations,
  newId,
  removalOf,
  setOperation,
  withRebuilds,
  withFallbacks,
} from '@wide-lattice/core/plan';
import type { Operation, Plan, Site } from '@wide-lattice/core/plan';
import { demoPlan } from '@wide-lattice/core/demo';
import { DataSource } from 'typeorm';
import { extractText } from 'unpdf';
import { completed } from '../db/migrations/completeHistory.js';
import type { ChangeRow } from '../db/rows/index.js';
import { addressOf, startTestApp, TestClient } from '../../test/testApp.js';

let app: NestExpressApplication;
let other: NestExpressApplication;
let client: TestClient;
let database: DataSource;

beforeAll(async () => {
  app = await startTestApp();
  other = await startTestApp();
  client = new TestClient(await addressOf(app));
  database = app.get(DataSource);
});
afterAll(async () => {
  await app.close();
  await other.close();
});

const demo = demoPlan();
const cluster = (at: number) => demo.clusters[at]?.id ?? '';

async function newPlan(): Promise<string> {
  const { body } = await client.importFile(writePlanFile(demo, 'json')).expect(201);
  return (body as { id: string }).id;
}

async function read(planId: string): Promise<{ revision: number; plan: Plan }> {
  return (await client.get(`/plans/${planId}`).expect(200)).body as { revision: number; plan: Plan };
}

describe('plans', () => {
  test('a plan survives the database unchanged, ids included', async () => {
    expect((await read(await newPlan())).plan).toEqual(demo);
  });

  test('the same plan file may be taken twice', async () => {
    expect(await newPlan()).not.toBe(await newPlan());
  });

  test('a plan file with a mistake is refused whole, with the place', async () => {
    const before = ((await client.get('/plans')).body as unknown[]).length;
    const { body } = await client
      .importFile(writePlanFile(demo, 'json').replace('"nodesNow": 42', '"nodesNow": -42'))
      .expect(422);
    expect(body).toMatchObject({ problems: [{ path: 'clusters[0].nodesNow' }] });
    expect((await client.get('/plans')).body).toHaveLength(before);
  });

  test('an unknown plan is a 404, a malformed id a 400', async () => {
    await client.get(`/plans/${newId()}`).expect(404);
    await client.get('/plans/1').expect(400);
  });
});

describe('the list of plans', () => {
  const names = async () => ((await client.get('/plans')).body as { id: string; name: string }[]).map(({ id }) => id);

  test('begins with the one that was changed last', async () => {
    const [first, later] = [await newPlan(), await newPlan()];
    expect((await names()).slice(0, 2)).toEqual([later, first]);
    await client.change(first, 0, [{ op: 'set', kind: 'settings', fields: { name: 'Renamed last' } }]).expect(200);
    expect((await names()).slice(0, 2)).toEqual([first, later]);
  });

  test('a copy has a name and a history of its own', async () => {
    const planId = await newPlan();
    await client.change(planId, 0, removalOf(demo, 'clusters', cluster(0))).expect(200);
    const { body } = await client.post(`/plans/${planId}/duplicate`, { name: ' A copy ' }).expect(201);
    const copyId = (body as { id: string }).id;
    const [original, copy] = [await read(planId), await read(copyId)];
    expect(copy.revision).toBe(0);
    expect(copy.plan).toEqual({ ...original.plan, settings: { ...original.plan.settings, name: 'A copy' } });
    await client.change(copyId, 0, [{ op: 'set', kind: 'settings', fields: { horizonMonths: 12 } }]).expect(200);
    expect((await read(planId)).plan.settings.horizonMonths).toBe(demo.settings.horizonMonths);
    await client.post(`/plans/${newId()}/duplicate`, { name: 'x' }).expect(404);
    await client.post(`/plans/${planId}/duplicate`, { name: ' ' }).expect(400);
  });

  test('a plan that is removed is gone here and in another server, and its history is kept for who restores it', async () => {
    const planId = await newPlan();
    const fresh = new TestClient(await addressOf(other));
    await fresh.get(`/plans/${planId}`).expect(200);
    await client.change(planId, 0, removalOf(demo, 'clusters', cluster(0))).expect(200);
    await client.post(`/plans/${planId}/versions`, { name: 'v', author: 'a' }).expect(201);
    await client.delete(`/plans/${planId}`).expect(204);
    for (const each of [client, fresh]) await each.get(`/plans/${planId}`).expect(404);
    const rows = await database.query('SELECT COUNT(*) AS n FROM plan_change WHERE planId = ?', [planId]);
    expect(Number((rows as { n: string }[])[0]?.n)).toBe(1);
    await client.delete(`/plans/${planId}`).expect(404);
  });
});

describe('changes', () => {
  test('every kind of operation is stored as the core applies it', async () => {
    const planId = await newPlan();
    const hub = demo.links[0];
    const operations: Operation[] = [
      ...propose(demo).operations,
      ...removalOf(demo, 'clusters', cluster(3)),
      setOperation('links', hub?.id ?? '', { networkIds: [...(hub?.networkIds ?? [])].reverse() }),
      addOperation('networks', withFallbacks('networks', { id: newId(), name: 'new', note: '✓ \u{1F6A2}' })),
      { op: 'set', kind: 'settings', fields: { horizonMonths: 24, name: 'Renamed' } },
    ];
    await client.change(planId, 0, operations).expect(200, { revision: 1, isMerged: false });
    const applied = applyOperations(demo, operations);
    expect(applied.ok && applied.plan).toEqual((await read(planId)).plan);
    // A server that has never seen the plan reads the same from the tables.
    const fresh = new TestClient(await addressOf(other));
    expect((await fresh.get(`/plans/${planId}`)).body).toEqual(await read(planId));
  });

  test('the inverse in the history gives the plan back', async () => {
    const planId = await newPlan();
    await client.change(planId, 0, removalOf(demo, 'clusters', cluster(0))).expect(200);
    const [change] = (await client.get(`/plans/${planId}/changes?after=0`)).body as {
      inverse: Operation[];
      operations: Operation[];
    }[];
    await client.change(planId, 1, change?.inverse ?? [], { reverts: 1 }).expect(200);
    expect((await read(planId)).plan).toEqual(demo);
    const history = (await client.get(`/plans/${planId}/history`)).body as {
      revision: number;
      reverts: number | null;
      operationCount: number;
    }[];
    expect(history.map(({ revision, reverts }) => [revision, reverts])).toEqual([
      [2, 1],
      [1, null],
    ]);
    expect(history[0]?.operationCount).toBe(change?.operations.length);
  });

  test('a name freed and taken in one change', async () => {
    const planId = await newPlan();
    const name = demo.clusters[1]?.name ?? '';
    const { id: _old, ...fields } = demo.clusters[1] ?? { id: '' };
    await client
      .change(planId, 0, [
        ...removalOf(demo, 'clusters', cluster(1)),
        addOperation('clusters', { id: newId(), ...fields } as never),
      ])
      .expect(200);
    expect((await read(planId)).plan.clusters.filter((each) => each.name === name)).toHaveLength(1);
  });

  test('nothing is stored when one step is wrong, and the answer names step and field', async () => {
    const planId = await newPlan();
    const { body } = await client
      .change(planId, 0, [
        setOperation('clusters', cluster(0), { nodesNow: 50 }),
        setOperation('clusters', cluster(1), { networkId: newId() }),
      ])
      .expect(422);
    expect(body).toMatchObject({ problems: [{ operation: 1, field: 'networkId' }] });
    expect(await read(planId)).toEqual({ revision: 0, plan: demo });
  });

  test.each([
    [
      'unknown entity field',
      [{ op: 'set', kind: 'clusters', id: demo.clusters[0]?.id, fields: { colour: 'red' } }],
      422,
    ],
    ['unknown operation field', [{ op: 'set', kind: 'clusters', id: demo.clusters[0]?.id, fields: {}, extra: 1 }], 422],
    ['unknown kind', [{ op: 'remove', kind: 'gremlins', id: 'x' }], 422],
    ['no operations', [], 400],
    [
      'prototype field',
      [
        {
          op: 'set',
          kind: 'clusters',
          id: demo.clusters[0]?.id,
          fields: JSON.parse('{"__proto__":{"x":1},"constructor":1}') as object,
        },
      ],
      422,
    ],
    ['add without entity', [{ op: 'add', kind: 'clusters' }], 422],
    ['null for a number', [{ op: 'set', kind: 'clusters', id: demo.clusters[0]?.id, fields: { nodesNow: null } }], 422],
    ['settings removed', [{ op: 'remove', kind: 'settings' }], 422],
  ])('%s is refused', async (_, operations, status) => {
    const planId = await newPlan();
    const { body } = await client.change(planId, 0, operations as Operation[]).expect(status);
    expect(JSON.stringify(body)).not.toMatch(/node_modules|\.ts:\d/);
    expect((await read(planId)).revision).toBe(0);
  });
});

describe('two people at once', () => {
  test('edits of different entities are merged', async () => {
    const planId = await newPlan();
    await client.change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 50 })]).expect(200);
    const colleague = new TestClient(await addressOf(app), 'Colleague');
    await colleague
      .change(planId, 0, [setOperation('clusters', cluster(1), { nodesNow: 30 })])
      .expect(200, { revision: 2, isMerged: true });
    const { plan } = await read(planId);
    expect([plan.clusters[0]?.nodesNow, plan.clusters[1]?.nodesNow]).toEqual([50, 30]);
  });

  test('one who is alone is not told of somebody else, however old the revision that was sent', async () => {
    const planId = await newPlan();
    await client.change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 50 })]).expect(200);
    await client
      .change(planId, 0, [setOperation('clusters', cluster(1), { nodesNow: 30 })])
      .expect(200, { revision: 2, isMerged: false });
  });

  test('different fields of one entity are merged, and one field is compared with what its author began from', async () => {
    const planId = await newPlan();
    const colleague = new TestClient(await addressOf(app), 'Colleague');
    const [first] = demo.clusters as unknown as [{ nodesNow: number }];
    await client.change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 50 })]).expect(200);
    await colleague
      .change(planId, 0, [setOperation('clusters', cluster(0), { entryAddresses: 7 })])
      .expect(200, { revision: 2, isMerged: true });
    const { body } = await colleague
      .change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 60, entryAddresses: 9 })])
      .expect(409);
    expect(body).toMatchObject({
      theirs: [{ author: 'Tester', clientId: client.clientId }, { author: 'Colleague' }],
      clashes: [
        { kind: 'clusters', id: cluster(0), field: 'nodesNow', began: first.nodesNow, theirs: 50, mine: 60 },
        { field: 'entryAddresses', theirs: 7, mine: 9 },
      ],
    });
    // Who wants the same as stands there overwrites nothing.
    await colleague.change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 50 })]).expect(200);
  });

  test('edits of one field: the later is answered 409 with both sides and nothing is lost', async () => {
    const planId = await newPlan();
    await client.change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 50 })]).expect(200);
    const { body } = await client
      .change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 60 })])
      .expect(409);
    expect(body).toMatchObject({
      currentRevision: 1,
      theirs: [{ author: 'Tester', operations: [{ fields: { nodesNow: 50 } }] }],
    });
    expect((await read(planId)).plan.clusters[0]?.nodesNow).toBe(50);
  });

  test('undoing twice in a row is not in the way of itself', async () => {
    const planId = await newPlan();
    await client.change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 50 })]).expect(200);
    await client.change(planId, 1, [setOperation('clusters', cluster(0), { nodesNow: 60 })]).expect(200);
    await client
      .change(planId, 2, [setOperation('clusters', cluster(0), { nodesNow: 50 })], { reverts: 2 })
      .expect(200);
    await client
      .change(planId, 1, [setOperation('clusters', cluster(0), { nodesNow: 42 })], { reverts: 1 })
      .expect(200);
    expect((await read(planId)).plan).toEqual(demo);
  });

  test('twenty edits at the same moment on two servers are all stored, one after the other', async () => {
    const planId = await newPlan();
    const second = new TestClient(await addressOf(other), 'Second');
    const answers = await Promise.all(
      Array.from({ length: 20 }, (_, i) =>
        (i % 2 === 0 ? client : second).change(planId, 0, [
          setOperation('clusters', cluster(i), { nodesNow: 100 + i }),
        ]),
      ),
    );
    expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 200));
    const { revision, plan } = await read(planId);
    expect(revision).toBe(20);
    expect(plan.clusters.slice(0, 20).map(({ nodesNow }) => nodesNow)).toEqual(
      Array.from({ length: 20 }, (_, i) => 100 + i),
    );
    expect((await second.get(`/plans/${planId}`)).body).toEqual({ revision, plan });
  });

  test('a base that does not exist is refused', async () => {
    await client.change(await newPlan(), 7, [setOperation('clusters', cluster(0), { nodesNow: 1 })]).expect(409);
  });

  test('what is locked in a built cluster is refused without a rebuild, stored with one, and taken back', async () => {
    const planId = await newPlan();
    const change = setOperation('clusters', cluster(0), { podMode: 'overlay' });
    const { body } = await client.change(planId, 0, [change]).expect(422);
    expect(body).toMatchObject({ problems: [{ code: 'cluster.locked', field: 'podMode' }] });
    const decision = { reason: 'Subnets are full', decidedOn: '2026-11-23', decidedBy: 'Tester' };
    await client.change(planId, 0, withRebuilds(demo, [change], decision)).expect(200);
    const { plan } = await read(planId);
    expect(plan.rebuilds).toHaveLength(demo.rebuilds.length + 1);
    expect(plan.rebuilds.at(-1)).toMatchObject({ clusterId: cluster(0), ...decision });
    const { body: made } = await client.get(`/plans/${planId}/changes?after=0`).expect(200);
    const [first] = (Array.isArray(made) ? made : (made as { items: unknown[] }).items) as { inverse: Operation[] }[];
    await client.change(planId, 1, first?.inverse ?? [], { reverts: 1 }).expect(200);
    expect((await read(planId)).plan).toEqual(demo);
  });

  test('node pools and templates are stored and removed with what they belong to', async () => {
    const planId = await newPlan();
    const [pool] = demo.nodePools;
    const [, kiosk] = demo.templates;
    const operations = [
      setOperation('nodePools', pool?.id ?? '', { labels: ['a=b'], podsPerNode: 40, isPublic: true }),
      setOperation('templates', kiosk?.id ?? '', { sets: ['services=50'], basedOnId: null }),
      ...removalOf(demo, 'clusters', cluster(2)),
    ];
    await client.change(planId, 0, operations).expect(200);
    const expected = applyOperations(demo, operations);
    expect((await read(planId)).plan).toEqual(expected.ok ? expected.plan : undefined);
    const gone = removalOf((await read(planId)).plan, 'clusters', cluster(0));
    await client.change(planId, 1, gone).expect(200);
    expect((await read(planId)).plan.nodePools).toEqual([]);
  });

  test('open browsers on both servers are told of a new revision', async () => {
    const planId = await newPlan();
    const revisions = async (server: NestExpressApplication) => {
      const address = await addressOf(server);
      return new Promise<number>((resolve, reject) => {
        const stream = get(`${address}/api/plans/${planId}/events`, (response) => {
          response.setEncoding('utf8').on('data', (text: string) => {
            if (!text.includes('"revision":1')) return;
            stream.destroy();
            resolve(1);
          });
        }).on('error', (error) => (stream.destroyed ? undefined : reject(error)));
      });
    };
    const told = Promise.all([revisions(app), revisions(other)]);
    await new Promise((resolve) => setTimeout(resolve, 300));
    await client.change(planId, 0, [setOperation('clusters', cluster(0), { nodesNow: 50 })]).expect(200);
    expect(await told).toEqual([1, 1]);
  });
});

describe('evaluation and export', () => {
  test('the worker thread finds what the core finds', async () => {
    const planId = await newPlan();
    const { body } = await client.get(`/plans/${planId}/findings`).expect(200);
    expect(body).toMatchObject({
      revision: 0,
      findings: evaluate(demo)
        .findings()
        .map((each) => findingJson(demo, each)),
    });
  });

  test('exports: the plan file reads back, the table is CSV', async () => {
    const planId = await newPlan();
    expect(
      (await client.get(`/plans/${planId}/export/plan.json`).expect('content-disposition', /plan\.json/)).text,
    ).toBe(writePlanFile(demo, 'json'));
    expect((await client.get(`/plans/${planId}/export/plan.yaml`)).text).toBe(writePlanFile(demo, 'yaml'));
    expect(
      (await client.get(`/plans/${planId}/export/allocations.csv`).expect('content-type', /text\/csv/)).text,
    ).toContain('booking-north');
  });
});

/** An answer as bytes. */
const bytesOf = (path: string) =>
  client
    .get(path)
    .buffer(true)
    .parse((answer, done) => {
      const chunks: Buffer[] = [];
      answer.on('data', (chunk: Buffer) => chunks.push(chunk));
      answer.on('end', () => done(null, Buffer.concat(chunks)));
    });

test('the bundle of a plan and of a cluster are those of the core; what is not there or asked twice is refused', async () => {
  const planId = await newPlan();
  const zip = async (query: string) => {
    const { body } = await bytesOf(`/plans/${planId}/export/handover.zip${query}`)
      .expect(200)
      .expect('content-type', /application.zip/)
      .expect('content-disposition', /handover\.zip/);
    return body as Buffer;
  };
  const made = (scope: Scope) =>
    Buffer.from(zipped(finished(handoverFiles(evaluate(demo), scope)), demo.settings.name));
  expect((await zip('')).equals(made({ kind: 'plan' }))).toBe(true);
  const id = cluster(0);
  expect((await zip(`?cluster=${id}`)).equals(made({ kind: 'cluster', id }))).toBe(true);
  const refused = async (query: string, status: number) =>
    (await client.get(`/plans/${planId}/export/handover.zip?${query}`).expect(status)).text;
  expect(await refused('cluster=north', 400)).toContain('give its id');
  expect(await refused(`cluster=${id}&site=${id}`, 400)).toContain('not several');
  expect(await refused(`site=${id}`, 404)).toContain('no cluster of that site');
});

test('the address plan as PDF holds every range, read back by a general-purpose reader', async () => {
  const path = `/plans/${await newPlan()}/export/address-plan.pdf`;
  const { body } = await bytesOf(path)
    .expect(200)
    .expect('content-type', /application.pdf/);
  const { text, totalPages } = await extractText(new Uint8Array(body as Buffer), { mergePages: true });
  expect(totalPages).toBeGreaterThan(3);
  const plain = text.replaceAll(/\s/g, '');
  for (const { prefix } of [...demo.allocations, ...demo.inUse, ...demo.subnets, ...demo.blocks, ...demo.pools])
    expect(plain).toContain(prefix);
  for (const { name } of demo.clusters) expect(plain).toContain(name);
});

test('a change stored before a field came to be gets its usual value, other operations stay', () => {
  const { latitude: _north, longitude: _east, ...site } = demo.sites[0] as Site;
  const remove: Operation = { op: 'remove', kind: 'sites', id: site.id };
  const stored = [{ op: 'add', kind: 'sites', entity: site }, remove];
  const expected = [{ op: 'add', kind: 'sites', entity: { ...site, latitude: null, longitude: null } }, remove];
  expect(completed(stored as Operation[])).toEqual(expected);
});

describe('the database holds its own rules', () => {
  const insert = (planId: string, table: string, set: string) =>
    database.query(
      `INSERT INTO \`${table}\` SELECT * FROM (SELECT ${set} FROM \`${table}\` WHERE planId = ? LIMIT 1) AS row_`,
      [planId],
    );

  test('foreign keys, unique names and check constraints', async () => {
    const planId = await newPlan();
    await expect(database.query('UPDATE cluster SET siteId = ? WHERE planId = ?', [newId(), planId])).rejects.toThrow(
      /foreign key/i,
    );
    await expect(database.query('UPDATE cluster SET name = "same" WHERE planId = ?', [planId])).rejects.toThrow(
      /Duplicate/,
    );
    await expect(database.query('UPDATE cluster SET nodesHorizon = -1 WHERE planId = ?', [planId])).rejects.toThrow(
      /CONSTRAINT|constraint/,
    );
    await expect(database.query('UPDATE node_pool SET nodesMax = 1 WHERE planId = ?', [planId])).rejects.toThrow(
      /CONSTRAINT|constraint/,
    );
    await expect(database.query('UPDATE pool SET family = 5 WHERE planId = ?', [planId])).rejects.toThrow(
      /CONSTRAINT|constraint/,
    );
    await expect(
      insert(planId, 'network', 'planId, id, name, note, mtu, internetEgress, nameServers, timeServers'),
    ).rejects.toThrow(/Duplicate/);
  });

  test('prefixes can be asked for by address', async () => {
    const planId = await newPlan();
    const rows: { prefix: string }[] = await database.query(
      "SELECT prefix FROM in_use WHERE planId = ? AND family = 4 AND firstAddress <= INET6_ATON('10.23.96.40') AND lastAddress >= INET6_ATON('10.23.96.40')",
      [planId],
    );
    expect(rows.map(({ prefix }) => prefix)).toEqual(['10.23.64.0/18']);
  });

  test('the entities and the migrations describe the same tables', async () => {
    const { upQueries } = await database.driver.createSchemaBuilder().log();
    expect(upQueries.map(({ query }) => query)).toEqual([]);
  });
});

describe('versions', () => {
  test('a revision is named, read as it was then, and named once only', async () => {
    const planId = await newPlan();
    await client.post(`/plans/${planId}/versions`, { name: 'As agreed', author: 'Tester' }).expect(201);
    await client.change(planId, 0, removalOf(demo, 'clusters', cluster(0))).expect(200);
    await client.change(planId, 1, [setOperation('clusters', cluster(1), { nodesNow: 77 })]).expect(200);
    expect((await client.get(`/plans/${planId}/versions`)).body).toMatchObject([
      { name: 'As agreed', revision: 0, author: 'Tester' },
    ]);
    expect((await client.get(`/plans/${planId}/at/0`)).body).toEqual({ revision: 0, plan: demo });
    const { body } = await client.get(`/plans/${planId}/at/1`);
    expect((body as { plan: Plan }).plan.clusters).toHaveLength(demo.clusters.length - 1);
    await client.post(`/plans/${planId}/versions`, { name: 'as agreed ', author: 'Tester' }).expect(409);
    await client.get(`/plans/${planId}/at/9`).expect(404);
  });
});

test('a key pasted where its reference belongs is refused, and neither stored nor logged nor said', async () => {
  const key = randomBytes(32).toString('base64');
  const written: unknown[] = [];
  const spies = (['log', 'error', 'warn', 'debug', 'verbose', 'fatal'] as const).map((level) =>
    jest.spyOn(Logger.prototype, level).mockImplementation((...said: unknown[]) => void written.push(...said)),
  );
  const planId = await newPlan();
  const connectionId = demo.connections[0]?.id ?? '';
  const set: Operation = { op: 'set', kind: 'connections', id: connectionId, fields: { keyReference: key } };
  const { text } = await client.change(planId, 0, [set]).expect(422);
  expect(text).toContain('looks like the key itself');
  const file = writePlanFile(demo, 'json').replace(/"keyReference": "[^"]*"/, `"keyReference": "${key}"`);
  expect(file).toContain(key);
  const imported = await client.importFile(file).expect(422);
  const schema = await database.query<{ t: string; c: string }[]>(
    "SELECT TABLE_NAME t, COLUMN_NAME c FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND DATA_TYPE IN ('varchar', 'char', 'text', 'mediumtext', 'longtext', 'json')",
  );
  const found = await Promise.all(
    schema.map(({ t, c }) =>
      database.query<{ n: string }[]>(`SELECT COUNT(*) n FROM \`${t}\` WHERE \`${c}\` LIKE ?`, [`%${key}%`]),
    ),
  );
  expect(found.length).toBeGreaterThan(100);
  expect(found.every(([row]) => Number(row?.n) === 0)).toBe(true);
  expect(JSON.stringify([text, imported.text, written.map(String)])).not.toContain(key);
  for (const spy of spies) spy.mockRestore();
  expect((await read(planId)).revision).toBe(0);
});

test.each([1000, 1001, 2500])('a change of %i operations is remembered whole, and taken back whole', async (count) => {
  const planId = await newPlan();
  // Quotes, backslashes and letters of other scripts pass through the parts of a long one.
  const operations = Array.from({ length: count }, (_, n) =>
    addOperation(
      'inUse',
      withFallbacks('inUse', {
        id: newId(),
        owner: `"o" \\ ’ø 港 ${n}`,
        prefix: `100.${64 + (n >> 12)}.${(n >> 4) & 255}.${(n & 15) << 4}/28`,
      }),
    ),
  );
  await client.change(planId, 0, operations).expect(200);
  const [stored] = (await client.get(`/plans/${planId}/changes?after=0`).expect(200)).body as ChangeRow[];
  expect(stored?.operations).toEqual(operations);
  expect(stored?.operationCount).toBe(count);
  await client.change(planId, 1, stored?.inverse ?? [], { reverts: 1 }).expect(200);
  expect((await read(planId)).plan).toEqual(demo);
  expect(((await client.get(`/plans/${planId}/at/1`).expect(200)).body as { plan: Plan }).plan.inUse).toHaveLength(
    demo.inUse.length + count,
  );
});
