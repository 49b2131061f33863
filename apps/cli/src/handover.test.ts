import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demoPlan } from '@wide-lattice/core/demo';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { handover } from './handover.js';

const text = writePlanFile(demoPlan(), 'yaml');
let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'wl-handover-'));
});
afterEach(() => {
  rmSync(folder, { recursive: true });
});

test('a bundle is written for the whole plan, and a smaller one for a part, the same each time', () => {
  const out = (name: string) => join(folder, name);
  const whole = handover(text, { out: out('whole.zip') });
  expect([whole.exitCode, whole.errors]).toEqual([0, '']);
  expect(whole.output).toMatch(/whole\.zip: \d{3} files\n$/);
  for (const [name, part] of [
    ['a', { cluster: 'booking-north' }],
    ['b', { cluster: 'Booking-North' }],
    ['site', { site: 'halden north' }],
  ] as const)
    expect(handover(text, { ...part, out: out(name) }).exitCode).toBe(0);
  const bytes = (name: string) => readFileSync(out(name));
  // A zip begins with the signature of its first file (APPNOTE 4.3.7).
  expect(bytes('a').subarray(0, 4)).toEqual(Buffer.from([0x50, 0x4b, 3, 4]));
  expect(bytes('a').equals(bytes('b'))).toBe(true);
  expect(bytes('a').length).toBeLessThan(bytes('site').length);
  expect(bytes('site').length).toBeLessThan(bytes('whole.zip').length);
});

test.each([
  [{ cluster: 'nowhere' }, 'There is no cluster "nowhere". Known are booking-north, '],
  [{ cluster: 'booking-north', site: 'Halden north' }, 'Give one of --cluster, --site and --template, not several.'],
  [{ site: 'Shopfront' }, 'There is no site "Shopfront"'],
])('what cannot be handed over is told with its place: %j', (part, said) => {
  const { exitCode, errors, output } = handover(text, { ...part, out: join(folder, 'x.zip') });
  expect([exitCode, output]).toEqual([2, '']);
  expect(errors).toContain(said);
});

test('a file that is not a plan and a place that cannot be written are told', () => {
  expect(handover('no: plan', { out: join(folder, 'x.zip') })).toMatchObject({ exitCode: 2 });
  const { exitCode, errors } = handover(text, { out: join(folder, 'none', 'x.zip') });
  expect([exitCode, errors]).toEqual([2, expect.stringMatching(/x\.zip cannot be written: .*ENOENT/)]);
});
