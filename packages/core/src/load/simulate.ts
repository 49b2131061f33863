import { ByCluster } from './byCluster.js';
import { EventQueue } from './eventQueue.js';
import { Random } from './random.js';
import { rateAt, SCALING_DOWN_SECONDS, SCALING_PERIOD, wantedMembers } from './scenario.js';
import type { Scaling, Scenario } from './scenario.js';
import { Times } from './times.js';

// Taken out once: looked up millions of times.
const { floor, min, max } = Math;

/** How requests ended. */
export interface Outcomes {
  readonly offered: number;
  readonly answered: number;
  /** Refused by the rate limit: status 429 (RFC 6585 4). */
  readonly limited: number;
  /** Refused since no member took them, or nobody is there for them: status 503. */
  readonly refused: number;
  /** Given up by the client. */
  readonly timedOut: number;
  /** Lost with the member that worked on them, or sent to one that was gone. */
  readonly failed: number;
}

/** One part of the simulated time. */
export interface LoadInterval extends Outcomes {
  /** Seconds from the start. */
  readonly from: number;
  /** Requests that waited, on average over the part. */
  readonly waiting: number;
  /** Members in service at the end of the part. */
  readonly inService: number;
  /** Milliseconds within which the half, 95 and 99 of 100 answers came; undefined without answers. */
  readonly p50: number | undefined;
  readonly p95: number | undefined;
  readonly p99: number | undefined;
}

/** What one member did. */
export interface MemberLoad {
  readonly name: string;
  readonly group: string;
  readonly zone: string;
  readonly answered: number;
  /** Seconds for which it was in service. */
  readonly served: number;
  /** Share of its capacity that it used while it was in service, 0 to 1. */
  readonly used: number;
}

/** What came of a scenario. */
export interface LoadResult {
  readonly total: Outcomes & Pick<LoadInterval, 'p50' | 'p95' | 'p99'>;
  /** Mean time of an answer in milliseconds, waiting included; undefined without answers. */
  readonly mean: number | undefined;
  /** Share of requests that found every place taken and had to wait, 0 to 1. */
  readonly waited: number;
  /** Requests in service and waiting, on average over all the time. */
  readonly inside: number;
  readonly intervals: readonly LoadInterval[];
  readonly members: readonly MemberLoad[];
  /** Events that were worked through. */
  readonly events: number;
}

/** Parts that the simulated time is told in. */
const PARTS = 60;

/** Events between two reports of progress. */
const STEP = 50_000;

// What an event is, in its lowest digit; the rest is a request, or an entry of a list.
const FINISH = 0;
const GIVE_UP = 1;
const AGAIN = 2;
const CHANGE = 3;
const NOTICE = 4;
/** A look at the load, and a member that has started. */
const LOOK = 5;
const STARTED = 6;
const KINDS = 7;

// What a try is at.
const OVER = 0;
const WAITING = 1;
const WORKED_ON = 2;
/** The client has given up, and the member still works on it. */
const LEFT = 3;
/** Lost with its member: the end that was foreseen for it means nothing any more. */
const LOST = 4;
/** At a member that is gone, until its client gives up. */
const HANGING = 5;

/**
 * Simulates requests, one event after the other. The same scenario gives the same result on every machine. It is a generator so that a
 * worker can report the share of the time that is done, and stop; the scenario has been checked before.
 */
export function* simulate(scenario: Scenario): Generator<number, LoadResult> {
  const run = new Run(scenario);
  for (let steps = 1; run.step(); steps++) if (steps % STEP === 0) yield run.done();
  return run.result();
}

class Run {
  private readonly random: Random;
  private readonly queue = new EventQueue();
  private readonly chooser: ByCluster;
  private now = 0;
  private nextArrival: number;
  private events = 0;

  // Requests by number, numbers used again when a request is over.
  private readonly arrivedAt: number[] = [];
  private readonly deadlineAt: number[] = [];
  private readonly memberOf: number[] = [];
  private readonly triesLeft: number[] = [];
  private readonly clientOf: number[] = [];
  /** OVER, WAITING, WORKED_ON, LEFT or LOST. */
  private readonly state: number[] = [];
  /** Told apart from earlier requests of the same number. */
  private readonly turn: number[] = [];
  private readonly free: number[] = [];

