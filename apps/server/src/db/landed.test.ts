import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import { kinds } from '@wide-lattice/core/plan';
import type { Kind, Plan } from '@wide-lattice/core/plan';
import { DataSource } from 'typeorm';
import { cutOff } from '../../test/cutOff.js';
import { PlanLog } from '../plans/planLog.js';
import { PlansService } from '../plans/plansService.js';
import { PlanStore } from '../plans/planStore.js';
import { VersionsService } from '../plans/versionsService.js';
import type { WorkPool } from '../work/workPool.js';
import { dataSourceOptions } from './dataSourceOptions.js';
import { schemaProblems } from './schemaState.js';

const NAME = 'wide_lattice_test_landed';
const folder = join(__dirname, '../../test/landed');
const env: NodeJS.ProcessEnv = { ...process.env, WL_DB_NAME: NAME };

/** What every landed version stored and answered: its database as it was dumped, and the plan at each of its revisions. */
const landed = readdirSync(folder)
  .filter((name) => name.endsWith('.sql.gz'))
  .map((name) => name.replace('.sql.gz', ''));

type Values = Readonly<Record<string, unknown>>;
type OldPlan = Readonly<Record<string, readonly Values[]>>;

const recorded = (name: string) =>
  JSON.parse(brotliDecompressSync(readFileSync(join(folder, `${name}.states.json.br`))).toString()) as {
    readonly planId: string;
    readonly states: readonly OldPlan[];
  };

// The library tells of each migration that fails; here they are meant to.
beforeAll(() => jest.spyOn(console, 'log').mockImplementation(() => undefined));
afterAll(() => jest.restoreAllMocks());

/** The schema as the version left it. */
async function loaded(name: string): Promise<void> {
  const database = await new DataSource(dataSourceOptions(env)).initialize();
  await database.query('SET FOREIGN_KEY_CHECKS = 0');
  await database.dropDatabase();
  await database.destroy();
  // The client of Debian's server, which the tests have installed.
  execFileSync(
    '/usr/bin/mariadb',
    ['--no-defaults', '--host=127.0.0.1', `--port=${env['WL_DB_PORT']}`, '--user=wide_lattice', NAME],
    {
      input: gunzipSync(readFileSync(join(folder, `${name}.sql.gz`))),
      env: { ...env, MYSQL_PWD: env['WL_DB_PASSWORD'] },
    },
  );
}

/** Runs the migrations until a number of statements are done, as a kill would end them; all of them when there are fewer. */
async function upgraded(most: number): Promise<void> {
  const database = await new DataSource({ ...dataSourceOptions(env), migrations: cutOff(most).all }).initialize();
  try {
    await database.runMigrations({ transaction: 'each' });
  } catch (error) {
    if (!(error instanceof Error) || error.message !== 'killed') throw error;
    // A kill leaves no open transaction behind.
    await database.query('ROLLBACK');
  }
  await database.destroy();
}

/** The plan at each revision, as the application answers it now. */
async function states(planId: string, revisions: number): Promise<readonly Plan[]> {
  const database = await new DataSource(dataSourceOptions(env)).initialize();
  expect(await schemaProblems(database, 'after')).toEqual([]);
  const store = new PlanStore(database);
  const plans = new PlansService(database, store, undefined as unknown as WorkPool, new PlanLog(database));
  const versions = new VersionsService(database, plans, store);
  const found: Plan[] = [];
  for (let revision = 0; revision < revisions; revision++) found.push((await versions.at(planId, revision)).plan);
  expect((await versions.list(planId)).map(({ name }) => name)).toEqual(
    (await hasVersions(database)) ? ['As agreed'] : [],
  );
  await database.destroy();
  return found;
}

const hasVersions = async (database: DataSource) =>
  (await database.query<unknown[]>('SELECT 1 FROM `plan_version`')).length > 0;

