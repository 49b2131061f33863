import { Forwarding } from '../forwarding/index.js';
import { formatMoney } from '../money/index.js';
import { byId, meshLinks, withFallbacks } from '../plan/index.js';
import type { Cluster, Connection, ConnectionMethod, Member, Plan, PlanSettings } from '../plan/index.js';
import { efficiency, segmentSize } from '../wire/index.js';
import { scoreOf, sensitivityOf, winnerOf } from '../weighing/index.js';
import type { Consequence, Sensitivity } from '../weighing/index.js';
import { figure, formatNumber, formatCount } from '../working/index.js';
import type { Figure, Steps } from '../working/index.js';
import { carriedMbps } from './capacity.js';
import { clashesOfMembers } from '../verdicts/index.js';
import { latencyFloor, pointOf, streamMbps } from './distance.js';
import { faultsOf, runDrill, formatFault } from './drill.js';
import type { Drill, Fault } from './drill.js';
import { ConnectionState } from './pairs.js';
import type { Pair } from './pair.js';
import { asStanding, proposeConnection } from './propose.js';
import type { ConnectionProposal, ConnectionRequest } from './propose.js';
import { SetMatrix } from './setMatrix.js';

/** What is weighed when kinds of connections are compared. */
export type ConnectionCriterion = 'ranges' | 'reach' | 'wire' | 'survival' | 'effort' | 'cost';

/** Every criterion with the field of the plan’s settings that holds its weight. */
export const connectionCriteria = [
  { id: 'ranges', field: 'weightConnectionRanges', label: 'Ranges kept' },
  { id: 'reach', field: 'weightConnectionReach', label: 'Reach' },
  { id: 'wire', field: 'weightConnectionWire', label: 'Wire' },
  { id: 'survival', field: 'weightConnectionSurvival', label: 'Survival' },
  { id: 'effort', field: 'weightConnectionEffort', label: 'Effort' },
  { id: 'cost', field: 'weightConnectionCost', label: 'Cost' },
] as const satisfies readonly { id: ConnectionCriterion; field: keyof PlanSettings; label: string }[];

/** One kind of connection for the chosen clusters. */
export interface WayComparison {
  readonly method: ConnectionMethod;
  readonly consequences: readonly Consequence[];
  readonly excluded: readonly string[];
  readonly scores: Readonly<Record<ConnectionCriterion, number>>;
  readonly score: Figure;
  readonly proposal: ConnectionProposal;
}

/** The three kinds side by side. */
export interface MethodComparison {
  readonly ways: readonly WayComparison[];
  readonly winner: ConnectionMethod | undefined;
  readonly sensitivities: readonly Sensitivity<ConnectionCriterion, WayComparison>[];
}

/** What is asked for beside the clusters. */
export interface ConnectionNeeds {
  /** What the clusters exchange, in Mbit/s each; 0 where it is not known. */
  readonly plannedMbps: number;
  /** What one gateway or relay carries, in Mbit/s. */
  readonly gatewayMbps: number;
  /** Whether it has to carry more than TCP, such as UDP or pings. */
  readonly anyProtocol: boolean;
  /** Whether the other side has to see a caller’s own address. */
  readonly sourceKept: boolean;
}

const ways: readonly ConnectionMethod[] = ['tunnels', 'relays', 'flat'];

/** A window that operating systems grow to by themselves: 4 MiB. Common practice. */
const WINDOW = 4_194_304;
const SECONDS_PER_MONTH = 30 * 86_400;

