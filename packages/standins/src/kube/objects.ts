import type { Evaluation } from '@wide-lattice/core/evaluation';
import { manifestObjects } from '@wide-lattice/core/manifests';
import { byId, labelMap } from '@wide-lattice/core/plan';
import type { Plan, Workload } from '@wide-lattice/core/plan';
import { plannedNodes } from '@wide-lattice/core/rehearsal';
import { podName } from '../entry/pods.js';
import type { KubeObject } from './resources.js';

/** A node with the pool that it is of; null for the main ones. */
interface Node {
  readonly name: string;
  readonly poolId: string | null;
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
  const workloads = plan.workloads.filter((each) => each.clusterId === clusterId);
  const written = (manifestObjects(plan, clusterId) as readonly KubeObject[]).map((object) =>
    withStatus(object, workloads),
  );
  const named = new Set(written.filter(({ kind }) => kind === 'Namespace').map(({ metadata }) => metadata.name));
  const namespaces = [
    ...new Set(['default', 'kube-system', ...written.flatMap(({ metadata }) => metadata.namespace ?? [])]),
  ].filter((name) => !named.has(name));
  const all: KubeObject[] = [
    ...namespaces.map((name) => ({ apiVersion: 'v1', kind: 'Namespace', metadata: { name } })),
    ...nodes.map((node) => nodeObject(node, plan, createdAt)),
    ...workloads.flatMap((workload) => podsOf(workload, nodes, createdAt)),
    ...written,
  ];
  return all.map((object) =>
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
    zone,
  }));
}

function nodeObject({ name, poolId, zone }: Node, plan: Plan, createdAt: string): KubeObject {
  const pool = byId(plan.nodePools, poolId ?? '');
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

/** The pods of a workload, dealt in turn to the nodes that it may run on: which node a pod gets, the plan does not decide. */
function podsOf(workload: Workload, nodes: readonly Node[], createdAt: string): KubeObject[] {
  const { name, namespace, labels, replicasNow, notReady, nodePoolId, objectKind, ports } = workload;
  const fitting = nodePoolId === null ? nodes : nodes.filter(({ poolId }) => poolId === nodePoolId);
  const containerPorts = ports.map((text) => {
    const [number, protocol = 'tcp', own] = text.split(' ').reverse();
    return {
      containerPort: Number(number),
      protocol: protocol.toUpperCase(),
      ...(own === undefined ? {} : { name: own }),
    };
  });
  return Array.from({ length: replicasNow }, (_, place): KubeObject => {
    const isReady = place < replicasNow - notReady;
    const node = fitting[place % Math.max(1, fitting.length)]?.name;
    return {
      apiVersion: 'v1',
      kind: 'Pod',
      metadata: {
        name: podName(name, place),
        namespace,
        labels: Object.fromEntries(labelMap(labels)),
        ownerReferences: [{ apiVersion: 'apps/v1', kind: objectKind, name, uid: workload.id, controller: true }],
      },
      spec: {
        ...(node === undefined ? {} : { nodeName: node }),
        containers: [{ name, ports: containerPorts }],
      },
      status: {
        phase: node === undefined ? 'Pending' : 'Running',
        conditions: [condition('Ready', isReady, isReady ? '' : 'ContainersNotReady', createdAt)],
        containerStatuses: [
          { name, ready: isReady, restartCount: 0, started: true, state: { running: { startedAt: createdAt } } },
        ],
      },
    };
  });
}

function condition(type: string, isTrue: boolean, reason: string, at: string) {
  return {
    type,
    status: isTrue ? 'True' : 'False',
    ...(reason === '' ? {} : { reason }),
    lastTransitionTime: at,
  };
}

/** How many pods of a workload’s object run, as each kind counts them. Source: the Kubernetes API reference of apps/v1 (from memory). */
function withStatus(object: KubeObject, workloads: readonly Workload[]): KubeObject {
  const { kind, metadata } = object;
  const own = workloads.find(
    ({ objectKind, name, namespace }) =>
      objectKind === kind && name === metadata.name && namespace === metadata.namespace,
  );
  if (own === undefined) return object;
  const all = own.replicasNow;
  const ready = all - own.notReady;
  const status =
    kind === 'DaemonSet'
      ? {
          desiredNumberScheduled: all,
          currentNumberScheduled: all,
          updatedNumberScheduled: all,
          numberReady: ready,
          numberAvailable: ready,
          numberMisscheduled: 0,
        }
      : { replicas: all, readyReplicas: ready, availableReplicas: ready, updatedReplicas: all };
  return { ...object, status };
}
