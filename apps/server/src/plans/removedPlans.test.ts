import type { NestExpressApplication } from '@nestjs/platform-express';
import { addOperation, defaultSettings, newId, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import { DataSource } from 'typeorm';
import { addressOf, startTestApp, TestClient } from '../../test/testApp.js';
import { DAYS_KEPT, RemovedPlans } from './removedPlans.js';

let app: NestExpressApplication;
let client: TestClient;
let database: DataSource;

beforeAll(async () => {
  app = await startTestApp();
  client = new TestClient(await addressOf(app));
  database = app.get(DataSource);
});
afterAll(() => app.close());

const network = withFallbacks('networks', { id: newId(), name: 'n' });
const later = (days: number) => new Date(Date.now() + days * 86_400_000);

/** A plan with a history and a named version. */
async function made(name: string): Promise<string> {
  const { body } = await client.post('/plans', { ...defaultSettings, name }).expect(201);
  const { id } = body as { id: string };
  await client.change(id, 0, [addOperation('networks', network)]).expect(200);
  await client.change(id, 1, [setOperation('networks', network.id, { mtu: 1400 })]).expect(200);
  await client.post(`/plans/${id}/versions`, { name: 'Spring', author: 'Tester' }).expect(201);
  return id;
}
const listed = async (path: string) =>
  ((await client.get(path).expect(200)).body as { id: string }[]).map(({ id }) => id);
const log = async (planId: string) =>
  (
    (await client.get('/plans/log').expect(200)).body as {
      planId: string;
      event: string;
      author: string;
      planName: string;
    }[]
  ).filter((line) => line.planId === planId);

test('a removed plan is nowhere but in its list, and comes back with its history, revisions and versions', async () => {
  const id = await made('kept');
  const before = (await client.get(`/plans/${id}`).expect(200)).body as object;
  await client.delete(`/plans/${id}?author=Ines`).expect(204);
  expect(await listed('/plans')).not.toContain(id);
  await client.get(`/plans/${id}`).expect(404);
  await client.get(`/plans/${id}/at/1`).expect(404);
  await client.get(`/plans/${id}/events`).expect(404);
  await client.change(id, 2, [setOperation('networks', network.id, { mtu: 1300 })]).expect(404);
  await client.delete(`/plans/${id}`).expect(404);
  const [removed] = (await client.get('/plans/removed').expect(200)).body as {
    id: string;
    removedAt: string;
    keptUntil: string;
  }[];
  expect(removed?.id).toBe(id);
  expect(Date.parse(removed?.keptUntil ?? '') - Date.parse(removed?.removedAt ?? '')).toBe(30 * 86_400_000);
  await client.post(`/plans/${id}/restore`, { author: 'Jon' }).expect(204);
  expect((await client.get(`/plans/${id}`).expect(200)).body).toEqual(before);
  expect((await client.get(`/plans/${id}/at/1`).expect(200)).body).toMatchObject({
    plan: { networks: [{ mtu: network.mtu }] },
  });
  expect((await client.get(`/plans/${id}/versions`)).body).toMatchObject([{ name: 'Spring' }]);
  expect(await listed('/plans/removed')).not.toContain(id);
  await client.post(`/plans/${id}/restore`, { author: 'Jon' }).expect(404);
  expect((await log(id)).map(({ event, author }) => [event, author])).toEqual([
    ['restored', 'Jon'],
    ['removed', 'Ines'],
    ['created', ''],
  ]);
});

test('after its time it is gone with all of its rows, and the log stays', async () => {
  const [over, standing] = [await made('over'), await made('standing')];
  await client.delete(`/plans/${over}?author=Ines`).expect(204);
  const removed = app.get(RemovedPlans);
  expect(await removed.purge(later(DAYS_KEPT - 1))).toBe(0);
  expect(await listed('/plans/removed')).toContain(over);
  expect(await removed.purge(later(DAYS_KEPT + 1))).toBeGreaterThan(0);
  expect(await listed('/plans/removed')).not.toContain(over);
  for (const table of ['plan_change', 'plan_version', 'network']) {
    const rows = await database.query<unknown[]>(`SELECT 1 FROM \`${table}\` WHERE planId = ?`, [over]);
    expect([table, rows.length]).toEqual([table, 0]);
  }
  expect((await log(over)).map(({ event }) => event)).toEqual(['purged', 'removed', 'created']);
  await client.get(`/plans/${standing}`).expect(200);
});

test('who removes is one line of text', async () => {
  const id = await made('asked');
  await client.delete(`/plans/${id}?author=${'x'.repeat(81)}`).expect(400);
  await client.delete(`/plans/${id}?writer=x`).expect(400);
  await client.get(`/plans/${id}`).expect(200);
});
