import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import Papa from 'papaparse';
import { fromBuffer } from 'yauzl';
import { parse, parseAllDocuments } from 'yaml';
import { add, applied, cluster, ground, ownRanges, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { importRows } from '../exchange/index.js';
import { readManifests, writeManifests } from '../manifests/index.js';
import { handOut, naming } from '../naming/index.js';
import { applyOperations, kinds, setOperation } from '../plan/index.js';
import type { Entity, Kind, Plan } from '../plan/index.js';
import { bringUp, usualWish } from '../rehearsal/index.js';
import type { Scope } from '../rehearsal/index.js';
import { finished } from '../working/index.js';
import {
  checklistOf,
  handoverFiles,
  keyedValues,
  keyedValuesSchema,
  leftOutOf,
  notInManifests,
  partOfPlan,
  zipped,
} from './index.js';
import type { HandoverFile } from './index.js';

const demo = demoPlan();
const whole: Scope = { kind: 'plan' };
const of = (name: string): Scope => ({
  kind: 'cluster',
  id: demo.clusters.find((each) => each.name === name)?.id ?? '',
});
const filesOf = (plan: Plan, scope: Scope): HandoverFile[] => finished(handoverFiles(evaluate(plan), scope));
const textAt = (files: readonly HandoverFile[], path: string) => files.find((each) => each.path === path)?.text ?? '';

/** What a reader that did not write a zip finds in it. */
function unzipped(bytes: Uint8Array): Promise<ReadonlyMap<string, string>> {
  return new Promise((resolve, reject) => {
    const found = new Map<string, string>();
    fromBuffer(Buffer.from(bytes), { lazyEntries: true }, (error, zip) => {
      if (error !== null) {
        reject(error);
        return;
      }
      zip.on('error', reject);
      zip.on('end', () => resolve(found));
      zip.on('entry', (entry: Parameters<typeof zip.openReadStream>[0]) => {
        zip.openReadStream(entry, (failure, stream) => {
          if (failure !== null) {
            reject(failure);
            return;
          }
          const parts: Buffer[] = [];
          stream.on('data', (part: Buffer) => parts.push(part));
          stream.on('end', () => {
            found.set(entry.fileName, Buffer.concat(parts).toString());
            zip.readEntry();
          });
        });
      });
      zip.readEntry();
    });
  });
}

test('the bundle is the same bytes for the same plan, and another reader finds every file in it', async () => {
  const files = filesOf(demo, whole);
  const again = filesOf(demoPlan(), whole);
  const bytes = zipped(files, 'skerry');
  expect(Buffer.from(bytes).equals(Buffer.from(zipped(again, 'skerry')))).toBe(true);
  const found = await unzipped(bytes);
  expect([...found.keys()]).toEqual(files.map(({ path }) => `skerry/${path}`));
  for (const { path, text } of files) expect(found.get(`skerry/${path}`)).toBe(text);
  // Paths are alike in no letter case, and every file system takes them.
  const paths = files.map(({ path }) => path.toLowerCase());
  expect(new Set(paths).size).toBe(paths.length);
  expect(paths.filter((path) => !/^[\w.-]+(\/[\w.-]+)*$/.test(path))).toEqual([]);
});

test('every row of the plan is in a table, the same in CSV, JSON and YAML, which an import takes without a change', () => {
  const files = filesOf(demo, whole);
  for (const kind of kinds) {
    const path = `tables/${kind.replaceAll(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`;
    const rows = (demo[kind] as readonly Entity[]).length;
    if (rows === 0) continue;
    const json = JSON.parse(textAt(files, `${path}.json`)) as unknown[];
    const yaml = parse(textAt(files, `${path}.yaml`)) as unknown[];
    const csv = Papa.parse(textAt(files, `${path}.csv`).trim(), { header: true }).data;
    expect([kind, json.length, csv.length]).toEqual([kind, rows, rows]);
    expect(yaml).toEqual(json);
    const read = importRows(demo, kind, textAt(files, `${path}.json`), {});
    expect([kind, read.problems]).toEqual([kind, []]);
    expect([kind, read.operations]).toEqual([kind, []]);
  }
});

// A real name server's checker: two zones of one origin are two files.
test('every zone is a file of its own that named-checkzone takes', () => {
  const files = filesOf(demo, whole).filter(({ path }) => path.startsWith('zones/'));
  expect(files).toHaveLength(demo.zones.length);
  const folder = mkdtempSync(join(tmpdir(), 'wl-handover-'));
  try {
    for (const { path, text } of files) {
      const file = join(folder, 'zone');
      writeFileSync(file, text);
      const apex = /^\$ORIGIN (\S+)\.$/m.exec(text)?.[1] ?? '';
      expect([path, apex]).toEqual([path, expect.stringContaining('.')]);
      expect(execFileSync('named-checkzone', ['-i', 'local', apex, file]).toString()).toContain('OK');
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
});

// RFC 1912 2.2: secondaries take a zone anew when its serial is greater.
test('a zone that has changed since its serial was raised is told, and one that was handed out is not', () => {
  const [first] = demo.zones;
  if (first === undefined) throw new Error('no zone');
  const told = (plan: Plan) =>
    Papa.parse<Readonly<Record<string, string>>>(textAt(filesOf(plan, whole), 'left-out.csv').trim(), { header: true })
      .data.filter(({ field }) => field === 'Serial')
      .map(({ name }) => name);
  expect(told(demo)).toContain(first.name);
  const { fields } = handOut(evaluate(demo).ask(naming), first, '2026-12-02');
  expect(told(applied(demo, [setOperation('zones', first.id, fields)]))).not.toContain(first.name);
});

test('keyed values follow their published JSON Schema, with keys that stay', () => {
  const schema = keyedValuesSchema();
  const published = new URL('../../../../docs/cluster-values.schema.json', import.meta.url);
  expect(JSON.parse(readFileSync(published, 'utf8'))).toEqual(schema);
  const check = new Ajv2020({ strict: true, allowUnionTypes: true }).compile(schema);
  for (const each of demo.clusters) {
    const values = keyedValues(demo, each);
    expect([each.name, check(values), check.errors]).toEqual([each.name, true, null]);
  }
  // A key that is missing or unknown is refused.
  const [first] = demo.clusters;
  const values = first === undefined ? undefined : keyedValues(demo, first);
  expect(check({ ...values, more: 1 })).toBe(false);
  expect(check({ ...values, ranges: undefined })).toBe(false);
});

test('keyed values of a cluster, field by field', () => {
  const plan = applied(ground(1), [
    ...add('clusters', cluster('Shop One', { networkId: testId('networks', 1), nodesNow: 3, nodesHorizon: 6 })),
    ...add('nodePools', { clusterId: testId('clusters', 1), name: 'main', nodesNow: 2, nodesHorizon: 2, nodesMax: 2 }),
    ...ownRanges(),
    ...add('reservations', { name: 'API', clusterId: testId('clusters', 1), first: '10.0.0.20', count: 2 }),
  ]);
  const values = keyedValues(plan, plan.clusters[0] as Plan['clusters'][number]);
  // A pool that is called as the nodes of no pool are gets a number.
  expect(values?.nodes).toMatchObject({ main: { now: 3, horizon: 6 }, 'main-2': { now: 2, horizon: 2 } });
  expect(values?.addresses.reserved).toEqual({ api: { first: '10.0.0.20', count: 2 } });
  expect(values?.cluster.name).toBe('Shop One');
});

test('a part has what its clusters need, and nothing of others', () => {
  const part = partOfPlan(demo, of('tide-models'));
  expect(part.clusters.map(({ name }) => name)).toEqual(['tide-models']);
  const networks = new Set(part.networks.map(({ id }) => id));
  expect(networks.size).toBe(1);
  for (const { networkId } of [...part.subnets, ...part.routeTables, ...part.blocks])
    expect(networks.has(networkId)).toBe(true);
  const ids = new Set(kinds.flatMap((kind) => (part[kind] as readonly Entity[]).map(({ id }) => id)));
  const own = (kind: Kind) =>
    (demo[kind] as readonly (Entity & { readonly clusterId?: string | null })[]).filter(
      ({ clusterId }) => clusterId === part.clusters[0]?.id,
    );
  // Whatever says that it is of the cluster is there.
  for (const kind of kinds) for (const { id } of own(kind)) expect([kind, ids.has(id)]).toEqual([kind, true]);
  for (const { clusterId } of [...part.workloads, ...part.services, ...part.allocations])
    expect(clusterId).toBe(part.clusters[0]?.id);
  // Of a connection every member comes along, of a zone every record.
  for (const { id } of part.connections)
    expect(part.members.filter(({ connectionId }) => connectionId === id)).toEqual(
      demo.members.filter(({ connectionId }) => connectionId === id),
    );
  for (const { id } of part.zones)
    expect(part.records.filter(({ zoneId }) => zoneId === id)).toEqual(
      demo.records.filter(({ zoneId }) => zoneId === id),
    );
});

/** A plan without what a cluster's manifests hold. */
function emptied(plan: Plan, clusterId: string): Plan {
  const without = <E extends { readonly clusterId: string }>(all: readonly E[]) =>
    all.filter((each) => each.clusterId !== clusterId);
  const members = new Set(plan.members.filter((each) => each.clusterId === clusterId).map(({ id }) => id));
  const services = without(plan.services);
  const kept = new Set(services.map(({ id }) => id));
  return {
    ...plan,
    workloads: without(plan.workloads),
    services,
    controllers: without(plan.controllers),
    gateways: without(plan.gateways),
    ingressRoutes: without(plan.ingressRoutes),
    networkPolicies: without(plan.networkPolicies),
    referenceGrants: without(plan.referenceGrants),
    serviceExports: plan.serviceExports.filter(({ memberId }) => !members.has(memberId)),
    backends: plan.backends.map((each) => (kept.has(each.serviceId ?? '') ? each : { ...each, serviceId: null })),
  };
}

const writtenKinds = [
  'workloads',
  'services',
  'controllers',
  'gateways',
  'ingressRoutes',
  'networkPolicies',
  'referenceGrants',
] as const;

test('what a manifest loses on the way out and in again is listed as left out', () => {
  const lost = new Set<string>();
  const told = new Set(leftOutOf(demo, demo).map(({ name, field }) => `${name} ${field}`));
  expect(told.size).toBeGreaterThan(20);
  for (const { id } of demo.clusters) {
    const text = writeManifests(demo, id);
    const bare = emptied(demo, id);
    const back = applyOperations(bare, readManifests(bare, id, text, '2026-11-01').operations);
    if (!back.ok) throw new Error(back.problems[0]?.message);
    for (const kind of writtenKinds)
      for (const entity of (
        demo[kind] as readonly (Entity & { clusterId: string; name: string; namespace?: string; rule?: number })[]
      ).filter(({ clusterId }) => clusterId === id)) {
        const found = (back.plan[kind] as readonly Entity[]).find((each) => {
          const other = each as typeof entity;
          return (
            other.clusterId === id &&
            other.name === entity.name &&
            other.namespace === entity.namespace &&
            other.rule === entity.rule
          );
        });
        for (const [field, value] of Object.entries(entity)) {
          if (field === 'id' || field.endsWith('Id') || field === 'name' || field === 'preserved') continue;
          const other = (found as Readonly<Record<string, unknown>> | undefined)?.[field];
          if (JSON.stringify(other) !== JSON.stringify(value)) lost.add(`${kind}.${field}`);
        }
      }
  }
  const listed = new Set(
    Object.entries(notInManifests).flatMap(([kind, fields]) => fields.map((field) => `${kind}.${field}`)),
  );
  // Controllers are no objects of these manifests at all.
  const unlisted = [...lost].filter((each) => !listed.has(each) && !each.startsWith('controllers.'));
  expect(unlisted).toEqual([]);
  expect(lost).toContain('ingressRoutes.rateLimitPerMinute');
  expect(told).toContain('shop/tickets Rate limit');
});

/*
 * By hand from the usual times (bringUp.test): account 60, network 30, subnet 15, hosted control plane 600, node 150 + 45 + 20,
 * pod network 90, cluster DNS 30.
 */
test('the checklist of one cluster has the steps of its rehearsal in their order, with what each waits for', () => {
  const plan = applied(ground(), [...add('clusters', cluster('c', { nodesNow: 3, nodesHorizon: 3 })), ...ownRanges()]);
  const run = finished(bringUp(evaluate(plan), { ...usualWish, isBuiltThere: true }));
  if (!run.ok) throw new Error('too many');
  const steps = checklistOf(plan, run);
  expect(steps.map(({ kind, begins, ends, names }) => `${kind} ${begins}-${ends} ${names.length}`)).toEqual([
    'account 0-60 1',
    'network 60-90 1',
    'subnet 90-105 1',
    'control plane 105-705 1',
    'pod network 705-795 1',
    'node 705-920 3',
    'cluster DNS 920-950 1',
  ]);
  // Nodes begin after their control plane and subnet, and are ready after the pod network.
  const node = steps.find(({ kind }) => kind === 'node');
  expect(node?.after).toEqual(expect.arrayContaining([3, 4, 5]));
  expect(
    steps.every(
      ({ number, after, until }) => after.every((each) => each < number) && until.every((each) => each > number),
    ),
  ).toBe(true);
  const text = textAt(filesOf(plan, whole), 'checklist.csv');
  expect(text.split('\r\n')[1]).toMatch(/^1,0 s,1 min,account,/);
});

test('what stands is not on the checklist; names are led to only after a hold point', () => {
  const built = applied(ground(), [...add('clusters', cluster('c', { isBuilt: true })), ...ownRanges()]);
  const run = finished(bringUp(evaluate(built), { ...usualWish, isBuiltThere: true }));
  if (!run.ok) throw new Error('too many');
  expect(checklistOf(built, run).filter(({ kind }) => kind === 'node' || kind === 'control plane')).toEqual([]);
  const rows = Papa.parse<Readonly<Record<string, string>>>(textAt(filesOf(demo, whole), 'checklist.csv').trim(), {
    header: true,
  }).data;
  for (const row of rows)
    expect([row['kind'], row['hold point'] !== '']).toEqual([
      row['kind'],
      row['kind'] === 'record' || row['kind'] === 'connection',
    ]);
});

test('manifests of a cluster are those that are written at Ingress', () => {
  const files = filesOf(demo, of('booking-north'));
  const text = textAt(files, 'clusters/booking-north/manifests.yaml');
  expect(text).toBe(writeManifests(demo, demo.clusters.find(({ name }) => name === 'booking-north')?.id ?? ''));
  expect(parseAllDocuments(text).flatMap(({ errors }) => errors)).toEqual([]);
  expect(textAt(files, 'contents.txt')).toContain('handover of booking-north');
  expect(files.some(({ path }) => path === 'plan.yaml')).toBe(false);
});
