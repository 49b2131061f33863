import type { Refusal } from '../english/index.js';
import { circlesIn } from './circles.js';
import type { ConditionType, Graph, RehearsalObject } from './graph.js';
import type { RunTimes } from './run.js';
import { tasksOf } from './scope.js';

/** How far an object is at one time: it waits for others or for its turn, a step of it is being made, it is as planned, or never will be. */
export type ObjectState = 'waiting' | 'underway' | 'ready' | 'refused';

/** What holds a condition at one time. */
export type ConditionFact =
  | { readonly is: 'done' }
  /** It ends at that second. */
  | { readonly is: 'underway'; readonly ends: number }
  /** All it waits for is done, and as many of its kind as go at once are being made. */
  | { readonly is: 'queued' }
  | { readonly is: 'waits'; readonly for: readonly Awaited[]; readonly isForever: boolean }
  | { readonly is: 'refused'; readonly refusal: Refusal };

/** A step that is waited for. */
export interface Awaited {
  readonly object: RehearsalObject;
  readonly condition: ConditionType;
}

/** A condition of an object, as the Kubernetes API writes them. */
export interface Condition {
  readonly type: ConditionType;
  readonly status: 'True' | 'False' | 'Unknown';
  readonly fact: ConditionFact;
  /** Seconds since the beginning at which the status last changed. */
  readonly since: number;
}

/** One line of the log. */
export interface LogEntry {
  /** Seconds since the beginning. */
  readonly at: number;
  readonly what: 'started' | 'done' | 'refused';
  readonly task: number;
}

/** One step of the critical path: it could not begin before the one above it ended. */
export interface PathStep extends Awaited {
  readonly from: number;
  readonly to: number;
  /** Seconds for which it waited for its turn. */
  readonly waited: number;
}

/** What became of a bring-up. */
export class BringUp {
  readonly ok = true;
  /** The objects of the scope. */
  readonly objects: readonly RehearsalObject[];
  /** Seconds until the last step that came to be was done. */
  readonly total: number;
  private entries: readonly LogEntry[] | undefined;

  constructor(
    readonly graph: Graph,
    private readonly run: RunTimes,
    private readonly chosen: ReadonlySet<number>,
    private readonly standing: ReadonlySet<number>,
  ) {
    this.objects = graph.objects.filter(({ first }) => chosen.has(first));
    let total = 0;
    for (const task of chosen) {
      const end = run.ended[task] as number;
      if (Number.isFinite(end) && end > total) total = end;
    }
    this.total = total;
  }

  /** Events that were simulated. */
  get events(): number {
    return this.run.events;
  }

  /** When an object is as planned; infinite where it never is. */
  readyAt(object: RehearsalObject): number {
    return this.run.ended[this.lastOf(object)] as number;
  }

  /** How far an object is at a second. */
  stateAt(object: RehearsalObject, at: number): ObjectState {
    const tasks = this.tasksOf(object);
    const last = tasks.at(-1) as number;
    if ((this.run.ended[last] as number) <= at) return 'ready';
    if (tasks.some((task) => (this.run.refused.get(task)?.at ?? Infinity) <= at)) return 'refused';
    const isUnderway = (task: number) =>
      (this.run.started[task] as number) <= at && (this.run.ended[task] as number) > at;
    return tasks.some(isUnderway) ? 'underway' : 'waiting';
  }

  /** Why a step of an object never comes to be; undefined where none is refused. */
  refusalOf(object: RehearsalObject): Refusal | undefined {
    for (const task of this.tasksOf(object)) {
      const found = this.run.refused.get(task);
      if (found !== undefined) return found.refusal;
    }
    return undefined;
  }

  /** The conditions of an object at a second. */
  conditionsAt(object: RehearsalObject, at: number): Condition[] {
    const begun = this.run.started[object.first] as number;
    return this.tasksOf(object).map((task) => {
      const type = this.graph.tasks[task]?.condition as ConditionType;
      const ended = this.run.ended[task] as number;
      if (ended <= at) return { type, status: 'True', fact: { is: 'done' }, since: ended };
      const fact = this.factAt(task, at);
      const isThere = begun <= at || fact.is === 'refused';
      const refusedAt = this.run.refused.get(object.first)?.at ?? Infinity;
      return { type, status: isThere ? 'False' : 'Unknown', fact, since: isThere ? Math.min(begun, refusedAt) : 0 };
    });
  }

