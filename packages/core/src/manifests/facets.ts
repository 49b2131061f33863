import {
  isSameValue,
  listenersOf,
  readContainerPort,
  readGrantFrom,
  readGrantTo,
  readServicePort,
  writeListener,
} from '../plan/index.js';
import type { ClusterService, Gateway, NetworkPolicy, OwnListener, ReferenceGrant, Workload } from '../plan/index.js';
import { put } from './paths.js';
import type { Draft } from './paths.js';
import { readMib, readMillis, writeMib, writeMillis } from './quantities.js';
import {
  labelFields,
  labelTexts,
  ruleFields,
  ruleText,
  selectorFields,
  selectorTexts,
  termsOf,
} from './selectorFields.js';
import { fields, list, versions } from './upgrade.js';

type Written = Readonly<Record<string, unknown>>;

/** One field of an entity in a manifest: how it is read from an object, and put into one. */
export interface Facet<E> {
  readonly field: keyof E & string;
  readonly read: (object: Written) => unknown;
  readonly write: (draft: Draft, entity: E) => void;
}

const at = (object: unknown, ...path: readonly (string | number)[]): unknown =>
  path.reduce<unknown>((value, step) => (typeof step === 'number' ? list(value)[step] : fields(value)[step]), object);
const containers = (object: Written) => list(at(object, 'spec', 'template', 'spec', 'containers'));
const first = ['spec', 'template', 'spec', 'containers', 0] as const;
const text = (value: unknown, fallback = '') =>
  typeof value === 'string' ? value : typeof value === 'number' ? String(value) : fallback;
const number = (value: unknown, fallback: number) => (typeof value === 'number' ? value : fallback);

const ZONE = 'topology.kubernetes.io/zone';

function amount(which: 'requests' | 'limits', what: 'cpu' | 'memory', object: Written): number | undefined {
  const reader = what === 'cpu' ? readMillis : readMib;
  const each = containers(object).map((container) => reader(at(container, 'resources', which, what)));
  // A pod has a limit when each of its containers has one; its requests add up.
  if (which === 'limits' && each.some((value) => value === undefined)) return undefined;
  return each.reduce<number>((sum, value) => sum + (value ?? 0), 0);
}

function amountFacet(field: 'cpuMillis' | 'memoryMib' | 'cpuLimit' | 'memoryLimit'): Facet<Workload> {
  const which = field === 'cpuMillis' || field === 'memoryMib' ? 'requests' : 'limits';
  const what = field.startsWith('cpu') ? 'cpu' : 'memory';
  return {
    field,
    read: (object) => amount(which, what, object) ?? (which === 'limits' ? null : 0),
    write: (draft, workload) => {
      const value = workload[field];
      const written = value === null || value === 0 ? undefined : what === 'cpu' ? writeMillis(value) : writeMib(value);
      put(draft, [...first, 'resources', which, what], written);
    },
  };
}

/** Deployment, StatefulSet, DaemonSet. */
export const workloadFacets: readonly Facet<Workload>[] = [
  {
    field: 'labels',
    read: (object) => labelTexts(at(object, 'spec', 'template', 'metadata', 'labels')),
    write: (draft, { labels }) => put(draft, ['spec', 'template', 'metadata', 'labels'], labelFields(labels)),
  },
  {
    field: 'replicasNow',
    read: (object) => number(at(object, 'spec', 'replicas'), 1),
    write: (draft, { objectKind, replicasNow }) =>
      put(draft, ['spec', 'replicas'], objectKind === 'DaemonSet' ? undefined : replicasNow),
  },
  {
    field: 'ports',
    read: (object) =>
      containers(object).flatMap((container) =>
        list(fields(container)['ports']).map((port) => {
          const { name, protocol, containerPort } = fields(port);
          return `${name === undefined ? '' : `${text(name)} `}${text(protocol, 'TCP').toLowerCase()} ${text(containerPort)}`;
        }),
      ),
    write: (draft, { ports }) => {
      const written = ports.flatMap((each) => {
        const port = readContainerPort(each);
        return port === undefined
          ? []
          : [
              {
                ...(port.name === '' ? {} : { name: port.name }),
                containerPort: port.port,
                protocol: port.protocol.toUpperCase(),
              },
            ];
      });
      put(draft, [...first, 'ports'], written.length === 0 ? undefined : written);
    },
  },
  {
    field: 'nodeLabels',
    read: (object) => labelTexts(at(object, 'spec', 'template', 'spec', 'nodeSelector')),
    write: (draft, { nodeLabels }) => put(draft, ['spec', 'template', 'spec', 'nodeSelector'], labelFields(nodeLabels)),
  },
  {
    field: 'spread',
    read: (object) =>
      list(at(object, 'spec', 'template', 'spec', 'topologySpreadConstraints')).some(
        (each) => fields(each)['topologyKey'] === ZONE,
      )
        ? 'zones'
        : 'anywhere',
    write: (draft, { spread, labels }) => {
      const constraint = {
        maxSkew: 1,
        topologyKey: ZONE,
        whenUnsatisfiable: 'DoNotSchedule',
        labelSelector: { matchLabels: labelFields(labels) ?? {} },
      };
      put(
        draft,
        ['spec', 'template', 'spec', 'topologySpreadConstraints'],
        spread === 'zones' ? [constraint] : undefined,
      );
    },
  },
  ...(['cpuMillis', 'memoryMib', 'cpuLimit', 'memoryLimit'] as const).map(amountFacet),
];