  private readonly busy: Int32Array;
  private readonly lines: number[][];
  private readonly lineHeads: Int32Array;
  private readonly waitingAt: Int32Array;
  private readonly hangingAt: Int32Array;
  private readonly isLost: boolean[];
  /** Whether it is still called. */
  private readonly isCalled: boolean[];
  /** Whether it is among those that are to be called. */
  private readonly isIn: boolean[];
  private readonly groups: readonly Group[];
  private readonly groupOf: Int32Array;
  private readonly usedMs: Float64Array;
  /** Seconds in service up to when it left last, and since when it is again; NaN while it is not. */
  private readonly servedFor: Float64Array;
  private readonly servedSince: Float64Array;
  private readonly answeredBy: Float64Array;

  /** How many members were in service, from when on. */
  private readonly served: { readonly from: number; readonly members: number }[] = [];
  private waiting = 0;
  private working = 0;
  private insideArea = 0;
  private lastAt = 0;
  private waited = 0;
  private entered = 0;
  private sumOfTimes = 0;
  private readonly parts: Counted[];
  private readonly all = new Times();
  private readonly tokens = new Map<number, { at: number; left: number }>();

  constructor(private readonly scenario: Scenario) {
    const { seed, members, startWith, events, seconds, method } = scenario;
    this.random = new Random(seed);
    this.chooser = new ByCluster(method, members, this.random);
    const count = members.length;
    this.busy = new Int32Array(count);
    this.lineHeads = new Int32Array(count);
    this.waitingAt = new Int32Array(count);
    this.hangingAt = new Int32Array(count);
    this.lines = members.map(() => []);
    this.isLost = members.map(() => false);
    this.isCalled = members.map(() => true);
    this.usedMs = new Float64Array(count);
    this.servedFor = new Float64Array(count);
    this.servedSince = new Float64Array(count).fill(Number.NaN);
    this.answeredBy = new Float64Array(count);
    this.isIn = members.map((_, i) => i < startWith);
    this.groups = groupsIn(scenario);
    this.groupOf = new Int32Array(count);
    this.groups.forEach(({ members: own }, g) => own.forEach((member) => (this.groupOf[member] = g)));
    this.parts = Array.from({ length: PARTS }, () => new Counted());
    events.forEach(({ at }, i) => this.queue.add(at, i * KINDS + CHANGE));
    if (scenario.scaling !== undefined) this.queue.add(SCALING_PERIOD, LOOK);
    this.serve();
    this.nextArrival = this.arrivalAfter(0);
    if (this.nextArrival > seconds) this.nextArrival = Number.POSITIVE_INFINITY;
  }

  /** Works through one event; false when nothing happens any more within the time. */
  step(): boolean {
    const { seconds } = this.scenario;
    const time = min(this.nextArrival, this.queue.nextTime);
    if (time > seconds) {
      this.advance(seconds);
      return false;
    }
    this.events++;
    this.advance(time);
    if (this.nextArrival <= this.queue.nextTime) {
      this.nextArrival = this.arrivalAfter(time);
      this.arrive();
      return true;
    }
    const what = this.queue.take();
    const of = floor(what / KINDS);
    switch (what % KINDS) {
      case FINISH:
        this.finish(of);
        break;
      case GIVE_UP:
        this.giveUp(of);
        break;
      case AGAIN:
        this.enter(of);
        break;
      case CHANGE:
        this.change(of);
        break;
      case NOTICE:
        this.notice();
        break;
      case LOOK:
        this.look();
        break;
      case STARTED:
        this.started(of);
        break;
    }
    return true;
  }

  /** Share of the time that is done, 0 to 1. */
  done(): number {
    return this.now / this.scenario.seconds;
  }

  private advance(time: number): void {
    const past = time - this.lastAt;
    if (past > 0) {
      this.insideArea += past * (this.waiting + this.working);
      this.addWaiting(this.lastAt, time);
      this.lastAt = time;
    }
    this.now = time;
  }

