import { addTo, byId, grouped } from '../plan/index.js';
import type { NodePool, Plan, Workload } from '../plan/index.js';
import { withSurge } from '../sizing/index.js';
import type { NodeGroup, Sizing } from '../sizing/index.js';

/** What a cluster's nodes are tried against. */
export type PlacementCase = 'now' | 'horizon' | 'zone lost' | 'upgrade';

/** Why pods find no room. */
export type NoRoom = 'no such node' | 'zone' | 'pods per node' | 'CPU' | 'memory';

/** How many pods of a workload find room in one case. */
export interface Placed {
  readonly workload: Workload;
  readonly wanted: number;
  readonly placed: number;
  /** What stands in the way of the first pod without room; undefined when all have room. */
  readonly lacks: NoRoom | undefined;
}

/** The workloads of a cluster on its nodes, in one case. */
export interface Placement {
  readonly case: PlacementCase;
  /** The zone that is lost, of several the worst one. */
  readonly zone: string;
  readonly workloads: readonly Placed[];
  readonly nodes: number;
  /** What all pods that have room ask for, and what the nodes have; CPU in m, memory in MiB. Nodes without a machine shape count for none. */
  readonly asked: Amounts;
  readonly held: Amounts;
}

interface Amounts {
  readonly cpu: number;
  readonly memory: number;
  readonly pods: number;
}

interface Node {
  readonly group: NodeGroup;
  readonly pool: NodePool | undefined;
  readonly zone: string;
  cpu: number;
  memory: number;
  pods: number;
}

/**
 * Whether a cluster's workloads find room on its nodes: today, at the horizon, with any one zone lost, and while an upgrade drains a
 * node. Pods are put one workload after the other on the first node with room, those that ask for most first: common practice for
 * packing (first fit decreasing). What the system keeps of a node for itself is not taken off.
 */
export function placements(
  sizing: Sizing,
  workloads: readonly Workload[],
  nodePools: readonly NodePool[],
): Placement[] {
  const room = new Room(sizing, workloads, nodePools);
  const inCase = (which: PlacementCase, tried: Omit<Placement, 'case'>): Placement => ({ case: which, ...tried });
  const lost = unlikeZones(sizing.groups).map((zone) => inCase('zone lost', room.tried(nowOf, replicasOf, zone)));
  const worst = lost.reduce<Placement | undefined>(
    (last, each) => (last === undefined || missing(each) > missing(last) ? each : last),
    undefined,
  );
  return [
    inCase('now', room.tried(nowOf, replicasOf)),
    inCase(
      'horizon',
      room.tried(
        ({ horizon }) => horizon,
        ({ replicasHorizon }) => replicasHorizon,
      ),
    ),
    ...(worst === undefined ? [] : [worst]),
    inCase(
      'upgrade',
      room.tried(({ now, surge }) => Math.max(0, withSurge(now, surge) - 1), replicasOf),
    ),
  ];
}

/** The same once every node pool that has a least number of nodes is scaled in to it; undefined where none is above its own. */
export function scaledIn(
  sizing: Sizing,
  workloads: readonly Workload[],
  nodePools: readonly NodePool[],
): Omit<Placement, 'case'> | undefined {
  const leastOf = ({ poolId, now }: NodeGroup) => {
    const least = byId(nodePools, poolId ?? '')?.nodesMin ?? 0;
    return least > 0 ? Math.min(now, least) : now;
  };
  return sizing.groups.some((group) => leastOf(group) < group.now)
    ? new Room(sizing, workloads, nodePools).tried(leastOf, replicasOf)
    : undefined;
}

const nowOf = ({ now }: NodeGroup) => now;
const replicasOf = ({ replicasNow }: Workload) => replicasNow;

/** A cluster's workloads in the order in which they are put on its nodes. */
class Room {
  private readonly groups: readonly { readonly group: NodeGroup; readonly pool: NodePool | undefined }[];
  private readonly inOrder: readonly Workload[];