/** Compares the three kinds for some clusters, in steps: each is proposed, tried, and drilled. */
export function* compareWays(
  plan: Plan,
  wish: Omit<ConnectionRequest, 'method'>,
  needs: ConnectionNeeds,
): Steps<MethodComparison> {
  const weights = Object.fromEntries(connectionCriteria.map(({ id, field }) => [id, plan.settings[field]])) as Record<
    ConnectionCriterion,
    number
  >;
  const tried: Tried[] = [];
  for (const method of ways) tried.push(yield* tryWay(plan, { ...wish, method }, needs));
  const dearest = Math.max(1, ...tried.map(({ cost }) => cost ?? 0));
  const compared = tried.map(({ method, consequences, excluded, scores, proposal, cost }): WayComparison => {
    const all = { ...scores, cost: cost === undefined ? 0.5 : 1 - cost / dearest };
    return {
      method,
      consequences,
      excluded,
      proposal,
      scores: all,
      score: scoreOf(
        connectionCriteria,
        all,
        weights,
        method,
        'scores of reach and effort are judgements, the others are computed',
      ),
    };
  });
  return {
    ways: compared,
    winner: winnerOf(connectionCriteria, compared, weights)?.method,
    sensitivities: connectionCriteria.map(({ id }) => sensitivityOf(connectionCriteria, compared, weights, id)),
  };
}

interface Tried {
  readonly method: ConnectionMethod;
  readonly consequences: readonly Consequence[];
  readonly excluded: readonly string[];
  readonly scores: Readonly<Record<Exclude<ConnectionCriterion, 'cost'>, number>>;
  readonly proposal: ConnectionProposal;
  readonly cost: number | undefined;
}

function* tryWay(before: Plan, wish: ConnectionRequest, needs: ConnectionNeeds): Steps<Tried> {
  const { method, clusterIds, gateways } = wish;
  yield { what: method, done: 0, of: 3 };
  const proposal = proposeConnection(before, wish);
  const plan = alone(asStanding(proposal.plan, proposal.connectionId), proposal.connectionId);
  const clusters = clusterIds.flatMap((id) => byId(plan.clusters, id) ?? []);
  const connection = byId(plan.connections, proposal.connectionId);
  yield { what: method, done: 1, of: 3 };
  const connected = new ConnectionState(plan, Forwarding.of(plan));
  const members = connected.membersOf(proposal.connectionId);
  const pairs =
    connection === undefined ? [] : orderedPairs(members).map(([from, to]) => connected.pair(connection, from, to));
  const passing = pairs.filter(({ verdict }) => verdict === 'pass');
  const clashes = clashesOfMembers(before, 'tunnels', asMembers(clusterIds));
  const unlike = method === 'relays' ? 0 : proposal.translated + proposal.moved.length;
  const room = passing.length === 0 ? 0 : Math.min(...passing.map((pair) => pair.room));
  const links = linkCount(members, connection);
  yield { what: method, done: 2, of: 3 };
  const drills = connection === undefined ? undefined : yield* worstDrills(plan, connected, proposal.connectionId);
  const carried = method === 'flat' ? undefined : carriedMbps(method, needs.gatewayMbps, gateways);
  const segment = segmentSize(room, clusters.every(({ family }) => family === 'ipv6') ? 6 : 4);
  const mtu = Math.min(...clusters.map(({ networkId }) => byId(plan.networks, networkId)?.mtu ?? 1500));
  const farthest = farthestOf(plan, clusters);
  const monthly = costOf(plan, clusters, wish, needs);
  const consequences: Consequence[] = [
    ...rangeFigures(method, proposal, clashes.length),
    meetFigure(connected, pairs),
    {
      label: 'Who dials',
      words: method === 'flat' ? 'no host: the networks forward' : dialWords(connected, connection, members),
      isGood: passing.length > 0,
    },
    publicWords(plan, proposal),
    { label: 'Largest packet', figure: method === 'relays' ? streamFigure(room) : roomFigure(passing) },
    { label: 'TCP segment', figure: segment },
    { label: 'Efficiency', figure: efficiency(mtu, segment.value) },
    throughputOf(carried, wish, needs),
    ...distanceFigures(farthest),
    ...effortFigures(wish, proposal, links, members.length),
    namesWords(method),
    ...callerWords(method, proposal),
    ...drillWords(plan, method, drills, passing.length > 0),
    costConsequence(monthly),
  ];
  return {
    method,
    consequences,
    excluded: [...excludedOf(method, proposal, needs, clusters, room), ...shortOf(carried, needs)],
    proposal,
    cost: typeof monthly === 'string' ? undefined : monthly.value,
    scores: {
      ranges: 1 - Math.min(1, unlike / Math.max(1, clusters.length)),
      reach: REACH[method] * (pairs.length === 0 ? 0 : passing.length / pairs.length),
      wire: wireOf(method, efficiency(mtu, segment.value).value),
      survival: survivalOf(drills?.map(({ drill }) => share(drill)) ?? [], passing.length > 0),
      effort: effortOf(wish, members.length, links.value + proposal.openings),
    },
  };
}