  private addWaiting(from: number, to: number): void {
    if (this.waiting === 0) return;
    const length = this.scenario.seconds / PARTS;
    // Few events are further apart than a part.
    for (let at = from; at < to;) {
      const part = min(PARTS - 1, floor(at / length));
      const end = part === PARTS - 1 ? to : min(to, (part + 1) * length);
      (this.parts[part] as Counted).waiting += this.waiting * (max(end, at) - at);
      if (end <= at) break;
      at = end;
    }
  }

  private part(): Counted {
    return this.parts[min(PARTS - 1, floor((this.now / this.scenario.seconds) * PARTS))] as Counted;
  }

  private arrivalAfter(time: number): number {
    const { arrivals, seconds } = this.scenario;
    if (arrivals.kind === 'steady')
      return arrivals.perSecond === 0 ? Number.POSITIVE_INFINITY : time + 1 / arrivals.perSecond;
    if (arrivals.kind === 'poisson')
      return arrivals.perSecond === 0
        ? Number.POSITIVE_INFINITY
        : time + this.random.exponential(1 / arrivals.perSecond);
    // Arrivals at the highest rate, of which as many are kept as the rate of their time says (thinning; common practice).
    const most = max(...(arrivals.kind === 'ramp' ? [arrivals.perSecond, arrivals.toPerSecond] : arrivals.series));
    if (most === 0) return Number.POSITIVE_INFINITY;
    for (let at = time; ;) {
      at += this.random.exponential(1 / most);
      if (at > seconds) return Number.POSITIVE_INFINITY;
      if (this.random.next() * most < rateAt(arrivals, at, seconds)) return at;
    }
  }

  private arrive(): void {
    const { clients, retries, unanswered } = this.scenario;
    const part = this.part();
    part.offered++;
    if (unanswered > 0 && this.random.next() < unanswered) {
      part.refused++;
      return;
    }
    const client = clients === 1 ? 0 : this.random.below(clients);
    if (this.isLimited(client)) {
      part.limited++;
      return;
    }
    this.enter(this.numberFor(client, this.now, retries));
  }

  private isLimited(client: number): boolean {
    const { limit } = this.scenario;
    if (limit === undefined) return false;
    const known = this.tokens.get(client) ?? { at: limit.by === 'fixed window' ? 0 : this.now, left: limit.perMinute };
    this.tokens.set(client, known);
    if (limit.by === 'fixed window') {
      const minute = floor(this.now / 60);
      if (minute !== known.at) [known.at, known.left] = [minute, limit.perMinute];
    } else {
      known.left = min(limit.perMinute, known.left + ((this.now - known.at) * limit.perMinute) / 60);
      known.at = this.now;
    }
    // A sum of many small parts may miss a whole by less than any clock shows.
    if (known.left < 1 - 1e-9) return true;
    known.left--;
    return false;
  }

  /** Sends a request to a member: it is worked on at once, waits, or is refused. */
  private enter(request: number): void {
    const { timeoutMs, members } = this.scenario;
    const member = this.chooser.choose(this.clientOf[request] as number);
    const { concurrency = 0, queue = 0 } = members[member] ?? {};
    const isFree = member >= 0 && (this.busy[member] as number) < concurrency;
    if (this.isLost[member] === true && this.scenario.lostCalls === 'hang') {
      this.entered++;
      this.deadlineAt[request] = this.now + (timeoutMs ?? Number.POSITIVE_INFINITY) / 1000;
      this.hang(request, member);
      return;
    }
    const isFull = member < 0 || (!isFree && (this.waitingAt[member] as number) >= queue);
    if (isFull || this.isLost[member] === true) {
      this.settle(request, this.isLost[member] === true ? 'failed' : 'refused');
      this.release(request);
      return;
    }
    this.memberOf[request] = member;
    this.entered++;
    this.deadlineAt[request] = timeoutMs === undefined ? Number.POSITIVE_INFINITY : this.now + timeoutMs / 1000;
    if (isFree) {
      this.work(request, member);
      return;
    }
    this.waited++;
    this.waiting++;
    this.state[request] = WAITING;
    (this.lines[member] as number[]).push(request, this.turn[request] as number);
    this.waitingAt[member] = (this.waitingAt[member] as number) + 1;
    this.counted(member);
    if (timeoutMs !== undefined) this.queue.add(this.deadlineAt[request], request * KINDS + GIVE_UP);
  }