  constructor(
    sizing: Sizing,
    private readonly workloads: readonly Workload[],
    nodePools: readonly NodePool[],
  ) {
    this.groups = sizing.groups.map((group) => ({ group, pool: byId(nodePools, group.poolId ?? '') }));
    this.inOrder = [...workloads].sort(
      (a, b) => Number(isBound(b)) - Number(isBound(a)) || b.cpuMillis - a.cpuMillis || b.memoryMib - a.memoryMib,
    );
  }

  /** Without the nodes of a zone where one is named. */
  tried(
    nodesOf: (group: NodeGroup) => number,
    podsOf: (workload: Workload) => number,
    zone = '',
  ): Omit<Placement, 'case'> {
    const all = this.groups.flatMap(({ group, pool }) => nodesIn(group, pool, nodesOf(group)));
    const nodes = zone === '' ? all : all.filter((node) => node.zone !== zone);
    const groups = new Map(nodes.map(({ group, pool }) => [group, pool]));
    let byZone: readonly (readonly Node[])[] | undefined;
    const held = sumOf(nodes);
    const results = new Map(
      this.inOrder.map((workload) => {
        const fitting = fittingOf(workload, nodes, groups);
        const zones = () => (fitting === nodes ? (byZone ??= zonesOf(nodes)) : zonesOf(fitting));
        return [workload, place(workload, podsOf(workload), fitting, zones)];
      }),
    );
    const workloads = this.workloads.flatMap((workload) => results.get(workload) ?? []);
    const asked = sumOf(
      workloads.map(({ workload: { cpuMillis, memoryMib }, placed: n }) => ({
        cpu: n * cpuMillis,
        memory: n * memoryMib,
        pods: n,
      })),
    );
    return { zone, workloads, nodes: nodes.length, asked, held };
  }
}

/**
 * Whether every pod surely finds room in all four cases, without putting any on a node; false says nothing. First fit leaves a
 * pod out only where no node of its zone has room: then each of these is used up, in CPU, memory or pods, but for less than the
 * largest pod asks. So where all that may come to one zone, measured in nodes that are used up so, is less than it has, no pod is
 * left out. Derived by hand; tried for nodes of one kind, which most clusters have.
 */
export function fitsSurely(
  { groups, zones }: Pick<Sizing, 'groups' | 'zones'>,
  workloads: readonly Workload[],
  nodePools: readonly NodePool[],
): boolean {
  const [group, second] = groups;
  if (group === undefined || second !== undefined) return false;
  const pool = byId(nodePools, group.poolId ?? '');
  if (!workloads.every((workload) => mayRunOn(workload, group.poolId, pool))) return false;
  const { now, horizon, surge } = group;
  const parts = Math.max(1, group.zones.length);
  const fits = (nodes: number, lost: number, isNow: boolean) => {
    // Nodes are given to the zones in turn, so that none has fewer than this.
    const left = Math.min(nodes, parts) - lost;
    return left > 0 && hasSpare(group, Math.max(1, Math.floor(nodes / parts)), left, workloads, isNow);
  };
  // A cluster in one zone goes with it.
  const isInOne = zones.length < 2 && Math.min(now, parts) < 2;
  return (
    fits(now, 0, true) &&
    fits(horizon, 0, false) &&
    (isInOne || fits(now, 1, true)) &&
    fits(Math.max(0, withSurge(now, surge) - 1), 0, true)
  );
}

/** Whether the nodes of one zone have more than everything that may come to it, of `zones` that pods are spread over. */
function hasSpare(
  { shape, podsPerNode }: NodeGroup,
  nodes: number,
  zones: number,
  workloads: readonly Workload[],
  isNow: boolean,
): boolean {
  let [cpu, memory, pods, largestCpu, largestMemory] = [0, 0, 0, 0, 0];
  for (const { spread, replicasNow, replicasHorizon, cpuMillis, memoryMib } of workloads) {
    const wanted = isNow ? replicasNow : replicasHorizon;
    const here = spread === 'zones' ? Math.ceil(wanted / zones) : wanted;
    cpu += here * cpuMillis;
    memory += here * memoryMib;
    pods += here;
    largestCpu = Math.max(largestCpu, cpuMillis);
    largestMemory = Math.max(largestMemory, memoryMib);
  }
  const byCpu = (shape?.vcpus ?? Infinity) * 1000 - largestCpu;
  const byMemory = (shape?.memoryGib ?? Infinity) * 1024 - largestMemory;
  if (byCpu <= 0 || byMemory <= 0 || podsPerNode <= 0) return false;
  return cpu / byCpu + memory / byMemory + pods / podsPerNode < nodes;
}