function throughputOf(
  carried: number | undefined,
  { method, gateways }: ConnectionRequest,
  needs: ConnectionNeeds,
): Consequence {
  return carried === undefined
    ? { label: 'Throughput', words: 'what the networks carry', isGood: true }
    : { label: 'Throughput', figure: carriedFigure(method, carried, gateways, needs) };
}

function costConsequence(monthly: Figure | string): Consequence {
  return typeof monthly === 'string'
    ? { label: 'Cost per month', words: monthly, isGood: false }
    : { label: 'Cost per month', figure: monthly };
}

/** From 85 % of useful bytes to all of them; what relays put on each side’s wire is a judgement. */
function wireOf(method: ConnectionMethod, efficientPercent: number): number {
  return method === 'relays' ? 0.7 : Math.min(1, Math.max(0, (efficientPercent - 85) / 15));
}

/** What each kind reaches of what pods ask for: relays take single services, tunnels everything between pods. A judgement. */
const REACH: Readonly<Record<ConnectionMethod, number>> = { tunnels: 0.9, relays: 0.4, flat: 1 };

/** The mean of what the worst drills leave; all or nothing where there is none. */
function survivalOf(left: readonly number[], isReached: boolean): number {
  if (left.length === 0) return isReached ? 1 : 0;
  return left.reduce((sum, each) => sum + each, 0) / left.length;
}

function effortOf({ method, gateways }: ConnectionRequest, members: number, pieces: number): number {
  return method === 'flat' ? 1 : Math.max(0, 1 - (members * gateways + pieces) / (20 + 10 * members));
}

/** Clusters as members that say nothing of themselves. */
function asMembers(clusterIds: readonly string[]) {
  return clusterIds.map((clusterId) => withFallbacks('members', { id: clusterId, clusterId }));
}

function distanceFigures(farthest: Figure | undefined): Consequence[] {
  return farthest === undefined
    ? [{ label: 'Latency floor', words: 'sites without coordinates', isGood: false }]
    : [
        { label: 'Latency floor', figure: farthest },
        { label: 'One TCP stream', figure: streamMbps(WINDOW, farthest.value) },
      ];
}

/** Whether what is planned is more than what carries it takes. */
function shortOf(carried: number | undefined, { plannedMbps }: ConnectionNeeds): string[] {
  return carried !== undefined && plannedMbps > carried
    ? [`${formatNumber(plannedMbps)} Mbit/s are planned, and what carries them takes ${formatNumber(carried)}.`]
    : [];
}

/** What becomes of ranges that overlap. */
function rangeFigures(way: ConnectionMethod, proposal: ConnectionProposal, clashes: number): Consequence[] {
  return [
    {
      label: 'Ranges that overlap',
      figure: countFigure(
        way === 'relays' ? 0 : clashes,
        'pairs',
        'Pairs of ranges that overlap',
        way === 'relays'
          ? 'Relays pass on services: ranges may overlap.'
          : 'Ranges of one of these clusters against those of every other.',
      ),
    },
    {
      label: 'Ranges to translate',
      figure: countFigure(
        proposal.translated,
        'ranges',
        'Ranges that others see translated',
        'Each range that overlaps, where moving is out of the question or dearer.',
      ),
    },
    {
      label: 'Ranges to move',
      figure: countFigure(
        proposal.moved.length,
        'ranges',
        'Ranges that move',
        'The fewest that leave no overlap, while none of them is pinned or of a built cluster.',
      ),
    },
  ];
}

