import { bad, good } from '../result.js';
import type { Result } from '../result.js';
import { formatNumber } from '../working/index.js';

/** How requests arrive over the time that is simulated. */
export interface Arrivals {
  /**
   * steady: evenly spaced; poisson: independently; ramp: independently, the rate growing evenly to `toPerSecond`;
   * series: independently, by a recorded rate for each of equal parts of the time.
   */
  readonly kind: 'steady' | 'poisson' | 'ramp' | 'series';
  readonly perSecond: number;
  readonly toPerSecond: number;
  readonly series: readonly number[];
}

/** How a member is chosen. */
export type BalancingMethod = 'round robin' | 'random' | 'least connections' | 'weights' | 'hash of the client';

/** One that answers: a pod. */
export interface LoadMember {
  readonly name: string;
  /** What it is counted with: its workload. */
  readonly group: string;
  readonly zone: string;
  /** The node it runs on, told from those of other zones; empty where that is not said. */
  readonly node?: string;
  /**
   * The cluster it is in, where several answer; the part that cluster gets among those of its rank, and the rank in
   * which it is called: the lowest first.
   */
  readonly cluster?: string;
  readonly clusterWeight?: number;
  readonly rank?: number;
  readonly weight: number;
  /** Mean time it works on one request, in milliseconds, above 0. */
  readonly serviceMs: number;
  /** Requests it works on at once. */
  readonly concurrency: number;
  /** Requests that may wait at it; beyond them it refuses. */
  readonly queue: number;
}

/**
 * Something that happens while it runs: a zone, a node, a member or a whole cluster is lost, or comes back, or the number of
 * members in service changes.
 */
export type LoadEvent =
  | {
      readonly at: number;
      readonly kind: 'lose' | 'restore';
      readonly what: 'zone' | 'node' | 'member' | 'cluster';
      readonly name: string;
    }
  /** From then on the first so many of the members are in service. */
  | { readonly at: number; readonly kind: 'scale'; readonly members: number };

/**
 * Members that come and go with the load, each group by itself: wanted are as many as are in service times what they use over
 * what they are to use, rounded up. Source: the algorithm of the HorizontalPodAutoscaler (documentation of the Kubernetes API,
 * from memory), with the share of their concurrency that is in use as what is measured.
 */
export interface Scaling {
  /** Share of their concurrency that members are to use, above 0, up to 1. */
  readonly target: number;
  /** Seconds from the decision until a further member is in service. */
  readonly startSeconds: number;
}

/** Seconds between two looks at the load; those for which fewer members have to be wanted before any goes. */
export const SCALING_PERIOD = 15;
export const SCALING_DOWN_SECONDS = 300;
/** How far what is used may be off the target before anything is done. */
const TOLERANCE = 0.1;

/** Members that a group wants by what it uses: as many as it has where that is near the target; in one period at most twice as many, or 4 more. */
export function wantedMembers(inService: number, used: number, { target }: Scaling): number {
  if (Math.abs(used / target - 1) <= TOLERANCE) return inService;
  // A share of 0.7 over 0.7 is 1, whatever its digits.
  const wanted = Math.max(1, Math.ceil((inService * used) / target - 1e-9));
  return Math.min(wanted, Math.max(2 * inService, inService + 4));
}

/** What is simulated. */
export interface Scenario {
  readonly seed: number;
  /** Simulated time. */
  readonly seconds: number;
  readonly arrivals: Arrivals;
  /** Different client addresses, from which requests come alike often. */
  readonly clients: number;
  readonly method: BalancingMethod;
  readonly members: readonly LoadMember[];
  /** Members in service at the start: the first so many. */
  readonly startWith: number;
  /** By which members beyond those at the start come, up to all of them, and go again; undefined for none. */
  readonly scaling: Scaling | undefined;
  /** Whether service times are spread exponentially around their mean, or always the mean. */
  readonly serviceTimes: 'exponential' | 'constant';
  /** Requests a minute of one client; undefined for no limit. */
  readonly limit: { readonly perMinute: number; readonly by: 'fixed window' | 'token bucket' } | undefined;
  /** Milliseconds after which a client gives up; undefined for never. */
  readonly timeoutMs: number | undefined;
  /** How often a failed request is sent again. */
  readonly retries: number;
  /** Seconds until a lost member is no longer called: what health checks take. */
  readonly detectSeconds: number;
  /** How calls to a lost member end meanwhile: hang until the client gives up, as where the machine is gone; or fail at once, as where it refuses. */
  readonly lostCalls: 'hang' | 'fail';
  /** Share of the requests that the plan leaves without an answer, 0 to 1. */
  readonly unanswered: number;
  readonly events: readonly LoadEvent[];
}

