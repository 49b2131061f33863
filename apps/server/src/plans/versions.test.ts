import type { NestExpressApplication } from '@nestjs/platform-express';
import { demoPlan } from '@wide-lattice/core/demo';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { addOperation, newId, removalOf, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import { addressOf, startTestApp, TestClient } from '../../test/testApp.js';

let app: NestExpressApplication;
let client: TestClient;

beforeAll(async () => {
  app = await startTestApp();
  client = new TestClient(await addressOf(app));
});
afterAll(() => app.close());

const demo = demoPlan();
const [network, other] = demo.networks as unknown as [{ id: string }, { id: string }];

async function newPlan(): Promise<string> {
  const { body } = await client.importFile(writePlanFile(demo, 'json')).expect(201);
  return (body as { id: string }).id;
}

const at = async (planId: string, revision: number) =>
  (await client.get(`/plans/${planId}/at/${revision}`).expect(200)).body as { revision: number; plan: Plan };

const mtuOf = ({ plan }: { plan: Plan }, id: string) => plan.networks.find((each) => each.id === id)?.mtu;

describe('the plan as it was', () => {
  test('at every revision, back to the first', async () => {
    const planId = await newPlan();
    const mtus = [1400, 1380, 1360];
    for (const [base, mtu] of mtus.entries())
      await client.change(planId, base, [setOperation('networks', network.id, { mtu })]).expect(200);
    expect((await at(planId, 0)).plan).toEqual(demo);
    for (const [i, mtu] of mtus.entries()) expect(mtuOf(await at(planId, i + 1), network.id)).toBe(mtu);
  });

  test('holds what was removed since, with all that was removed with it', async () => {
    const planId = await newPlan();
    const gone = demo.clusters[0]?.id ?? '';
    await client.change(planId, 0, removalOf(demo, 'clusters', gone)).expect(200);
    const now = (await client.get(`/plans/${planId}`)).body as { plan: Plan };
    expect(now.plan.clusters.some(({ id }) => id === gone)).toBe(false);
    expect((await at(planId, 0)).plan).toEqual(demo);
  });

  test('a change of thousands of rows is read, taken back and looked behind as a short one is', async () => {
    const planId = await newPlan();
    const zoneId = demo.zones[0]?.id ?? '';
    // Notes of signs that take two places in a text and four bytes, so that some stand where it is cut.
    const added = Array.from({ length: 2000 }, (_, n) =>
      addOperation(
        'records',
        withFallbacks('records', {
          id: newId(),
          zoneId,
          name: `row${n}`,
          type: 'A',
          target: 'elsewhere',
          value: '192.0.2.1',
          note: '🌊'.repeat(1 + (n % 60)),
        }),
      ),
    );
    await client.change(planId, 0, added).expect(200);
    const { body } = await client.get(`/plans/${planId}/changes?after=0`).expect(200);
    const [change] = body as { revision: number; operations: Operation[]; inverse: Operation[] }[];
    expect(change?.operations).toEqual(added);
    expect(change?.inverse).toHaveLength(2000);
    expect((await at(planId, 0)).plan).toEqual(demo);
    await client.change(planId, 1, change?.inverse.slice(1) ?? [], { reverts: 1 }).expect(422);
    await client.change(planId, 1, change?.inverse ?? [], { reverts: 1 }).expect(200);
    expect((await at(planId, 2)).plan).toEqual(demo);
    expect((await at(planId, 1)).plan.records).toHaveLength(demo.records.length + 2000);
  });

  test('at the present revision is the present plan', async () => {
    const planId = await newPlan();
    await client.change(planId, 0, [setOperation('networks', other.id, { note: 'x' })]).expect(200);
    expect(await at(planId, 1)).toEqual((await client.get(`/plans/${planId}`)).body);
  });

  test('at a revision that there is not: the answer says which there are', async () => {
    const planId = await newPlan();
    const { body } = await client.get(`/plans/${planId}/at/7`).expect(404);
    expect(body).toMatchObject({ message: 'There is no revision 7; the plan is at 0.' });
    await client.get(`/plans/${planId}/at/-1`).expect(400);
    await client.get(`/plans/${newId()}/at/0`).expect(404);
  });
});

describe('named versions', () => {
  const name = (planId: string, text: string) =>
    client.post(`/plans/${planId}/versions`, { name: text, author: 'Ana' });

  test('are listed newest first, each with the revision it names', async () => {
    const planId = await newPlan();
    await name(planId, 'before the move').expect(201);
    await client.change(planId, 0, [setOperation('networks', network.id, { mtu: 1400 })]).expect(200);
    await name(planId, 'after the move').expect(201);
    const { body } = await client.get(`/plans/${planId}/versions`).expect(200);
    expect((body as { name: string; revision: number }[]).map((each) => [each.name, each.revision])).toEqual([
      ['after the move', 1],
      ['before the move', 0],
    ]);
  });

  test('one revision may have two names, but a name is one version, whatever its case and the spaces around it', async () => {
    const planId = await newPlan();
    await name(planId, 'Spring').expect(201);
    await name(planId, 'Approved').expect(201);
    for (const text of ['Spring', 'spring', '  SPRING ']) {
      const { body } = await name(planId, text).expect(409);
      expect((body as { message: string }).message).toContain(`There is a version called "${text.trim()}"`);
    }
  });

  test('of many that give one name at once, one is a version', async () => {
    const planId = await newPlan();
    const answers = await Promise.all(['Spring', 'spring', 'SPRING', ' Spring '].map((text) => name(planId, text)));
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409, 409, 409]);
    expect((await client.get(`/plans/${planId}/versions`)).body).toHaveLength(1);
  });

  test('belong to their plan', async () => {
    const [a, b] = [await newPlan(), await newPlan()];
    await name(a, 'Spring').expect(201);
    await name(b, 'Spring').expect(201);
    expect((await client.get(`/plans/${b}/versions`)).body).toHaveLength(1);
    await name(newId(), 'Spring').expect(404);
  });
});
