import { byId, isSameValue, readNamespaceLabel, readServicePort } from '../plan/index.js';
import type { Cluster, ClusterService, Controller, Plan } from '../plan/index.js';
import { skeleton } from './facets.js';
import { put } from './paths.js';
import type { Draft } from './paths.js';
import { labelFields } from './selectorFields.js';
import { fields, list } from './upgrade.js';

type Written = Readonly<Record<string, unknown>>;

const DEFAULT_CLASS = 'ingressclass.kubernetes.io/is-default-class';
const OF_SERVICE = 'kubernetes.io/service-name';
const OWN_NAME = 'kubernetes.io/metadata.name';

const text = (value: unknown) => (typeof value === 'string' ? value : '');
const metadataOf = (object: Written) => fields(object['metadata']);
const namespaceOf = (object: Written) => text(metadataOf(object)['namespace']) || 'default';

/** What tells an object of a cluster from its others. */
export function keyOfObject(object: Written): string {
  const kind = text(object['kind']);
  const where = kind === 'EndpointSlice' ? `${namespaceOf(object)}/` : '';
  return `${kind} ${where}${text(metadataOf(object)['name'])}`;
}

/** The objects that a cluster keeps. */
export function keptObjectsOf({ preservedObjects }: Pick<Cluster, 'preservedObjects'>): Written[] {
  return preservedObjects.map((each) => JSON.parse(each) as Written);
}

/** The labels of namespaces after a Namespace was read: its own are those of the object, beside its name, which every one has. */
export function withLabelsOf(labels: readonly string[], object: Written): readonly string[] {
  const name = text(metadataOf(object)['name']);
  const own = Object.entries(fields(metadataOf(object)['labels'])).filter(([key]) => key !== OWN_NAME);
  const read = own.map(([key, value]) => `${name}: ${key}=${String(value)}`);
  const before = labels.filter((each) => readNamespaceLabel(each)?.namespace === name);
  const plain = (all: readonly string[]) =>
    all.flatMap((each) => readNamespaceLabel(each) ?? []).map(({ key, value }) => `${key}=${value}`);
  if (isSameValue([...plain(before)].sort(), [...plain(read)].sort())) return labels;
  return [...labels.filter((each) => !before.includes(each)), ...read];
}

/** Whether a class is marked as that of Ingresses without one. */
export function isDefaultClass(object: Written): boolean {
  return String(fields(metadataOf(object)['annotations'])[DEFAULT_CLASS]) === 'true';
}

/** The service that a slice is of, by namespace and name. */
export function serviceOfSlice(object: Written): { readonly namespace: string; readonly name: string } {
  return { namespace: namespaceOf(object), name: text(fields(metadataOf(object)['labels'])[OF_SERVICE]) };
}

/** Addresses of a slice that get calls: those that are ready, or of which nothing is said. */
export function readyIn(object: Written): string[] {
  return list(object['endpoints']).flatMap((each) =>
    fields(fields(each)['conditions'])['ready'] === false ? [] : list(fields(each)['addresses']).map(text),
  );
}

/** Ports of a slice that are others than those which the plan asks, by name: "web 9090 for 8080". */
export function otherPorts(object: Written, { ports }: ClusterService): string[] {
  const own = ports.flatMap((each) => readServicePort(each) ?? []);
  return list(object['ports']).flatMap((each) => {
    const { name, port } = fields(each);
    const known = own.find((own) => own.name === text(name));
    return known === undefined || known.target === String(port)
      ? []
      : [`${text(name) || known.protocol} ${String(port)} for ${known.target}`];
  });
}

/** The objects that are kept with a cluster as the plan has them now, and those that its facts ask for beside them. */
export function clusterObjects(plan: Plan, clusterId: string): Draft[] {
  const cluster = byId(plan.clusters, clusterId);
  if (cluster === undefined) return [];
  const kept = keptObjectsOf(cluster);
  const services = plan.services.filter((each) => each.clusterId === clusterId);
  const controllers = plan.controllers.filter((each) => each.clusterId === clusterId);
  const has = new Set(kept.map(keyOfObject));
  const labelled = new Set(cluster.namespaceLabels.flatMap((each) => readNamespaceLabel(each)?.namespace ?? []));
  const namespaces = [...labelled]
    .map((name): Written => ({ apiVersion: 'v1', kind: 'Namespace', metadata: { name } }))
    .filter((object) => !has.has(keyOfObject(object)));
  const withSlices = new Set(kept.filter(({ kind }) => kind === 'EndpointSlice').map(sliceKey));
  const slices = services
    .filter((service) => service.endpoints.length > 0 && !withSlices.has(`${service.namespace}/${service.name}`))
    .flatMap(newSlices);
  return [...[...namespaces, ...kept].map((object) => asPlanned(object, cluster, services, controllers)), ...slices];
}