  private work(request: number, member: number): void {
    const { serviceTimes, members } = this.scenario;
    const { serviceMs } = members[member] as Scenario['members'][number];
    const ms = serviceTimes === 'constant' ? serviceMs : this.random.exponential(serviceMs);
    const wasWaiting = this.state[request] === WAITING;
    const deadline = this.deadlineAt[request] as number;
    const end = this.now + ms / 1000;
    this.state[request] = WORKED_ON;
    this.working++;
    this.setBusy(member, (this.busy[member] as number) + 1);
    this.usedMs[member] = (this.usedMs[member] as number) + ms;
    this.counted(member);
    this.queue.add(end, request * KINDS + FINISH);
    // One that has waited has its clock running already.
    if (end > deadline && !wasWaiting) this.queue.add(deadline, request * KINDS + GIVE_UP);
  }

  /** A call to a member that is gone: nothing comes back, and its client counts it as underway. */
  private hang(request: number, member: number): void {
    this.memberOf[request] = member;
    this.state[request] = HANGING;
    this.working++;
    this.hangingAt[member] = (this.hangingAt[member] as number) + 1;
    this.counted(member);
    this.queue.add(this.deadlineAt[request] as number, request * KINDS + GIVE_UP);
  }

  private counted(member: number): void {
    this.chooser.count(member, this.underway(member));
  }

  private underway(member: number): number {
    return (this.busy[member] as number) + (this.waitingAt[member] as number) + (this.hangingAt[member] as number);
  }

  private finish(request: number): void {
    const member = this.memberOf[request] as number;
    if (this.state[request] !== LOST) {
      this.working--;
      this.setBusy(member, (this.busy[member] as number) - 1);
      if (this.state[request] === WORKED_ON) this.answer(request, member);
      this.takeNext(member);
    }
    this.release(request);
  }

  private answer(request: number, member: number): void {
    this.answeredBy[member] = (this.answeredBy[member] as number) + 1;
    const ms = (this.now - (this.arrivedAt[request] as number)) * 1000;
    this.sumOfTimes += ms;
    this.part().times.add(ms);
    this.all.add(ms);
    this.part().answered++;
  }

  /** The next that waits at a member, those left out who have given up. */
  private takeNext(member: number): void {
    const line = this.lines[member] as number[];
    for (let head = this.lineHeads[member] as number; head < line.length; head += 2) {
      const request = line[head] as number;
      if (this.state[request] !== WAITING || this.turn[request] !== line[head + 1]) continue;
      this.lineHeads[member] = head + 2;
      this.waiting--;
      this.waitingAt[member] = (this.waitingAt[member] as number) - 1;
      this.work(request, member);
      return;
    }
    line.length = 0;
    this.lineHeads[member] = 0;
    this.counted(member);
  }

  private giveUp(request: number): void {
    // The clock of an earlier try, or of another request of this number, has another deadline.
    if ((this.deadlineAt[request] as number) > this.now) return;
    const member = this.memberOf[request] as number;
    if (this.state[request] === WORKED_ON) {
      this.settle(request, 'timedOut');
      this.state[request] = LEFT;
    } else if (this.state[request] === HANGING) {
      this.working--;
      this.hangingAt[member] = (this.hangingAt[member] as number) - 1;
      this.counted(member);
      this.settle(request, 'timedOut');
      this.release(request);
    } else if (this.state[request] === WAITING) {
      this.waiting--;
      this.waitingAt[member] = (this.waitingAt[member] as number) - 1;
      this.counted(member);
      this.settle(request, 'timedOut');
      this.release(request);
    }
  }

  /** A try has failed: it is made again while tries are left, as a request of its own that arrived when the first did. */
  private settle(request: number, how: 'refused' | 'timedOut' | 'failed'): void {
    const left = this.triesLeft[request] as number;
    if (left === 0) {
      this.part()[how]++;
      return;
    }
    const again = this.numberFor(this.clientOf[request] as number, this.arrivedAt[request] as number, left - 1);
    this.queue.add(this.now, again * KINDS + AGAIN);
  }

