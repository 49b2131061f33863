import {
  formatRefusal,
  formatTooManyObjects,
  formatUnderway,
  formatWaiting,
  reasonOf,
  WAITS_FOR_TURN,
} from '@wide-lattice/core/english';
import type { Refusal } from '@wide-lattice/core/english';
import { bringUp, compareRuns, MAX_OBJECTS, prerequisitesOf } from '@wide-lattice/core/rehearsal';
import type {
  Awaited,
  BringUp,
  BringUpWish,
  Condition,
  ObjectKind,
  ObjectState,
  Prerequisites,
  RehearsalObject,
  RunDifference,
  Scope,
} from '@wide-lattice/core/rehearsal';
import { groupBy } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import type { Steps } from '@wide-lattice/core/working';
import { kindViews } from '../../kinds/kindViews';
import { SliceHost } from '../sliceHost';

/** Objects that belong together on the time line. */
export const phases = {
  Ground: ['account', 'network', 'address block', 'subnet', 'link', 'attachment', 'filter', 'rule'],
  Egress: ['route table', 'route', 'NAT device', 'firewall', 'private endpoint', 'bastion'],
  'Control planes': ['virtual address', 'control node', 'control plane', 'API server'],
  Nodes: ['pod network', 'node'],
  Workloads: ['cluster DNS', 'workload', 'service', 'network policy', 'reference grant', 'record controller'],
  Ingress: ['load balancer', 'backend', 'listener', 'controller', 'gateway', 'ingress route'],
  DNS: ['zone', 'record', 'certificate', 'resolver', 'forwarding rule'],
  'Cross-cluster': ['connection', 'member', 'exported service'],
} as const satisfies Readonly<Record<string, readonly ObjectKind[]>>;

/** A part of the time line. */
type Phase = keyof typeof phases;

const phaseOf = new Map<ObjectKind, Phase>(
  (Object.entries(phases) as [Phase, readonly ObjectKind[]][]).flatMap(([phase, all]) =>
    all.map((kind) => [kind, phase] as const),
  ),
);

/** One line of the time line. */
export interface ShownPhase {
  readonly phase: Phase;
  readonly objects: number;
  /** Seconds at which each that came to be was as planned, in order. */
  readonly readyAt: readonly number[];
  readonly refused: number;
  /** Seconds at which something was refused. */
  readonly refusals: readonly number[];
}

/** A step of the critical path, ready to be shown. */
interface ShownPathStep {
  readonly kind: string;
  readonly name: string;
  readonly condition: string;
  readonly from: number;
  readonly to: number;
  readonly waited: number;
  readonly path: string | undefined;
}

/** What became of a bring-up. */
export type ShownRun =
  | {
      readonly ok: true;
      readonly total: number;
      readonly objects: number;
      readonly ready: number;
      readonly refused: number;
      readonly phases: readonly ShownPhase[];
      readonly path: readonly ShownPathStep[];
      /** Steps that wait for one another: each circle as the names along it. */
      readonly circles: readonly (readonly string[])[];
    }
  | { readonly ok: false; readonly message: string };

/** Which objects and lines of the log are shown. */
export interface RehearsalFilter {
  readonly text: string;
  readonly phase: string;
  readonly state: string;
}

/** An object at one second. */
interface ShownObject {
  readonly key: string;
  readonly kind: ObjectKind;
  readonly name: string;
  readonly state: ObjectState;
  /** The first condition that is not true, or the last one: its type, reason and message. */
  readonly condition: string;
  readonly reason: string;
  readonly message: string;
  /** Seconds. */
  readonly since: number;
}

/** Some of the objects, and how many there are of each state. */
export interface ShownObjects {
  readonly rows: readonly ShownObject[];
  readonly found: number;
  readonly counts: Readonly<Record<ObjectState, number>>;
}

/** A condition with its words. */
interface ShownCondition extends Omit<Condition, 'fact'> {
  readonly reason: string;
  readonly message: string;
  /** The finding that says so; empty for none. */
  readonly findingKey: string;
}

/** One object with its conditions, its log and what it waits for in the end. */
export interface ShownObjectDetail {
  readonly kind: string;
  readonly name: string;
  readonly state: ObjectState;
  readonly conditions: readonly ShownCondition[];
  readonly log: readonly ShownLogLine[];
  readonly roots: readonly { readonly name: string; readonly key: string; readonly message: string }[];
  readonly path: string | undefined;
}

/** One line of the log. */
interface ShownLogLine {
  readonly at: number;
  readonly what: 'started' | 'done' | 'refused';
  readonly kind: string;
  readonly name: string;
  readonly condition: string;
  readonly key: string;
  readonly message: string;
}

