import { formatDuration, formatRefusal } from '../english/index.js';
import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import type { BringUp, ObjectKind, RehearsalObject } from '../rehearsal/index.js';

/** One step of the checklist of builders: all objects of a kind of one cluster, or of no cluster at one site. */
export interface ChecklistStep {
  /** From 1 on, in the order in which they begin. */
  readonly number: number;
  readonly kind: ObjectKind;
  readonly names: readonly string[];
  readonly site: string;
  readonly cluster: string;
  /** Seconds from the beginning of the work; infinite where it never begins or ends. */
  readonly begins: number;
  readonly ends: number;
  /** Numbers of the steps that it waits for before it begins. */
  readonly after: readonly number[];
  /** Those of later ones that its last objects wait for. */
  readonly until: readonly number[];
  /** Who depends on what is built from this step on, so that it is agreed first; undefined where no one new does. */
  readonly hold: 'clients' | 'other clusters' | undefined;
  /** Why it cannot be done as planned; empty where it can. */
  readonly refusal: string;
}

const holds: Partial<Readonly<Record<ObjectKind, ChecklistStep['hold']>>> = {
  record: 'clients',
  connection: 'other clusters',
};

interface Group {
  readonly objects: RehearsalObject[];
  begins: number;
  ends: number;
}

/** The steps of a bring-up in their order, with what each waits for. */
export function checklistOf(plan: Plan, run: BringUp): ChecklistStep[] {
  const groups = groupsOf(run);
  const sorted = [...groups].sort(([, a], [, b]) => order(a, b));
  const numberOf = new Map<number, number>();
  for (const [at, [, { objects }]] of sorted.entries()) for (const { index } of objects) numberOf.set(index, at + 1);
  return sorted.map(([, { objects, begins, ends }], at) => {
    const [first] = objects as [RehearsalObject];
    const waited = waitedFor(run, objects, numberOf, at + 1);
    const refusals = objects.flatMap((object) => run.refusalOf(object) ?? []);
    return {
      number: at + 1,
      kind: first.kind,
      names: objects.map(({ name }) => name),
      site: byId(plan.sites, first.siteId)?.name ?? '',
      cluster: byId(plan.clusters, first.clusterId)?.name ?? '',
      begins,
      ends,
      after: waited.filter((number) => number <= at),
      until: waited.filter((number) => number > at),
      hold: holds[first.kind],
      refusal: refusals.length === 0 ? '' : [...new Set(refusals.map(formatRefusal))].join(' '),
    };
  });
}

function groupsOf(run: BringUp): ReadonlyMap<string, Group> {
  const begins = new Map<number, number>();
  for (const { at, what, task } of run.log()) {
    const { index } = run.awaited(task).object;
    if (what === 'started' && !begins.has(index)) begins.set(index, at);
  }
  const groups = new Map<string, Group>();
  for (const object of run.objects) {
    // What stands already is not built.
    const [from, to] = [begins.get(object.index) ?? Infinity, run.readyAt(object)];
    if (from === Infinity && Number.isFinite(to)) continue;
    const key = `${object.kind} ${object.clusterId === '' ? `at ${object.siteId}` : object.clusterId}`;
    const group = groups.get(key);
    if (group === undefined) groups.set(key, { objects: [object], begins: from, ends: to });
    else {
      group.objects.push(object);
      group.begins = Math.min(group.begins, from);
      group.ends = Math.max(group.ends, to);
    }
  }
  return groups;
}

/** What begins first, then what ends first, then as the plan has it. */
function order(a: Group, b: Group): number {
  if (a.begins !== b.begins) return a.begins < b.begins ? -1 : 1;
  if (a.ends !== b.ends) return a.ends < b.ends ? -1 : 1;
  return (a.objects[0]?.index ?? 0) - (b.objects[0]?.index ?? 0);
}

function waitedFor(
  { graph }: BringUp,
  objects: readonly RehearsalObject[],
  numberOf: ReadonlyMap<number, number>,
  own: number,
): number[] {
  const found = new Set<number>();
  for (const { index, first } of objects)
    for (let task = first; graph.tasks[task]?.object === index; task++)
      for (const need of graph.tasks[task]?.needs ?? []) {
        const number = numberOf.get(graph.tasks[need]?.object ?? -1);
        if (number !== undefined && number !== own) found.add(number);
      }
  return [...found].sort((a, b) => a - b);
}

const holdWords = {
  clients: 'hold: clients are led here from this step on',
  'other clusters': 'hold: other clusters are joined from this step on',
} as const;

/** Names that a row of the checklist lists before it counts. */
const LISTED = 8;

/** The columns of the checklist, the last three for builders to fill in. */
export const checklistColumns = [
  'step',
  'begins',
  'takes',
  'kind',
  'objects',
  'names',
  'cluster',
  'site',
  'after steps',
  'complete after steps',
  'hold point',
  'problem',
  'owner',
  'done by',
  'done on',
] as const;

/** A step as a row of the checklist. */
export function checklistRow(step: ChecklistStep): Readonly<Record<string, string | number>> {
  const { number, kind, names, site, cluster, begins, ends, after, until, hold, refusal } = step;
  const listed = names.slice(0, LISTED).join(', ');
  return {
    step: number,
    begins: Number.isFinite(begins) ? formatDuration(begins) : 'never',
    takes: Number.isFinite(ends) && Number.isFinite(begins) ? formatDuration(ends - begins) : 'has no end',
    kind,
    objects: names.length,
    names: names.length > LISTED ? `${listed} and ${names.length - LISTED} more` : listed,
    cluster,
    site,
    'after steps': after.join(' '),
    'complete after steps': until.join(' '),
    'hold point': hold === undefined ? '' : holdWords[hold],
    problem: refusal,
    owner: '',
    'done by': '',
    'done on': '',
  };
}
