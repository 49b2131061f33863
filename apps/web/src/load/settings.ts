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
  /** Whether pods come and go with the load, which share of their concurrency they are to use, up to how many, and how long one starts. */
  readonly scaling: 'none' | 'by load';
  readonly scaleTo: string;
  readonly scaleUpTo: string;
  readonly scaleStart: string;
  readonly seed: string;
}

/** Losing one pod instead of a zone. */
export const ONE_POD = 'one pod';
/** Losing the node with the most pods. */
export const ONE_NODE = 'one node';

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
  scaling: 'none',
  scaleTo: '70',
  scaleUpTo: '200',
  scaleStart: '30',
  seed: '1',
};

/** How the plan says that a target is called: it stands until something else is typed. */
type PlannedLoad = Target['planned'];

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

type Target = ShownTarget & { readonly ok: true };

/** The members of a load: those at the start before those that come later. */
function membersIn(settings: LoadSettings, { groups, clusters: zonesOf, zones, nodes }: Target) {
  const isScaled = settings.scaling === 'by load';
  const areMany = Object.keys(zonesOf).length > 1;
  const sizes = new Map(groups.map(({ name, replicas }) => [name, replicas]));
  const members = membersOf(
    isScaled
      ? groups.map((each) => ({
          ...each,
          replicas: Math.max(each.replicas, Math.ceil((each.replicas * Number(settings.scaleUpTo)) / 100)),
        }))
      : groups,
    areMany ? (cluster) => zonesOf[cluster] ?? [] : zones,
    (cluster) => nodes[cluster] ?? 0,
  );
  const share = Number(settings.startWith) / 100;
  if (!isScaled) {
    const first = Math.round(members.length * share);
    // Those that run at first are spread over workloads and zones like all.
    return { members: first >= members.length ? members : shuffled(members), first: Math.min(first, members.length) };
  }
  const seen = new Map<string, number>();
  const isFirst = members.map(({ group }) => {
    const at = (seen.get(group) ?? 0) + 1;
    seen.set(group, at);
    return at <= Math.max(1, Math.round((sizes.get(group) ?? 0) * share));
  });
  const [start, later] = [members.filter((_, i) => isFirst[i]), members.filter((_, i) => !isFirst[i])];
  return { members: [...start, ...later], first: start.length };
}

/** What is lost, as an event names it; undefined for nothing. */
function lostIn({ lost }: LoadSettings, members: Scenario['members'], clusters: readonly string[]) {
  switch (lost) {
    case '':
      return undefined;
    case ONE_POD:
      return { what: 'member', name: members[0]?.name ?? '' } as const;
    case ONE_NODE: {
      const counts = new Map<string, number>();
      for (const { node = '' } of members) counts.set(node, (counts.get(node) ?? 0) + 1);
      const [fullest] = [...counts].sort((a, b) => b[1] - a[1]);
      return { what: 'node', name: fullest?.[0] ?? '' } as const;
    }
    default:
      return { what: clusters.length > 1 && clusters.includes(lost) ? 'cluster' : 'zone', name: lost } as const;
  }
}

/** The scenario that settings make of what a load falls on. */
export function scenarioOf(settings: LoadSettings, target: Target): Scenario {
  const { members, first } = membersIn(settings, target);
  const lost = lostIn(settings, members.slice(0, first), Object.keys(target.clusters));
  const isScaled = settings.scaling === 'by load';
  const events: LoadEvent[] = [
    ...(lost === undefined ? [] : [{ at: Number(settings.lostAt), kind: 'lose' as const, ...lost }]),
    ...(isScaled || first >= members.length
      ? []
      : [{ at: Number(settings.allAt), kind: 'scale' as const, members: members.length }]),
  ];
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
    members,
    startWith: first,
    scaling: isScaled
      ? { target: Number(settings.scaleTo) / 100, startSeconds: Number(settings.scaleStart) }
      : undefined,
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