/** Lines of the log. */
export interface ShownLog {
  readonly lines: readonly ShownLogLine[];
  readonly found: number;
}

/** Two runs compared. */
export interface ShownRunComparison {
  readonly first: number;
  readonly second: number;
  readonly differences: readonly (Omit<RunDifference, 'object'> & { readonly kind: string; readonly name: string })[];
  readonly found: number;
}

/** Most rows that one answer holds. */
const MAX_SHOWN = 400;

/** Slices of the stop Rehearsal: a run is made once for a wish, and asked for its parts. */
export const rehearsalSlices = {
  prerequisites: ({ evaluation }: SliceHost, scope: Scope): Prerequisites => prerequisitesOf(evaluation, scope),

  *rehearsal(host: SliceHost, wish: BringUpWish): Steps<ShownRun> {
    const run = yield* runOf(host, wish);
    return run.ok ? shownRun(run) : { ok: false, message: formatTooManyObjects(run.objects, MAX_OBJECTS) };
  },

  *rehearsalObjects(host: SliceHost, wish: BringUpWish, at: number, filter: RehearsalFilter): Steps<ShownObjects> {
    const run = yield* runOf(host, wish);
    return run.ok ? objectsAt(run, at, filter) : { rows: [], found: 0, counts: noCounts() };
  },

  *rehearsalObject(host: SliceHost, wish: BringUpWish, at: number, key: string): Steps<ShownObjectDetail | undefined> {
    const run = yield* runOf(host, wish);
    const object = run.ok ? run.graph.object(key) : undefined;
    return run.ok && object !== undefined ? detailOf(run, object, at) : undefined;
  },

  *rehearsalLog(host: SliceHost, wish: BringUpWish, until: number, filter: RehearsalFilter): Steps<ShownLog> {
    const run = yield* runOf(host, wish);
    return run.ok ? logOf(run, until, filter) : { lines: [], found: 0 };
  },

  /** Two runs of the plan as it is; or the second of another state of it, with all that is planned standing where that is asked for. */
  *rehearsalsCompared(
    host: SliceHost,
    first: BringUpWish,
    second: BringUpWish,
    of?: { readonly plan: Plan; readonly isMade: boolean },
  ): Steps<ShownRunComparison | undefined> {
    const one = yield* runOf(host, first);
    const beside = of === undefined ? host : new SliceHost(host.at(of.plan));
    const other = yield* runOf(of?.isMade === true ? beside.made : beside, second);
    if (!one.ok || !other.ok) return undefined;
    const differences = compareRuns(one, other);
    return {
      first: one.total,
      second: other.total,
      found: differences.length,
      differences: differences
        .slice(0, MAX_SHOWN)
        .map(({ object: { kind, name }, ...rest }) => ({ ...rest, kind, name })),
    };
  },
};

/** Runs that are kept of one state of the plan: the two that may be compared. */
const MAX_KEPT = 2;

function* runOf({ runs, evaluation }: SliceHost, wish: BringUpWish): ReturnType<typeof bringUp> {
  const key = JSON.stringify(wish);
  const known = runs.get(key);
  if (known !== undefined) return known;
  const run = yield* bringUp(evaluation, wish);
  if (!run.ok) return run;
  for (const old of [...runs.keys()].slice(0, Math.max(0, runs.size + 1 - MAX_KEPT))) runs.delete(old);
  runs.set(key, run);
  return run;
}

function shownRun(run: BringUp): ShownRun {
  const own = groupBy(run.objects, ({ kind }) => phaseOf.get(kind) ?? '');
  const refusals = groupBy(run.refusals(), ({ object }) => phaseOf.get(object.kind) ?? '');
  const shown = (Object.keys(phases) as Phase[]).flatMap((phase): ShownPhase[] => {
    const objects = own.get(phase);
    if (objects === undefined) return [];
    const readyAt = objects.map((object) => run.readyAt(object)).filter(Number.isFinite);
    const refused = refusals.get(phase) ?? [];
    return [
      {
        phase,
        objects: objects.length,
        readyAt: readyAt.sort((a, b) => a - b),
        refused: refused.length,
        refusals: [...new Set(refused.map(({ at }) => at))],
      },
    ];
  });
  return {
    ok: true,
    total: run.total,
    objects: run.objects.length,
    ready: shown.reduce((sum, { readyAt }) => sum + readyAt.length, 0),
    refused: shown.reduce((sum, { refused }) => sum + refused, 0),
    phases: shown,
    path: run.criticalPath().map(({ object, condition, from, to, waited }) => ({
      kind: object.kind,
      name: object.name,
      condition,
      from,
      to,
      waited,
      path: pathOf(object),
    })),
    circles: run.circles().map((circle) => circle.map(nameOf)),
  };
}

