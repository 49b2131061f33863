import {
  DEFAULT_BACKEND,
  readBackendRef,
  readCondition,
  readHeaderChange,
  readParentRef,
  readRedirect,
  readServicePort,
  writeRedirect,
} from '../plan/index.js';
import type { ClusterService, IngressRoute, ParentRef } from '../plan/index.js';
import { coversHost } from '../zones/index.js';
import { grpcMethod, grpcPlace } from './grpcMatches.js';
import { put } from './paths.js';
import type { Draft } from './paths.js';
import { fields, list, versions } from './upgrade.js';

type Written = Readonly<Record<string, unknown>>;

/** A rule as it is read: its fields in the plan, and the gateway that it names. */
export interface ReadRule {
  readonly fields: Partial<IngressRoute>;
  /** Namespace and name of the first gateway that it attaches to; empty for none. */
  readonly gateway: string;
}

/** What a rule cannot be read for, in words. */
export type RuleProblem = { readonly problem: string };

const text = (value: unknown, fallback = '') =>
  typeof value === 'string' ? value : typeof value === 'number' ? String(value) : fallback;

/** Finds the number of a port that a route names by its name. */
export type PortByName = (service: string, name: string) => number | undefined;

/** The rules of an Ingress: one for each path, and one for its default backend. */
export function ingressRules(object: Written, portByName: PortByName): (ReadRule | RuleProblem)[] {
  const spec = fields(object['spec']);
  const className = text(spec['ingressClassName']);
  const tls = list(spec['tls']).map(fields);
  const rules = list(spec['rules']).flatMap((rule) => {
    const { host, http } = fields(rule);
    return list(fields(http)['paths']).map((path) => ({ host: text(host), path: fields(path) }));
  });
  const byDefault =
    spec['defaultBackend'] === undefined
      ? []
      : [{ host: '', path: { path: '/', pathType: DEFAULT_BACKEND, backend: spec['defaultBackend'] } as Written }];
  return [...rules, ...byDefault].map(({ host, path }): ReadRule | RuleProblem => {
    const resource = fields(fields(path['backend'])['resource']);
    if (resource['name'] !== undefined)
      return {
        problem: `its backend is the ${text(resource['kind'])} ${text(resource['name'])}, and only services are modelled`,
      };
    const service = fields(fields(path['backend'])['service']);
    const port = fields(service['port']);
    const named = port['name'];
    const value = typeof port['number'] === 'number' ? port['number'] : portByName(text(service['name']), text(named));
    if (value === undefined)
      return { problem: `the service ${text(service['name'])} has no port ${text(named)} that is known` };
    const secret = tls.find(
      ({ hosts }) =>
        list(hosts).length === 0 ||
        list(hosts).some((each) => host !== '' && coversHost(text(each), host, 'one label')),
    );
    return {
      gateway: '',
      fields: {
        objectKind: 'Ingress',
        className,
        hosts: host === '' ? [] : [host],
        path: text(path['path'], '/') === '' ? '/' : text(path['path'], '/'),
        pathType: path['pathType'] === 'Exact' || path['pathType'] === DEFAULT_BACKEND ? path['pathType'] : 'Prefix',
        backends: [`${text(service['name'])} ${value}`],
        ...(secret === undefined ? {} : { certificate: text(secret['secretName']) }),
      },
    };
  });
}

/** Kinds of routes of the Gateway API. */
export type RouteForm = Exclude<IngressRoute['objectKind'], 'Ingress'>;

/** The gateways that a route names as parents, each with its place among them; other parents, such as services, are left. */
export function gatewayParents(object: Written): readonly { readonly at: number; readonly ref: ParentRef }[] {
  const own = text(fields(object['metadata'])['namespace'], 'default');
  return list(fields(object['spec'])['parentRefs']).flatMap((each, at) => {
    const { kind, name, namespace, sectionName } = fields(each);
    if (name === undefined || text(kind, 'Gateway') !== 'Gateway') return [];
    return [{ at, ref: { namespace: text(namespace, own), gateway: text(name), listener: text(sectionName) } }];
  });
}

/** A parent as the plan writes it. */
export function parentText({ namespace, gateway, listener }: ParentRef): string {
  return `${namespace}/${gateway}${listener === '' ? '' : ` ${listener}`}`;
}

