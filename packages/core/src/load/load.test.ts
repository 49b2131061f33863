import fc from 'fast-check';
import { capacityFor, checkScenario, EventQueue, Random, simulate, unevenness, wantedMembers } from './index.js';
import type { LoadMember, LoadResult, Scenario } from './index.js';

const member = (fields: Partial<LoadMember> = {}): LoadMember => ({
  name: 'm',
  group: 'g',
  zone: 'a',
  weight: 1,
  serviceMs: 10,
  concurrency: 1,
  queue: 1_000_000,
  ...fields,
});
const several = (count: number, fields: Partial<LoadMember> = {}) =>
  Array.from({ length: count }, (_, i) => member({ name: `m${i}`, zone: 'abc'[i % 3] ?? 'a', ...fields }));
const scenario = (fields: Partial<Scenario>): Scenario => {
  const members = fields.members ?? [member()];
  return {
    seed: 7,
    seconds: 600,
    arrivals: { kind: 'poisson', perSecond: 50, toPerSecond: 0, series: [] },
    clients: 1,
    method: 'round robin',
    members,
    startWith: members.length,
    scaling: undefined,
    serviceTimes: 'exponential',
    limit: undefined,
    timeoutMs: undefined,
    retries: 0,
    detectSeconds: 0,
    lostCalls: 'fail',
    unanswered: 0,
    events: [],
    ...fields,
  };
};
const poisson = (perSecond: number): Scenario['arrivals'] => ({
  kind: 'poisson',
  perSecond,
  toPerSecond: 0,
  series: [],
});
const steady = (perSecond: number): Scenario['arrivals'] => ({ kind: 'steady', perSecond, toPerSecond: 0, series: [] });
const ran = (fields: Partial<Scenario>): LoadResult => {
  const run = simulate(scenario(fields));
  for (;;) {
    const next = run.next();
    if (next.done === true) return next.value;
  }
};
const perHundred = (part: number, whole: number) => (100 * part) / whole;

const RUNS = 20;

/** How far the means of runs, each with a seed of its own, lie from what theory says, in standard errors of those means. */
function errorsFrom(
  fields: Partial<Scenario>,
  ...expected: readonly (readonly [theory: number, of: (result: LoadResult) => number])[]
): number[] {
  const runs = Array.from({ length: RUNS }, (_, at) => ran({ seconds: 300, ...fields, seed: 1000 + at }));
  return expected.map(([theory, of]) => {
    const found = runs.map(of);
    const mean = found.reduce((sum, each) => sum + each, 0) / RUNS;
    const variance = found.reduce((sum, each) => sum + (each - mean) ** 2, 0) / (RUNS - 1);
    return Math.abs(mean - theory) / Math.sqrt(variance / RUNS);
  });
}

// Any queueing textbook; the values are those of the handbook, 8, and of the formulas by hand. Three standard errors hold 99.7 of 100 means.
describe('queues stay within three standard errors of the closed forms', () => {
  const mean = (result: LoadResult) => result.mean ?? 0;
  const waited = (result: LoadResult) => result.waited;
  const within = (errors: readonly number[]) => {
    for (const each of errors) expect(each).toBeLessThan(3);
  };
  test('M/M/1 with 50 a second and 100 served: 1 / (mu - lambda) = 20 ms, and half of the calls wait', () => {
    // Little: requests inside = rate times time, 50 a second times 20 ms.
    within(errorsFrom({}, [20, mean], [0.5, waited], [1, ({ inside }) => inside]));
    // Times of answers are exponential with that mean: 20 ln 2 = 13.86 ms is the median, 20 ln 100 = 92.1 ms the 99th of a hundred.
    const { total } = ran({ seconds: 3600 });
    expect(total.p50).toBeGreaterThan(13.2);
    expect(total.p50).toBeLessThan(14.6);
    expect(total.p99).toBeGreaterThan(84);
    expect(total.p99).toBeLessThan(100);
  });
  test('M/M/1 at nine tenths of what it can serve: 100 ms', () => {
    within(errorsFrom({ arrivals: poisson(90), seconds: 1200 }, [100, mean]));
  });
  test('M/M/2 with one erlang: Erlang C makes 1 call in 3 wait, 3.33 ms in the mean, and 10 ms of service', () => {
    const two = { arrivals: poisson(100), members: [member({ concurrency: 2 })] };
    within(errorsFrom(two, [1 / 3, waited], [10 + 10 / 3, mean]));
  });
  test('Erlang B: five erlangs on ten servers without waiting refuse 1.838 %', () => {
    // 5^10/10! over the sum of 5^k/k! for k from 0 to 10: 2.6911 / 146.38.
    const lossy = { arrivals: poisson(50), members: [member({ serviceMs: 100, concurrency: 10, queue: 0 })] };
    within(errorsFrom(lossy, [0.018_385, ({ total }) => total.refused / total.offered]));
  });
  test('M/D/1 waits half as long as M/M/1: rho / (2 mu (1 - rho)) = 5 ms, and 10 ms of service', () => {
    within(errorsFrom({ serviceTimes: 'constant' }, [15, mean]));
  });
  test('a wrong form is told apart: M/M/1 is not M/D/1', () => {
    expect(errorsFrom({}, [15, mean])[0]).toBeGreaterThan(20);
  });
});