/** Lists and fields that have another name since version 14 of the plan file, as record 033 lists them. */
const kindsThen: Readonly<Partial<Record<Kind, string>>> = {
  reservations: 'runs',
  recordControllers: 'keepers',
  forwardingRules: 'forwards',
};
const fieldsThen: Readonly<Partial<Record<Kind | 'settings', Readonly<Record<string, string>>>>> = {
  allocations: { isPinned: 'isFixed' },
  attachments: { accepts: 'learns', acceptsFromIds: 'learnsFromIds' },
  clusters: { preservedObjects: 'keptObjects', egressGb: 'outGb', podPreferences: 'podWishes' },
  connections: { method: 'way', maxLinks: 'mostLinks', sessionHoldSeconds: 'keepsSeconds' },
  gateways: { allowedRoutes: 'takesFrom', preserved: 'kept' },
  ingressRoutes: {
    objectKind: 'form',
    additionalParents: 'furtherParents',
    isDeprecatedVersion: 'isOldForm',
    preserved: 'kept',
    rateLimitAlgorithm: 'limitBy',
    rateLimitPerMinute: 'perMinute',
  },
  networkPolicies: { preserved: 'kept' },
  networks: { internetEgress: 'egress' },
  nodePools: { additionalInterfaceSubnetIds: 'attachmentSubnetIds' },
  profiles: { priceEgressGb: 'priceOutGb' },
  referenceGrants: { preserved: 'kept' },
  serviceExports: { preserved: 'kept', maxRoundTripMs: 'mostMs' },
  services: { preserved: 'kept' },
  settings: {
    expectsMergers: 'expectsJoins',
    weightConnectionCost: 'weightJoinCost',
    weightConnectionEffort: 'weightJoinEffort',
    weightConnectionRanges: 'weightJoinRanges',
    weightConnectionReach: 'weightJoinReach',
    weightConnectionSurvival: 'weightJoinSurvival',
    weightConnectionWire: 'weightJoinWire',
    weightPreferences: 'weightWishes',
  },
  subnets: { internetEgress: 'wayOut' },
  templates: { sets: 'fixes' },
  workloads: { objectKind: 'form', preserved: 'kept' },
  zones: { cutOverTarget: 'cutOverAim' },
};

/** An entity of today with each field by the name that it had. */
function asThen(kind: Kind | 'settings', entity: Values): Values {
  const then = fieldsThen[kind] ?? {};
  return Object.fromEntries(Object.entries(entity).map(([field, value]) => [then[field] ?? field, value]));
}

/** Entities by id, and of each the fields that both versions have; a route table is its name, as it was once. */
function compared(before: OldPlan, after: Plan, kind: Kind) {
  const tables = new Map(after.routeTables.map(({ id, name, networkId }) => [id, { name, networkId }]));
  const now = new Map((after[kind] as readonly Values[]).map((entity) => [entity['id'], asThen(kind, entity)]));
  const old = before[kindsThen[kind] ?? kind] ?? [];
  return old.map((entity) => {
    const found: Values = now.get(entity['id']) ?? {};
    const fields = Object.keys(entity).filter((field) => field in found);
    // A name became a table; no other field was given up.
    expect(Object.keys(entity).filter((field) => !(field in found) && field !== 'routeTable')).toEqual([]);
    const pick = (of: Values) => Object.fromEntries(fields.map((field) => [field, of[field]]));
    if (kind !== 'subnets' || typeof entity['routeTable'] !== 'string') return [pick(entity), pick(found)] as const;
    const table = tables.get(String(found['routeTableId']));
    // The table is one of the subnet's own network.
    expect(table?.networkId ?? found['networkId']).toBe(found['networkId']);
    return [
      { ...pick(entity), table: entity['routeTable'] },
      { ...pick(found), table: table?.name ?? '' },
    ] as const;
  });
}

test('there is data of versions from the first to the last', () => {
  expect(landed.length).toBeGreaterThan(10);
});

describe.each(landed)('data of %s', (name) => {
  const { planId, states: before } = recorded(name);

  test('is upgraded, kills included, and every old revision is as it was', async () => {
    await loaded(name);
    // Cut off twice, at places that differ from version to version.
    await upgraded(1 + landed.indexOf(name) * 11);
    await upgraded(3 + landed.indexOf(name) * 5);
    await upgraded(Infinity);
    const after = await states(planId, before.length);
    before.forEach((old, revision) => {
      const settings = asThen('settings', (after[revision] as Plan).settings);
      expect(settings).toMatchObject(old['settings'] ?? {});
      for (const kind of kinds) {
        const then = old[kindsThen[kind] ?? kind];
        if (then === undefined) continue;
        const ids = (all: readonly Values[]) => all.map(({ id }) => id);
        // What a version stored itself is there, and nothing else; names of route tables became tables.
        const isNamed = kind === 'routeTables';
        if (!isNamed)
          expect([revision, kind, ids((after[revision] as Plan)[kind] as readonly Values[])]).toEqual([
            revision,
            kind,
            ids(then),
          ]);
        for (const [was, is] of compared(old, after[revision] as Plan, kind))
          expect([revision, kind, is]).toEqual([revision, kind, was]);
      }
    });
  });
});