/** The rules of an HTTPRoute or a GRPCRoute: one for each match of each rule; of TLSRoute and TCPRoute one for each rule. */
export function gatewayRules(object: Written, form: RouteForm): (ReadRule | RuleProblem)[] {
  const spec = fields(object['spec']);
  const [first, ...further] = gatewayParents(object).map(({ ref }) => ref);
  const gateway = first === undefined ? '' : `${first.namespace}/${first.gateway}`;
  const hosts = list(spec['hostnames']).map((each) => text(each));
  const isWeb = form === 'HTTPRoute' || form === 'GRPCRoute';
  const parents = { listener: first?.listener ?? '', additionalParents: [...new Set(further.map(parentText))] };
  // Without rules a route takes every call and sends it nowhere (Gateway API, default of rules, from memory).
  return (spec['rules'] === undefined && isWeb ? [{}] : list(spec['rules'])).flatMap((rule) => {
    const matches = list(fields(rule)['matches']).map(fields);
    const common = { objectKind: form, hosts, ...parents, ...ruleFields(fields(rule)) };
    return (matches.length === 0 ? [{}] : matches).map((match) => ({
      gateway,
      fields: { ...common, ...matchFields(match, form) },
    }));
  });
}

function matchFields(match: Written, form: RouteForm): Partial<IngressRoute> {
  const path = fields(match['path']);
  const condition = (each: unknown) => {
    const { name, type, value } = fields(each);
    return `${text(name)}${type === 'RegularExpression' ? '~' : '='}${text(value)}`;
  };
  const types: Readonly<Record<string, IngressRoute['pathType']>> = {
    Exact: 'Exact',
    RegularExpression: 'RegularExpression',
  };
  if (form === 'GRPCRoute') return { ...grpcPlace(match), headers: list(match['headers']).map(condition) };
  return {
    path: text(path['value'], '/'),
    pathType: types[text(path['type'])] ?? 'Prefix',
    method: text(match['method'], 'any') as IngressRoute['method'],
    headers: list(match['headers']).map(condition),
    query: list(match['queryParams']).map(condition),
  };
}

function ruleFields(rule: Written): Partial<IngressRoute> {
  const ref = (value: unknown) => {
    const { name, namespace, port, weight } = fields(value);
    const where = namespace === undefined ? '' : `${text(namespace)}/`;
    return `${where}${text(name)} ${text(port)}${weight === undefined || weight === 1 ? '' : ` weight ${text(weight)}`}`;
  };
  const filters = list(rule['filters']).map(fields);
  const filter = (type: string, field: string) => fields(filters.find((each) => each['type'] === type)?.[field]);
  const redirect = filter('RequestRedirect', 'requestRedirect');
  const rewrite = filter('URLRewrite', 'urlRewrite');
  const modifier = filter('RequestHeaderModifier', 'requestHeaderModifier');
  const mirror = fields(filter('RequestMirror', 'requestMirror')['backendRef']);
  const path = fields(rewrite['path']);
  return {
    backends: list(rule['backendRefs']).map(ref),
    redirect: Object.keys(redirect).length === 0 ? '' : redirectText(redirect),
    redirectStatus: statuses.find((each) => each === text(redirect['statusCode'])) ?? '302',
    rewriteHost: text(rewrite['hostname']),
    rewritePath: text(path['replacePrefixMatch'], text(path['replaceFullPath'])),
    headerChanges: [
      ...list(modifier['set']).map((each) => `set ${text(fields(each)['name'])}=${text(fields(each)['value'])}`),
      ...list(modifier['add']).map((each) => `add ${text(fields(each)['name'])}=${text(fields(each)['value'])}`),
      ...list(modifier['remove']).map((each) => `remove ${text(each)}`),
    ],
    mirror: mirror['name'] === undefined ? '' : ref(mirror),
    timeoutMs: readDuration(fields(rule['timeouts'])['request']) ?? null,
    retries: typeof fields(rule['retry'])['attempts'] === 'number' ? (fields(rule['retry'])['attempts'] as number) : 0,
  };
}

const statuses = ['301', '302', '303', '307', '308'] as const;

function redirectText({ scheme, hostname, port, path }: Written): string {
  const { type, replaceFullPath, replacePrefixMatch } = fields(path);
  const isPrefix = type === 'ReplacePrefixMatch';
  const where = isPrefix ? replacePrefixMatch : replaceFullPath;
  return writeRedirect({
    scheme: scheme === 'http' || scheme === 'https' ? scheme : undefined,
    host: hostname === undefined ? undefined : text(hostname),
    port: port === undefined ? undefined : Number(text(port)),
    path: where === undefined ? undefined : text(where),
    isPrefix,
  });
}

// Durations of the Gateway API (GEP-2257, from memory): numbers with h, m, s or ms.
const units: Readonly<Record<string, number>> = { h: 3_600_000, m: 60_000, s: 1000, ms: 1 };

function readDuration(value: unknown): number | undefined {
  const parts = [...text(value).matchAll(/(\d+)(ms|h|m|s)/g)];
  return parts.length === 0
    ? undefined
    : parts.reduce((sum, [, count, unit = '']) => sum + Number(count) * (units[unit] ?? 0), 0);
}