/** A workload that no manifest was read for. */
export function workloadSkeleton({ objectKind, name, namespace, labels }: Workload): Draft {
  return {
    apiVersion: versions[objectKind],
    kind: objectKind,
    metadata: { name, namespace },
    spec: {
      ...(objectKind === 'StatefulSet' ? { serviceName: name } : {}),
      selector: { matchLabels: labelFields(labels) ?? {} },
      template: { metadata: {}, spec: { containers: [{ name }] } },
    },
  };
}

const policies: Readonly<Record<string, string>> = { cluster: 'Cluster', local: 'Local' };
const policy = (value: unknown) => (value === 'Local' ? 'local' : 'cluster');
const isOpen = ({ type }: ClusterService) => type === 'NodePort' || type === 'LoadBalancer';

/** Service. */
export const serviceFacets: readonly Facet<ClusterService>[] = [
  {
    field: 'type',
    read: (object) =>
      at(object, 'spec', 'clusterIP') === 'None' ? 'headless' : text(at(object, 'spec', 'type'), 'ClusterIP'),
    write: (draft, { type, address }) => {
      put(draft, ['spec', 'type'], type === 'headless' ? 'ClusterIP' : type);
      put(draft, ['spec', 'clusterIP'], type === 'headless' ? 'None' : (address ?? undefined));
    },
  },
  {
    field: 'selector',
    read: (object) => labelTexts(at(object, 'spec', 'selector')),
    write: (draft, { selector }) => put(draft, ['spec', 'selector'], labelFields(selector)),
  },
  {
    field: 'ports',
    read: (object) =>
      list(at(object, 'spec', 'ports')).map((port) => {
        const { name, protocol, port: own, targetPort, nodePort } = fields(port);
        return [
          ...(name === undefined ? [] : [text(name)]),
          `${text(protocol, 'TCP').toLowerCase()} ${text(own)} to ${text(targetPort, text(own))}`,
          ...(nodePort === undefined ? [] : [`node ${text(nodePort)}`]),
        ].join(' ');
      }),
    write: (draft, { ports }) => {
      const written = ports.flatMap((each) => {
        const port = readServicePort(each);
        if (port === undefined) return [];
        const target = /^\d+$/.test(port.target) ? Number(port.target) : port.target;
        // Where there are several ports each has a name.
        const name = port.name === '' && ports.length > 1 ? `p${port.port}-${port.protocol}` : port.name;
        return [
          {
            ...(name === '' ? {} : { name }),
            protocol: port.protocol.toUpperCase(),
            port: port.port,
            targetPort: target,
            ...(port.nodePort === undefined ? {} : { nodePort: port.nodePort }),
          },
        ];
      });
      put(draft, ['spec', 'ports'], written.length === 0 ? undefined : written);
    },
  },
  {
    field: 'address',
    read: (object) => {
      const address = at(object, 'spec', 'clusterIP');
      return typeof address === 'string' && address !== 'None' && address !== '' ? address : null;
    },
    write: (draft, { type, address }) =>
      put(draft, ['spec', 'clusterIP'], type === 'headless' ? 'None' : (address ?? undefined)),
  },
  {
    field: 'internalPolicy',
    read: (object) => policy(at(object, 'spec', 'internalTrafficPolicy')),
    write: (draft, { internalPolicy }) =>
      put(
        draft,
        ['spec', 'internalTrafficPolicy'],
        internalPolicy === 'cluster' ? undefined : policies[internalPolicy],
      ),
  },
  {
    field: 'externalPolicy',
    read: (object) => policy(at(object, 'spec', 'externalTrafficPolicy')),
    write: (draft, service) =>
      put(draft, ['spec', 'externalTrafficPolicy'], isOpen(service) ? policies[service.externalPolicy] : undefined),
  },
  {
    field: 'affinity',
    read: (object) => (at(object, 'spec', 'sessionAffinity') === 'ClientIP' ? 'client address' : 'none'),
    write: (draft, { affinity }) =>
      put(draft, ['spec', 'sessionAffinity'], affinity === 'none' ? undefined : 'ClientIP'),
  },
  {
    field: 'publishNotReady',
    read: (object) => at(object, 'spec', 'publishNotReadyAddresses') === true,
    write: (draft, { publishNotReady }) =>
      put(draft, ['spec', 'publishNotReadyAddresses'], publishNotReady ? true : undefined),
  },
  {
    field: 'externalName',
    read: (object) => text(at(object, 'spec', 'externalName')),
    write: (draft, { externalName }) =>
      put(draft, ['spec', 'externalName'], externalName === '' ? undefined : externalName),
  },
];