describe('balancing', () => {
  const shares = (fields: Partial<Scenario>) => {
    const { members, total } = ran({ arrivals: poisson(200), ...fields });
    return members.map(({ answered }) => answered / total.answered);
  };
  test('weights give their shares within what chance allows', () => {
    // 90 to 10 over 120,000 requests: standard deviation sqrt(0.9 * 0.1 / n) = 0.09 %; five of them.
    const [first = 0] = shares({
      method: 'weights',
      members: [member({ weight: 90, concurrency: 50 }), member({ weight: 10, concurrency: 50 })],
    });
    expect(Math.abs(first - 0.9)).toBeLessThan(5 * Math.sqrt((0.9 * 0.1) / 120_000));
  });
  test('a weight of 0 gets nothing', () => {
    expect(
      shares({ method: 'weights', members: [member({ weight: 1, concurrency: 50 }), member({ weight: 0 })] }),
    ).toEqual([1, 0]);
  });
  test('round robin is even to one request', () => {
    const { members } = ran({ arrivals: steady(100), members: several(7, { concurrency: 9 }) });
    const counts = members.map(({ answered }) => answered);
    expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
  });
  test('a client stays with its member by its hash, and few move when one is lost', () => {
    const of = (startWith: number) =>
      ran({
        clients: 1,
        method: 'hash of the client',
        members: several(5, { concurrency: 99 }),
        startWith,
      }).members.filter(({ answered }) => answered > 0);
    expect(of(5)).toHaveLength(1);
    const spread = ran({
      clients: 3000,
      arrivals: poisson(100),
      method: 'hash of the client',
      members: several(3, { concurrency: 99 }),
    });
    for (const { answered } of spread.members) expect(perHundred(answered, spread.total.answered)).toBeGreaterThan(28);
  });
  test('the least busy member makes fewer wait than a random one', () => {
    const waited = (method: Scenario['method']) =>
      ran({ arrivals: poisson(800), seconds: 120, method, members: several(10) }).waited;
    expect(waited('least connections')).toBeLessThan(waited('random') / 1.5);
  });
});

// Handbook 8: 30 a minute, one request a second of one client.
describe('rate limits', () => {
  const limited = (by: 'fixed window' | 'token bucket') =>
    ran({ arrivals: steady(1), members: [member({ serviceMs: 1 })], limit: { perMinute: 30, by } });
  test('a fixed window refuses half', () => {
    const { total } = limited('fixed window');
    expect(perHundred(total.limited, total.offered)).toBeCloseTo(50, 0);
  });
  test('a token bucket of 30 refilled at 0.5 a second first refuses at about 60 s', () => {
    const { intervals } = limited('token bucket');
    const first = intervals.find((each) => each.limited > 0)?.from ?? 0;
    expect(first).toBe(60);
  });
  test('each client has a limit of its own', () => {
    expect(
      ran({
        arrivals: steady(1),
        clients: 1000,
        members: [member({ serviceMs: 1 })],
        limit: { perMinute: 30, by: 'token bucket' },
      }).total.limited,
    ).toBe(0);
  });
});

