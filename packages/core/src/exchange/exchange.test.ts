import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import Papa from 'papaparse';
import { add, anyWorld, applied, ground } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { setOperation } from '../plan/index.js';
import {
  allocationTableCsv,
  importRows,
  MAX_IMPORT_ROWS,
  planFileSchema,
  readPlanFile,
  writePlanFile,
} from './index.js';

describe('plan file', () => {
  test.each(['json', 'yaml'] as const)('%s: writing and reading back gives the same plan', (syntax) => {
    fc.assert(
      fc.property(anyWorld, (plan) => {
        const read = readPlanFile(writePlanFile(plan, syntax));
        expect(read).toEqual({ ok: true, plan });
      }),
      { numRuns: 60 },
    );
    expect(readPlanFile(writePlanFile(demoPlan(), syntax))).toEqual({ ok: true, plan: demoPlan() });
  });

  test('texts that YAML could take for something else survive', () => {
    const odd = ['yes', '0x10', '1e3', '- a', '# b', 'a: b', '"q"', ' null', '2026-11-23', "it's", '🚢', '=1+1'];
    const plan = applied(
      ground(1),
      add('inUse', ...odd.map((owner) => ({ prefix: '10.0.0.0/8', owner, networkId: null, note: `\ttab\n${owner}` }))),
    );
    expect(readPlanFile(writePlanFile(plan, 'yaml'))).toEqual({ ok: true, plan });
  });

  const ajv = new Ajv2020({ strict: false });
  const validate = ajv.compile(planFileSchema());

  test('the published JSON Schema (draft 2020-12, checked by ajv) takes what is written', () => {
    expect(validate(JSON.parse(writePlanFile(demoPlan(), 'json')))).toBe(true);
    const published: unknown = JSON.parse(
      readFileSync(fileURLToPath(new URL('../../../../docs/plan-file.schema.json', `file://${__filename}`)), 'utf8'),
    );
    expect(published).toEqual(planFileSchema());
  });

  test.each([
    ['clusters', 0, 'nodesNow', -1],
    ['clusters', 0, 'podMode', 'magic'],
    ['pools', 0, 'prefix', 'everything'],
    ['links', 0, 'networkIds', []],
    ['sites', 0, 'unknown', 1],
  ] as const)('schema and reader both refuse %s[%d].%s = %s', (kind, at, field, value) => {
    const file = JSON.parse(writePlanFile(demoPlan(), 'json')) as Record<string, Record<string, unknown>[]>;
    const entity = file[kind]?.[at];
    if (entity !== undefined) entity[field] = value;
    expect(validate(file)).toBe(false);
    const read = readPlanFile(JSON.stringify(file));
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems[0]?.path).toBe(`${kind}[${at}].${field}`);
  });

  test.each([
    ['{"a":', 'file'],
    ['[1]', 'file'],
    ['a: [', 'line 1'],
    ['{"format":"other"}', 'format'],
    ['{"format":"wide-lattice-plan","version":99}', 'version'],
    ['a: &x 1\nb: *x', 'file'],
    ['{"format":"wide-lattice-plan","version":1,"extra":[]}', 'extra'],
  ])('%s is refused at %s', (text, path) => {
    const read = readPlanFile(text);
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems[0]).toMatchObject({ path, message: expect.stringMatching(/.+/) as string });
  });
});

