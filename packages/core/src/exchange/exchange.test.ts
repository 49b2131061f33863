import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliDecompressSync } from 'node:zlib';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import Papa from 'papaparse';
import { add, anyWorld, applied, ground } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { applyOperations, kindOf, kinds, removalOf, rulesOf, setOperation } from '../plan/index.js';
import type { Kind } from '../plan/index.js';
import {
  allocationTableCsv,
  exportRows,
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
    ['a: &x 1\nb: *x', 'line 2'],
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
    const { rows, problems, operations, rowsRead } = importRows(plan, 'inUse', text);
    expect(rowsRead).toBe(5);
    expect(rows.map(({ line, what, label }) => `${line} ${what} ${label}`)).toEqual([
      '2 added 10.200.0.0/16 (Ticket hall)',
      '8 added 10.204.0.0/16 (Depot)',
    ]);
    expect(problems.map(({ line, field }) => `${line} ${field}`)).toEqual(['4 Prefix', '6 Owner', '7 Network']);
    expect(problems[0]).toMatchObject({ fix: 'Write 10.201.0.0/16.' });
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
      const { operations, problems } = importRows(plan, 'clusters', text);
      expect(problems).toEqual([]);
      expect(operations).toMatchObject(
        names.map((name) => ({
          op: 'add',
          entity: { name, nodesNow: 3, nodesHorizon: 9, isBuilt: true, podsPerNode: 110, podMode: 'overlay' },
        })),
      );
    }
  });

  test('JSON and YAML name the line of a bad row', () => {
    const text =
      '[\n  {"name": "a", "prefix": "10.0.0.0/8", "for": ["node"]},\n  {"name": "b", "prefix": "10.0.0.0/99", "for": ["node"]}\n]';
    expect(importRows(plan, 'pools', text).problems).toMatchObject([{ line: 3, field: 'Prefix' }]);
    expect(importRows(plan, 'pools', '- name: c\n  prefix: 10.0.0.0/8\n- name: d\n').problems).toMatchObject([
      { line: 1, field: 'Purpose' },
      { line: 3 },
      { line: 3 },
    ]);
  });

  test.each([
    ['unknown column', 'prefix,colour\n10.0.0.0/8,red', 'colour'],
    ['name taken in the file', 'name,prefix,for\nx,10.0.0.0/8,node\nX,11.0.0.0/8,node', 'Name'],
    ['wrong choice', 'name,prefix,for\nx,10.0.0.0/8,toast', 'Purpose'],
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
      operations: [],
      problems: [{ message: expect.stringContaining('20000') as string }],
    });
  });
});