  private factAt(task: number, at: number): ConditionFact {
    const refused = this.run.refused.get(task);
    if (refused !== undefined && refused.at <= at) return { is: 'refused', refusal: refused.refusal };
    if ((this.run.started[task] as number) <= at) return { is: 'underway', ends: this.run.ended[task] as number };
    if ((this.run.met[task] as number) <= at) return { is: 'queued' };
    const open = (this.graph.tasks[task]?.needs ?? []).filter((need) => !((this.run.ended[need] as number) <= at));
    return {
      is: 'waits',
      for: open.map((need) => this.awaited(need)),
      isForever: !Number.isFinite(this.run.met[task]),
    };
  }

  /** Every step that is refused, with the second from which that is known. */
  refusals(): { readonly object: RehearsalObject; readonly at: number; readonly refusal: Refusal }[] {
    return [...this.run.refused].map(([task, { at, refusal }]) => ({ object: this.awaited(task).object, at, refusal }));
  }

  /** What an object waits for in the end: steps that never come to be, and wait for nothing that never comes themselves. */
  rootsOf(object: RehearsalObject): Awaited[] {
    const seen = new Set<number>(this.tasksOf(object).filter((task) => !Number.isFinite(this.run.ended[task])));
    const roots: number[] = [];
    for (const task of seen) {
      if (this.run.refused.has(task)) roots.push(task);
      for (const need of this.graph.tasks[task]?.needs ?? [])
        if (!Number.isFinite(this.run.ended[need])) seen.add(need);
    }
    return roots.map((task) => this.awaited(task));
  }

  /** Steps that wait for one another, so that none ever begins; each circle in its order. */
  circles(): Awaited[][] {
    return circlesIn(this.graph, (task) => this.chosen.has(task) && !Number.isFinite(this.run.met[task] as number)).map(
      (circle) => circle.map((task) => this.awaited(task)),
    );
  }

  /** The chain of steps that sets the end: each could begin when the one before it ended, by what it waits for or by its turn. */
  criticalPath(): PathStep[] {
    let task = -1;
    for (const each of this.chosen)
      if (this.run.ended[each] === this.total && !this.standing.has(each)) {
        task = each;
        break;
      }
    const path: PathStep[] = [];
    for (; task >= 0; task = this.run.cause[task] as number) {
      const [from, to] = [this.run.started[task] as number, this.run.ended[task] as number];
      path.push({ ...this.awaited(task), from, to, waited: from - (this.run.met[task] as number) });
    }
    return path.reverse();
  }

  /** The log in the order of time: of each step when it began and ended, and what was refused. */
  log(): readonly LogEntry[] {
    if (this.entries !== undefined) return this.entries;
    const entries: LogEntry[] = [];
    for (const task of this.chosen) {
      if (this.standing.has(task)) continue;
      const [from, to] = [this.run.started[task] as number, this.run.ended[task] as number];
      if (Number.isFinite(from)) entries.push({ at: from, what: 'started', task });
      if (Number.isFinite(to)) entries.push({ at: to, what: 'done', task });
      const refused = this.run.refused.get(task);
      if (refused !== undefined) entries.push({ at: refused.at, what: 'refused', task });
    }
    this.entries = entries.sort((a, b) => a.at - b.at || a.task - b.task);
    return this.entries;
  }

  /** The object and condition of a step. */
  awaited(task: number): Awaited {
    const { object, condition } = this.graph.tasks[task] as Graph['tasks'][number];
    return { object: this.graph.objects[object] as RehearsalObject, condition };
  }

  private tasksOf({ index }: RehearsalObject): number[] {
    return tasksOf(this.graph, index).filter((task) => this.chosen.has(task));
  }

  private lastOf(object: RehearsalObject): number {
    return this.tasksOf(object).at(-1) as number;
  }
}