/** What has to be built and opened. */
function effortFigures(
  { method, gateways }: ConnectionRequest,
  proposal: ConnectionProposal,
  links: Figure,
  members: number,
): Consequence[] {
  return [
    { label: 'Tunnels or links', figure: links },
    {
      label: 'Gateways to run',
      figure: countFigure(
        method === 'flat' ? 0 : members * gateways,
        'nodes',
        method === 'relays' ? 'Relays to run' : 'Gateway nodes to run',
        `${members} members × ${gateways}`,
      ),
    },
    {
      label: 'Openings to make',
      figure: countFigure(
        proposal.openings,
        'rules',
        'Rules that let it through',
        'Rules of filters and firewalls, each tried and kept where the way got further by it.',
      ),
    },
  ];
}

/** Whom the other side sees, and what passes. */
function callerWords(way: ConnectionMethod, proposal: ConnectionProposal): Consequence[] {
  return [
    {
      label: 'Caller seen',
      words:
        way === 'relays'
          ? 'as the relay'
          : proposal.translated > 0
            ? 'at its own or its translated address'
            : 'at its own address',
      isGood: way !== 'relays',
    },
    { label: 'Protocols', words: way === 'relays' ? 'TCP of single services' : 'all', isGood: way !== 'relays' },
  ];
}

/** Whose gateways need public addresses that are still to be decided. */
function publicWords({ clusters }: Plan, { undecided }: ConnectionProposal): Consequence {
  const names = undecided.slice(0, 3).map((id) => byId(clusters, id)?.name ?? '');
  const rest = undecided.length - names.length;
  return {
    label: 'Public addresses',
    words:
      names.length === 0
        ? 'none to decide'
        : `to decide: ${names.join(', ')}${rest > 0 ? ` and ${rest} ${rest === 1 ? 'other' : 'others'}` : ''}`,
    isGood: names.length === 0,
  };
}

/** The plan with no other connection, so that a kind is seen by itself. */
function alone(plan: Plan, connectionId: string): Plan {
  const members = plan.members.filter((member) => member.connectionId === connectionId);
  const ids = new Set(members.map(({ id }) => id));
  return {
    ...plan,
    members,
    connections: plan.connections.filter(({ id }) => id === connectionId),
    serviceExports: plan.serviceExports.filter(({ memberId }) => ids.has(memberId)),
  };
}

/** What is left of what was reached, 0 to 1; where nothing was, nothing is. */
function share({ reachedBefore, reachedAfter }: Drill): number {
  return reachedBefore === 0 ? 0 : reachedAfter / reachedBefore;
}

function excludedOf(
  way: ConnectionMethod,
  { problems }: ConnectionProposal,
  { anyProtocol, sourceKept }: ConnectionNeeds,
  clusters: readonly Cluster[],
  room: number,
): string[] {
  const floor = clusters.find(({ mtuFloor, podNeeds }) => podNeeds.includes('mtu floor') && mtuFloor > room);
  return [
    ...problems,
    ...(way === 'relays' && anyProtocol
      ? ['Relays pass on TCP of single services, and any protocol is asked for.']
      : []),
    ...(way === 'relays' && sourceKept ? ['Behind a relay every caller has the relay’s address.'] : []),
    ...(floor !== undefined && way !== 'relays' && room > 0
      ? [`${floor.name} needs packets of ${formatNumber(floor.mtuFloor)} bytes, and ${formatNumber(room)} pass whole.`]
      : []),
  ];
}

function orderedPairs(members: readonly Member[]): (readonly [Member, Member])[] {
  return members.flatMap((from) => members.flatMap((to) => (from === to ? [] : [[from, to] as const])));
}