  private numberFor(client: number, arrivedAt: number, triesLeft: number): number {
    const request = this.free.pop() ?? this.arrivedAt.length;
    this.arrivedAt[request] = arrivedAt;
    this.triesLeft[request] = triesLeft;
    this.clientOf[request] = client;
    this.turn[request] ??= 0;
    this.state[request] = OVER;
    return request;
  }

  private release(request: number): void {
    this.state[request] = OVER;
    this.turn[request] = (this.turn[request] as number) + 1;
    this.free.push(request);
  }

  private change(at: number): void {
    const { events, members, detectSeconds } = this.scenario;
    const event = events[at] as Scenario['events'][number];
    if (event.kind === 'scale') {
      members.forEach((_, i) => (this.isIn[i] = i < event.members));
      this.serve();
      return;
    }
    members.forEach((member, i) => {
      const own = member[event.what === 'member' ? 'name' : event.what];
      if (own !== event.name) return;
      this.isLost[i] = event.kind === 'lose';
      if (event.kind === 'lose') this.drop(i);
    });
    // Health checks notice either after their time.
    this.queue.add(this.now + detectSeconds, NOTICE);
  }

  private notice(): void {
    this.isLost.forEach((isLost, i) => (this.isCalled[i] = !isLost));
    this.serve();
  }

  private setBusy(member: number, busy: number): void {
    const group = this.groups[this.groupOf[member] as number] as Group;
    group.area += group.busy * (this.now - group.since);
    group.since = this.now;
    group.busy += busy - (this.busy[member] as number);
    this.busy[member] = busy;
  }

  /** Each group by what it used since the last look: further members start, or some go. */
  private look(): void {
    const { scaling } = this.scenario;
    if (scaling === undefined) return;
    for (const group of this.groups) this.scale(group, scaling);
    this.serve();
    this.queue.add(this.now + SCALING_PERIOD, LOOK);
  }

  private scale(group: Group, scaling: Scaling): void {
    const here = group.members.filter((member) => this.isIn[member] === true && this.isLost[member] !== true);
    const area = group.area + group.busy * (this.now - group.since);
    [group.area, group.since] = [0, this.now];
    if (here.length === 0) return;
    const used = area / (SCALING_PERIOD * group.concurrency * here.length);
    const wanted = max(group.least, wantedMembers(here.length, used, scaling));
    group.wanted.push({ at: this.now, members: wanted });
    group.wanted = group.wanted.filter(({ at }) => at > this.now - SCALING_DOWN_SECONDS);
    // Fewer only when for a while no more were wanted.
    const most = max(...group.wanted.map(({ members }) => members));
    const coming = group.starting.size;
    const idle = group.members.filter((member) => this.isIn[member] !== true && !group.starting.has(member));
    for (const member of idle.slice(0, max(0, wanted - here.length - coming))) {
      group.starting.add(member);
      this.queue.add(this.now + scaling.startSeconds, member * KINDS + STARTED);
    }
    for (const member of here.slice(max(most, group.least))) this.isIn[member] = false;
  }

  private started(member: number): void {
    (this.groups[this.groupOf[member] as number] as Group).starting.delete(member);
    this.isIn[member] = true;
    this.serve();
  }

  /** Everything that a lost member worked on, or that waited at it, fails with it, or hangs. */
  private drop(member: number): void {
    const count = this.state.length;
    const hanging: number[] = [];
    const doHang = this.scenario.lostCalls === 'hang';
    for (let request = 0; request < count; request++) {
      if (this.memberOf[request] !== member) continue;
      const state = this.state[request];
      if (state === WAITING) {
        this.waiting--;
        if (doHang) hanging.push(request);
        else {
          this.settle(request, 'failed');
          this.release(request);
        }
      } else if (state === WORKED_ON || state === LEFT) {
        this.working--;
        if (state === WORKED_ON && doHang) hanging.push(this.twinOf(request));
        else if (state === WORKED_ON) this.settle(request, 'failed');
        this.state[request] = LOST;
      }
    }
    this.setBusy(member, 0);
    this.waitingAt[member] = 0;
    (this.lines[member] as number[]).length = 0;
    this.lineHeads[member] = 0;
    for (const request of hanging) this.hang(request, member);
    this.counted(member);
  }

