import type { Refusal } from '../english/index.js';
import { EventQueue } from '../load/index.js';
import type { BuildStep } from '../plan/index.js';
import type { Progress } from '../working/index.js';
import type { Graph } from './graph.js';
import type { Times } from './times.js';

/** What became of each task, by its number; times are in seconds since the beginning, infinite for what never came. */
export interface RunTimes {
  /** When all it waited for was done. */
  readonly met: Float64Array;
  readonly started: Float64Array;
  readonly ended: Float64Array;
  /** The task whose end let it start; -1 for none. */
  readonly cause: Int32Array;
  /** Why it never comes to be, and since when it is known. */
  readonly refused: ReadonlyMap<number, { readonly at: number; readonly refusal: Refusal }>;
  /** Events that were simulated. */
  readonly events: number;
}

/** Tasks between two looks at whether to go on. */
const STEP = 20_000;

/** How many of one step a site carries out at once, and which wait for their turn. */
interface Crew {
  readonly seconds: number;
  free: number;
  readonly waiting: number[];
  next: number;
}

/**
 * Runs a graph as discrete events: a step starts when all it waits for is done, when its site has a place for one more of its
 * kind, and takes its time. Of those that wait, the first comes first. What is refused, and all that waits for it, never ends.
 * `chosen` are the tasks that are run, with all that they wait for; `standing` those that are done before it begins.
 */
export function* runGraph(
  graph: Graph,
  times: Times,
  chosen: ReadonlySet<number>,
  standing: ReadonlySet<number>,
): Generator<Progress, RunTimes> {
  const run = new Run(graph, times, chosen, standing);
  run.begin();
  let done = 0;
  while (run.step()) {
    done++;
    if (done % STEP === 0) yield { what: 'the rehearsal', done, of: graph.tasks.length };
  }
  return run.times(done);
}

class Run {
  private readonly met: Float64Array;
  private readonly started: Float64Array;
  private readonly ended: Float64Array;
  private readonly cause: Int32Array;
  private readonly left: Int32Array;
  private readonly refused = new Map<number, { readonly at: number; readonly refusal: Refusal }>();
  private readonly stored: number[];
  private readonly crews: Crew[] = [];
  /** The crew of each task by its number: a run looks at nothing but arrays of numbers. */
  private readonly crewOf: Int32Array;
  /** Whether a task may be refused: it has a reason of its own, or takes something from a store. */
  private readonly isHeld: Uint8Array;
  private readonly isChosen: Uint8Array;
  private readonly isStanding: Uint8Array;
  private readonly queue = new EventQueue();
  private readonly dependents: Dependents;

  constructor(
    private readonly graph: Graph,
    private readonly steps: Times,
    chosen: ReadonlySet<number>,
    standing: ReadonlySet<number>,
  ) {
    const count = graph.tasks.length;
    const never = () => new Float64Array(count).fill(Number.POSITIVE_INFINITY);
    [this.met, this.started, this.ended] = [never(), never(), never()];
    this.cause = new Int32Array(count).fill(-1);
    this.left = new Int32Array(count);
    this.stored = graph.stores.map(() => 0);
    this.crewOf = new Int32Array(count);
    this.isHeld = new Uint8Array(count);
    this.assign();
    [this.isChosen, this.isStanding] = [marked(count, chosen), marked(count, standing)];
    this.dependents = new Dependents(graph, this.isStanding, this.left);
  }

  /** Gives each task its crew: that of its step at its site. */
  private assign(): void {
    const known = new Map<string, Map<BuildStep, number>>();
    for (const [task, { object, step, store, refusal }] of this.graph.tasks.entries()) {
      const siteId = this.graph.objects[object]?.siteId ?? '';
      let here = known.get(siteId);
      if (here === undefined) known.set(siteId, (here = new Map<BuildStep, number>()));
      let crew = here.get(step);
      if (crew === undefined) {
        const { seconds, atOnce } = this.steps.at(siteId, step);
        crew = this.crews.push({ seconds, free: atOnce, waiting: [], next: 0 }) - 1;
        here.set(step, crew);
      }
      this.crewOf[task] = crew;
      if (store >= 0 || refusal !== undefined) this.isHeld[task] = 1;
    }
  }