/** The object of an Ingress from its rules, in their order. */
export function writeIngress(rules: readonly IngressRoute[]): Draft {
  const [first] = rules;
  const draft: Draft = {
    apiVersion: versions['Ingress'],
    kind: 'Ingress',
    metadata: { name: first?.name, namespace: first?.namespace },
    spec: {},
  };
  if (first !== undefined && first.className !== '') put(draft, ['spec', 'ingressClassName'], first.className);
  const secrets = new Map<string, Set<string>>();
  const written: { host: string | undefined; paths: Written[] }[] = [];
  const byDefault = rules.find(({ pathType }) => pathType === DEFAULT_BACKEND);
  const ref = readBackendRef(byDefault?.backends[0] ?? '');
  if (ref !== undefined)
    put(draft, ['spec', 'defaultBackend'], { service: { name: ref.service, port: { number: ref.port } } });
  for (const { hosts, path, pathType, backends, certificate } of rules.filter((rule) => rule !== byDefault))
    for (const host of hosts.length === 0 ? [undefined] : hosts) {
      const last = written.at(-1);
      const ref = readBackendRef(backends[0] ?? '');
      const own = {
        path,
        pathType: pathType === 'RegularExpression' ? 'ImplementationSpecific' : pathType,
        backend: { service: { name: ref?.service ?? '', port: { number: ref?.port ?? 80 } } },
      };
      if (last !== undefined && last.host === host) last.paths.push(own);
      else written.push({ host, paths: [own] });
      if (certificate !== '' && host !== undefined)
        secrets.set(certificate, (secrets.get(certificate) ?? new Set()).add(host));
    }
  if (secrets.size > 0)
    put(
      draft,
      ['spec', 'tls'],
      [...secrets].map(([secretName, hosts]) => ({ hosts: [...hosts], secretName })),
    );
  if (written.length > 0)
    put(
      draft,
      ['spec', 'rules'],
      written.map(({ host, paths }) => ({ ...(host === undefined ? {} : { host }), http: { paths } })),
    );
  return draft;
}

/** The object of a route of the Gateway API from its rules; each rule of the plan is one with one match. */
export function writeRoute(rules: readonly IngressRoute[], gateway: NamedGateway | undefined): Draft {
  const [first] = rules;
  const form = first?.objectKind ?? 'HTTPRoute';
  const draft: Draft = {
    apiVersion: versions[form],
    kind: form,
    metadata: { name: first?.name, namespace: first?.namespace },
    spec: {},
  };
  if (first === undefined) return draft;
  const parents = parentRefsOf(first, gateway);
  if (parents.length > 0)
    put(
      draft,
      ['spec', 'parentRefs'],
      parents.map((each) => parentObject(first, each)),
    );
  if (first.hosts.length > 0 && form !== 'TCPRoute') put(draft, ['spec', 'hostnames'], [...first.hosts]);
  put(draft, ['spec', 'rules'], rules.map(routeRule));
  return draft;
}

/** A gateway by its name. */
export interface NamedGateway {
  readonly name: string;
  readonly namespace: string;
}

/** The gateways that a route of the plan attaches to, its first before the further ones. */
export function parentRefsOf(
  { listener, additionalParents }: IngressRoute,
  gateway: NamedGateway | undefined,
): ParentRef[] {
  const first = gateway === undefined ? [] : [{ namespace: gateway.namespace, gateway: gateway.name, listener }];
  return [...first, ...additionalParents.flatMap((each) => readParentRef(each) ?? [])];
}

/** A parent as a manifest of a route writes it. */
export function parentObject(route: IngressRoute, { namespace, gateway, listener }: ParentRef): Written {
  return {
    name: gateway,
    ...(namespace === route.namespace ? {} : { namespace }),
    ...(listener === '' ? {} : { sectionName: listener }),
  };
}

/** A rule with its one match. */
export function routeRule(rule: IngressRoute): Written {
  if (rule.objectKind === 'HTTPRoute') return httpRule(rule);
  if (rule.objectKind !== 'GRPCRoute') return { backendRefs: refsOf(rule) };
  const filters = filtersOf(rule);
  const match = matchOf(rule);
  return {
    ...(Object.keys(match).length === 0 ? {} : { matches: [match] }),
    ...(filters.length === 0 ? {} : { filters }),
    backendRefs: refsOf(rule),
  };
}

/** The services that a rule sends to. */
export function refsOf({ backends, namespace }: IngressRoute): Written[] {
  return backends.flatMap((each) => {
    const ref = readBackendRef(each);
    if (ref === undefined) return [];
    const where = ref.namespace === '' || ref.namespace === namespace ? {} : { namespace: ref.namespace };
    return [{ name: ref.service, ...where, port: ref.port, ...(ref.weight === 1 ? {} : { weight: ref.weight }) }];
  });
}

