import { isRecord } from './documents.js';

type Fields = Readonly<Record<string, unknown>>;

/** An object in the API version of today, and what was changed in it; nothing where it was so already. */
export interface Upgraded {
  readonly object: Fields;
  readonly from: string;
  readonly changes: readonly string[];
}

/** API versions that clusters take today, by kind. From memory of the references of the Kubernetes API, the Gateway API and the multi-cluster services API. */
export const versions: Readonly<Record<string, string>> = {
  Deployment: 'apps/v1',
  StatefulSet: 'apps/v1',
  DaemonSet: 'apps/v1',
  Service: 'v1',
  Ingress: 'networking.k8s.io/v1',
  NetworkPolicy: 'networking.k8s.io/v1',
  Gateway: 'gateway.networking.k8s.io/v1',
  HTTPRoute: 'gateway.networking.k8s.io/v1',
  GRPCRoute: 'gateway.networking.k8s.io/v1',
  TLSRoute: 'gateway.networking.k8s.io/v1alpha2',
  TCPRoute: 'gateway.networking.k8s.io/v1alpha2',
  ReferenceGrant: 'gateway.networking.k8s.io/v1beta1',
  Namespace: 'v1',
  IngressClass: 'networking.k8s.io/v1',
  EndpointSlice: 'discovery.k8s.io/v1',
  ServiceExport: 'multicluster.x-k8s.io/v1alpha1',
  ServiceImport: 'multicluster.x-k8s.io/v1alpha1',
};

/** Versions that were taken before, by kind: they are retired, or will be. */
const retired: Readonly<Record<string, readonly string[]>> = {
  Deployment: ['extensions/v1beta1', 'apps/v1beta1', 'apps/v1beta2'],
  StatefulSet: ['apps/v1beta1', 'apps/v1beta2'],
  DaemonSet: ['extensions/v1beta1', 'apps/v1beta2'],
  Ingress: ['extensions/v1beta1', 'networking.k8s.io/v1beta1'],
  NetworkPolicy: ['extensions/v1beta1'],
  Gateway: ['gateway.networking.k8s.io/v1alpha2', 'gateway.networking.k8s.io/v1beta1'],
  HTTPRoute: ['gateway.networking.k8s.io/v1alpha2', 'gateway.networking.k8s.io/v1beta1'],
  GRPCRoute: ['gateway.networking.k8s.io/v1alpha2'],
  ReferenceGrant: ['gateway.networking.k8s.io/v1alpha2'],
  IngressClass: ['networking.k8s.io/v1beta1'],
  EndpointSlice: ['discovery.k8s.io/v1beta1'],
};

/** Later versions of what is still on trial in the one that is written here; the fields that are read are the same. */
const later: Readonly<Record<string, readonly string[]>> = {
  TLSRoute: ['gateway.networking.k8s.io/v1alpha3', 'gateway.networking.k8s.io/v1'],
  ReferenceGrant: ['gateway.networking.k8s.io/v1'],
};

/** Brings an object to the version of today; undefined when its version is none of its kind. */
export function upgrade(object: Fields): Upgraded | undefined {
  const { kind, apiVersion } = object as { kind: string; apiVersion: string };
  const today = versions[kind];
  if (apiVersion === today) return { object, from: '', changes: [] };
  if (later[kind]?.includes(apiVersion) === true)
    return {
      object: { ...object, apiVersion: today },
      from: '',
      changes: [`apiVersion: ${apiVersion} is written as ${today ?? ''}`],
    };
  if (retired[kind]?.includes(apiVersion) !== true) return undefined;
  const changes = [`apiVersion: ${apiVersion} becomes ${today ?? ''}`];
  const moved: Fields = { ...object, apiVersion: today };
  if (kind === 'Ingress') return { ...ingress(moved, changes), from: apiVersion };
  if (kind === 'Deployment' || kind === 'StatefulSet' || kind === 'DaemonSet')
    return { ...withSelector(moved, changes), from: apiVersion };
  return { object: moved, from: apiVersion, changes };
}

/** Since apps/v1 a selector must be written; before, it was the labels of the pods. */
function withSelector(object: Fields, changes: string[]): Omit<Upgraded, 'from'> {
  const spec = fields(object['spec']);
  const labels = fields(fields(fields(spec['template'])['metadata'])['labels']);
  if (spec['selector'] !== undefined) return { object, changes };
  changes.push('spec.selector.matchLabels: the labels of the pods, which were the default');
  return { object: { ...object, spec: { ...spec, selector: { matchLabels: labels } } }, changes };
}

const CLASS = 'kubernetes.io/ingress.class';

/** Backends are written with service.name and service.port since networking.k8s.io/v1, a path type must be there, and the class is a field. */
function ingress(object: Fields, changes: string[]): Omit<Upgraded, 'from'> {
  const metadata = fields(object['metadata']);
  const { [CLASS]: className, ...annotations } = fields(metadata['annotations']);
  const { backend, ...spec } = fields(object['spec']);
  const told = new Set<string>();
  const rules = list(spec['rules']).map((rule) => {
    const http = fields(fields(rule)['http']);
    const paths = list(http['paths']).map((path) => {
      if (fields(path)['pathType'] === undefined) told.add('pathType: ImplementationSpecific, which was the default');
      const written = fields(fields(path)['backend']);
      if (written['serviceName'] !== undefined)
        told.add('backend.serviceName and servicePort become backend.service.name and port');
      return { pathType: 'ImplementationSpecific', ...fields(path), backend: backendOf(written) };
    });
    return {
      ...fields(rule),
      ...(rule === undefined || fields(rule)['http'] === undefined ? {} : { http: { ...http, paths } }),
    };
  });
  const isNamed = typeof className === 'string' && spec['ingressClassName'] === undefined;
  if (isNamed) told.add(`metadata.annotations ${CLASS} becomes spec.ingressClassName`);
  if (backend !== undefined) told.add('spec.backend becomes spec.defaultBackend');
  const kept = isNamed ? annotations : fields(metadata['annotations']);
  const { annotations: _, ...named } = metadata;
  return {
    object: {
      ...object,
      metadata: { ...named, ...(Object.keys(kept).length === 0 ? {} : { annotations: kept }) },
      spec: {
        ...spec,
        ...(isNamed ? { ingressClassName: className } : {}),
        ...(backend === undefined ? {} : { defaultBackend: backendOf(fields(backend)) }),
        ...(spec['rules'] === undefined ? {} : { rules }),
      },
    },
    changes: [...changes, ...told],
  };
}

function backendOf({ serviceName, servicePort, ...rest }: Fields): Fields {
  if (serviceName === undefined) return rest;
  const port = typeof servicePort === 'number' ? { number: servicePort } : { name: servicePort };
  return { ...rest, service: { name: serviceName, port } };
}

/** The fields of a value; none when it has none. */
export function fields(value: unknown): Fields {
  return isRecord(value) ? value : {};
}

/** The items of a value; none when it is no list. */
export function list(value: unknown): readonly unknown[] {
  return Array.isArray(value) ? value : [];
}