/** Zones of today's nodes; of those whose loss leaves the same nodes in the same order the first: without either the same pods find room. */
function unlikeZones(groups: readonly NodeGroup[]): string[] {
  const counts = groups.map((group) => nodesByZone(group));
  const zones = [...new Set(counts.flatMap((own) => [...own.keys()]))];
  if (zones.length < 2) return zones;
  // Pods that are spread fill the zones in this order, and the first of them take what does not divide.
  const inOrder = [...zones].sort();
  const first = new Map<string, string>();
  for (const lost of zones) {
    const ranks = new Map(inOrder.filter((zone) => zone !== lost).map((zone, at) => [zone, at]));
    const left = counts.map((own) =>
      [...own].flatMap(([zone, count]) => (zone === lost ? [] : [`${ranks.get(zone) ?? 0}x${count}`])).join(),
    );
    const key = left.join(';');
    if (!first.has(key)) first.set(key, lost);
  }
  return [...first.values()];
}

/** How many nodes of a group stand in each of its zones today: they are given to the zones in turn. */
function nodesByZone({ now, zones }: NodeGroup): ReadonlyMap<string, number> {
  const all = zones.length === 0 ? [''] : zones;
  const counts = new Map<string, number>();
  for (const [at, zone] of all.entries()) {
    const count = Math.floor(now / all.length) + (at < now % all.length ? 1 : 0);
    if (count > 0) counts.set(zone, (counts.get(zone) ?? 0) + count);
  }
  return counts;
}

/** Pods without room in a case. */
export function missing({ workloads }: Pick<Placement, 'workloads'>): number {
  return workloads.reduce((sum, each) => sum + each.wanted - each.placed, 0);
}

function nodesIn(group: NodeGroup, pool: NodePool | undefined, count: number): Node[] {
  const zones = group.zones.length === 0 ? [''] : group.zones;
  return Array.from({ length: count }, (_, n) => ({
    group,
    pool,
    zone: zones[n % zones.length] ?? '',
    cpu: (group.shape?.vcpus ?? Infinity) * 1000,
    memory: (group.shape?.memoryGib ?? Infinity) * 1024,
    pods: group.podsPerNode,
  }));
}

/** Pods of a DaemonSet: one on each node that may run it, today and at the horizon. Source: Kubernetes API, DaemonSet v1. */
export function daemonPods(
  { clusters, nodePools }: Pick<Plan, 'clusters' | 'nodePools'>,
  workload: Pick<Workload, 'clusterId' | 'nodePoolId' | 'nodeLabels'>,
): { readonly replicasNow: number; readonly replicasHorizon: number } {
  const cluster = byId(clusters, workload.clusterId);
  const pools = grouped(nodePools, 'clusterId').get(workload.clusterId) ?? [];
  const groups = [
    ...(cluster !== undefined && mayRunOn(workload, null, undefined) ? [cluster] : []),
    ...pools.filter((pool) => mayRunOn(workload, pool.id, pool)),
  ];
  const sum = (field: 'nodesNow' | 'nodesHorizon') => groups.reduce((all, each) => all + each[field], 0);
  return { replicasNow: sum('nodesNow'), replicasHorizon: sum('nodesHorizon') };
}

/** Those that run on some nodes only have their choice first. */
function isBound({ nodePoolId, nodeLabels }: Workload): boolean {
  return nodePoolId !== null || nodeLabels.length > 0;
}

