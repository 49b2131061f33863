import { valueSheets } from '../crosscluster/index.js';
import { formatTooManyObjects } from '../english/index.js';
import type { Evaluation } from '../evaluation/index.js';
import { allocationTableCsv, exportRows, writePlanFile } from '../exchange/index.js';
import { inWords } from '../findings/index.js';
import { forwarding } from '../forwarding/index.js';
import { manifestObjects, writeManifests } from '../manifests/index.js';
import { handOut, naming, zoneText } from '../naming/index.js';
import { kinds } from '../plan/index.js';
import type { Entity, Zone } from '../plan/index.js';
import { bringUp, isInScope, MAX_OBJECTS, prerequisitesOf, usualWish } from '../rehearsal/index.js';
import type { Scope } from '../rehearsal/index.js';
import { formatNumber } from '../working/index.js';
import type { Steps } from '../working/index.js';
import { checklistColumns, checklistOf, checklistRow } from './checklist.js';
import { fileAt, json, Paths, tableFiles, yaml } from './files.js';
import type { HandoverFile } from './files.js';
import { keyedValues } from './keyedValues.js';
import { leftOutOf } from './leftOut.js';
import type { LeftOut } from './leftOut.js';
import { partOfPlan } from './partOfPlan.js';
import type { PartOfPlan } from './partOfPlan.js';
import { keyedValuesSchema } from './valuesSchema.js';

/** What a bundle is made of: its folders and lists, each in a few words. */
export const bundleParts: Readonly<Record<string, string>> = {
  checklist: 'Steps in their order, from the rehearsal, with columns for owner, name and date to fill in',
  clusters: 'Keyed values for provisioning with their JSON Schema, and manifests, cluster by cluster',
  connections: 'What is typed in at each member',
  contents: 'What is in the bundle, file by file',
  'left-out': 'What manifests and zone files cannot hold; it is in the tables',
  'open-points': 'Findings about this part of the plan',
  plan: 'The plan file',
  prerequisites: 'What must hold before the first step',
  ranges: 'Every range with what it was sized for',
  tables: 'Every row of every kind, which an import reads back: CSV, JSON, YAML',
  zones: 'One file for each zone',
};

/** The part of a bundle that a file belongs to: its folder, or the list that it is a form of. */
export function partIn(path: string): string {
  return path.split(/[/.]/)[0] ?? '';
}

/** Everything that builders of a scope are given, as files in the order of their paths: the same for the same plan, byte for byte. */
export function* handoverFiles(evaluation: Evaluation, scope: Scope): Steps<HandoverFile[]> {
  const part = partOfPlan(evaluation.plan, scope);
  yield { what: 'the handover', done: 0, of: 3 };
  const built = [...tables(evaluation, part), ...clusterFiles(evaluation, part), ...zoneFiles(evaluation, part)];
  yield { what: 'the handover', done: 1, of: 3 };
  const lists = [...connectionFiles(evaluation, part), ...openPoints(evaluation, part, scope)];
  yield { what: 'the handover', done: 2, of: 3 };
  const steps = yield* checklist(evaluation, scope);
  const whole = scope.kind === 'plan' ? [fileAt('plan.yaml', () => writePlanFile(evaluation.plan, 'yaml'))] : [];
  const files = [...built, ...lists, ...steps, ...prerequisites(evaluation, scope), ...whole];
  const all = [...files, fileAt('contents.txt', () => contents(evaluation, scope, files))];
  return all.sort((a, b) => (a.path < b.path ? -1 : 1));
}

/** A table for each kind that the part has something of, as an import reads it back, and that of the ranges. */
function tables({ plan }: Evaluation, part: PartOfPlan): HandoverFile[] {
  return kinds.flatMap((kind) => {
    const own = part[kind] as readonly Entity[];
    if (own.length === 0) return [];
    const path = `tables/${kind.replaceAll(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`;
    return (['csv', 'json', 'yaml'] as const).map((syntax) =>
      fileAt(`${path}.${syntax}`, () => exportRows(plan, kind, syntax, own)),
    );
  });
}

/** Keyed values and manifests of each cluster, and the ranges of all. */
function clusterFiles(evaluation: Evaluation, part: PartOfPlan): HandoverFile[] {
  const { plan } = evaluation;
  const paths = new Paths();
  const files = part.clusters.flatMap((cluster) => {
    const folder = `clusters/${paths.of(cluster.name)}`;
    const values = keyedValues(plan, cluster);
    return [
      ...(values === undefined
        ? []
        : [fileAt(`${folder}/values.json`, () => json(values)), fileAt(`${folder}/values.yaml`, () => yaml(values))]),
      ...(manifestObjects(plan, cluster.id).length === 0
        ? []
        : [fileAt(`${folder}/manifests.yaml`, () => writeManifests(plan, cluster.id))]),
    ];
  });
  const ids = new Set(part.clusters.map(({ id }) => id));
  return [
    ...files,
    fileAt('clusters/values.schema.json', () => json(keyedValuesSchema())),
    fileAt('ranges.csv', () => allocationTableCsv(evaluation, ids)),
  ];
}

