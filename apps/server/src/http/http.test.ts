import type { NestExpressApplication } from '@nestjs/platform-express';
import { defaultSettings } from '@wide-lattice/core/plan';
import request from 'supertest';
import { addressOf, startTestApp } from '../../test/testApp.js';

let app: NestExpressApplication;
let address: string;

beforeAll(async () => {
  app = await startTestApp();
  address = await addressOf(app);
}, 60_000);
afterAll(() => app.close());

test('a foreign Host or Origin is refused, the own ones are not', async () => {
  await request(address).get('/api/plans').set('host', 'evil.example').expect(403);
  await request(address).get('/api/plans').set('host', '127.0.0.1.evil.example').expect(403);
  await request(address).get('/api/plans').set('origin', 'http://evil.example').expect(403);
  await request(address).get('/api/plans').set('origin', 'null').expect(403);
  await request(address).get('/api/plans').set('origin', address).expect(200);
  await request(address).get('/api/plans').set('host', 'localhost:4380').expect(200);
});

test('security headers, and no word of what the server is made of', async () => {
  const { headers } = await request(address).get('/api/plans').expect(200);
  expect(headers['content-security-policy']).toContain("script-src 'self'");
  expect(headers['content-security-policy']).not.toContain('unsafe-eval');
  expect(headers['x-content-type-options']).toBe('nosniff');
  expect(headers['x-powered-by']).toBeUndefined();
});

test('a body that is no JSON, and one that is too large, are answered plainly', async () => {
  await request(address)
    .post('/api/plans')
    .set('content-type', 'application/json')
    .send('{"a":')
    .expect(400, { statusCode: 400, message: 'The request body is not JSON.' });
  const { body } = await request(address)
    .post('/api/plans/import')
    .send({ text: 'x'.repeat(21_000_000) })
    .expect(413);
  expect(body).toMatchObject({ message: expect.stringContaining('20mb') as string });
});

test('fields that are not documented are refused by name', async () => {
  const settings = { ...defaultSettings, name: 'x', horizonMonths: 12 };
  const { body } = await request(address)
    .post('/api/plans')
    .send({ ...settings, colour: 'red' })
    .expect(400);
  expect(body).toMatchObject({ fields: [{ field: 'colour' }] });
  const bad = await request(address)
    .post('/api/plans')
    .send({ ...settings, horizonMonths: 0 })
    .expect(400);
  expect(bad.body).toMatchObject({
    fields: [
      { field: 'horizonMonths', messages: ['Horizon: 0 is outside 1 to 120 months. Write a number from 1 to 120.'] },
    ],
  });
});

test('the API is documented, every kind with its fields', async () => {
  const { body } = await request(address).get('/api/openapi.json').expect(200);
  const { paths, components } = body as {
    paths: object;
    components: { schemas: Record<string, { properties: object }> };
  };
  expect(Object.keys(paths)).toEqual(
    expect.arrayContaining([
      '/api/plans/{id}/changes',
      '/api/plans/{id}/events',
      '/api/plans/{id}/export/allocations.csv',
    ]),
  );
  expect(components.schemas['ClusterDto']?.properties).toMatchObject({
    nodesNow: { type: 'integer', minimum: 0, maximum: 20_000 },
  });
  await request(address).get('/api/docs').expect(200);
  await request(address).get('/api/nope').expect(404);
});