/** What a rule matches. */
export function matchOf(rule: IngressRoute): Written {
  const { objectKind, path, pathType, method, headers, query } = rule;
  const conditions = (texts: readonly string[]) =>
    texts.flatMap((each) => {
      const condition = readCondition(each);
      return condition === undefined
        ? []
        : [
            {
              type: condition.how === 'is' ? 'Exact' : 'RegularExpression',
              name: condition.name,
              value: condition.value,
            },
          ];
    });
  if (objectKind === 'GRPCRoute') {
    const named = grpcMethod(rule);
    return {
      ...(named === undefined ? {} : { method: named }),
      ...(headers.length === 0 ? {} : { headers: conditions(headers) }),
    };
  }
  return {
    path: { type: pathType === 'Prefix' ? 'PathPrefix' : pathType, value: path },
    ...(method === 'any' ? {} : { method }),
    ...(headers.length === 0 ? {} : { headers: conditions(headers) }),
    ...(query.length === 0 ? {} : { queryParams: conditions(query) }),
  };
}

/** A rule of an HTTPRoute with its one match. */
export function httpRule(rule: IngressRoute): Written {
  const { timeoutMs, retries } = rule;
  const filters = filtersOf(rule);
  const refs = refsOf(rule);
  return {
    matches: [matchOf(rule)],
    ...(filters.length === 0 ? {} : { filters }),
    ...(refs.length === 0 ? {} : { backendRefs: refs }),
    ...(timeoutMs === null
      ? {}
      : { timeouts: { request: timeoutMs % 1000 === 0 ? `${timeoutMs / 1000}s` : `${timeoutMs}ms` } }),
    ...(retries === 0 ? {} : { retry: { attempts: retries } }),
  };
}

/** The filters of a rule. */
export function filtersOf(rule: IngressRoute): Written[] {
  return [...headerFilter(rule), ...redirectFilter(rule), ...rewriteFilter(rule), ...mirrorFilter(rule)];
}

function headerFilter({ headerChanges }: IngressRoute): Written[] {
  const changes = headerChanges.flatMap((each) => readHeaderChange(each) ?? []);
  if (changes.length === 0) return [];
  const of = (does: 'set' | 'add') =>
    changes.filter((each) => each.does === does).map(({ name, value }) => ({ name, value }));
  const removed = changes.filter((each) => each.does === 'remove').map(({ name }) => name);
  return [
    {
      type: 'RequestHeaderModifier',
      requestHeaderModifier: {
        ...(of('set').length === 0 ? {} : { set: of('set') }),
        ...(of('add').length === 0 ? {} : { add: of('add') }),
        ...(removed.length === 0 ? {} : { remove: removed }),
      },
    },
  ];
}

/** A path in place of the matched prefix, or of all of it. */
function replacing(path: string, isPrefix: boolean): Written {
  return isPrefix
    ? { type: 'ReplacePrefixMatch', replacePrefixMatch: path }
    : { type: 'ReplaceFullPath', replaceFullPath: path };
}

function redirectFilter({ redirect, redirectStatus }: IngressRoute): Written[] {
  const url = readRedirect(redirect);
  if (url === undefined) return [];
  return [
    {
      type: 'RequestRedirect',
      requestRedirect: {
        ...(url.scheme === undefined ? {} : { scheme: url.scheme }),
        ...(url.host === undefined ? {} : { hostname: url.host }),
        ...(url.port === undefined ? {} : { port: url.port }),
        ...(url.path === undefined ? {} : { path: replacing(url.path, url.isPrefix) }),
        statusCode: Number(redirectStatus),
      },
    },
  ];
}

function rewriteFilter({ rewriteHost, rewritePath, pathType }: IngressRoute): Written[] {
  if (rewriteHost === '' && rewritePath === '') return [];
  return [
    {
      type: 'URLRewrite',
      urlRewrite: {
        ...(rewriteHost === '' ? {} : { hostname: rewriteHost }),
        ...(rewritePath === '' ? {} : { path: replacing(rewritePath, pathType === 'Prefix') }),
      },
    },
  ];
}

function mirrorFilter({ mirror }: IngressRoute): Written[] {
  const copied = readBackendRef(mirror);
  if (copied === undefined) return [];
  return [
    {
      type: 'RequestMirror',
      requestMirror: {
        backendRef: {
          name: copied.service,
          ...(copied.namespace === '' ? {} : { namespace: copied.namespace }),
          port: copied.port,
        },
      },
    },
  ];
}

/** Finds ports by name among services. */
export function portsOf(services: readonly ClusterService[], namespace: string): PortByName {
  return (service, name) =>
    services
      .find((each) => each.namespace === namespace && each.name === service)
      ?.ports.flatMap((each) => readServicePort(each) ?? [])
      .find((port) => port.name === name)?.port;
}
