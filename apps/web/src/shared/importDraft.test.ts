/** @jest-environment node */
/// <reference types="node" />
import { readFileSync } from 'node:fs';
import { demoPlan } from '@wide-lattice/core/demo';
import { importRows } from '@wide-lattice/core/exchange';
import { applyOperations } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { countsOf, importChange, MAX_FILE_BYTES, textOfFile } from './importDraft';

const demo = demoPlan();
const [first, second] = demo.networks;

function file(name: string, bytes: Uint8Array, size = bytes.length) {
  // As a browser's file does, it answers only when it is asked as itself.
  return {
    name,
    size,
    arrayBuffer(this: object | undefined) {
      return this === undefined
        ? Promise.reject(new TypeError('Illegal invocation'))
        : Promise.resolve(bytes.slice().buffer);
    },
  };
}

function applied(plan: Plan, isRemoving: boolean, text: string): Plan {
  const change = importChange(plan, importRows(plan, 'inUse', text), isRemoving);
  const result = applyOperations(plan, change?.operations ?? []);
  if (!result.ok) throw new Error(result.problems[0]?.message);
  return result.plan;
}

describe('a file for an import', () => {
  test('is read as UTF-8', async () => {
    const bytes = new TextEncoder().encode('Name\nquay – süd\n');
    expect(await textOfFile(file('sites.csv', bytes))).toEqual({ text: 'Name\nquay – süd\n' });
  });

  test('of a spreadsheet is read from its first sheet with rows, past its title', async () => {
    const bytes = new Uint8Array(readFileSync(new URL('../../test/fleet.xlsx', `file://${__filename}`)));
    const read = await textOfFile(file('fleet.xlsx', bytes));
    expect(read).toMatchObject({ sheet: 'Fleet' });
    // Written by hand by the format's standard (ECMA-376), with an empty sheet in front, a title line, a comma and an empty cell.
    expect('text' in read ? read.text.split('\n') : []).toEqual([
      'Cluster name,Region,VPC,Nodes,Max nodes,Node CIDR,Pod CIDR,Built',
      'web-1,north,web,12,20,10.10.0.0/22,10.96.0.0/14,yes',
      '"web, two",north,web,8,,10.10.4.0/22,10.100.0.0/14,no',
    ]);
  });

  test.each([
    ['old.xls', 'format of before 2007'],
    ['not.xlsx', 'cannot be read as a workbook'],
  ])('%s is refused with what to do', async (name, why) => {
    const read = await textOfFile(file(name, new TextEncoder().encode('Name\nx\n')));
    expect('refused' in read ? read.refused : '').toContain(why);
  });

  test('in another encoding is refused with what to do', async () => {
    const latin1 = new Uint8Array([0x73, 0xfc, 0x64]);
    expect(await textOfFile(file('old.csv', latin1))).toEqual({
      refused: 'old.csv is not UTF-8 text. Save it as UTF-8 and choose it again.',
    });
  });

  test('that is too large is refused by its size, without reading it', async () => {
    const read = jest.fn();
    const large = { name: 'all.csv', size: MAX_FILE_BYTES + 1, arrayBuffer: read };
    expect(await textOfFile(large)).toEqual({ refused: 'all.csv has 11 MB; an import takes 10 MB. Split it.' });
    expect(read).not.toHaveBeenCalled();
  });

  test('of exactly the limit is read', async () => {
    expect(await textOfFile(file('full.csv', new Uint8Array(3), MAX_FILE_BYTES))).toHaveProperty('text');
  });
});

describe('what an import does', () => {
  const row = (name: string, mtu: string) => `${name},${mtu}`;
  const text = ['Name,MTU', row('quay-lab', '1500'), row(first?.name ?? '', '1400'), row('bad', 'wide')].join('\n');

  test('is counted by rows and by bad lines', () => {
    const counts = countsOf(importRows(demo, 'networks', text));
    expect(counts).toEqual({ added: 1, changed: 1, unchanged: 0, badLines: 1 });
  });

  test('a line with two problems is one bad line', () => {
    const preview = importRows(demo, 'networks', 'Name,MTU,Note\n,wide,x');
    expect(preview.problems.length).toBeGreaterThanOrEqual(1);
    expect(countsOf(preview).badLines).toBe(1);
  });

  test('is one change of the valid rows', () => {
    const change = importChange(demo, importRows(demo, 'networks', text), false);
    expect(change).toMatchObject({ label: 'Import 2 × network', button: 'Import 2 valid rows' });
    expect(change?.operations.map(({ op }) => op).sort()).toEqual(['add', 'set']);
  });

  test('one row is a row', () => {
    const change = importChange(demo, importRows(demo, 'networks', 'Name,MTU\nquay-lab,1500'), false);
    expect(change?.button).toBe('Import 1 valid row');
  });

  test('is no change when everything is as in the plan', () => {
    const same = importRows(demo, 'networks', `Name,MTU\n${second?.name},${second?.mtu}`);
    expect(countsOf(same)).toMatchObject({ unchanged: 1, changed: 0 });
    expect(importChange(demo, same, false)).toBeUndefined();
  });

  test('what the text does not name stays, or goes when that is wanted', () => {
    const [kept] = demo.inUse;
    const network = demo.networks.find(({ id }) => id === kept?.networkId)?.name ?? '';
    const only = `Network,Prefix,Owner\n${network},${kept?.prefix},${kept?.owner}\n${network},203.0.113.0/24,new`;
    expect(applied(demo, false, only).inUse).toHaveLength(demo.inUse.length + 1);
    const left = applied(demo, true, only).inUse;
    expect(left.map(({ prefix }) => prefix).sort()).toEqual([kept?.prefix, '203.0.113.0/24'].sort());
  });

  test('the button says how many it removes', () => {
    const [kept, ...others] = demo.inUse;
    const network = demo.networks.find(({ id }) => id === kept?.networkId)?.name ?? '';
    const only = `Network,Prefix,Owner\n${network},${kept?.prefix},${kept?.owner}`;
    const change = importChange(demo, importRows(demo, 'inUse', only), true);
    expect(change?.button).toBe(`Import 0 valid rows, remove ${others.length}`);
    expect(change?.operations.every(({ op }) => op === 'remove')).toBe(true);
  });
});