/** Requests that one simulation may have, so that it ends within minutes. */
export const MAX_REQUESTS = 20_000_000;
export const MAX_SECONDS = 86_400;
export const MAX_MEMBERS = 5000;
export const MAX_CLIENTS = 1_000_000;

/** Holds a scenario against its limits; each message says which one. */
export function checkScenario(scenario: Scenario): Result<Scenario> {
  const { seconds, arrivals, clients, members, startWith, limit, timeoutMs, retries, detectSeconds, events } = scenario;
  if (scenario.lostCalls === 'hang' && timeoutMs === undefined && events.some(({ kind }) => kind === 'lose'))
    return bad(
      'load.hang',
      'Calls to what is lost hang until the time-out, and there is none.',
      'Enter a time-out, or let them fail at once.',
    );
  const outside = (what: string, value: number, least: number, most: number, unit: string) =>
    Number.isFinite(value) && value >= least && value <= most
      ? undefined
      : bad(
          'load.limit',
          `${what}: ${formatNumber(value)} ${unit} cannot be simulated.`,
          `Use ${formatNumber(least)} to ${formatNumber(most)}.`,
        );
  const rates = ratesOf(arrivals);
  if (rates.length === 0)
    return bad('load.series', 'The series of rates is empty.', 'Enter a rate for each part of the time.');
  const problems = [
    outside('Time', seconds, 1, MAX_SECONDS, 's'),
    ...rates.map((rate) => outside('Arrivals', rate, 0, 1_000_000, 'per second')),
    outside('Clients', clients, 1, MAX_CLIENTS, 'addresses'),
    outside('Members', members.length, 1, MAX_MEMBERS, 'members'),
    outside('Members at the start', startWith, 0, members.length, 'members'),
    outside('Retries', retries, 0, 10, 'times'),
    outside('Detection', detectSeconds, 0, 3600, 's'),
    outside('Unanswered share', scenario.unanswered, 0, 1, 'of the requests'),
    ...(scenario.scaling === undefined
      ? []
      : [
          outside('Scaling target', 100 * scenario.scaling.target, 1, 100, '%'),
          outside('Start of a pod', scenario.scaling.startSeconds, 0, 3600, 's'),
        ]),
    ...(timeoutMs === undefined ? [] : [outside('Time-out', timeoutMs, 1, 3_600_000, 'ms')]),
    ...(limit === undefined ? [] : [outside('Rate limit', limit.perMinute, 1, 60_000_000, 'per minute')]),
    ...events.map(({ at }) => outside('Event', at, 0, seconds, 's')),
    ...members.flatMap((member) => [
      outside(`Service time of ${member.name}`, member.serviceMs, 0.01, 3_600_000, 'ms'),
      outside(`Concurrency of ${member.name}`, member.concurrency, 1, 100_000, 'requests'),
      outside(`Weight of ${member.name}`, member.weight, 0, 1_000_000, ''),
    ]),
  ];
  const problem = problems.find((each) => each !== undefined);
  if (problem !== undefined) return problem;
  if (members.every(({ weight }) => weight === 0))
    return bad('load.weights', 'The weights sum to 0: no member would get a request.', 'Give at least one a weight.');
  // The mean of a series, of both ends of a ramp, or the one rate.
  const requests = (rates.reduce((sum, rate) => sum + rate, 0) / rates.length) * seconds;
  if (requests > MAX_REQUESTS)
    return bad(
      'load.requests',
      `${formatNumber(Math.round(requests))} requests are more than one simulation takes.`,
      `At most ${formatNumber(MAX_REQUESTS)}: shorten the time or lower the rate.`,
    );
  return good(scenario);
}

/** The rates that arrivals are given by, a second. */
function ratesOf({ kind, series, perSecond, toPerSecond }: Arrivals): readonly number[] {
  if (kind === 'series') return series;
  return kind === 'ramp' ? [perSecond, toPerSecond] : [perSecond];
}

/** The rate of arrivals at a time, a second. */
export function rateAt({ kind, perSecond, toPerSecond, series }: Arrivals, time: number, seconds: number): number {
  if (kind === 'ramp') return perSecond + ((toPerSecond - perSecond) * time) / seconds;
  if (kind !== 'series') return perSecond;
  return series[Math.min(series.length - 1, Math.floor((time / seconds) * series.length))] ?? 0;
}