/** Gateway. The names on its certificate are not in its manifest. */
export const gatewayFacets: readonly Facet<Gateway>[] = [
  {
    field: 'className',
    read: (object) => text(at(object, 'spec', 'gatewayClassName')),
    write: (draft, { className }) => put(draft, ['spec', 'gatewayClassName'], className),
  },
  { field: 'listeners', read: listenersIn, write: writeListeners },
  {
    field: 'allowedRoutes',
    read: (object) => allowedRoutesOf(at(object, 'spec', 'listeners', 0)),
    write: writeListeners,
  },
  {
    field: 'namespaceTerms',
    read: (object) => {
      const [first] = list(at(object, 'spec', 'listeners')).filter(
        (each) => allowedRoutesOf(each) === 'labelled namespaces',
      );
      return first === undefined ? [] : selectorTexts(at(first, ...NAMESPACES, 'selector'));
    },
    write: writeListeners,
  },
  {
    field: 'certificate',
    read: (object) => {
      const shown = list(at(object, 'spec', 'listeners')).map((each) => certificateOf(each, ownNamespace(object)));
      return shown.find((each) => each !== '') ?? '';
    },
    write: writeListeners,
  },
];

function ownNamespace(object: Written): unknown {
  return at(object, 'metadata', 'namespace');
}

function listenersIn(object: Written): string[] {
  const all = list(at(object, 'spec', 'listeners'));
  const shown = all.map((each) => certificateOf(each, ownNamespace(object)));
  const gateway = { certificate: shown.find((each) => each !== '') ?? '', allowedRoutes: allowedRoutesOf(all[0]) };
  return all.map((listener, i) => {
    const { name, protocol, port, hostname } = fields(listener);
    return writeListener(
      {
        name: text(name),
        protocol: text(protocol).toLowerCase() as OwnListener['protocol'],
        port: Number(text(port)),
        host: text(hostname),
        certificate: shown[i] ?? '',
        isPassthrough: at(listener, 'tls', 'mode') === 'Passthrough',
        allowedRoutes: allowedRoutesOf(listener),
      },
      gateway,
    );
  });
}

/** The listeners as the plan has them, each with what the document says of it beyond that. */
function writeListeners(draft: Draft, gateway: Gateway): void {
  const before = new Map(
    list(at(draft, 'spec', 'listeners')).map((each) => [text(fields(each)['name']), fields(each)] as const),
  );
  const written = listenersOf(gateway).map((listener) => {
    const { name, protocol, port, host, certificate, allowedRoutes: from } = listener;
    const known = before.get(name);
    const { hostname: _, tls: __, allowedRoutes: ___, ...kept } = known ?? {};
    const isSecure = protocol === 'https' || protocol === 'tls';
    const hasShown = known !== undefined && certificateOf(known, gateway.namespace) === certificate;
    const tls = !isSecure
      ? undefined
      : hasShown && known['tls'] !== undefined
        ? known['tls']
        : tlsOf(protocol, certificate);
    const hasFrom =
      known !== undefined &&
      allowedRoutesOf(known) === from &&
      (from !== 'labelled namespaces' ||
        isSameValue(selectorTexts(at(known, ...NAMESPACES, 'selector')), gateway.namespaceTerms));
    const allowedRoutes = hasFrom ? known['allowedRoutes'] : routesOf(fields(known?.['allowedRoutes']), from, gateway);
    return {
      ...kept,
      name,
      protocol: protocol.toUpperCase(),
      port,
      ...(host === '' ? {} : { hostname: host }),
      ...(tls === undefined ? {} : { tls }),
      ...(allowedRoutes === undefined ? {} : { allowedRoutes }),
    };
  });
  put(draft, ['spec', 'listeners'], written);
}

function routesOf(kept: Written, allowedRoutes: Gateway['allowedRoutes'], { namespaceTerms }: Gateway): Written {
  const selector = allowedRoutes === 'labelled namespaces' ? { selector: selectorFields(termsOf(namespaceTerms)) } : {};
  return { ...kept, namespaces: { from: from[allowedRoutes], ...selector } };
}