describe('what goes wrong', () => {
  test('with a zone lost its requests fail until health checks notice, then the others carry all', () => {
    const { intervals, total } = ran({
      arrivals: steady(300),
      members: several(9, { concurrency: 4 }),
      detectSeconds: 20,
      events: [{ at: 300, kind: 'lose', what: 'zone', name: 'b' }],
    });
    const failed = intervals.filter((each) => each.failed > 0).map(({ from }) => from);
    expect(failed).toEqual([300, 310]);
    // A third of 300 a second for 20 s, and what was underway.
    expect(total.failed).toBeGreaterThan(1990);
    expect(total.failed).toBeLessThan(2020);
    expect(total.answered + total.failed).toBeGreaterThan(total.offered - 10);
  });
  test('where lost members are gone, calls to them hang until the time-out, and least connections turns away from them', () => {
    const lost = (fields: Partial<Scenario>) =>
      ran({
        arrivals: steady(300),
        members: several(9, { concurrency: 4 }),
        timeoutMs: 1000,
        detectSeconds: 20,
        lostCalls: 'hang',
        events: [{ at: 300, kind: 'lose', what: 'zone', name: 'b' }],
        ...fields,
      });
    const turn = lost({ method: 'round robin' });
    // A third of 300 a second for 20 s, each given up a second later, and what was underway; nothing fails at once.
    expect(turn.intervals.filter((each) => each.timedOut > 0).map(({ from }) => from)).toEqual([300, 310, 320]);
    expect(turn.total.failed).toBe(0);
    expect(turn.total.timedOut).toBeGreaterThan(1990);
    expect(turn.total.timedOut).toBeLessThan(2020);
    // A lost member holds what it was given for a second, so that others look idler: a few a second each, of three of them.
    const least = lost({ method: 'least connections' }).total;
    expect(least.timedOut).toBeGreaterThan(40);
    expect(least.timedOut).toBeLessThan(600);
    // Failing at once it looks idle all the time: nearly all of 300 a second for 20 s.
    expect(lost({ method: 'least connections', lostCalls: 'fail' }).total.failed).toBeGreaterThan(5000);
    // Chosen at random, four tries meet lost members one time in 81: of 300 a second for the 17 s in which all four fit, some 63.
    const again = lost({ method: 'random', retries: 3 }).total.timedOut;
    expect([again > 35, again < 95]).toEqual([true, true]);
  });
  test('the share that the plan answers by nobody is refused, and burdens no member', () => {
    const { total } = ran({ arrivals: steady(300), unanswered: 0.25, members: several(9, { concurrency: 4 }) });
    // Binomial, 180,000 tries of 1/4: 45,000, three standard errors are 551.
    expect(Math.abs(total.refused - 45_000)).toBeLessThan(551);
    expect(total.answered).toBeGreaterThan(total.offered - total.refused - 10);
  });
  test('calls that hang need a time-out', () => {
    const events = [{ at: 300, kind: 'lose', what: 'zone', name: 'b' } as const];
    expect(checkScenario(scenario({ lostCalls: 'hang', events }))).toMatchObject({ problem: { code: 'load.hang' } });
    expect(checkScenario(scenario({ lostCalls: 'hang', timeoutMs: 5, events })).ok).toBe(true);
    expect(checkScenario(scenario({ lostCalls: 'hang' })).ok).toBe(true);
  });
  test('a retry saves them, since the next member is asked', () => {
    const { total } = ran({
      arrivals: steady(300),
      members: several(9, { concurrency: 4 }),
      retries: 2,
      detectSeconds: 20,
      events: [{ at: 300, kind: 'lose', what: 'zone', name: 'b' }],
    });
    expect(total.failed).toBe(0);
  });
  test('what comes back is used again', () => {
    const { members } = ran({
      arrivals: steady(30),
      members: several(3),
      events: [
        { at: 100, kind: 'lose', what: 'member', name: 'm1' },
        { at: 200, kind: 'restore', what: 'member', name: 'm1' },
      ],
    });
    // Five sixths of the time it has a third.
    expect(members[1]?.answered).toBeGreaterThan(4950);
    expect(members[1]?.answered).toBeLessThan(5050);
  });
  test('overload waits, and clients give up after their time', () => {
    const { total, intervals } = ran({ arrivals: steady(200), timeoutMs: 500, serviceTimes: 'constant' });
    // 100 a second can be answered, 100 cannot.
    expect(perHundred(total.timedOut, total.offered)).toBeGreaterThan(45);
    expect(total.p99).toBeLessThan(515);
    // At most 500 ms of work waits: 50 requests, and those whose clients gave up.
    expect(Math.max(...intervals.map(({ waiting }) => waiting))).toBeLessThan(110);
  });
  test('a client that gives up while its request is worked on is counted then', () => {
    const { total, members } = ran({
      arrivals: steady(1),
      seconds: 100,
      members: [member({ serviceMs: 3000, concurrency: 10 })],
      serviceTimes: 'constant',
      timeoutMs: 1000,
    });
    expect([total.answered, total.timedOut]).toEqual([0, 99]);
    expect(members[0]?.used).toBeCloseTo(0.3, 1);
  });
  test('more members take over while it runs', () => {
    const { intervals } = ran({
      arrivals: steady(300),
      members: several(6, { serviceMs: 10 }),
      startWith: 2,
      timeoutMs: 200,
      serviceTimes: 'constant',
      events: [{ at: 300, kind: 'scale', members: 6 }],
    });
    expect(intervals[20]?.timedOut).toBeGreaterThan(800);
    expect(intervals[40]?.timedOut).toBe(0);
  });
  test('without a member everything is refused', () => {
    const { total } = ran({ startWith: 0 });
    expect([total.refused, total.answered]).toEqual([total.offered, 0]);
  });
});