/** Puts the pods of a workload on nodes that may run them; `zonesOfThem` gives these by their zones, in the order of their names. */
function place(
  workload: Workload,
  wanted: number,
  fitting: readonly Node[],
  zonesOfThem: () => readonly (readonly Node[])[],
): Placed {
  const zones = workload.spread === 'zones' ? zonesOfThem() : [];
  const parts = zones.length === 0 ? [fitting] : zones;
  let done = 0;
  const short: (readonly Node[])[] = [];
  for (const [at, own] of parts.entries()) {
    const share = Math.floor(wanted / parts.length) + (at < wanted % parts.length ? 1 : 0);
    let left = share;
    for (const node of own) {
      if (left === 0) break;
      const room = Math.min(left, roomOn(node, workload));
      node.cpu -= room * workload.cpuMillis;
      node.memory -= room * workload.memoryMib;
      node.pods -= room;
      left -= room;
    }
    done += share - left;
    if (left > 0) short.push(own);
  }
  const [first] = short;
  return { workload, wanted, placed: done, lacks: first === undefined ? undefined : lackOf(workload, first, fitting) };
}

/** The nodes that a workload may run on: those of one group are alike. */
function fittingOf(
  workload: Workload,
  nodes: readonly Node[],
  groups: ReadonlyMap<NodeGroup, NodePool | undefined>,
): readonly Node[] {
  const closed: NodeGroup[] = [];
  for (const [group, pool] of groups) if (!mayRunOn(workload, group.poolId, pool)) closed.push(group);
  return closed.length === 0 ? nodes : nodes.filter(({ group }) => !closed.includes(group));
}

/** Nodes by their zones, in the order of these; a plain loop, since it runs for each workload in each case. */
function zonesOf(nodes: readonly Node[]): readonly (readonly Node[])[] {
  const byZone = new Map<string, Node[]>();
  for (const node of nodes) {
    addTo(byZone, node.zone, node);
  }
  return [...byZone.keys()].sort().map((zone) => byZone.get(zone) ?? []);
}

/** Nodes of the pool and with the labels that it asks for; nodes with taints run only what asks for them. */
export function mayRunOn(
  { nodePoolId, nodeLabels }: Pick<Workload, 'nodePoolId' | 'nodeLabels'>,
  poolId: string | null,
  pool: NodePool | undefined,
): boolean {
  if (nodePoolId !== null && poolId !== nodePoolId) return false;
  if (!nodeLabels.every((label) => pool?.labels.includes(label) === true)) return false;
  const isKeptOff = (pool?.taints ?? []).some((taint) => !taint.endsWith(':PreferNoSchedule'));
  return !isKeptOff || nodePoolId !== null || nodeLabels.length > 0;
}

function roomOn({ cpu, memory, pods }: Node, { cpuMillis, memoryMib }: Workload): number {
  const byCpu = cpuMillis === 0 ? Infinity : Math.floor(cpu / cpuMillis);
  const byMemory = memoryMib === 0 ? Infinity : Math.floor(memory / memoryMib);
  return Math.max(0, Math.min(byCpu, byMemory, pods));
}

function lackOf(workload: Workload, own: readonly Node[], fitting: readonly Node[]): NoRoom {
  if (fitting.length === 0) return 'no such node';
  if (fitting.some((node) => !own.includes(node) && roomOn(node, workload) > 0)) return 'zone';
  if (own.every(({ pods }) => pods === 0)) return 'pods per node';
  return own.every(({ pods, cpu }) => pods === 0 || cpu < workload.cpuMillis) ? 'CPU' : 'memory';
}

function sumOf(list: readonly Amounts[]): Amounts {
  const sum = { cpu: 0, memory: 0, pods: 0 };
  for (const { cpu, memory, pods } of list) {
    sum.cpu += Number.isFinite(cpu) ? cpu : 0;
    sum.memory += Number.isFinite(memory) ? memory : 0;
    sum.pods += pods;
  }
  return sum;
}

/** Pods a node that the workloads of a cluster come to at the horizon, spread evenly over its nodes, rounded up; undefined without nodes or workloads. */
export function podsPerNodeOf({ groups }: Sizing, workloads: readonly Workload[]): number | undefined {
  const nodes = groups.reduce((sum, { horizon }) => sum + horizon, 0);
  const pods = workloads.reduce((sum, { replicasHorizon }) => sum + replicasHorizon, 0);
  return nodes === 0 || pods === 0 ? undefined : Math.ceil(pods / nodes);
}
