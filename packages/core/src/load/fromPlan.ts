import { podsFor } from '../plan/index.js';
import type { AnsweredBy } from '../request/index.js';
import type { LoadMember } from './scenario.js';

/** A workload that answers requests, as the load takes it. */
export interface LoadGroup {
  readonly name: string;
  /** The cluster that it is in, and its place in the order in which clusters take over. */
  readonly cluster: string;
  readonly rank: number;
  readonly replicas: number;
  /** Share of the requests, 0 to 1. */
  readonly share: number;
  readonly serviceMs: number;
  /** Whether the service time is a usual one, since the plan states none. */
  readonly isAssumed: boolean;
  readonly concurrency: number;
}

/** What a call takes where the plan does not say: a usual time of small web services (common practice). */
export const USUAL_SERVICE_MS = 50;

/** Requests that may wait at a pod. Common practice: listen queues of 128 to 511 calls. */
export const USUAL_QUEUE = 128;

/** The workloads that answer a request, from its answer; the same one behind several services counts once. Those that take over stand by. */
export function groupsOf(members: readonly AnsweredBy[], standby: readonly AnsweredBy[] = []): LoadGroup[] {
  const all = [...members, ...standby];
  const shares = new Map<string, { readonly member: AnsweredBy; share: number }>();
  for (const member of all) {
    const known = shares.get(member.workload.id) ?? { member, share: 0 };
    known.share += member.share;
    shares.set(member.workload.id, known);
  }
  const areMany = new Set(all.map(({ cluster }) => cluster)).size > 1;
  return [...shares.values()].map(({ member: { service, workload, cluster, rank }, share }) => ({
    name: `${areMany ? `${cluster}: ` : ''}${workload.namespace}/${workload.name}`,
    cluster,
    rank,
    replicas: podsFor(service, workload),
    share,
    serviceMs: workload.serviceMs ?? USUAL_SERVICE_MS,
    isAssumed: workload.serviceMs === null,
    concurrency: workload.concurrency,
  }));
}

/** The pods of the workloads, spread over the zones of their cluster in turn; each weighs its part of its workload's share. */
export function membersOf(
  groups: readonly LoadGroup[],
  zones: readonly string[] | ((cluster: string) => readonly string[]),
  nodes: number | ((cluster: string) => number) = 0,
  queue = USUAL_QUEUE,
): LoadMember[] {
  const weights = new Map<string, number>();
  for (const { cluster, share } of groups) weights.set(cluster, (weights.get(cluster) ?? 0) + share);
  const areMany = weights.size > 1;
  const zonesOf = typeof zones === 'function' ? zones : () => zones;
  return groups.flatMap(({ name, cluster, rank, replicas, share, serviceMs, concurrency }) => {
    const own = zonesOf(cluster);
    const inZones = Math.max(1, own.length);
    // Evenly over the nodes of each zone, as the scheduler spreads them where nothing else is said (common practice).
    const perZone = Math.max(1, Math.floor((typeof nodes === 'number' ? nodes : nodes(cluster)) / inZones));
    const nodeOf = (i: number) =>
      `${areMany ? `${cluster} ` : ''}${own[i % inZones] ?? ''} ${Math.floor(i / inZones) % perZone}`;
    return Array.from({ length: replicas }, (_, i) => ({
      name: `${name} ${i + 1}`,
      group: name,
      zone: own[i % inZones] ?? '',
      node: nodeOf(i),
      ...(areMany ? { cluster, rank, clusterWeight: weights.get(cluster) ?? 1 } : {}),
      weight: replicas === 0 ? 0 : (share * 1000) / replicas,
      serviceMs,
      concurrency,
      queue,
    }));
  });
}