describe('arrivals', () => {
  test('a ramp and a series follow their rates', () => {
    const ramp = ran({
      arrivals: { kind: 'ramp', perSecond: 0, toPerSecond: 100, series: [] },
      members: [member({ concurrency: 99 })],
    });
    // Half of the highest rate on average; the last tenth has 19 of 100.
    expect(ramp.total.offered).toBeGreaterThan(29_300);
    expect(ramp.total.offered).toBeLessThan(30_700);
    const late = ramp.intervals.slice(54).reduce((sum, { offered }) => sum + offered, 0);
    expect(perHundred(late, ramp.total.offered)).toBeCloseTo(19, 0);
    const series = ran({
      arrivals: { kind: 'series', perSecond: 0, toPerSecond: 0, series: [10, 0, 50] },
      members: [member({ concurrency: 99 })],
    });
    expect(series.intervals[30]?.offered).toBe(0);
    expect(series.total.offered).toBeGreaterThan(11_600);
    expect(series.total.offered).toBeLessThan(12_400);
  });
});

test('every request ends in one way, whatever happens, and the same seed gives the same', () => {
  const events = fc.array(
    fc.oneof(
      fc.record({
        at: fc.integer({ min: 0, max: 60 }),
        kind: fc.constantFrom('lose' as const, 'restore' as const),
        what: fc.constant('zone' as const),
        name: fc.constantFrom('a', 'b', 'c'),
      }),
      fc.record({
        at: fc.integer({ min: 0, max: 60 }),
        kind: fc.constant('scale' as const),
        members: fc.integer({ min: 0, max: 6 }),
      }),
    ),
    { maxLength: 5 },
  );
  const some = fc.record({
    seed: fc.integer({ min: 0, max: 99 }),
    seconds: fc.constant(60),
    arrivals: fc.constantFrom(poisson(40), steady(90)),
    method: fc.constantFrom(
      'round robin' as const,
      'random' as const,
      'least connections' as const,
      'weights' as const,
      'hash of the client' as const,
    ),
    clients: fc.constantFrom(1, 5),
    timeoutMs: fc.constantFrom(undefined, 40, 300),
    retries: fc.integer({ min: 0, max: 2 }),
    detectSeconds: fc.constantFrom(0, 5),
    limit: fc.constantFrom(undefined, { perMinute: 600, by: 'token bucket' as const }),
    events,
  });
  fc.assert(
    fc.property(some, fc.integer({ min: 0, max: 3 }), (fields, queue) => {
      const members = several(6, { serviceMs: 60, queue });
      const first = ran({ ...fields, members, startWith: 6 });
      const { offered, answered, limited, refused, timedOut, failed } = first.total;
      // At the end some may still wait or be worked on: at most all places, and retries that are due at that moment.
      const open = offered - answered - limited - refused - timedOut - failed;
      expect(open).toBeGreaterThanOrEqual(0);
      expect(open).toBeLessThanOrEqual(6 * (1 + queue));
      for (const { used } of first.members) expect(used).toBeGreaterThanOrEqual(0);
      expect(ran({ ...fields, members, startWith: 6 })).toEqual(first);
    }),
    { numRuns: 60 },
  );
});