describe('rows as a difference', () => {
  const plan = demoPlan();

  test.each(kinds)('%s: what is exported reads back as no change, in each syntax', (kind) => {
    for (const syntax of ['csv', 'json', 'yaml'] as const) {
      const { rows, problems, operations, absent } = importRows(plan, kind, exportRows(plan, kind, syntax));
      expect({ problems, operations, absent }).toEqual({ problems: [], operations: [], absent: [] });
      expect(rows.filter(({ what }) => what === 'unchanged')).toHaveLength(plan[kind].length);
      expect(plan[kind].length).toBeGreaterThan(0);
    }
  });

  test.each(kinds)('%s: what is exported can be taken by a plan that lacks it', (kind) => {
    fc.assert(
      fc.property(anyWorld, (world) => {
        const [some] = world[kind];
        const without = some === undefined ? undefined : applyOperations(world, removalOf(world, kind, some.id));
        // Something else may need the first one; another world has one that nothing needs.
        if (without === undefined || !without.ok) return;
        const text = exportRows(world, kind, 'csv');
        const { problems, operations } = importRows(without.plan, kind, text);
        expect(problems).toEqual([]);
        const after = applied(without.plan, operations);
        expect(exportRows(after, kind, 'csv').split('\n').sort()).toEqual(text.split('\n').sort());
      }),
      { numRuns: 30 },
    );
  });

  test('a row that the plan has is a change of what differs; what no row names is listed and stays', () => {
    const text = 'Prefix,Owner,Network\n10.20.0.0/16,Desks,head-office\n10.100.0.0/16,Ferry control,basalt-lan\n';
    const { rows, operations, absent } = importRows(plan, 'inUse', text);
    expect(rows).toMatchObject([
      { line: 2, what: 'changed', changes: [{ field: 'Owner', before: 'Head office desks', after: 'Desks' }] },
      { line: 3, what: 'unchanged' },
    ]);
    expect(operations).toHaveLength(1);
    expect(absent).toHaveLength(plan.inUse.length - 2);
    expect(applied(plan, operations).inUse).toHaveLength(plan.inUse.length);
  });

  test('lists in the rows do not change what sets the columns apart', () => {
    const text = 'name,kind,networks\na,hub,booking; models; piers\nb,hub,models; piers; booking\n';
    expect(importRows(plan, 'links', text).problems).toEqual([]);
    expect(importRows(plan, 'links', text.replaceAll(',', '\t')).problems).toEqual([]);
    expect(importRows(plan, 'links', text.replaceAll(';', '|').replaceAll(',', ';')).problems).toEqual([]);
  });

  test('columns can be named by hand or left out', () => {
    const text = 'Netz,Wer,Farbe\n10.210.0.0/16,Werft,rot\n';
    expect(importRows(plan, 'inUse', text).problems.map(({ field }) => field)).toEqual(['Netz', 'Wer', 'Farbe']);
    const { columns, operations, problems } = importRows(plan, 'inUse', text, {
      fields: { Netz: 'prefix', Wer: 'owner', Farbe: '' },
    });
    expect(problems).toEqual([]);
    expect(columns.map(({ field }) => field)).toEqual(['prefix', 'owner', '']);
    expect(operations).toMatchObject([{ entity: { prefix: '10.210.0.0/16', owner: 'Werft' } }]);
  });

  test('a zone that the site does not have is named with those it has', () => {
    const text = 'cluster,for,zone,prefix\nbooking-south,node,s9,10.30.9.0/24';
    expect(importRows(plan, 'allocations', text).problems).toMatchObject([
      { field: 'Zone', fix: 'Its zones are s1, s2.' },
    ]);
  });

  test('a JSON list names the line of each row, whatever stands in its texts', () => {
    const text =
      '[\n{"prefix": "10.1.0.0/16", "owner": "a, [b] {c} \\" d"},\n\n{"prefix": "10.1.0.1/16",\n"owner": "x"}]';
    const { rows, problems } = importRows(plan, 'inUse', text);
    expect(rows.map(({ line }) => line)).toEqual([2]);
    expect(problems.map(({ line }) => line)).toEqual([4]);
    expect(importRows(plan, 'inUse', '[\n1]').problems).toMatchObject([{ line: 2 }]);
    expect(importRows(plan, 'inUse', '[\n{"a": }]').problems).toMatchObject([{ line: 2 }]);
  });
});

