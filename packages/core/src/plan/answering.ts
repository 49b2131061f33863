import type { ClusterService } from './kinds/services.js';
import type { Workload } from './kinds/workloads.js';
import { readContainerPort, readServicePort } from './textForms.js';
import type { ServicePort } from './textForms.js';

/** A workload behind one port of a service. */
export interface Answerer {
  readonly workload: Workload;
  /** The container port that answers; undefined when none of its containers listens on what the service asks for. */
  readonly port: number | undefined;
}

/** One port of a service with who answers there. */
export interface Answering {
  readonly port: ServicePort;
  readonly members: readonly Answerer[];
}

/**
 * The workloads whose pods a service selects: same cluster, same namespace, every label of the selector. A service without a selector
 * selects none. Source: documentation of the Kubernetes API on services and labels (from memory).
 */
export function selectedBy(service: ClusterService, workloads: readonly Workload[]): Workload[] {
  if (service.selector.length === 0) return [];
  const wanted = service.selector.map(withValue);
  // Plain loops: every service of a plan is held against every workload of its cluster.
  const selected: Workload[] = [];
  for (const workload of workloads)
    if (
      workload.clusterId === service.clusterId &&
      workload.namespace === service.namespace &&
      hasAll(workload.labels, wanted)
    )
      selected.push(workload);
  return selected;
}

function hasAll(labels: readonly string[], wanted: readonly string[]): boolean {
  for (const label of wanted) {
    let isThere = false;
    for (const own of labels) if (withValue(own) === label) isThere = true;
    if (!isThere) return false;
  }
  return true;
}

/**
 * How many pods of a workload get the calls of a service: those that are ready, or all where it publishes the others, too.
 * Source: documentation of the Kubernetes API on EndpointSlices and publishNotReadyAddresses (from memory).
 */
export function podsFor(
  { publishNotReady }: Pick<ClusterService, 'publishNotReady'>,
  { replicasNow, notReady }: Pick<Workload, 'replicasNow' | 'notReady'>,
): number {
  return publishNotReady ? replicasNow : replicasNow - notReady;
}

/** Who answers at each port of a service. A container that states no ports may listen on any number. */
export function answering(service: ClusterService, workloads: readonly Workload[]): Answering[] {
  return portsAnswered(service, selectedBy(service, workloads));
}

/** The same of workloads that it is known to select. */
export function portsAnswered({ ports }: ClusterService, selected: readonly Workload[]): Answering[] {
  return ports.flatMap((text) => {
    const port = readServicePort(text);
    if (port === undefined) return [];
    return [{ port, members: selected.map((workload) => ({ workload, port: containerPortOf(workload, port) })) }];
  });
}

function containerPortOf({ ports }: Workload, { target, protocol }: ServicePort): number | undefined {
  const stated = ports.flatMap((text) => readContainerPort(text) ?? []).filter((each) => each.protocol === protocol);
  if (!/^\d+$/.test(target)) return stated.find(({ name }) => name === target)?.port;
  const number = Number(target);
  return ports.length === 0 || stated.some(({ port }) => port === number) ? number : undefined;
}

/** A label without a value has an empty one. */
function withValue(label: string): string {
  return label.includes('=') ? label : `${label}=`;
}