function sliceKey(object: Written): string {
  const { namespace, name } = serviceOfSlice(object);
  return `${namespace}/${name}`;
}

function asPlanned(
  object: Written,
  cluster: Cluster,
  services: readonly ClusterService[],
  controllers: readonly Controller[],
): Draft {
  switch (object['kind']) {
    case 'Namespace':
      return withLabels(object, cluster);
    case 'IngressClass':
      return withDefault(object, controllers);
    default: {
      const of = sliceKey(object);
      const service = services.find(({ namespace, name }) => `${namespace}/${name}` === of);
      return service === undefined ? { ...object } : withEndpoints(object, service, cluster);
    }
  }
}

function copied(object: Written): Draft {
  return JSON.parse(JSON.stringify(object)) as Draft;
}

function withLabels(object: Written, { namespaceLabels }: Cluster): Draft {
  if (withLabelsOf(namespaceLabels, object) === namespaceLabels) return { ...object };
  const name = text(metadataOf(object)['name']);
  const own = namespaceLabels
    .flatMap((each) => readNamespaceLabel(each) ?? [])
    .filter((each) => each.namespace === name);
  const stated = fields(metadataOf(object)['labels'])[OWN_NAME];
  const labels = {
    ...(stated === undefined ? {} : { [OWN_NAME]: stated }),
    ...labelFields(own.map(({ key, value }) => `${key}=${value}`)),
  };
  const draft = copied(object);
  put(draft, ['metadata', 'labels'], Object.keys(labels).length === 0 ? undefined : labels);
  return draft;
}

function withDefault(object: Written, controllers: readonly Controller[]): Draft {
  const name = text(metadataOf(object)['name']);
  const serving = controllers.filter(({ classes }) => classes.includes(name));
  const isDefault = serving.some(({ defaultClass }) => defaultClass === name);
  // Where nobody serves it, the plan says nothing of it.
  if (serving.length === 0 || isDefault === isDefaultClass(object)) return { ...object };
  const draft = copied(object);
  put(draft, ['metadata', 'annotations', DEFAULT_CLASS], isDefault ? 'true' : undefined);
  return draft;
}

const familyOf = (address: string) => (address.includes(':') ? 'IPv6' : 'IPv4');

/** A slice with the addresses that the plan has now: new ones stand in the first slice of their family. */
function withEndpoints(object: Written, { endpoints, namespace, name }: ClusterService, cluster: Cluster): Draft {
  const all = keptObjectsOf(cluster).filter(
    (each) => each['kind'] === 'EndpointSlice' && sliceKey(each) === `${namespace}/${name}`,
  );
  const known = new Set(all.flatMap(readyIn));
  const gone = readyIn(object).filter((address) => !endpoints.includes(address));
  const first = all.find((each) => each['addressType'] === object['addressType']);
  const isFirst = first !== undefined && keyOfObject(first) === keyOfObject(object);
  const come = isFirst
    ? endpoints.filter((address) => !known.has(address) && familyOf(address) === object['addressType'])
    : [];
  if (gone.length + come.length === 0) return { ...object };
  const left = list(object['endpoints']).flatMap((each) => {
    const addresses = list(fields(each)['addresses']).filter((address) => !gone.includes(text(address)));
    return addresses.length === 0 ? [] : [{ ...fields(each), addresses }];
  });
  const draft = copied(object);
  put(draft, ['endpoints'], [...left, ...come.map((address) => ({ addresses: [address] }))]);
  return draft;
}

/** Slices of a service for which none was read: one of each family. */
function newSlices({ namespace, name, endpoints, ports }: ClusterService): Draft[] {
  return (['IPv4', 'IPv6'] as const).flatMap((addressType) => {
    const own = endpoints.filter((address) => familyOf(address) === addressType);
    if (own.length === 0) return [];
    const { spec: _, ...draft } = skeleton('EndpointSlice', {
      namespace,
      name: `${name}-${addressType.toLowerCase()}`,
    });
    put(draft, ['metadata', 'labels'], { [OF_SERVICE]: name });
    // A port by name is found at pods alone: of endpoints by hand nobody knows its number.
    const written = ports
      .flatMap((each) => readServicePort(each) ?? [])
      .filter(({ target }) => /^\d+$/.test(target))
      .map((port) => ({ name: port.name, protocol: port.protocol.toUpperCase(), port: Number(port.target) }));
    return [{ ...draft, addressType, ports: written, endpoints: own.map((address) => ({ addresses: [address] })) }];
  });
}