describe('older plan files', () => {
  const plan = demoPlan();
  const now = JSON.parse(writePlanFile(plan, 'json')) as Record<string, Record<string, unknown>[]>;
  const only = (kind: string, ...fields: string[]) =>
    (now[kind] ?? []).map((entity) =>
      Object.fromEntries(Object.entries(entity).filter(([field]) => fields.includes(field))),
    );
  const inVersion1 = [
    'id',
    'name',
    'siteId',
    'networkId',
    'podMode',
    'family',
    'nodesNow',
    'nodesHorizon',
    'podsPerNode',
    'services',
    'surgePercent',
    'entryAddresses',
    'perNodeLength',
    'isBuilt',
  ];
  const inVersion2 = [...inVersion1, 'encapsulation', 'shapeId', 'podNeeds', 'mtuFloor', 'hasEntrySubnets'];
  const newInVersion3 = {
    templateId: null,
    encryption: 'none',
    podPreferences: [],
    controlPlane: 'hosted',
    controlNodes: 3,
    controlShapeId: null,
    apiEndpoint: 'public',
    zoneCount: null,
    growth: 'linear',
    growthPerYear: null,
    growthSteps: [],
    nodePortServices: 0,
    balancerServices: 0,
    headlessServices: 0,
    hasPublicBalancers: false,
    natAddresses: 0,
    snatPorts: 1024,
    zoneGb: 0,
    egressGb: 0,
    bastionId: null,
    baseDomain: '',
  };
  const inVersion4 = Object.keys(now).filter(
    (key) => !(kinds as readonly string[]).includes(key) || kindOf[key as Kind].since <= 4,
  );
  const subnetFields = [
    'id',
    'name',
    'networkId',
    'siteId',
    'zone',
    'purpose',
    'prefix',
    'delegatedTo',
    'isPublic',
    'internetEgress',
  ];
  const version4 = {
    ...Object.fromEntries(inVersion4.map((key) => [key, now[key]])),
    networks: only('networks', 'id', 'name', 'mtu', 'note'),
    subnets: only('subnets', ...subnetFields).map((subnet, i) => ({
      ...subnet,
      routeTable: ['', 'shared', 'shared'][i] ?? 'own',
    })),
  };
  const { templates: _a, nodePools: _b, rebuilds: _c, ...version2 } = version4 as typeof now;

  test('the route table that a subnet names up to version 4 becomes a table of its network', () => {
    const clusterFields = Object.entries(rulesOf('clusters')).flatMap(([field, rule]) =>
      rule.since === 5 ? [] : [field],
    );
    const old = {
      ...version4,
      version: 4,
      clusters: only('clusters', 'id', ...clusterFields),
      profiles: only(
        'profiles',
        'id',
        ...Object.keys(rulesOf('profiles')).filter((field) => field !== 'routePreference'),
      ),
    };
    const read = readPlanFile(JSON.stringify(old));
    expect(read.ok ? [] : read.problems).toEqual([]);
    if (!read.ok) return;
    const tableOf = (id: string | null) => read.plan.routeTables.find((table) => table.id === id);
    for (const [i, { id, networkId }] of plan.subnets.entries()) {
      const subnet = read.plan.subnets.find((each) => each.id === id);
      const table = tableOf(subnet?.routeTableId ?? null);
      expect(table?.name ?? '').toBe(['', 'shared', 'shared'][i] ?? 'own');
      if (table !== undefined) expect(table.networkId).toBe(networkId);
    }
    expect(read.plan.clusters.every(({ untranslated, apiPort }) => untranslated.length === 0 && apiPort === null)).toBe(
      true,
    );
    expect(read.plan.routes).toEqual([]);
  });

  describe('a file that version 13 wrote of a plan with every kind', () => {
    const text = brotliDecompressSync(readFileSync(join(__dirname, '../../test/files/plan-13.json.br'))).toString();
    type Row = Readonly<Record<string, unknown>>;
    const old = JSON.parse(text) as Readonly<Record<string, readonly Row[]>> & { readonly settings: Row };
    /** Each value, under whatever name. */
    const values = (row: object) =>
      Object.values(row)
        .map((value) => JSON.stringify(value))
        .sort();

    test('reads under the names of today, with every value of it', () => {
      const read = readPlanFile(text);
      expect(read.ok ? [] : read.problems).toEqual([]);
      if (!read.ok) return;
      const now = read.plan;
      const renamed: Readonly<Partial<Record<Kind, string>>> = {
        reservations: 'runs',
        recordControllers: 'keepers',
        forwardingRules: 'forwards',
      };
      for (const kind of kinds) {
        const rows = old[renamed[kind] ?? kind] ?? [];
        expect([kind, rows.length > 0]).toEqual([kind, kindOf[kind].since <= 13]);
        // What came later has its usual value.
        const later = new Set(Object.entries(rulesOf(kind)).flatMap(([f, { since = 1 }]) => (since > 13 ? [f] : [])));
        const known = (row: object) => Object.fromEntries(Object.entries(row).filter(([f]) => !later.has(f)));
        const read13 = (now[kind] as readonly object[]).map((row) => values(known(row)));
        expect([kind, read13]).toEqual([kind, rows.map(values)]);
      }
      expect(values(now.settings)).toEqual(values(old.settings));
      // As edited before it was written: the value of each by the name that it had.
      expect(now.allocations.map(({ isPinned }) => isPinned)).toEqual(old['allocations']?.map((row) => row['isFixed']));
      expect(now.subnets.map(({ internetEgress }) => internetEgress)).toEqual(
        old['subnets']?.map((row) => row['wayOut']),
      );
      expect(now.networks.map(({ internetEgress }) => internetEgress)).toEqual(
        old['networks']?.map((row) => row['egress']),
      );
      expect(now.attachments.map(({ accepts, acceptsFromIds }) => [accepts, acceptsFromIds])).toEqual(
        old['attachments']?.map((row) => [row['learns'], row['learnsFromIds']]),
      );
      expect(
        now.connections.map(({ method, maxLinks, sessionHoldSeconds }) => [method, maxLinks, sessionHoldSeconds]),
      ).toEqual(old['connections']?.map((row) => [row['way'], row['mostLinks'], row['keepsSeconds']]));
      expect(
        now.ingressRoutes.map((route) => [
          route.objectKind,
          route.rateLimitPerMinute,
          route.rateLimitAlgorithm,
          route.isDeprecatedVersion,
          route.additionalParents,
        ]),
      ).toEqual(
        old['ingressRoutes']?.map((row) =>
          ['form', 'perMinute', 'limitBy', 'isOldForm', 'furtherParents'].map((field) => row[field]),
        ),
      );
      expect(now.templates.map(({ sets }) => sets)).toEqual(old['templates']?.map((row) => row['fixes']));
      expect(now.zones.map(({ cutOverTarget }) => cutOverTarget)).toEqual(
        old['zones']?.map((row) => row['cutOverAim']),
      );
      expect(now.settings).toMatchObject({
        expectsMergers: old.settings['expectsJoins'],
        weightConnectionCost: old.settings['weightJoinCost'],
        weightConnectionRanges: old.settings['weightJoinRanges'],
        weightPreferences: old.settings['weightWishes'],
      });
    });

    test('a list or a field under both names is refused, and none is dropped', () => {
      expect(readPlanFile(JSON.stringify({ ...old, reservations: [] }))).toMatchObject({
        ok: false,
        problems: [expect.objectContaining({ path: 'runs' }) as unknown],
      });
      const [first, ...others] = old['allocations'] ?? [];
      const both = { ...old, allocations: [{ ...first, isPinned: true }, ...others] };
      expect(readPlanFile(JSON.stringify(both))).toMatchObject({
        ok: false,
        problems: [expect.objectContaining({ path: 'allocations[0].isFixed' }) as unknown],
      });
    });
  });

  test('a file of version 6 reads with the usual values for what came with version 7', () => {
    const whole = JSON.parse(writePlanFile(plan, 'json')) as Record<string, unknown>;
    const isNew = (kind: Kind, field: string) => rulesOf(kind)[field]?.since === 7;
    const old = Object.fromEntries(
      Object.entries(whole).flatMap(([part, value]) => {
        const kind = kinds.find((each) => each === part);
        if (kind === undefined) return [[part, value]];
        if (kindOf[kind].since === 7) return [];
        const items = (value as object[]).map((item) =>
          Object.fromEntries(Object.entries(item).filter(([field]) => !isNew(kind, field))),
        );
        return [[part, items]];
      }),
    );
    const read = readPlanFile(JSON.stringify({ ...old, version: 6 }));
    expect(read.ok ? [] : read.problems).toEqual([]);
    if (!read.ok) return;
    expect([read.plan.balancers, read.plan.ingressRoutes, read.plan.networkPolicies]).toEqual([[], [], []]);
    expect(read.plan.workloads[0]).toMatchObject({
      concurrency: 1,
      serviceMs: null,
      objectKind: 'Deployment',
      preserved: '',
    });
    expect(read.plan.profiles[0]).toMatchObject({ listenersPerBalancer: 50, balancerPlacement: [] });
    expect(read.plan.clusters.length).toBe(plan.clusters.length);
  });

  test('a file of version 2 reads with the usual values for what it does not know', () => {
    const profileFields = [
      'id',
      'name',
      'reservedFirst',
      'reservedLast',
      'subnetScope',
      'routesPerTable',
      'smallestSubnet',
      'largestSubnet',
      'smallestBlock',
      'largestBlock',
      'blocksPerNetwork',
      'clustersPerSite',
      'nodesPerCluster',
      'peeringsPerNetwork',
      'leastSurge',
      'nativeRule',
    ];
    const shapeFields = [
      'id',
      'name',
      'profileId',
      'vcpus',
      'memoryGib',
      'interfaces',
      'slotsPerInterface',
      'podCap',
      'price',
    ];
    const old = {
      ...version2,
      version: 2,
      clusters: only('clusters', ...inVersion2),
      profiles: only('profiles', ...profileFields),
      shapes: only('shapes', ...shapeFields),
    };
    const read = readPlanFile(JSON.stringify(old));
    expect(read.ok ? [] : read.problems).toEqual([]);
    if (!read.ok) return;
    expect(read.plan.clusters).toEqual(plan.clusters.map((cluster) => ({ ...cluster, ...newInVersion3 })));
    expect(read.plan.profiles[0]).toMatchObject({ priceNat: null, warmSpare: 0, publicAddresses: 100 });
    expect(read.plan.shapes[0]?.encapsulations).toContain('geneve');
    expect([read.plan.templates, read.plan.nodePools, read.plan.rebuilds]).toEqual([[], [], []]);
    expect(readPlanFile(writePlanFile(read.plan, 'yaml'))).toEqual(read);
  });

  test('a file of version 1 reads with the usual values for what it does not know', () => {
    const { shapes: _d, blocks: _e, subnets: _f, attachments: _g, runs: _h, ...rest } = version2;
    const old = {
      ...rest,
      version: 1,
      sites: only('sites', 'id', 'name', 'kind', 'profileId', 'zones'),
      clusters: only('clusters', ...inVersion1),
      links: only('links', 'id', 'name', 'kind', 'networkIds', 'isPlanned'),
      networks: only('networks', 'id', 'name', 'note'),
      profiles: only('profiles', 'id', 'name', 'reservedFirst', 'reservedLast', 'subnetScope', 'routesPerTable'),
    };
    const read = readPlanFile(JSON.stringify(old));
    expect(read.ok ? [] : read.problems).toEqual([]);
    if (!read.ok) return;
    expect(read.plan.clusters).toEqual(
      plan.clusters.map((cluster) => ({
        ...cluster,
        ...newInVersion3,
        shapeId: null,
        podNeeds: [],
        mtuFloor: 0,
        hasEntrySubnets: false,
        encapsulation: 'vxlan',
      })),
    );
    expect(read.plan.allocations).toEqual(plan.allocations);
    expect(read.plan.sites[0]).toMatchObject({ latitude: null, longitude: null });
    expect(read.plan.profiles[0]).toMatchObject({ leastSurge: 0, nativeRule: 'addresses', smallestSubnet: 30 });
    expect(readPlanFile(writePlanFile(read.plan, 'yaml'))).toEqual(read);
  });

  test('a file of version 1 with a fault is refused at its place', () => {
    expect(readPlanFile('{"format":"wide-lattice-plan","version":1,"profiles":[7]}')).toMatchObject({
      ok: false,
      problems: expect.arrayContaining([expect.objectContaining({ path: 'profiles[0]' })]) as unknown,
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