/** One file a zone: those of one origin are told apart by the name of the zone. */
function zoneFiles(evaluation: Evaluation, part: PartOfPlan): HandoverFile[] {
  const state = evaluation.ask(naming);
  const named = zoneFileNames(part.zones);
  return part.zones.map((zone) => fileAt(`zones/${named.get(zone.id) ?? ''}`, () => zoneText(state, zone)));
}

/** Zones whose serial is from before their last change, so that secondary servers would not take their file: it is raised where a zone is exported. */
function oldSerials(evaluation: Evaluation, { zones }: PartOfPlan): LeftOut[] {
  const state = evaluation.ask(naming);
  return zones
    .filter((zone) => handOut(state, zone, NO_DAY).fields.handedOut !== undefined)
    .map(({ name, serial }) => ({
      format: 'zone file',
      kind: 'zone',
      name,
      field: 'Serial',
      value: `${serial} is from before its last change: export the zone at DNS, which raises it`,
    }));
}

/** Only whether a serial would be raised is asked, not to which. */
const NO_DAY = '1970-01-01';

/** What the file of each zone is called, by its id. */
export function zoneFileNames(zones: readonly Zone[]): ReadonlyMap<string, string> {
  const paths = new Paths();
  return new Map(zones.map(({ id, apex, side, name }) => [id, `${paths.of(`${apex}-${side}-${name}`)}.zone`]));
}

/** What is typed in where each member of a connection is built. */
function connectionFiles(evaluation: Evaluation, part: PartOfPlan): HandoverFile[] {
  const ways = evaluation.ask(forwarding);
  const paths = new Paths();
  return part.connections.map(({ id, name }) =>
    fileAt(`connections/${paths.of(name)}.yaml`, () =>
      yaml(
        valueSheets(evaluation.plan, ways, id).map(({ cluster, values }) => ({
          cluster,
          values: Object.fromEntries(values.map(({ label, value }) => [label, value])),
        })),
      ),
    ),
  );
}

/** Findings about the part, and what its manifests and zone files cannot hold. */
function openPoints(evaluation: Evaluation, part: PartOfPlan, scope: Scope): HandoverFile[] {
  const { plan } = evaluation;
  const ids = new Set(kinds.flatMap((kind) => (part[kind] as readonly Entity[]).map(({ id }) => id)));
  const open = evaluation
    .findings()
    .filter(({ subjects }) => scope.kind === 'plan' || subjects.some(({ id }) => ids.has(id)))
    .map((finding) => {
      const { severity, title, detail } = inWords(plan, finding);
      return { severity, title, detail };
    });
  return [
    ...tableFiles('open-points', ['severity', 'title', 'detail'], open),
    ...tableFiles(
      'left-out',
      ['format', 'kind', 'name', 'field', 'value'],
      [...leftOutOf(plan, part), ...oldSerials(evaluation, part)],
    ),
  ];
}

/** The bring-up of what does not stand yet in a scope: what its checklist is made of. */
export function buildingOf(evaluation: Evaluation, scope: Scope): ReturnType<typeof bringUp> {
  return bringUp(evaluation, { ...usualWish, scope, isBuiltThere: true });
}

/** The checklist of a scope; where too much comes to be for one, a file that says so. */
function* checklist(evaluation: Evaluation, scope: Scope): Steps<HandoverFile[]> {
  const run = yield* buildingOf(evaluation, scope);
  if (!run.ok) return [fileAt('checklist.txt', () => `${formatTooManyObjects(run.objects, MAX_OBJECTS)}\n`)];
  return tableFiles('checklist', checklistColumns, checklistOf(evaluation.plan, run).map(checklistRow));
}

/** What must hold before the first step, as the rehearsal has it. */
function prerequisites(evaluation: Evaluation, scope: Scope): HandoverFile[] {
  const { failed, confirmable } = prerequisitesOf(evaluation, scope);
  const rows = [
    ...failed.map(({ about, finding }) => ({ what: about, state: 'fails', where: finding.title })),
    ...confirmable.flatMap(({ what, confirmed, open }) => [
      ...confirmed.map(({ confirmedBy, confirmedOn }) => ({
        what,
        state: `confirmed by ${confirmedBy}`,
        where: confirmedOn,
      })),
      ...open.map(({ name }) => ({ what, state: 'open', where: name })),
    ]),
  ];
  return tableFiles('prerequisites', ['what', 'state', 'where'], rows);
}

/** What is in the bundle, in words and file by file. */
function contents({ plan }: Evaluation, scope: Scope, files: readonly HandoverFile[]): string {
  const clusters = plan.clusters.filter((cluster) => isInScope(scope, cluster)).map(({ name }) => name);
  const of = scope.kind === 'plan' ? 'the whole plan' : clusters.join(', ') || 'no cluster';
  const about = Object.entries(bundleParts)
    .filter(([name]) => files.some(({ path }) => partIn(path) === name))
    .map(([name, what]) => `${name.padEnd(16)}${what}`);
  const lines = files.map(({ path, text }) => `${path} (${formatNumber(text.length)} characters)`).sort();
  return `${[`${plan.settings.name}: handover of ${of}`, '', ...about, '', ...lines].join('\n')}\n`;
}
