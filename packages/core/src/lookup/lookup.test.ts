import { demoPlan } from '../demo/index.js';
import { kindRules, kinds } from '../plan/index.js';
import type { Entity } from '../plan/index.js';
import { Lookup } from './index.js';

const lookup = new Lookup(demoPlan());
const first = (query: string) => lookup.find(query).hits[0];

test.each([
  ['10.23.96.40', 'held by the node range of booking-north'],
  ['10.29.0.1', 'free, in pool Backbone'],
  ['9.9.9.9', 'free, in no pool'],
  ['10.28.0.0/16', 'partly taken'],
  ['10.16.0.0/14', 'free, in pool Backbone'],
  ['fd4b:5ce7:1a00::1', 'free, in pool Backbone v6; unique local space (RFC 4193)'],
  ['10.1.2.3/16', 'Write 10.1.0.0/16.'],
  ['no such thing', 'Nothing is called'],
])('%s', (query, words) => expect(lookup.find(query).summary).toContain(words));

test('holders come innermost first', () => {
  expect(lookup.find('10.23.96.40').hits.map(({ label }) => label)).toEqual([
    'node range of booking-north',
    'range of Pier radios',
    'Backbone',
  ]);
});

test('an address is placed within its range: node prefix, bands, reserved', () => {
  // tide-models: /25 a node in 10.28.0.0/19, so 10.28.3.4 is the seventh node's, numbered from 0.
  expect(first('10.28.3.4')?.detail).toContain('prefix number 6, 10.28.3.0/25');
  expect(first('10.96.0.1')?.detail).toContain('API server');
  expect(first('10.96.0.10')?.detail).toContain('cluster DNS');
  expect(first('10.96.0.200')?.detail).toContain('static band');
  expect(first('10.96.4.0')?.detail).toContain('automatic band');
  expect(first('10.23.96.3')?.detail).toContain('reserved by Halden');
  expect(first('10.23.96.127')?.detail).toContain('reserved by Halden');
  expect(first('10.23.96.4')?.detail).not.toContain('reserved');
});

test('names are found in any case, what carries one before what mentions it', () => {
  expect(first('KIOSK-W')).toMatchObject({ kind: 'clusters', label: 'kiosk-wyre' });
  expect(first('skerry-hub')).toMatchObject({ kind: 'links' });
  const kindsFound = lookup.find('booking-north').hits.map(({ kind }) => kind);
  expect(kindsFound[0]).toBe('clusters');
  expect(kindsFound).toContain('allocations');
});

test('every kind is found by how a person knows it, wherever it stands', () => {
  const plan = demoPlan();
  const found = kinds.map((kind) => {
    const [entity] = plan[kind] as readonly Entity[];
    if (entity === undefined) return `the demo has no ${kind}`;
    const label = kindRules(kind).label(entity, plan);
    // A label that is a prefix or an address alone is answered as one.
    const hit = lookup.find(label).hits.find(({ id }) => id === entity.id);
    return hit?.kind;
  });
  expect(found).toEqual(kinds);
});
