import { gzipSync } from 'node:zlib';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { demoPlan } from '@wide-lattice/core/demo';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { MAX_FILE_BYTES } from '@wide-lattice/core/plan';
import request from 'supertest';
import { addressOf, startTestApp } from '../../test/testApp.js';

let app: NestExpressApplication;
let address: string;

beforeAll(async () => {
  app = await startTestApp();
  address = await addressOf(app);
});
afterAll(() => app.close());

const demo = demoPlan();
const text = writePlanFile(demo, 'json');

const send = (body: string | Buffer, headers: Record<string, string>) =>
  request(address).post('/api/plans/import').set(headers).send(body);
const gzip = { 'content-type': 'application/octet-stream', 'content-encoding': 'gzip' };

async function planIn(body: unknown): Promise<unknown> {
  const { id } = body as { id: string };
  return ((await request(address).get(`/api/plans/${id}`).expect(200)).body as { plan: unknown }).plan;
}

test.each([
  ['JSON', text, { 'content-type': 'application/json' }],
  ['YAML', writePlanFile(demo, 'yaml'), { 'content-type': 'application/yaml' }],
  ['as gzip', gzipSync(text), gzip],
])('a plan file is the body of the request: %s', async (_, body, headers) => {
  expect(await planIn((await send(body, headers).expect(201)).body)).toEqual(demo);
});

test('a file of more than 16 MB is read, and comes back the same', async () => {
  const note = 'x'.repeat(500);
  const [like] = demo.inUse;
  const many = Array.from({ length: 26_000 }, (_, n) => ({
    ...like,
    id: `019e0000-0000-7000-8000-${n.toString(16).padStart(12, '0')}`,
    prefix: `100.${64 + (n >> 12)}.${(n >> 4) & 255}.${(n & 15) << 4}/28`,
    note,
  }));
  const inUse = [...demo.inUse, ...many];
  const large = { ...(JSON.parse(text) as object), inUse };
  const file = JSON.stringify(large);
  expect(file.length).toBeGreaterThan(17_000_000);
  const { body } = await send(gzipSync(file), gzip).expect(201);
  expect(((await planIn(body)) as typeof demo).inUse).toEqual(inUse);
  const exported = await request(address)
    .get(`/api/plans/${(body as { id: string }).id}/export/plan.json`)
    .expect(200);
  expect((JSON.parse(exported.text) as typeof demo).inUse).toHaveLength(inUse.length);
});

test('what is larger than the limit, packed or not, is refused with the limit', async () => {
  const packed = await send(gzipSync(Buffer.alloc(MAX_FILE_BYTES + 1)), gzip).expect(422);
  expect(JSON.stringify(packed.body)).toContain('more than 250 MB');
  const octets = { 'content-type': 'application/octet-stream' };
  const plain = await send(Buffer.alloc(MAX_FILE_BYTES + 1), octets).expect(413);
  expect((plain.body as { message: string }).message).toContain('more than 250 MB');
});

test('what is not gzip, or is encoded in another way, is refused by name', async () => {
  const broken = await send('not gzip', gzip).expect(422);
  expect(JSON.stringify(broken.body)).toContain('cannot be unpacked');
  const other = await send(text, { 'content-type': 'application/json', 'content-encoding': 'br' }).expect(415);
  expect((other.body as { message: string }).message).toBe('The file is encoded as br; send it plain or as gzip.');
});
