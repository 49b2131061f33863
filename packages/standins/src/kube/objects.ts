import type { Evaluation } from '@wide-lattice/core/evaluation';
import { manifestObjects } from '@wide-lattice/core/manifests';
import { mayRunOn } from '@wide-lattice/core/ingress';
import { byId, grouped, labelMap } from '@wide-lattice/core/plan';
import type { NodePool, Workload } from '@wide-lattice/core/plan';
import { plannedNodes } from '@wide-lattice/core/rehearsal';
import { podName } from '../entry/pods.js';
import type { KubeObject } from './resources.js';

/** A node with the pool that it is of; null for the main ones. */
interface Node {
  readonly name: string;
  readonly poolId: string | null;
  readonly pool: NodePool | undefined;
  readonly zone: string;
}

/** Labels that nodes have. Source: the Kubernetes API’s well-known labels (from memory). */
const HOST_LABEL = 'kubernetes.io/hostname';
const ZONE_LABEL = 'topology.kubernetes.io/zone';

/**
 * Everything a cluster of the plan holds: what its manifests hold, with their state, its namespaces, the nodes that run today and a pod for
 * each that its workloads have. Addresses of single nodes and pods are not among them: the plan decides ranges.
 */
export function objectsOf(evaluation: Evaluation, clusterId: string, createdAt: string): KubeObject[] {
  const { plan } = evaluation;
  const nodes = nodesOf(evaluation, clusterId);
  const workloads = new Map(
    (grouped(plan.workloads, 'clusterId').get(clusterId) ?? []).map((each) => [
      `${each.objectKind} ${each.namespace}/${each.name}`,
      each,
    ]),
  );
  const written = (manifestObjects(plan, clusterId) as readonly KubeObject[]).flatMap((object): KubeObject[] => {
    const { kind, metadata } = object;
    const workload = workloads.get(`${kind} ${metadata.namespace ?? ''}/${metadata.name}`);
    if (workload === undefined) return [object];
    return [{ ...object, status: statusOf(workload) }, ...podsOf(workload, object, nodes, createdAt)];
  });
  const named = new Set(written.filter(({ kind }) => kind === 'Namespace').map(({ metadata }) => metadata.name));
  const namespaces = [
    ...new Set(['default', 'kube-system', ...written.flatMap(({ metadata }) => metadata.namespace ?? [])]),
  ].filter((name) => !named.has(name));
  return [
    ...namespaces.map((name): KubeObject => ({ apiVersion: 'v1', kind: 'Namespace', metadata: { name } })),
    ...nodes.map((node) => nodeObject(node, createdAt)),
    ...written,
  ].map((object) =>
    object.kind === 'Namespace'
      ? { ...object, spec: { finalizers: ['kubernetes'] }, status: { phase: 'Active' } }
      : object,
  );
}

function nodesOf(evaluation: Evaluation, clusterId: string): Node[] {
  const result = evaluation.clusterOf(clusterId);
  if (result === undefined) return [];
  const clean = result.cluster.name.toLowerCase().replaceAll(/[^a-z0-9-]+/g, '-');
  return plannedNodes(result, 'today').map(({ number, poolId, zone }) => ({
    name: `${clean}-${number}`,
    poolId,
    pool: byId(evaluation.plan.nodePools, poolId ?? ''),
    zone,
  }));
}

function nodeObject({ name, pool, zone }: Node, createdAt: string): KubeObject {
  return {
    apiVersion: 'v1',
    kind: 'Node',
    metadata: {
      name,
      labels: {
        ...Object.fromEntries(labelMap(pool?.labels ?? [])),
        [HOST_LABEL]: name,
        ...(zone === '' ? {} : { [ZONE_LABEL]: zone }),
      },
    },
    spec: {},
    status: {
      conditions: [condition('Ready', true, 'KubeletReady', createdAt)],
      addresses: [{ type: 'Hostname', address: name }],
    },
  };
}

/**
 * The pods of a workload, made from the template of its object, and dealt in turn to the nodes that it may run on: which node a pod gets, the plan
 * does not decide.
 */
function podsOf(workload: Workload, owner: KubeObject, nodes: readonly Node[], createdAt: string): KubeObject[] {
  const { name, namespace, replicasNow, notReady, objectKind } = workload;
  const { template } = owner['spec'] as { readonly template: Template };
  const fitting = nodes.filter(({ poolId, pool }) => mayRunOn(workload, poolId, pool));
  return Array.from({ length: replicasNow }, (_, place): KubeObject => {
    const isReady = place < replicasNow - notReady;
    const node = fitting[place % Math.max(1, fitting.length)]?.name;
    return {
      apiVersion: 'v1',
      kind: 'Pod',
      metadata: {
        ...template.metadata,
        name: podName(name, place),
        namespace,
        ownerReferences: [{ apiVersion: owner.apiVersion, kind: objectKind, name, uid: workload.id, controller: true }],
      },
      spec: { ...template.spec, ...(node === undefined ? {} : { nodeName: node }) },
      status: {
        phase: node === undefined ? 'Pending' : 'Running',
        conditions: [condition('Ready', isReady, isReady ? '' : 'ContainersNotReady', createdAt)],
        containerStatuses: template.spec.containers.map((container) => ({
          name: container.name,
          ready: isReady,
          restartCount: 0,
          started: true,
          state: { running: { startedAt: createdAt } },
        })),
      },
    };
  });
}

/** What a workload’s object makes pods from. */
interface Template {
  readonly metadata: Readonly<Record<string, unknown>>;
  readonly spec: Readonly<Record<string, unknown>> & { readonly containers: readonly { readonly name: string }[] };
}

function condition(type: string, isTrue: boolean, reason: string, at: string) {
  return {
    type,
    status: isTrue ? 'True' : 'False',
    ...(reason === '' ? {} : { reason }),
    lastTransitionTime: at,
  };
}

/** How many pods of a workload run, as each kind of object counts them. Source: the Kubernetes API reference of apps/v1 (from memory). */
function statusOf({ objectKind, replicasNow: all, notReady }: Workload) {
  const ready = all - notReady;
  return objectKind === 'DaemonSet'
    ? {
        desiredNumberScheduled: all,
        currentNumberScheduled: all,
        updatedNumberScheduled: all,
        numberReady: ready,
        numberAvailable: ready,
        numberMisscheduled: 0,
      }
    : { replicas: all, readyReplicas: ready, availableReplicas: ready, updatedReplicas: all };
}