/** Whose routes a listener takes: those of its own namespace where it says nothing (Gateway API, default). */
function allowedRoutesOf(listener: unknown): Gateway['allowedRoutes'] {
  const said = at(listener, ...NAMESPACES, 'from');
  return said === 'All' ? 'all namespaces' : said === 'Selector' ? 'labelled namespaces' : 'its namespace';
}

/** The certificate that a listener shows; empty where it names none. */
function certificateOf(listener: unknown, own: unknown): string {
  return certificateText(at(listener, 'tls', 'certificateRefs', 0), own);
}

const NAMESPACES = ['allowedRoutes', 'namespaces'] as const;
const from: Readonly<Record<Gateway['allowedRoutes'], string>> = {
  'its namespace': 'Same',
  'all namespaces': 'All',
  'labelled namespaces': 'Selector',
};

/** The secret of a certificate: with its namespace where it is of another one than the gateway. */
function certificateText(ref: unknown, own: unknown): string {
  const { name, namespace } = fields(ref);
  return namespace === undefined || namespace === own ? text(name) : `${text(namespace)}/${text(name)}`;
}

function certificateRef(certificate: string): Written {
  const [name = '', namespace] = certificate.split('/').reverse();
  return { name, ...(namespace === undefined ? {} : { namespace }) };
}

function tlsOf(protocol: string, certificate: string): Written {
  if (protocol === 'tls' && certificate === '') return { mode: 'Passthrough' };
  return { mode: 'Terminate', ...(certificate === '' ? {} : { certificateRefs: [certificateRef(certificate)] }) };
}

const GATEWAY_API = 'gateway.networking.k8s.io';

/** A kind of object; of another group than is modelled with that group, so that it is refused and not taken for one that is. */
function kindOf(ref: unknown, group: string): string {
  const own = text(fields(ref)['group']);
  return own === group ? text(fields(ref)['kind']) : `${own}/${text(fields(ref)['kind'])}`;
}

/** ReferenceGrant. */
export const grantFacets: readonly Facet<ReferenceGrant>[] = [
  {
    field: 'from',
    read: (object) =>
      list(at(object, 'spec', 'from')).map(
        (each) => `${kindOf(each, GATEWAY_API)} in ${text(fields(each)['namespace'])}`,
      ),
    write: (draft, { from: texts }) =>
      put(
        draft,
        ['spec', 'from'],
        texts.flatMap((each) => {
          const named = readGrantFrom(each);
          return named === undefined ? [] : [{ group: GATEWAY_API, ...named }];
        }),
      ),
  },
  {
    field: 'to',
    read: (object) =>
      list(at(object, 'spec', 'to')).map((each) => {
        const { name } = fields(each);
        return name === undefined ? kindOf(each, '') : `${kindOf(each, '')} ${text(name)}`;
      }),
    write: (draft, { to }) =>
      put(
        draft,
        ['spec', 'to'],
        to.flatMap((each) => {
          const named = readGrantTo(each);
          if (named === undefined) return [];
          return [{ group: '', kind: named.kind, ...(named.name === '' ? {} : { name: named.name }) }];
        }),
      ),
  },
];

/** NetworkPolicy. */
export const policyFacets: readonly Facet<NetworkPolicy>[] = [
  {
    field: 'selector',
    read: (object) => selectorTexts(at(object, 'spec', 'podSelector')),
    write: (draft, { selector }) => put(draft, ['spec', 'podSelector'], selectorFields(termsOf(selector))),
  },
  {
    field: 'directions',
    read: (object) => list(at(object, 'spec', 'policyTypes')).map((each) => text(each).toLowerCase()),
    write: (draft, { directions }) =>
      put(
        draft,
        ['spec', 'policyTypes'],
        directions.length === 0 ? undefined : directions.map((each) => (each === 'ingress' ? 'Ingress' : 'Egress')),
      ),
  },
  {
    field: 'allowIn',
    read: (object) => [...new Set(list(at(object, 'spec', 'ingress')).map((rule) => ruleText(rule, 'from')))],
    write: (draft, { allowIn }) =>
      put(
        draft,
        ['spec', 'ingress'],
        allowIn.length === 0 ? undefined : allowIn.map((rule) => ruleFields(rule, 'from')),
      ),
  },
  {
    field: 'allowOut',
    read: (object) => [...new Set(list(at(object, 'spec', 'egress')).map((rule) => ruleText(rule, 'to')))],
    write: (draft, { allowOut }) =>
      put(
        draft,
        ['spec', 'egress'],
        allowOut.length === 0 ? undefined : allowOut.map((rule) => ruleFields(rule, 'to')),
      ),
  },
];

/** An object of any other kind that no manifest was read for. */
export function skeleton(
  kind: string,
  { name, namespace }: { readonly name: string; readonly namespace: string },
): Draft {
  return { apiVersion: versions[kind], kind, metadata: { name, namespace }, spec: {} };
}
