import { membersOf } from '@wide-lattice/core/load';
import type { Arrivals, BalancingMethod, LoadEvent, Scenario } from '@wide-lattice/core/load';
import type { ShownTarget } from '../worker/slices/ingressSlices';

/** What a load is set to, as it is typed; the address of the page holds what differs from the usual. */
export interface LoadSettings {
  readonly kind: Arrivals['kind'];
  readonly rate: string;
  readonly toRate: string;
  readonly series: string;
  readonly seconds: string;
  readonly clients: string;
  readonly method: BalancingMethod;
  readonly times: Scenario['serviceTimes'];
  readonly timeout: string;
  readonly retries: string;
  readonly detect: string;
  readonly lostCalls: Scenario['lostCalls'];
  /** A zone that is lost, or “one pod”, and when; empty for none. */
  readonly lost: string;
  readonly lostAt: string;
  /** Part of the pods that run at first, in percent, and when all do. */
  readonly startWith: string;
  readonly allAt: string;
  readonly seed: string;
}

/** Losing one pod instead of a zone. */
export const ONE_POD = 'one pod';

/** A load to begin with. */
const usualLoad: LoadSettings = {
  kind: 'poisson',
  rate: '500',
  toRate: '1000',
  series: '',
  seconds: '600',
  clients: '1000',
  method: 'least connections',
  times: 'exponential',
  timeout: '2000',
  retries: '0',
  detect: '10',
  lostCalls: 'hang',
  lost: '',
  lostAt: '300',
  startWith: '100',
  allAt: '300',
  seed: '1',
};

/** How the plan says that a target is called: it stands until something else is typed. */
type PlannedLoad = (ShownTarget & { readonly ok: true })['planned'];

/** Reads settings from the address: only what differs from the usual stands there. */
export function readLoad(text: string, planned: PlannedLoad = {}): LoadSettings {
  const given = new URLSearchParams(text);
  const entries = Object.entries({ ...usualLoad, ...planned }).map(([key, usual]) => [key, given.get(key) ?? usual]);
  // Each value is text, and what no option knows is held against the limits when it runs.
  return Object.fromEntries(entries) as LoadSettings;
}

/** Writes settings for the address. */
export function writeLoad(settings: LoadSettings, planned: PlannedLoad = {}): string {
  const usual: LoadSettings = { ...usualLoad, ...planned };
  const differs = Object.entries(settings).filter(([key, value]) => value !== usual[key as keyof LoadSettings]);
  return new URLSearchParams(differs as [string, string][]).toString();
}

/** The scenario that settings make of what a load falls on. */
export function scenarioOf(settings: LoadSettings, target: ShownTarget & { readonly ok: true }): Scenario {
  const clusters = Object.keys(target.clusters);
  const members = membersOf(
    target.groups,
    clusters.length > 1 ? (cluster) => target.clusters[cluster] ?? [] : target.zones,
  );
  const first = Math.round((members.length * Number(settings.startWith)) / 100);
  const events: LoadEvent[] = [
    ...(settings.lost === ''
      ? []
      : [
          {
            at: Number(settings.lostAt),
            kind: 'lose' as const,
            what:
              settings.lost === ONE_POD
                ? ('member' as const)
                : clusters.length > 1 && clusters.includes(settings.lost)
                  ? ('cluster' as const)
                  : ('zone' as const),
            name: settings.lost === ONE_POD ? (members[0]?.name ?? '') : settings.lost,
          },
        ]),
    ...(first >= members.length
      ? []
      : [{ at: Number(settings.allAt), kind: 'scale' as const, members: members.length }]),
  ];
  // Those that run at first are spread over workloads and zones like all.
  const spread = first >= members.length ? members : shuffled(members);
  return {
    seed: Number(settings.seed),
    seconds: Number(settings.seconds),
    arrivals: {
      kind: settings.kind,
      perSecond: Number(settings.rate),
      toPerSecond: Number(settings.toRate),
      series: settings.series
        .split(/[\s,;]+/)
        .filter((each) => each !== '')
        .map(Number),
    },
    clients: Number(settings.clients),
    method: settings.method,
    members: spread,
    startWith: Math.min(first, members.length),
    serviceTimes: settings.times,
    limit: target.limit,
    timeoutMs: settings.timeout === '' ? undefined : Number(settings.timeout),
    retries: Number(settings.retries),
    detectSeconds: Number(settings.detect),
    lostCalls: settings.lostCalls,
    unanswered: target.unanswered,
    events,
  };
}

/** Takes every seventh in turn, so that neighbours come apart. */
function shuffled<T>(items: readonly T[]): T[] {
  return [0, 1, 2, 3, 4, 5, 6].flatMap((start) => items.filter((_, i) => i % 7 === start));
}
