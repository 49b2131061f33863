import type { Sizing } from '../sizing/index.js';
import { labelsOf } from '../zones/index.js';
import { grouped } from '../plan/index.js';
import type { Cluster, Workload } from '../plan/index.js';
import type { NameState } from './nameState.js';
import { resolve } from './resolve.js';

/** Seconds for which a per-node cache keeps an answer at most, and that a name does not exist: common practice. */
const POSITIVE_SECONDS = 30;
const NEGATIVE_SECONDS = 5;

/** What is tried to lower the load. */
export type Saving = 'as it is' | 'final dots' | 'ndots 2' | 'per-node cache';

/** The queries of one name that a workload asks for. */
interface AskedName {
  readonly workload: Workload;
  readonly name: string;
  /** Look-ups per second of all its pods, after the cache of its runtime. */
  readonly lookUps: number;
  /** Queries that one look-up sends. */
  readonly queries: number;
  readonly found: string;
}

/** Queries per second at a cluster’s DNS. */
export interface QueryLoad {
  readonly cluster: Cluster;
  readonly names: readonly AskedName[];
  readonly cases: readonly { readonly saving: Saving; readonly perSecond: number }[];
  /** Pods of its DNS that its size asks for, and those that are planned. */
  readonly replicas: number;
  readonly planned: number;
}

/** The size of a cluster, as its DNS is sized by. */
export interface ClusterSize {
  readonly nodes: number;
  readonly cores: number;
}

/** Replicas by size: one for each 256 cores and for each 16 nodes, at least two. Common practice. */
export function dnsReplicas({ nodes, cores }: ClusterSize): number {
  return Math.max(2, Math.ceil(cores / 256), Math.ceil(nodes / 16));
}

/** The size of a cluster with the nodes that run now; nodes without a machine shape count no cores. */
export function sizeNow({ groups }: Pick<Sizing, 'groups'>): ClusterSize {
  return {
    nodes: groups.reduce((sum, { now }) => sum + now, 0),
    cores: groups.reduce((sum, { now, shape }) => sum + now * (shape?.vcpus ?? 0), 0),
  };
}

/** Pods of its DNS that a cluster runs: as many as it says, else by its size. */
export function plannedReplicas({ dnsReplicas: decided }: Pick<Cluster, 'dnsReplicas'>, size: ClusterSize): number {
  return decided ?? dnsReplicas(size);
}

/**
 * Look-ups per second of one name after the cache of a runtime: each answer serves until it ends, and the next look-up asks anew, so a rate
 * r with a time t comes to r / (1 + r t). By derivation, for look-ups at random times.
 */
export function afterMemory(rate: number, seconds: number): number {
  return seconds === Infinity ? 0 : rate / (1 + rate * seconds);
}

/** The queries that the workloads of a cluster send to its DNS, and what each saving leaves of them. */
export function queryLoad(state: NameState, cluster: Cluster, size: ClusterSize): QueryLoad {
  const workloads = (grouped(state.parts.workloads, 'clusterId').get(cluster.id) ?? []).filter(
    ({ callsTo, lookUps, replicasNow }) => callsTo.length > 0 && lookUps > 0 && replicasNow > 0,
  );
  const count = (of: Cluster, withDots: boolean) =>
    workloads.flatMap((workload) => askedBy(state, of, workload, withDots));
  const names = count(cluster, false);
  const sum = (all: readonly AskedName[]) => all.reduce((total, each) => total + each.lookUps * each.queries, 0);
  const cachedOf = (all: readonly AskedName[]) => all.reduce((total, each) => total + missed(each, size.nodes), 0);
  // What is saved is saved of what the cluster has: behind the caches of its nodes where it has them.
  const perSecond = cluster.hasNodeCache ? cachedOf : sum;
  return {
    cluster,
    names,
    cases: [
      { saving: 'as it is', perSecond: perSecond(names) },
      { saving: 'final dots', perSecond: perSecond(count(cluster, true)) },
      { saving: 'ndots 2', perSecond: perSecond(count({ ...cluster, ndots: 2 }, false)) },
      { saving: 'per-node cache', perSecond: cachedOf(names) },
    ],
    replicas: dnsReplicas(size),
    planned: plannedReplicas(cluster, size),
  };
}

function askedBy(state: NameState, cluster: Cluster, workload: Workload, withDots: boolean): AskedName[] {
  const perPod = workload.lookUps / workload.callsTo.length;
  return workload.callsTo.map((name): AskedName => {
    // Only a name that is meant as it stands takes a final dot: one dot or none is a service of the cluster.
    const asked = withDots && labelsOf(name).length > 2 && !name.endsWith('.') ? `${name}.` : name;
    const asker = {
      label: cluster.name,
      networkId: cluster.networkId,
      host: state.machineOf(cluster),
      pod: { cluster, namespace: workload.namespace },
    };
    const { sent, ttl, outcome, name: found } = resolve(state, asker, asked, 'A');
    const seconds = { none: 0, '30 s': 30, TTL: ttl, 'until restart': Infinity }[workload.dnsCache];
    return {
      workload,
      name: asked,
      lookUps: afterMemory(perPod, seconds) * workload.replicasNow,
      queries: sent,
      found: outcome === 'answer' ? found : outcome,
    };
  });
}

/** Queries per second that caches on the nodes leave of one name: each of its questions is kept by itself. */
function missed({ lookUps, queries, workload }: AskedName, nodes: number): number {
  const on = Math.max(1, Math.min(nodes, workload.replicasNow));
  const perNode = lookUps / on;
  // The last pair answers; those before say that there is no such name.
  const negative = Math.max(0, queries - 2);
  return (
    on *
    (negative * afterMemory(perNode, NEGATIVE_SECONDS) + Math.min(2, queries) * afterMemory(perNode, POSITIVE_SECONDS))
  );
}