describe('by hand', () => {
  test('replicas that survive a lost zone', () => {
    // 900 a second at 40 ms are 36 requests at once; 8 a pod at 75 % are 6: 6 pods. Over three zones 9, of which 6 are left.
    expect(capacityFor(900, 40, 8, 24, 3, 0.75)).toEqual({ asked: 36, held: 192, needed: 6, neededWithoutZone: 9 });
    // 7 pods needed: 11 over three zones lose 4 and keep 7; 10 would keep 6.
    expect(capacityFor(1000, 42, 8, 24, 3, 0.75).neededWithoutZone).toBe(11);
    expect(capacityFor(900, 40, 8, 24, 1, 0.75).neededWithoutZone).toBeUndefined();
  });
  test('traffic shared by node loads pods unevenly', () => {
    // Nodes with 3 and 1 pods: each node has a half, the lone pod a half instead of a quarter.
    expect(unevenness([3, 1])).toBe(2);
    expect(unevenness([2, 2, 0])).toBe(1);
    expect(unevenness([])).toBe(1);
  });
  test('events come in the order of their times, those of one time as they were added', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 20 }), { maxLength: 200 }), (times) => {
        const queue = new EventQueue();
        times.forEach((time, i) => queue.add(time, i));
        const taken = times.map(() => queue.take());
        expect(taken).toEqual(
          times
            .map((time, i) => ({ time, i }))
            .sort((a, b) => a.time - b.time || a.i - b.i)
            .map(({ i }) => i),
        );
      }),
    );
  });
  test('random numbers are spread evenly, and the mean of exponential times is theirs', () => {
    const random = new Random(3);
    const many = Array.from({ length: 100_000 }, () => random.next());
    expect(Math.min(...many)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...many)).toBeLessThan(1);
    expect(many.reduce((sum, each) => sum + each, 0) / many.length).toBeCloseTo(0.5, 2);
    const times = Array.from({ length: 100_000 }, () => random.exponential(4));
    expect(times.reduce((sum, each) => sum + each, 0) / times.length).toBeCloseTo(4, 1);
  });
});

describe('limits', () => {
  test.each([
    [{ arrivals: poisson(2_000_000) }, 'Arrivals: 2,000,000 per second'],
    [{ arrivals: poisson(1_000_000) }, '600,000,000 requests are more'],
    [{ seconds: 0 }, 'Time: 0 s'],
    [{ members: [] }, 'Members: 0'],
    [{ members: [member({ weight: 0 })] }, 'weights sum to 0'],
    [{ members: [member({ serviceMs: 0 })] }, 'Service time of m'],
    [{ clients: 0 }, 'Clients: 0'],
    [{ timeoutMs: 0 }, 'Time-out: 0 ms'],
    [{ arrivals: { kind: 'series', perSecond: 0, toPerSecond: 0, series: [] } }, 'series of rates is empty'],
    [{ events: [{ at: 900, kind: 'scale', members: 1 }] }, 'Event: 900 s'],
    [{ arrivals: poisson(Number.NaN) }, 'Arrivals: NaN'],
  ] as [Partial<Scenario>, string][])('%j: %s', (fields, message) => {
    const checked = checkScenario(scenario(fields));
    expect(checked.ok ? '' : checked.problem.message).toContain(message);
  });
  test('what is within them is taken', () => {
    expect(checkScenario(scenario({})).ok).toBe(true);
  });
});