  /** The same call under a number of its own, since the end that was foreseen for the other still comes. */
  private twinOf(request: number): number {
    const twin = this.numberFor(
      this.clientOf[request] as number,
      this.arrivedAt[request] as number,
      this.triesLeft[request] as number,
    );
    this.deadlineAt[twin] = this.deadlineAt[request] as number;
    this.memberOf[twin] = -1;
    return twin;
  }

  private serve(): void {
    const live = this.scenario.members.flatMap((_, i) =>
      this.isIn[i] === true && this.isCalled[i] === true ? [i] : [],
    );
    this.chooser.serve(live, (member) => this.underway(member));
    this.served.push({ from: this.now, members: live.length });
    const isLive = new Set(live);
    this.servedSince.forEach((since, i) => {
      if (isLive.has(i) === !Number.isNaN(since)) return;
      if (isLive.has(i)) this.servedSince[i] = this.now;
      else this.leave(i);
    });
  }

  private leave(member: number): void {
    const since = this.servedSince[member] as number;
    this.servedFor[member] = (this.servedFor[member] as number) + this.now - since;
    this.servedSince[member] = Number.NaN;
  }

  private servedAt(time: number): number {
    return this.served.findLast(({ from }) => from < time)?.members ?? 0;
  }

  result(): LoadResult {
    const { seconds, members } = this.scenario;
    members.forEach((_, i) => {
      if (!Number.isNaN(this.servedSince[i])) this.leave(i);
    });
    const length = seconds / PARTS;
    const sum = (of: keyof Outcomes) => this.parts.reduce((all, part) => all + part[of], 0);
    const answered = sum('answered');
    return {
      total: {
        offered: sum('offered'),
        answered,
        limited: sum('limited'),
        refused: sum('refused'),
        timedOut: sum('timedOut'),
        failed: sum('failed'),
        ...this.all.percentiles(),
      },
      mean: answered === 0 ? undefined : this.sumOfTimes / answered,
      waited: this.entered === 0 ? 0 : this.waited / this.entered,
      inside: this.insideArea / seconds,
      intervals: this.parts.map(
        ({ offered, answered: done, limited, refused, timedOut, failed, waiting, times }, i) => ({
          from: i * length,
          offered,
          answered: done,
          limited,
          refused,
          timedOut,
          failed,
          waiting: waiting / length,
          inService: this.servedAt((i + 1) * length),
          ...times.percentiles(),
        }),
      ),
      members: members.map(({ name, group, zone, concurrency }, i) => ({
        name,
        group,
        zone,
        answered: this.answeredBy[i] as number,
        served: this.servedFor[i] as number,
        used:
          this.servedFor[i] === 0
            ? 0
            : (this.usedMs[i] as number) / (1000 * (this.servedFor[i] as number) * concurrency),
      })),
      events: this.events,
    };
  }
}

/** Members that are scaled together: those of one workload. */
interface Group {
  readonly members: readonly number[];
  /** Calls that each of them works on at once, on average. */
  readonly concurrency: number;
  /** As many as at the start never go. */
  readonly least: number;
  readonly starting: Set<number>;
  wanted: { readonly at: number; readonly members: number }[];
  busy: number;
  /** Calls that were worked on, in seconds, since the last look. */
  area: number;
  since: number;
}

function groupsIn({ members, startWith }: Scenario): Group[] {
  const byName = new Map<string, number[]>();
  members.forEach(({ group }, i) => byName.set(group, [...(byName.get(group) ?? []), i]));
  return [...byName.values()].map((own) => ({
    members: own,
    concurrency: own.reduce((sum, i) => sum + (members[i]?.concurrency ?? 0), 0) / own.length,
    least: own.filter((i) => i < startWith).length,
    starting: new Set(),
    wanted: [],
    busy: 0,
    area: 0,
    since: 0,
  }));
}

/** What is counted in one part of the time. */
class Counted {
  offered = 0;
  answered = 0;
  limited = 0;
  refused = 0;
  timedOut = 0;
  failed = 0;
  waiting = 0;
  readonly times = new Times();
}
