import type { NestExpressApplication } from '@nestjs/platform-express';
import { demoPlan } from '@wide-lattice/core/demo';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { addOperation, newId, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import { DataSource } from 'typeorm';
import { addressOf, startTestApp, TestClient } from '../../test/testApp.js';
import { committed } from '../db/committed.js';
import { PlanRow } from '../db/rows/index.js';
import { PlanStore } from './planStore.js';

let app: NestExpressApplication;
let other: NestExpressApplication;
let here: TestClient;
let there: TestClient;

beforeAll(async () => {
  app = await startTestApp();
  other = await startTestApp();
  here = new TestClient(await addressOf(app));
  there = new TestClient(await addressOf(other));
});
afterAll(async () => {
  await app.close();
  await other.close();
});

const demo = demoPlan();
const [network, second] = demo.networks as unknown as [{ id: string }, { id: string }];

async function newPlan(): Promise<string> {
  const { body } = await here.importFile(writePlanFile(demo, 'json')).expect(201);
  return (body as { id: string }).id;
}

async function read(client: TestClient, planId: string): Promise<{ revision: number; plan: Plan }> {
  return (await client.get(`/plans/${planId}`).expect(200)).body as { revision: number; plan: Plan };
}

const site = (name: string): Operation =>
  addOperation('sites', withFallbacks('sites', { ...demo.sites[0], id: newId(), name }));

describe('two servers on one plan', () => {
  test('80 edits of each are all there afterwards, in both, and each revision once', async () => {
    const planId = await newPlan();
    const writer = async (client: TestClient, name: string) => {
      for (let n = 0; n < 80; n++) await client.change(planId, 0, [site(`${name} ${n}`)]).expect(200);
    };
    await Promise.all([writer(here, 'a'), writer(there, 'b')]);
    const [mine, theirs] = [await read(here, planId), await read(there, planId)];
    expect(mine.revision).toBe(160);
    expect(theirs).toEqual(mine);
    expect(mine.plan.sites).toHaveLength(demo.sites.length + 160);
    const seen = new Set<number>();
    for (const after of [0, 200]) {
      const { body } = await here.get(`/plans/${planId}/changes?after=${after}`);
      for (const { revision } of body as { revision: number }[]) seen.add(revision);
    }
    expect(seen.size).toBe(160);
  });

  test('a plan that others change is followed change by change, not read again', async () => {
    const planId = await newPlan();
    await read(there, planId);
    const store = other.get<{ readEntities: () => unknown }>(PlanStore);
    const reading = jest.spyOn(store, 'readEntities');
    for (let n = 0; n < 5; n++) await here.change(planId, n, [site(`s${n}`)]).expect(200);
    expect((await read(there, planId)).plan.sites).toHaveLength(demo.sites.length + 5);
    expect(reading).not.toHaveBeenCalled();
    reading.mockRestore();
  });

  test('of two edits of one field from one revision, one is stored and one is told of the other', async () => {
    const planId = await newPlan();
    const edit = (client: TestClient, mtu: number) =>
      client.change(planId, 0, [setOperation('networks', network.id, { mtu })]);
    const answers = await Promise.all([edit(here, 1400), edit(there, 1380)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
    expect((await read(here, planId)).revision).toBe(1);
  });
});

describe('a change that carries an id', () => {
  test('is stored once, however often and wherever it is sent', async () => {
    const planId = await newPlan();
    const operations = [site('once')];
    const changeId = newId();
    const send = (client: TestClient) => client.change(planId, 0, operations, { changeId });
    await send(here).expect(200, { revision: 1, isMerged: false });
    await send(here).expect(200, { revision: 1, isMerged: false });
    await send(there).expect(200, { revision: 1, isMerged: false });
    expect((await read(there, planId)).revision).toBe(1);
  });

  test('is found again after others changed the plan, also where they changed the same', async () => {
    const planId = await newPlan();
    const changeId = newId();
    const mine = () => here.change(planId, 0, [setOperation('networks', network.id, { mtu: 1400 })], { changeId });
    await mine().expect(200);
    await there.change(planId, 1, [setOperation('networks', network.id, { mtu: 1380 })]).expect(200);
    await mine().expect(200, { revision: 1, isMerged: false });
    expect((await read(here, planId)).plan.networks.find(({ id }) => id === network.id)).toMatchObject({ mtu: 1380 });
  });

  test('sent twice at once to two servers is one change', async () => {
    const planId = await newPlan();
    const operations = [site('race')];
    const changeId = newId();
    const answers = await Promise.all(
      [here, there].map((client) => client.change(planId, 0, operations, { changeId })),
    );
    expect(answers.map(({ status, body }) => [status, (body as { revision: number }).revision])).toEqual([
      [200, 1],
      [200, 1],
    ]);
    expect((await read(here, planId)).revision).toBe(1);
  });
});

describe('what says that it takes a change back', () => {
  const edit = (planId: string, base: number, mtu: number, more: object = {}) =>
    here.change(planId, base, [setOperation('networks', network.id, { mtu })], more);
  const before = demo.networks.find(({ id }) => id === network.id) as { mtu: number };

  test('is taken when it is exactly the inverse', async () => {
    const planId = await newPlan();
    await edit(planId, 0, 1400).expect(200);
    await edit(planId, 1, before.mtu, { reverts: 1 }).expect(200);
    expect((await read(here, planId)).plan).toEqual(demo);
  });

  test('is refused when it does anything else: it would hide what others did from a stale edit', async () => {
    const planId = await newPlan();
    await edit(planId, 0, 1400).expect(200);
    const { body } = await edit(planId, 1, 1390, { reverts: 1 }).expect(422);
    expect(body).toMatchObject({ problems: [{ field: 'reverts' }] });
    // The edit that would have been lost is told to who comes after it.
    await here.change(planId, 0, [setOperation('networks', network.id, { mtu: 1300 })]).expect(409);
  });

  test('is refused when there is no such change, or it was undone already', async () => {
    const planId = await newPlan();
    await edit(planId, 0, 1400).expect(200);
    await edit(planId, 1, before.mtu, { reverts: 9 }).expect(422);
    await edit(planId, 1, before.mtu, { reverts: 1 }).expect(200);
    const { body } = await edit(planId, 2, before.mtu, { reverts: 1 }).expect(422);
    expect((body as { message: string }).message).toContain('Change 1 was undone already');
  });

  test('may itself be taken back, and then the change stands again', async () => {
    const planId = await newPlan();
    await edit(planId, 0, 1400).expect(200);
    await edit(planId, 1, before.mtu, { reverts: 1 }).expect(200);
    await edit(planId, 2, 1400, { reverts: 2 }).expect(200);
    await here.change(planId, 0, [setOperation('networks', second.id, { mtu: 1300 })]).expect(200);
    await here.change(planId, 0, [setOperation('networks', network.id, { mtu: 1300 })]).expect(409);
  });
});

describe('large and hostile requests', () => {
  test('20,000 address blocks are one change, and others are answered meanwhile', async () => {
    const planId = await newPlan();
    const free = newId();
    const operations = [
      addOperation('networks', withFallbacks('networks', { id: free, name: 'wide' })),
      ...Array.from({ length: 20_000 }, (_, i) =>
        addOperation(
          'blocks',
          withFallbacks('blocks', { id: newId(), networkId: free, prefix: `20.${i >> 8}.${i & 255}.0/24` }),
        ),
      ),
    ];
    let isDone = false;
    const large = here.change(planId, 0, operations).then((answer) => {
      isDone = true;
      return answer.status;
    });
    let answered = 0;
    const asking = async () => {
      await here.get('/plans').expect(200);
      if (!isDone) answered++;
      return isDone;
    };
    while (!(await asking()));
    expect(await large).toBe(200);
    // How many is a matter of the machine; that they were answered before it ended is not.
    expect(answered).toBeGreaterThan(5);
    expect((await read(there, planId)).plan.blocks).toHaveLength(demo.blocks.length + 20_000);
  });

  test.each<[string, () => unknown[]]>([
    ['50,000 operations that are none', () => Array.from({ length: 50_000 }, () => ({ op: 'x', kind: 'y' }))],
    [
      '50,000 entities without fields',
      () => Array.from({ length: 50_000 }, () => ({ op: 'add', kind: 'clusters', entity: { id: newId() } })),
    ],
    [
      '20,000 blocks that are the same',
      () =>
        Array.from({ length: 20_000 }, () =>
          addOperation(
            'blocks',
            withFallbacks('blocks', { id: newId(), networkId: network.id, prefix: '20.0.0.0/24' }),
          ),
        ),
    ],
  ])('%s are refused with the first 500 problems', async (_, make) => {
    const planId = await newPlan();
    const { body } = await here.change(planId, 0, make() as Operation[]).expect(422);
    expect((body as { problems: unknown[] }).problems).toHaveLength(500);
    expect((await read(here, planId)).revision).toBe(0);
  });

  test('a YAML of 40,000 keys, one of 3,000 levels, and lists of 50,000 empty entries are answered with what is wrong', async () => {
    const keys = Array.from({ length: 40_000 }, (_, i) => `key${i}: 1`).join('\n');
    await here.importFile(keys).expect(422);
    const deep = `a: ${'['.repeat(3000)}${']'.repeat(3000)}`;
    const { body } = await here.importFile(deep).expect(422);
    expect(JSON.stringify(body)).toContain('more than 100 levels');
    const content = JSON.parse(writePlanFile(demo, 'json')) as Record<string, unknown>;
    for (const kind of ['sites', 'networks', 'clusters', 'blocks', 'allocations'])
      content[kind] = Array.from({ length: 50_000 }, () => ({}));
    const answer = await here.importFile(JSON.stringify(content)).expect(422);
    expect((answer.body as { problems: unknown[] }).problems).toHaveLength(500);
  });
});

test('a commit whose answer is lost is said to be unknown, and asking again finds it', async () => {
  const planId = await newPlan();
  const database = app.get(DataSource);
  const make = database.createQueryRunner.bind(database);
  const spy = jest.spyOn(database, 'createQueryRunner').mockImplementation((...args) => {
    const runner = make(...args);
    const commit = runner.commitTransaction.bind(runner);
    // The commit reaches the database; its answer does not come back.
    runner.commitTransaction = async () => {
      await commit();
      throw new Error('read ECONNRESET');
    };
    return runner;
  });
  const changeId = newId();
  const operations = [site('kept')];
  const { body } = await here.change(planId, 0, operations, { changeId }).expect(503);
  expect(body).toMatchObject({ isUnknown: true });
  expect((body as { message: string }).message).not.toContain('othing was saved');
  spy.mockRestore();
  await here.change(planId, 0, operations, { changeId }).expect(200, { revision: 1, isMerged: false });
});

test('who ask for the same at once share one computation, and all get it', async () => {
  const planId = await newPlan();
  const paths = ['address-plan.pdf', 'plan.yaml', 'allocations.csv'].flatMap((file) =>
    Array.from({ length: 20 }, () => `/plans/${planId}/export/${file}`),
  );
  const answers = await Promise.all(paths.map((path) => here.get(path).buffer(true)));
  expect(answers.map(({ status }) => status)).toEqual(paths.map(() => 200));
  expect(new Set(answers.slice(20, 40).map(({ text }) => text)).size).toBe(1);
});

test('of many files at once some are read, some wait, and the others are told when to come again', async () => {
  const text = writePlanFile(demo, 'json');
  const answers = await Promise.all(Array.from({ length: 30 }, () => here.importFile(text)));
  const refused = answers.filter(({ status }) => status === 503);
  expect(answers.filter(({ status }) => status === 201).length).toBeGreaterThanOrEqual(10);
  expect(answers.filter(({ status }) => status === 201)).toHaveLength(30 - refused.length);
  expect(refused.length).toBeGreaterThan(0);
  for (const { headers, body } of refused) {
    expect(headers['retry-after']).toBe('5');
    expect((body as { message: string }).message).toContain('Try again in 5 seconds');
  }
});

test('however many write at once, who reads does not wait for them', async () => {
  const database = app.get(DataSource);
  const planId = await newPlan();
  let release = (): void => undefined;
  const held = new Promise<void>((resolve) => (release = resolve));
  let [inside, done] = [0, 0];
  const writers = Array.from({ length: 12 }, () =>
    committed(database, async (manager) => {
      await manager.query('SELECT 1');
      inside++;
      await held;
      return true;
    }).then(() => done++),
  );
  for (let n = 0; n < 8; n++) expect((await read(here, planId)).revision).toBe(0);
  await here.get('/plans').expect(200);
  expect([inside, done]).toEqual([6, 0]);
  release();
  await Promise.all(writers);
  expect([inside, done]).toEqual([12, 12]);
});

// The database finds the circle and breaks one of the two off (MariaDB: error 1213).
test('of two that wait for each other one is run again, and both are stored', async () => {
  const database = app.get(DataSource);
  const plans = [await newPlan(), await newPlan()] as const;
  const both = { held: 0, release: (): void => undefined };
  const met = new Promise<void>((resolve) => (both.release = resolve));
  let runs = 0;
  const named = (own: string, other: string, name: string) =>
    committed(database, async (manager) => {
      runs++;
      await manager.update(PlanRow, { id: own }, { name });
      if (++both.held === 2) both.release();
      await met;
      await manager.update(PlanRow, { id: other }, { name });
      return name;
    });
  expect(await Promise.all([named(plans[0], plans[1], 'x'), named(plans[1], plans[0], 'y')])).toEqual(['x', 'y']);
  expect(runs).toBe(3);
});