  begin(): void {
    const { isChosen, isStanding } = this;
    for (const [task, { store }] of this.graph.tasks.entries()) {
      if (isStanding[task] === 0) continue;
      this.met[task] = this.started[task] = this.ended[task] = 0;
      if (store >= 0) this.stored[store] = (this.stored[store] ?? 0) + 1;
    }
    for (let task = 0; task < this.left.length; task++)
      if (this.left[task] === 0 && isChosen[task] === 1 && isStanding[task] === 0) this.meet(task, 0, -1);
  }

  /** Takes the next event; false when there is none. */
  step(): boolean {
    const time = this.queue.nextTime;
    if (!Number.isFinite(time)) return false;
    const task = this.queue.take();
    this.ended[task] = time;
    const crew = this.crewAt(task);
    const next = crew.waiting[crew.next];
    if (next === undefined) crew.free++;
    else {
      crew.next++;
      this.start(next, time, task, crew);
    }
    this.dependents.each(task, (other) => {
      const left = (this.left[other] as number) - 1;
      this.left[other] = left;
      if (left === 0 && this.isChosen[other] === 1) this.meet(other, time, task);
    });
    return true;
  }

  times(events: number): RunTimes {
    const { met, started, ended, cause, refused } = this;
    return { met, started, ended, cause, refused, events };
  }

  /** All that a task waits for is done. */
  private meet(task: number, time: number, cause: number): void {
    this.met[task] = time;
    const refusal = this.isHeld[task] === 1 ? this.taken(task) : undefined;
    if (refusal !== undefined) {
      this.refused.set(task, { at: time, refusal });
      this.cause[task] = cause;
      return;
    }
    const crew = this.crewAt(task);
    if (crew.free > 0) {
      crew.free--;
      this.start(task, time, cause, crew);
    } else crew.waiting.push(task);
  }

  /** Takes what a task needs one of; or why it never comes to be. */
  private taken(task: number): Refusal | undefined {
    const { refusal, store } = this.graph.tasks[task] as Graph['tasks'][number];
    const found = refusal ?? this.fullStore(store);
    if (found === undefined && store >= 0) this.stored[store] = (this.stored[store] as number) + 1;
    return found;
  }

  private fullStore(store: number): Refusal | undefined {
    const found = this.graph.stores[store];
    if (found === undefined || (this.stored[store] as number) < found.holds) return undefined;
    return { why: 'full', ...found };
  }

  private start(task: number, time: number, cause: number, { seconds }: Crew): void {
    this.started[task] = time;
    this.cause[task] = cause;
    this.queue.add(time + seconds, task);
  }

  private crewAt(task: number): Crew {
    return this.crews[this.crewOf[task] as number] as Crew;
  }
}

/** Numbers of a set as marks, which are looked up faster. */
function marked(count: number, numbers: ReadonlySet<number>): Uint8Array {
  const marks = new Uint8Array(count);
  for (const number of numbers) marks[number] = 1;
  return marks;
}

/** Which tasks wait for each, in one array: a plan has a million of them. */
class Dependents {
  private readonly from: Int32Array;
  private readonly all: Int32Array;

  /** Counts what each task still waits for into `left`. */
  constructor({ tasks }: Graph, isStanding: Uint8Array, left: Int32Array) {
    const counts = new Int32Array(tasks.length + 1);
    let sum = 0;
    for (const [task, { needs }] of tasks.entries())
      for (const need of needs) {
        if (isStanding[need] === 1) continue;
        left[task] = (left[task] as number) + 1;
        counts[need + 1] = (counts[need + 1] as number) + 1;
        sum++;
      }
    for (let at = 0; at < tasks.length; at++) counts[at + 1] = (counts[at + 1] as number) + (counts[at] as number);
    this.from = counts;
    this.all = new Int32Array(sum);
    const next = counts.slice();
    for (const [task, { needs }] of tasks.entries())
      for (const need of needs) {
        if (isStanding[need] === 1) continue;
        const at = next[need] as number;
        this.all[at] = task;
        next[need] = at + 1;
      }
  }

  each(task: number, visit: (other: number) => void): void {
    for (let at = this.from[task] as number; at < (this.from[task + 1] as number); at++) visit(this.all[at] as number);
  }
}