describe('rows', () => {
  const plan = demoPlan();

  test('CSV: good rows are taken, bad rows are named by line, field and mend', () => {
    const text = [
      'Prefix,Owner,Network,Note',
      '10.200.0.0/16,Ticket hall,piers,"two',
      'lines"',
      '10.201.0.7/16,Ticket hall,piers,',
      '',
      '10.202.0.0/16,,piers,',
      '10.203.0.0/16,Depot,nowhere,',
      '10.204.0.0/16,Depot,,',
    ].join('\r\n');
    const { good, problems, operations, rowsRead } = importRows(plan, 'inUse', text);
    expect(rowsRead).toBe(5);
    expect(good.map(({ line, label }) => `${line} ${label}`)).toEqual(['2 10.200.0.0/16', '8 10.204.0.0/16']);
    expect(problems.map(({ line, field }) => `${line} ${field}`)).toEqual(['4 Prefix', '6 Owner', '7 Network']);
    expect(problems[0]).toMatchObject({ mend: 'Write 10.201.0.0/16.' });
    expect(applied(plan, operations).inUse.length).toBe(plan.inUse.length + 2);
  });

  test('tabs from a spreadsheet, JSON and YAML read alike', () => {
    const names = ['new-a', 'new-b'];
    const row = (name: string) => ({
      name,
      site: 'Basalt hall',
      network: 'basalt-lan',
      'nodes now': 3,
      'nodes at horizon': 9,
      built: 'yes',
    });
    const heads = Object.keys(row('x'));
    const tabs = [heads.join('\t'), ...names.map((name) => Object.values(row(name)).join('\t'))].join('\n');
    const yaml = names
      .map(
        (name) =>
          `- ${Object.entries(row(name))
            .map(([k, v]) => `${k}: ${v}`)
            .join('\n  ')}`,
      )
      .join('\n');
    for (const text of [tabs, JSON.stringify(names.map(row)), yaml]) {
      const { good, problems } = importRows(plan, 'clusters', text);
      expect(problems).toEqual([]);
      expect(good.map(({ entity }) => entity)).toMatchObject(
        names.map((name) => ({
          name,
          nodesNow: 3,
          nodesHorizon: 9,
          isBuilt: true,
          podsPerNode: 110,
          podMode: 'overlay',
        })),
      );
    }
  });

  test('JSON and YAML name the line of a bad row', () => {
    const text =
      '[\n  {"name": "a", "prefix": "10.0.0.0/8", "for": ["node"]},\n  {"name": "b", "prefix": "10.0.0.0/99", "for": ["node"]}\n]';
    expect(importRows(plan, 'pools', text).problems).toMatchObject([{ line: 3, field: 'Prefix' }]);
    expect(importRows(plan, 'pools', '- name: c\n  prefix: 10.0.0.0/8\n- name: d\n').problems).toMatchObject([
      { line: 1, field: 'For' },
      { line: 3 },
      { line: 3 },
    ]);
  });

  test.each([
    ['unknown column', 'prefix,colour\n10.0.0.0/8,red', 'colour'],
    ['name taken in the plan', 'name,prefix,for\nBackbone,10.0.0.0/8,node', 'name'],
    ['name taken in the file', 'name,prefix,for\nx,10.0.0.0/8,node\nX,11.0.0.0/8,node', 'name'],
    ['wrong choice', 'name,prefix,for\nx,10.0.0.0/8,toast', 'For'],
  ])('%s', (_, text, field) =>
    expect(
      importRows(plan, text.startsWith('prefix') ? 'inUse' : 'pools', text).problems.map((p) => p.field),
    ).toContain(field),
  );

  test('no text, no heading, an open quote, too many rows', () => {
    expect(importRows(plan, 'pools', '').problems).toHaveLength(1);
    expect(importRows(plan, 'pools', 'name,prefix\n"open,10.0.0.0/8').problems[0]?.message).toContain('quoted');
    const many = `prefix,owner\n${'10.0.0.0/8,x\n'.repeat(MAX_IMPORT_ROWS + 1)}`;
    expect(importRows(plan, 'inUse', many)).toMatchObject({
      good: [],
      problems: [{ message: expect.stringContaining('10000') as string }],
    });
  });
});

describe('allocation table', () => {
  test('RFC 4180: reads back with every range, and no cell starts a formula', () => {
    const start = demoPlan();
    const plan = applied(start, [
      setOperation('clusters', start.clusters[0]?.id ?? '', { name: '=HYPERLINK("http://x"),"y"' }),
    ]);
    const { data } = Papa.parse<Record<string, string>>(allocationTableCsv(evaluate(plan)), {
      header: true,
      skipEmptyLines: true,
    });
    expect(
      data
        .filter((row) => row['prefix'] !== '')
        .map((row) => row['prefix'])
        .sort(),
    ).toEqual(plan.allocations.map((a) => a.prefix).sort());
    expect(data.some((row) => row['verdict'] === 'missing')).toBe(true);
    for (const row of data) for (const cell of Object.values(row)) expect(cell).not.toMatch(/^[=+\-@\t\r]/);
    expect(data[0]?.['cluster']).toBe('\'=HYPERLINK("http://x"),"y"');
  });
});