function pathOf({ entity }: RehearsalObject): string | undefined {
  // The links of kinds use nothing but the id.
  return entity === undefined ? undefined : (kindViews[entity.kind].link as (of: unknown) => string)(entity);
}

function nameOf({ object, condition }: Awaited): string {
  return `${object.kind} ${object.name}${condition === 'Ready' ? '' : ` (${condition})`}`;
}

function noCounts(): Record<ObjectState, number> {
  return { waiting: 0, underway: 0, ready: 0, refused: 0 };
}

function isShown({ kind, name }: RehearsalObject, { text, phase }: RehearsalFilter): boolean {
  if (phase !== '' && phaseOf.get(kind) !== phase) return false;
  return text === '' || `${kind} ${name}`.toLowerCase().includes(text.toLowerCase());
}

const order: readonly ObjectState[] = ['refused', 'underway', 'waiting', 'ready'];

/** Objects at a second: what is refused first, then what is being made, then what waits. */
function objectsAt(run: BringUp, at: number, filter: RehearsalFilter): ShownObjects {
  const counts = noCounts();
  const byState = new Map<ObjectState, RehearsalObject[]>(order.map((state) => [state, []]));
  for (const object of run.objects) {
    if (!isShown(object, filter)) continue;
    const state = run.stateAt(object, at);
    counts[state]++;
    if (filter.state === '' || filter.state === state) byState.get(state)?.push(object);
  }
  const all = [...byState.values()].flat();
  return { counts, found: all.length, rows: all.slice(0, MAX_SHOWN).flatMap((object) => shownObject(run, object, at)) };
}

function shownObject(run: BringUp, object: RehearsalObject, at: number): ShownObject[] {
  const conditions = run.conditionsAt(object, at);
  const open = conditions.find(({ status }) => status !== 'True') ?? conditions.at(-1);
  if (open === undefined) return [];
  const { reason, message } = wordsOf(open, at);
  const { key, kind, name } = object;
  return [
    { key, kind, name, state: run.stateAt(object, at), condition: open.type, reason, message, since: open.since },
  ];
}

function wordsOf({ fact }: Condition, at: number): Omit<ShownCondition, 'type' | 'status' | 'since'> {
  switch (fact.is) {
    case 'done':
      return { reason: 'Completed', message: '', findingKey: '' };
    case 'underway':
      return { reason: 'InProgress', message: formatUnderway(fact.ends - at), findingKey: '' };
    case 'queued':
      return { reason: 'WaitingForTurn', message: WAITS_FOR_TURN, findingKey: '' };
    case 'waits':
      return {
        reason: fact.for.some(({ object }) => object.kind === 'pod network')
          ? 'PodNetworkNotReady'
          : 'WaitingForDependency',
        message: formatWaiting(fact.for.map(nameOf), fact.isForever),
        findingKey: '',
      };
    case 'refused':
      return { reason: reasonOf(fact.refusal), message: formatRefusal(fact.refusal), findingKey: fact.refusal.key };
  }
}

function detailOf(run: BringUp, object: RehearsalObject, at: number): ShownObjectDetail {
  return {
    kind: object.kind,
    name: object.name,
    state: run.stateAt(object, at),
    conditions: run.conditionsAt(object, at).map((condition) => ({
      type: condition.type,
      status: condition.status,
      since: condition.since,
      ...wordsOf(condition, at),
    })),
    log: run
      .log()
      .filter((entry) => entry.at <= at && run.awaited(entry.task).object === object)
      .map((entry) => lineOf(run, entry)),
    roots: run
      .rootsOf(object)
      .filter((root) => root.object !== object)
      .map((root) => ({
        name: nameOf(root),
        key: root.object.key,
        message: messageOf(run.refusalOf(root.object)),
      })),
    path: pathOf(object),
  };
}

const messageOf = (refusal: Refusal | undefined) => (refusal === undefined ? '' : formatRefusal(refusal));

function lineOf(run: BringUp, { at, what, task }: ReturnType<BringUp['log']>[number]): ShownLogLine {
  const { object, condition } = run.awaited(task);
  const message = what === 'refused' ? messageOf(run.refusalOf(object)) : '';
  return { at, what, kind: object.kind, name: object.name, condition, key: object.key, message };
}

/** The log up to a second, the last lines first. */
function logOf(run: BringUp, until: number, filter: RehearsalFilter): ShownLog {
  const found = run
    .log()
    .filter(
      ({ at, what, task }) =>
        at <= until && (filter.state === '' || filter.state === what) && isShown(run.awaited(task).object, filter),
    );
  const lines = found.slice(-MAX_SHOWN).reverse();
  return { found: found.length, lines: lines.map((entry) => lineOf(run, entry)) };
}
