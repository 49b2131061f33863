import { Resolver } from 'node:dns/promises';
import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { demoPlan } from '@wide-lattice/core/demo';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { setOperation } from '@wide-lattice/core/plan';
import type { StandInReport } from '@wide-lattice/standins';
import { addressOf, startTestApp, TestClient } from '../../test/testApp.js';

let app: NestExpressApplication;
let client: TestClient;

beforeAll(async () => {
  app = await startTestApp();
  client = new TestClient(await addressOf(app));
});
afterAll(() => app.close());

const plan = demoPlan();
const file = writePlanFile(plan, 'json');
const north = plan.clusters.find(({ name }) => name === 'booking-north')?.id ?? '';

async function stored(): Promise<string> {
  const { body } = await client.importFile(file).expect(201);
  return (body as { id: string }).id;
}

const wish = { vantages: ['internet'], clusters: [north], healthSeconds: 0 };
const start = (id: string, more: object = {}) => client.post(`/plans/${id}/stand-ins`, { ...wish, ...more });
const running = async (id: string) =>
  ((await client.get(`/plans/${id}/stand-ins`).expect(200)).body as { running: StandInReport | null }).running;

/** Node's own resolver library, at the port of the first vantage. */
function resolverOf({ names }: StandInReport): Resolver {
  const resolver = new Resolver({ timeout: 60_000, tries: 1 });
  resolver.setServers([`127.0.0.1:${names[0]?.port ?? 0}`]);
  return resolver;
}

const isOpen = (port: number) =>
  fetch(`http://127.0.0.1:${port}/`).then(
    () => true,
    // What listens and is not understood ends otherwise than what does not listen.
    (error: unknown) => (error as { cause?: { code?: string } }).cause?.code !== 'ECONNREFUSED',
  );

test('stand-ins are started, follow the plan and its stopped pods, and end when they are stopped', async () => {
  const id = await stored();
  expect(await running(id)).toBeNull();
  await client.post(`/plans/${id}/stand-ins/pods`, { workloadId: north, count: 1 }).expect(404);
  const { body } = await start(id).expect(201);
  const report = body as StandInReport;
  expect([report.address, report.names.length, report.apis.length]).toEqual(['127.0.0.1', 1, 1]);
  const resolver = resolverOf(report);
  expect(await resolver.resolve4('tickets.skerryline.example')).toEqual(['203.0.113.80']);

  // An edit of the plan is answered without another start.
  const record = plan.records.find(({ name, ttl }) => name === 'tickets' && ttl === 86_400);
  await client.change(id, 0, [setOperation('records', record?.id ?? '', { value: '203.0.113.81' })]).expect(200);
  const asked = async () => (await resolver.resolve4('tickets.skerryline.example'))[0];
  while ((await asked()) === '203.0.113.80') await new Promise((resolve) => setTimeout(resolve, 100));
  expect(await asked()).toBe('203.0.113.81');
  expect((await running(id))?.isOutdated).toBe(false);

  // A listener that moves would be somewhere else at the next start.
  const listener = plan.listeners.find(
    ({ balancerId }) => plan.balancers.find(({ id: own }) => own === balancerId)?.address === '203.0.113.80',
  );
  await client.change(id, 1, [setOperation('listeners', listener?.id ?? '', { port: 9443 })]).expect(200);
  while ((await running(id))?.isOutdated !== true) await new Promise((resolve) => setTimeout(resolve, 100));

  const workload = report.workloads.find(({ replicas }) => replicas > 1);
  await client.post(`/plans/${id}/stand-ins/pods`, { workloadId: workload?.id, count: 1 }).expect(204);
  expect((await running(id))?.workloads.find((each) => each.id === workload?.id)).toMatchObject({
    stopped: 1,
    ready: (workload?.ready ?? 0) - 1,
  });

  const pem = await client.get(`/plans/${id}/stand-ins/authority.pem`).expect(200);
  expect(pem.text).toMatch(/^-----BEGIN CERTIFICATE-----/);
  const config = await client.get(`/plans/${id}/stand-ins/kubeconfig/${north}?namespace=shop`).expect(200);
  expect(config.text).toContain(`server: https://127.0.0.1:${report.apis[0]?.port ?? 0}`);
  const other = plan.clusters.find((each) => each.id !== north)?.id ?? '';
  await client.get(`/plans/${id}/stand-ins/kubeconfig/${other}`).expect(404);

  await start(id).expect(409);
  const ports = [...report.doors.flatMap(({ localPort }) => localPort ?? []), report.apis[0]?.port ?? 0];
  expect(await isOpen(ports[0] ?? 0)).toBe(true);
  await client.delete(`/plans/${id}/stand-ins`).expect(204);
  expect(await running(id)).toBeNull();
  for (const port of ports) expect([port, await isOpen(port)]).toEqual([port, false]);
});

test('what cannot be started is told, and takes nothing', async () => {
  const id = await stored();
  const server = createServer();
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  const { port } = server.address() as AddressInfo;
  const used = await start(id, { firstPort: port }).expect(422);
  expect((used.body as { message: string }).message).toMatch(
    new RegExp(`^Port ${port} of 127.0.0.1, .* is in use. Give another first port`),
  );
  await new Promise((resolve) => server.close(resolve));
  const none = await start(id, { vantages: [], clusters: [] }).expect(422);
  expect((none.body as { message: string }).message).toMatch(/^Nothing was chosen/);
  const low = await start(id, { firstPort: 80 }).expect(400);
  expect(JSON.stringify(low.body)).toContain('firstPort');
  await start(id, { minutes: 1441 }).expect(400);
  await start(id, { healthSeconds: 301 }).expect(400);
  await start(id, { colour: 'red' }).expect(400);
  await client.get(`/plans/${north}/stand-ins`).expect(404);
  expect(await running(id)).toBeNull();
});

test('three plans at most have stand-ins, each at ports of its own, and those of a removed plan end', async () => {
  const ids = await Promise.all(Array.from({ length: 4 }, stored));
  const ports: number[] = [];
  for (const id of ids.slice(0, 3)) {
    const { body } = await start(id, { clusters: [] }).expect(201);
    const report = body as StandInReport;
    ports.push(...report.names.map((each) => each.port), ...report.doors.flatMap(({ localPort }) => localPort ?? []));
  }
  expect(new Set(ports).size).toBe(ports.length);
  const fourth = await start(ids[3] ?? '').expect(409);
  expect((fourth.body as { message: string }).message).toMatch(/^Stand-ins of 3 plans run, the most at once/);
  await client.delete(`/plans/${ids[0] ?? ''}?author=Ines`).expect(204);
  for (;;) {
    if ((await start(ids[3] ?? '', { clusters: [] })).status === 201) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  for (const id of ids.slice(1)) await client.delete(`/plans/${id}/stand-ins`).expect(204);
});
