import type { NestExpressApplication } from '@nestjs/platform-express';
import { defaultSettings, newId, withFallbacks } from '@wide-lattice/core/plan';
import request from 'supertest';
import { addressOf, startTestApp } from '../../test/testApp.js';

let app: NestExpressApplication;
let address: string;

beforeAll(async () => {
  app = await startTestApp();
  address = await addressOf(app);
});
afterAll(() => app.close());

test('a foreign Host or Origin is refused, the own ones are not', async () => {
  await request(address).get('/api/plans').set('host', 'evil.example').expect(403);
  await request(address).get('/api/plans').set('host', '127.0.0.1.evil.example').expect(403);
  await request(address).get('/api/plans').set('origin', 'http://evil.example').expect(403);
  await request(address).get('/api/plans').set('origin', 'null').expect(403);
  await request(address).get('/api/plans').set('origin', address).expect(200);
  await request(address).get('/api/plans').set('host', 'localhost:4380').expect(200);
});

test.each(['/API/plans', '/Api/plans', '/api/plans', '/aPI/openapi.json'])(
  '%s begun by another site is refused, whatever the case',
  async (path) => {
    await request(address).get(path).set('sec-fetch-site', 'cross-site').expect(403);
  },
);

test('answers go out compressed to who takes that, a stream of events does not', async () => {
  const document = await request(address).get('/api/openapi.json').set('accept-encoding', 'gzip').expect(200);
  expect(document.headers['content-encoding']).toBe('gzip');
  const plain = await request(address).get('/api/openapi.json').set('accept-encoding', 'identity').expect(200);
  expect(plain.headers['content-encoding']).toBeUndefined();
  expect(plain.body).toEqual(document.body);
  const { body } = await request(address)
    .post('/api/plans')
    .send({ ...defaultSettings, name: 'streamed' })
    .expect(201);
  const control = new AbortController();
  const stream = await fetch(`${address}/api/plans/${(body as { id: string }).id}/events`, { signal: control.signal });
  expect([stream.status, stream.headers.get('content-encoding')]).toEqual([200, null]);
  // The first event comes at once, not when a compressor is full; in how many pieces is the network's business.
  const reader = stream.body?.getReader();
  let said = '';
  for (let piece = 0; piece < 10 && !said.includes('revision'); piece++)
    said += new TextDecoder().decode((await reader?.read())?.value);
  expect(said).toContain('revision');
  control.abort();
});

test('a stream of a plan that is not there is answered, not kept open', async () => {
  await request(address).get(`/api/plans/${newId()}/events`).expect(404);
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
    .post('/api/plans')
    .send({ text: 'x'.repeat(42_000_000) })
    .expect(413);
  expect(body).toMatchObject({ message: expect.stringContaining('40mb') as string });
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

describe('what a browser says of where a request began', () => {
  test.each([
    ['cross-site', 403],
    ['same-site', 403],
    ['same-origin', 200],
    ['none', 200],
  ])('Sec-Fetch-Site %s is answered %d', async (site, status) => {
    const { headers } = await request(address).get('/api/plans').set('sec-fetch-site', site).expect(status);
    // Refusals carry the security headers too.
    expect(headers['content-security-policy']).toContain("default-src 'self'");
  });
});

test('nothing of the API is kept by a browser or a cache', async () => {
  const { headers } = await request(address).get('/api/plans').expect(200);
  expect(headers['cache-control']).toBe('no-store');
});

describe('bad requests name the field', () => {
  const network = withFallbacks('networks', { id: '', name: '' });
  const version = { name: 'v', author: 'a' };
  let planId: string;
  const change = (more: object) =>
    request(address)
      .post(`/api/plans/${planId}/changes`)
      .send({
        baseRevision: 0,
        label: 'l',
        author: 'a',
        clientId: planId,
        operations: [{ op: 'set', kind: 'settings', fields: { horizonMonths: 12 } }],
        ...more,
      });

  beforeAll(async () => {
    const { body } = await request(address)
      .post('/api/plans')
      .send({ ...defaultSettings, name: 'bad requests' })
      .expect(201);
    planId = (body as { id: string }).id;
  });

  test.each<[string, object]>([
    ['reverts', { reverts: 3e9 }],
    ['baseRevision', { baseRevision: 3e9 }],
    ['label', { label: '   ' }],
    ['label', { label: 'two\nlines' }],
    ['label', { label: 'left\u202eright' }],
    ['author', { author: '\u0007' }],
    ['author', { author: 'half \ud800' }],
    ['author', { author: 'a\ufe0f' }],
    ['changeId', { changeId: 'x' }],
    ['constructor', JSON.parse('{"constructor":1}') as object],
  ])('%s of a change: %j', async (field, more) => {
    const { body } = await change(more).expect(400);
    expect(body).toMatchObject({ fields: [{ field }] });
  });

  test.each<[string, string]>([
    ['a lone surrogate', 'half \ud800'],
    ['a mark that turns the text', 'left\u202eright'],
    ['a character that nobody sees', 'a\ufe0f'],
    ['a line break', 'two\nlines'],
    ['nothing but spaces', '   '],
  ])('a name with %s is refused in a change and in a version', async (_, name) => {
    const operations = [{ op: 'add', kind: 'networks', entity: { ...network, id: planId, name } }];
    const { body } = await change({ operations }).expect(422);
    expect(body).toMatchObject({ problems: [{ field: 'name' }] });
    await request(address)
      .post(`/api/plans/${planId}/versions`)
      .send({ ...version, name })
      .expect(400);
  });

  test('notes may have lines and emoji', async () => {
    const entity = { ...network, id: planId, name: 'n', note: 'two\nlines \u2713\ufe0f' };
    await change({ operations: [{ op: 'add', kind: 'networks', entity }] }).expect(200);
  });

  test.each([
    ['plans?offset=18446744073709551616', 'offset'],
    ['plans?offset=-1', 'offset'],
    ['plans?offset=x', 'offset'],
    ['plans?ofset=1', 'ofset'],
  ])('%s', async (path, field) => {
    const { body } = await request(address).get(`/api/${path}`).expect(400);
    expect(body).toMatchObject({ fields: [{ field }] });
  });

  test('a request without parameters takes none, and a history page has bounds', async () => {
    await request(address).get(`/api/plans/${planId}?x=1`).expect(400);
    await request(address).get(`/api/plans/${planId}/history?limit=0`).expect(400);
    await request(address).get(`/api/plans/${planId}/history?limit=201`).expect(400);
    await request(address).get(`/api/plans/${planId}/changes`).expect(400);
    await request(address).get(`/api/plans/${planId}/at/99999999999`).expect(400);
  });

  test('3,000 levels of lists are refused before anything goes down them', async () => {
    const deep = `{"text":${'['.repeat(3000)}${']'.repeat(3000)}}`;
    const { body } = await request(address)
      .post('/api/plans')
      .set('content-type', 'application/json')
      .send(deep)
      .expect(400);
    expect((body as { message: string }).message).toContain('more than 32 levels');
  });
});
