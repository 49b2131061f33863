import type { KubeObject } from './resources.js';

interface Column {
  readonly name: string;
  readonly type: string;
  readonly format: string;
  readonly description: string;
  readonly priority: number;
  readonly of: (object: KubeObject) => string | number;
}

function column(name: string, of: Column['of'], type = 'string'): Column {
  return { name, type, format: name === 'Name' ? 'name' : '', description: '', priority: 0, of };
}

const at = (value: unknown, ...path: readonly (string | number)[]): unknown =>
  path.reduce<unknown>((found, key) => (found as Readonly<Record<string | number, unknown>> | undefined)?.[key], value);
const list = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);
const word = (value: unknown, fallback = '<none>'): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : fallback;
const count = (value: unknown): number => (typeof value === 'number' ? value : 0);

const name = column('Name', ({ metadata }) => metadata.name);
const age = column('Age', ({ metadata }) => ageOf(word(metadata['creationTimestamp'])));
const hosts = column(
  'Hostnames',
  (object) =>
    list(at(object, 'spec', 'hostnames'))
      .map(String)
      .join(',') || '*',
);

/** What lists show of each kind beside its name. Columns of the core kinds: from memory of the API’s own tables. */
const columns: Readonly<Record<string, readonly Column[]>> = {
  Namespace: [column('Status', (object) => word(at(object, 'status', 'phase'))), age],
  Node: [
    column('Status', (object) => (at(object, 'status', 'conditions', 0, 'status') === 'True' ? 'Ready' : 'NotReady')),
    column('Roles', () => '<none>'),
    age,
    column('Version', () => '<none>'),
  ],
  Pod: [
    column('Ready', (object) => {
      const all = list(at(object, 'status', 'containerStatuses'));
      return `${all.filter((each) => at(each, 'ready') === true).length}/${all.length}`;
    }),
    column('Status', (object) => word(at(object, 'status', 'phase'))),
    column('Restarts', () => 0, 'integer'),
    age,
    { ...column('Node', (object) => word(at(object, 'spec', 'nodeName'))), priority: 1 },
  ],
  Service: [
    column('Type', (object) => word(at(object, 'spec', 'type'), 'ClusterIP')),
    column('Cluster-IP', (object) => word(at(object, 'spec', 'clusterIP'))),
    column('External-IP', (object) => word(at(object, 'spec', 'externalName'))),
    column(
      'Port(s)',
      (object) =>
        list(at(object, 'spec', 'ports'))
          .map((port) => {
            const node = at(port, 'nodePort');
            return `${word(at(port, 'port'))}${node === undefined ? '' : `:${word(node)}`}/${word(at(port, 'protocol'), 'TCP')}`;
          })
          .join(',') || '<none>',
    ),
    age,
  ],
  Deployment: replicated(),
  StatefulSet: replicated(),
  DaemonSet: [
    column('Desired', (object) => count(at(object, 'status', 'desiredNumberScheduled')), 'integer'),
    column('Current', (object) => count(at(object, 'status', 'currentNumberScheduled')), 'integer'),
    column('Ready', (object) => count(at(object, 'status', 'numberReady')), 'integer'),
    age,
  ],
  Ingress: [
    column('Class', (object) => word(at(object, 'spec', 'ingressClassName'))),
    column(
      'Hosts',
      (object) =>
        list(at(object, 'spec', 'rules'))
          .map((rule) => word(at(rule, 'host'), '*'))
          .join(',') || '*',
    ),
    age,
  ],
  NetworkPolicy: [
    column(
      'Pod-Selector',
      (object) =>
        Object.entries((at(object, 'spec', 'podSelector', 'matchLabels') ?? {}) as Readonly<Record<string, string>>)
          .map(([key, value]) => `${key}=${value}`)
          .join(',') || '<none>',
    ),
    age,
  ],
  Gateway: [column('Class', (object) => word(at(object, 'spec', 'gatewayClassName'))), age],
  HTTPRoute: [hosts, age],
  GRPCRoute: [hosts, age],
  TLSRoute: [hosts, age],
};

function replicated(): readonly Column[] {
  return [
    column(
      'Ready',
      (object) => `${count(at(object, 'status', 'readyReplicas'))}/${count(at(object, 'status', 'replicas'))}`,
    ),
    column('Up-to-date', (object) => count(at(object, 'status', 'updatedReplicas')), 'integer'),
    column('Available', (object) => count(at(object, 'status', 'availableReplicas')), 'integer'),
    age,
  ];
}

/** How much of each object goes with its row. */
export type Included = 'None' | 'Metadata' | 'Object';

/** Objects as a table, the form in which command lines ask for lists. Source: the Kubernetes API concepts, "Receiving resources as Tables" (from memory). */
export function tableOf(
  kind: string,
  objects: readonly KubeObject[],
  metadata: Readonly<Record<string, unknown>>,
  included: Included,
) {
  const own = [name, ...(columns[kind] ?? [age])];
  return {
    kind: 'Table',
    apiVersion: 'meta.k8s.io/v1',
    metadata,
    columnDefinitions: own.map(({ of: _, ...definition }) => definition),
    rows: objects.map((object) => ({
      cells: own.map(({ of }) => of(object)),
      ...(included === 'None' ? {} : { object: included === 'Object' ? object : partial(object) }),
    })),
  };
}

function partial({ metadata }: KubeObject) {
  return { kind: 'PartialObjectMetadata', apiVersion: 'meta.k8s.io/v1', metadata };
}

/** How long ago something was made: "12s", "5m", "3h", "2d". */
function ageOf(created: string): string {
  const seconds = Math.max(0, Math.round((Date.now() - Date.parse(created)) / 1000));
  if (seconds < 120) return `${seconds}s`;
  if (seconds < 7200) return `${Math.floor(seconds / 60)}m`;
  return seconds < 172_800 ? `${Math.floor(seconds / 3600)}h` : `${Math.floor(seconds / 86_400)}d`;
}
