import { importsOf } from '../naming/index.js';
import type { Imported } from '../naming/index.js';
import { grouped } from '../plan/index.js';
import type { Plan, ServiceExport } from '../plan/index.js';
import { skeleton } from './facets.js';
import type { Draft } from './paths.js';

/** Types of a ServiceImport. Source: multi-cluster services API, v1alpha1 (from memory). */
export type ImportType = 'ClusterSetIP' | 'Headless';

/** What a cluster exports, in all connections that it is a member of. */
export function exportsOfCluster(plan: Plan, clusterId: string): ServiceExport[] {
  const ids = new Set((grouped(plan.members, 'clusterId').get(clusterId) ?? []).map(({ id }) => id));
  return plan.serviceExports.filter(({ memberId }) => ids.has(memberId));
}

/** What a cluster may use of others and of its own by the connections that stand, each namespace and name once. */
export function importsOfCluster(plan: Plan, clusterId: string): Imported[] {
  const ids = new Set((grouped(plan.members, 'clusterId').get(clusterId) ?? []).map((each) => each.connectionId));
  const found = plan.connections
    .filter(({ id, isPlanned }) => ids.has(id) && !isPlanned)
    .flatMap((connection) => importsOf(plan, connection, clusterId))
    .filter(({ exporters }) => exporters.some(({ service }) => service !== undefined));
  return firstOfEach(found);
}

/** The ServiceExport of a service; one alone says it for every connection. */
export function exportObject({ namespace, name }: Pick<ServiceExport, 'namespace' | 'name'>): Draft {
  const { spec: _, ...object } = skeleton('ServiceExport', { namespace, name });
  return object;
}

/** The ServiceImport of an exported service. Its address is given by the cluster, so none is written. */
export function importObject(each: Imported): Draft {
  const ports = each.ports.map(({ name, protocol, port }) => ({
    ...(name === '' ? {} : { name }),
    protocol: protocol.toUpperCase(),
    port,
  }));
  return { ...skeleton('ServiceImport', each), spec: { type: typeOf(each), ports } };
}

export function typeOf({ isHeadless }: Imported): ImportType {
  return isHeadless ? 'Headless' : 'ClusterSetIP';
}

/** Of things with a namespace and a name the first of each. */
export function firstOfEach<E extends { readonly namespace: string; readonly name: string }>(all: readonly E[]): E[] {
  const seen = new Map<string, E>();
  for (const each of all) {
    const key = `${each.namespace}/${each.name}`;
    if (!seen.has(key)) seen.set(key, each);
  }
  return [...seen.values()];
}