test('a node that is lost takes the members on it along, and no others', () => {
  const members = several(6).map((each, i) => ({ ...each, node: `n${i % 3}` }));
  const lost = ran({
    members,
    arrivals: steady(60),
    serviceTimes: 'constant',
    events: [{ at: 300, kind: 'lose', what: 'node', name: 'n1' }],
  });
  // Round robin: each has a sixth of 60 a second; two of them for half of the time, whose share the other four take.
  expect(lost.members.map(({ answered }) => Math.round(answered / 100))).toEqual([75, 30, 75, 75, 30, 75]);
});

// Documentation of the HorizontalPodAutoscaler, its algorithm and defaults (from memory): wanted = ceil(members * used / target), nothing
// within a tenth of the target, at most twice as many or four more in 15 s, fewer only after 300 s.
describe('members that come and go with the load', () => {
  test.each([
    [4, 0.7, 0.7, 4],
    [4, 0.75, 0.7, 4],
    [4, 0.63, 0.7, 4],
    [4, 1, 0.7, 6],
    [10, 0.35, 0.7, 5],
    [2, 1, 0.2, 6],
    [10, 1, 0.2, 20],
    [3, 0, 0.7, 1],
  ])('%i that use %d of their concurrency where %d is wanted: %i', (members, used, target, wanted) => {
    expect(wantedMembers(members, used, { target, startSeconds: 0 })).toBe(wanted);
  });

  // A little below 50 ms, so that the next of 100 a second finds the place free that one leaves.
  const scaled = (fields: Partial<Scenario>) =>
    ran({
      members: several(20, { serviceMs: 49.9, queue: 0 }),
      startWith: 2,
      method: 'least connections',
      serviceTimes: 'constant',
      arrivals: steady(100),
      scaling: { target: 0.5, startSeconds: 0 },
      seconds: 600,
      ...fields,
    });
  test('2 that are full become 4, then 8; 5 calls at once on 8 are 0.625, which makes 10, and 10 stay', () => {
    const { intervals } = scaled({});
    // Parts of 10 s; looks at 15, 30 and 45 s, of which the second is at the beginning of a part.
    expect(intervals.slice(0, 8).map(({ inService }) => inService)).toEqual([2, 4, 4, 8, 10, 10, 10, 10]);
    expect(new Set(intervals.slice(8).map(({ inService }) => inService))).toEqual(new Set([10]));
  });
  test('what a member used is a share of the time for which it was in service', () => {
    const { members } = scaled({});
    // From 15, 30 and 45 s on; ten of twenty are never needed.
    expect(members.map(({ served }) => Math.round(served))).toEqual([
      ...[600, 600, 585, 585, 570, 570, 570, 570, 555, 555],
      ...Array.from({ length: 10 }, () => 0),
    ]);
    // All of 100 a second times 49.9 ms, but for what the first two and four refuse.
    const used = members.reduce((sum, each) => sum + each.used * each.served, 0);
    expect(used).toBeGreaterThan(4.99 * 570);
    expect(used).toBeLessThan(4.99 * 600);
  });
  test('they start late, and are not asked for twice meanwhile', () => {
    const { intervals } = scaled({ scaling: { target: 0.5, startSeconds: 40 } });
    // Asked for at 15 s, there at 55 s. At 60 s 2 were full for 10 s and 4 for 5 s: 40 of 60, which asks for 6, there at 100 s; at 75 s
    // 4 were full, which asks for 8, there at 115 s; at 105 s 4 for 10 s and 5 of 6 for 5 s: 65 of 90, for 9; at 120 s 5 of 8, for 10.
    expect([4, 5, 9, 10, 11, 14, 16].map((at) => intervals[at]?.inService)).toEqual([2, 4, 4, 6, 8, 9, 10]);
  });
  test('they go when for 300 s no more were wanted, and never below those at the start', () => {
    const { intervals } = scaled({
      seconds: 900,
      arrivals: { kind: 'series', perSecond: 0, toPerSecond: 0, series: [100, 4, 4] },
    });
    const at = (second: number) => intervals[Math.floor(second / 15)]?.inService ?? 0;
    expect(at(280)).toBeGreaterThanOrEqual(9);
    expect(at(590)).toBeGreaterThanOrEqual(9);
    expect(at(640)).toBe(2);
  });
});