function linkCount(members: readonly Member[], connection: Connection | undefined): Figure {
  const n = members.length;
  const isHub = connection?.shape === 'hub';
  const value = connection === undefined || connection.method === 'flat' ? 0 : isHub ? n - 1 : meshLinks(n);
  return figure(value, value === 1 ? 'link' : 'links', () => ({
    title: 'Tunnels or links between members',
    formula: isHub ? 'n − 1: each with the hub' : 'n × (n − 1) ÷ 2: each with each',
    inputs: [{ name: 'Members', value: String(n) }],
    steps: [
      connection?.method === 'flat'
        ? 'Flat members need none: their networks forward.'
        : isHub
          ? `${n} − 1 = ${value}`
          : `${n} × ${n - 1} ÷ 2 = ${value}`,
    ],
    result: `${formatNumber(value)} ${value === 1 ? 'link' : 'links'}`,
    source: { mark: 'S', text: 'edges of a complete graph' },
  }));
}

function countFigure(value: number, unit: string, title: string, how: string): Figure {
  return figure(value, value === 1 ? unit.replace(/s$/, '') : unit, () => ({
    title,
    formula: 'counted in this plan',
    inputs: [],
    steps: [how],
    result: `${formatNumber(value)} ${unit}`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

function meetFigure(connected: ConnectionState, pairs: readonly Pair[]): Consequence {
  const passing = pairs.filter(({ verdict }) => verdict === 'pass').length;
  const failing = pairs.filter(({ verdict }) => verdict !== 'pass');
  return {
    label: 'Ways that work',
    figure: figure(passing, `of ${pairs.length}`, () => ({
      title: 'Ways between two clusters that work, each direction by itself',
      formula: 'packets followed there and back by Trace',
      inputs: [{ name: 'Ways', value: String(pairs.length) }],
      steps:
        failing.length === 0 ? ['Every one passes.'] : failing.slice(0, 6).map((pair) => connected.description(pair)),
      result: `${passing} of ${pairs.length}`,
      source: { mark: 'S', text: 'the plan’s own tables, filters and devices; see the handbook on forwarding' },
    })),
  };
}

function dialWords(connected: ConnectionState, connection: Connection | undefined, members: readonly Member[]): string {
  if (connection === undefined) return '';
  const dialling = new Map<string, number>();
  let up = 0;
  for (const [at, one] of members.entries())
    for (const other of members.slice(at + 1)) {
      const dialler = connected.diallerOf(connection, one, other);
      if (dialler === undefined) continue;
      up++;
      const { name } = connected.clusterOf(dialler);
      dialling.set(name, (dialling.get(name) ?? 0) + 1);
    }
  if (up === 0) return 'no cluster reaches another';
  const [first] = [...dialling].sort((a, b) => b[1] - a[1]);
  return first !== undefined && first[1] === up
    ? `${first[0]} dials ${up === 1 ? 'the other' : `all ${up}`}`
    : `${formatCount(dialling.size, 'cluster')} ${dialling.size === 1 ? 'dials' : 'dial'}, ${formatCount(up, 'link')} ${up === 1 ? 'comes' : 'come'} up`;
}

function roomFigure(passing: readonly Pair[]): Figure {
  const narrowest = passing.reduce<Pair | undefined>(
    (best, each) => (best === undefined || each.room < best.room ? each : best),
    undefined,
  );
  const value = narrowest?.room ?? 0;
  return figure(value, 'bytes', () => ({
    title: 'Largest packet that passes whole',
    formula: 'the least over all ways: networks, links, tunnels, and the pod network to and from gateways',
    inputs: [{ name: 'Ways that work', value: String(passing.length) }],
    steps: [`the narrowest: ${formatNumber(value)} bytes`],
    result: `${formatNumber(value)} bytes`,
    source: { mark: 'S', text: 'RFC 4303, RFC 4106, RFC 3948, RFC 7348; WireGuard from memory of the protocol paper' },
  }));
}

/** Relays take bytes off one connection and put them on another: packets of their own, as large as each way takes. */
function streamFigure(room: number): Figure {
  return figure(room, 'bytes', () => ({
    title: 'Largest packet between relays',
    formula: 'the least over all links',
    inputs: [],
    steps: ['A relay ends the caller’s connection and opens its own, so each part has packets of its own size.'],
    result: `${formatNumber(room)} bytes`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

function carriedFigure(
  way: ConnectionMethod,
  value: number,
  gateways: number,
  { gatewayMbps, plannedMbps }: ConnectionNeeds,
): Figure {
  const count = way === 'relays' ? gateways : 1;
  return figure(value, 'Mbit/s', () => ({
    title: 'What gateways or relays of a member carry',
    formula: 'throughput of one × those that carry at once',
    inputs: [
      { name: 'One carries', value: `${formatNumber(gatewayMbps)} Mbit/s` },
      { name: 'Carrying at once', value: way === 'relays' ? String(count) : '1: the others are on standby' },
      { name: 'Planned', value: plannedMbps === 0 ? 'not said' : `${formatNumber(plannedMbps)} Mbit/s` },
    ],
    steps: [`${formatNumber(gatewayMbps)} × ${count} = ${formatNumber(value)} Mbit/s`],
    result: `${formatNumber(value)} Mbit/s`,
    source: { mark: 'C', text: 'Common practice; the throughput is the plan’s own' },
  }));
}

function farthestOf(plan: Plan, clusters: readonly Cluster[]): Figure | undefined {
  let worst: Figure | undefined;
  const places = clusters.map((cluster) => ({ name: cluster.name, at: pointOf(byId(plan.sites, cluster.siteId)) }));
  for (const [i, one] of places.entries())
    for (const other of places.slice(i + 1)) {
      if (one.at === undefined || other.at === undefined) return undefined;
      const floor = latencyFloor({ name: one.name, at: one.at }, { name: other.name, at: other.at });
      if (worst === undefined || floor.value > worst.value) worst = floor;
    }
  return worst;
}

function namesWords(way: ConnectionMethod): Consequence {
  const words =
    way === 'relays'
      ? 'services that are exported, at an address of the caller’s own cluster'
      : way === 'tunnels'
        ? 'clusterset.local: services at their own address, pods by host name'
        : 'clusterset.local: pods by address and host name';
  return { label: 'Names', words, isGood: true };
}

/** The worst of each kind of fault. */
function* worstDrills(
  plan: Plan,
  connected: ConnectionState,
  connectionId: string,
): Steps<{ readonly fault: Fault; readonly drill: Drill }[]> {
  const base = { parts: plan, connected, matrix: SetMatrix.of(plan, connected) };
  const worst = new Map<Fault['kind'], { fault: Fault; drill: Drill }>();
  const siteIds = new Set(connected.membersOf(connectionId).map((member) => connected.clusterOf(member).siteId));
  const faults = faultsOf(plan, connected).filter(
    (each) => each.kind === 'gateway' || each.kind === 'link' || (each.kind === 'zone' && siteIds.has(each.siteId)),
  );
  for (const [done, fault] of faults.entries()) {
    yield { what: formatFault(plan, fault), done, of: faults.length };
    const drill = runDrill(base, [fault]);
    const known = worst.get(fault.kind);
    if (
      known === undefined ||
      drill.reachedAfter < known.drill.reachedAfter ||
      (drill.reachedAfter === known.drill.reachedAfter && drill.changes.length > known.drill.changes.length)
    )
      worst.set(fault.kind, { fault, drill });
  }
  return [...worst.values()];
}

const failing: readonly { readonly kind: Fault['kind']; readonly label: string }[] = [
  { kind: 'gateway', label: 'A gateway fails' },
  { kind: 'zone', label: 'A zone fails' },
  { kind: 'link', label: 'A link fails' },
];

function drillWords(
  plan: Plan,
  way: ConnectionMethod,
  drills: readonly { readonly fault: Fault; readonly drill: Drill }[] | undefined,
  works: boolean,
): Consequence[] {
  return failing.map(({ kind, label }): Consequence => {
    const found = drills?.find(({ fault }) => fault.kind === kind);
    if (found === undefined)
      return {
        label,
        words: kind === 'gateway' && way === 'flat' ? 'there is none' : 'nothing of the kind',
        isGood: true,
      };
    // What each member does by itself goes on; of the connection there is nothing to lose.
    if (!works) return { label, words: 'no way works as it is', isGood: false };
    const { reachedBefore, reachedAfter, changes } = found.drill;
    if (reachedBefore === 0) return { label, words: 'nothing is exported yet', isGood: true };
    const seconds = Math.max(0, ...changes.map((each) => each.seconds ?? 0));
    const lost = reachedBefore - reachedAfter;
    const wait = seconds === 0 ? '' : `, back after ${seconds} s`;
    return {
      label,
      words: `${formatFault(plan, found.fault)}: ${lost === 0 ? `all ${reachedBefore} uses go on${wait}` : `${lost} of ${reachedBefore} uses are lost`}`,
      isGood: lost === 0,
    };
  });
}

/** What joining costs a month, or which price is missing: machines for gateways, balancers in front of relays, and what leaves each site. */
function costOf(
  plan: Plan,
  clusters: readonly Cluster[],
  { method, gateways }: ConnectionRequest,
  { plannedMbps }: ConnectionNeeds,
): Figure | string {
  const gb = (plannedMbps * SECONDS_PER_MONTH) / 8000;
  const lines: { readonly name: string; readonly amount: number }[] = [];
  for (const cluster of clusters) {
    const profile = byId(plan.profiles, byId(plan.sites, cluster.siteId)?.profileId ?? '');
    const shape = byId(plan.shapes, cluster.shapeId ?? '');
    const isAlone = clusters.every(({ siteId }) => siteId === cluster.siteId);
    const perGb = isAlone ? profile?.priceZoneGb : profile?.priceEgressGb;
    if (method !== 'flat') {
      const what = method === 'relays' ? 'relays' : 'gateways';
      if (shape?.price == null)
        return shape === undefined ? `no machine shape of ${cluster.name} is decided` : `${shape.name} has no price`;
      lines.push({ name: `${cluster.name}: ${gateways} ${what} of ${shape.name}`, amount: gateways * shape.price });
    }
    // What has no price is not free.
    if (method === 'relays') {
      if (profile?.priceBalancer == null) return `a load balancer of ${profile?.name ?? 'its provider'} has no price`;
      lines.push({ name: `${cluster.name}: a load balancer before its relays`, amount: profile.priceBalancer });
    }
    if (gb > 0 && perGb == null) return `traffic out of ${profile?.name ?? 'its provider'} has no price`;
    if (gb > 0 && perGb != null)
      lines.push({ name: `${cluster.name}: ${formatNumber(Math.round(gb / 2))} GB out`, amount: (gb / 2) * perGb });
  }
  const value = Math.round(100 * lines.reduce((sum, { amount }) => sum + amount, 0)) / 100;
  const { currency } = plan.settings;
  return figure(value, currency === '' ? 'per month' : currency, () => ({
    title: 'Cost of joining per month',
    formula:
      'gateways or relays × price of their shape, load balancers before relays, half of the planned traffic out of each site',
    inputs: [
      {
        name: 'Planned traffic',
        value:
          plannedMbps === 0
            ? 'not said: no traffic is counted'
            : `${formatNumber(plannedMbps)} Mbit/s on average, ${formatNumber(Math.round(gb))} GB in 30 days`,
      },
    ],
    steps: lines.map(({ name, amount }) => `${name}: ${formatMoney(amount, currency)}`),
    result: `${formatMoney(value, currency)} per month`,
    source: { mark: 'C', text: 'Common practice; prices are the profile’s and the shapes’' },
  }));
}
