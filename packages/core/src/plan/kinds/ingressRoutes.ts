import { choice, flag, integer, name, note, optionalInteger, prefixes, reference, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { certificateHosts, certificateName } from './listeners.js';
import { keptFields, namespace } from './workloads.js';

const line = (label: string, help: string, max = 200) =>
  text({ label, help, min: 0, max, compare: 'exact', fallback: '' });
const millis = (label: string, help: string) =>
  optionalInteger({ label, help, empty: 'none', unit: 'ms', min: 1, max: 3_600_000 });
const conditions = (label: string, help: string) =>
  texts({ label, help, min: 0, max: 16, maxLength: 300, form: 'condition', fallback: [] });

/** The path type of what takes requests that no rule of its class does. */
export const DEFAULT_BACKEND = 'Default backend';

/** One rule of an Ingress, an HTTPRoute, a GRPCRoute, a TLSRoute or a TCPRoute: which calls go to which services. */
export const ingressRoutes = defineKind({
  kind: 'ingressRoutes',
  code: 'ingressRoute',
  one: 'ingress route',
  about:
    'One rule of an Ingress, an HTTPRoute, a GRPCRoute, a TLSRoute or a TCPRoute: which calls go to which services.',
  since: 7,
  unique: { by: ['clusterId', 'objectKind', 'namespace', 'name', 'rule'] },
  fields: {
    name: name('The object that the rule is of.'),
    clusterId: reference({ label: 'Cluster', help: 'Where it is.', to: 'clusters', onRemoval: 'cascade' }),
    namespace: namespace('The namespace it is in.'),
    objectKind: choice({
      label: 'Kind',
      help: 'The kind of object that the rule is written in.',
      options: ['Ingress', 'HTTPRoute', 'GRPCRoute', 'TLSRoute', 'TCPRoute'],
      fallback: 'Ingress',
    }),
    rule: integer({
      label: 'Rule',
      help: 'Its place among the rules of the object, from 1.',
      unit: 'place',
      min: 1,
      max: 1000,
      fallback: 1,
    }),
    className: line('Class', 'Class of an Ingress; routes of the Gateway API name a gateway instead.', 63),
    gatewayId: reference({
      label: 'Gateway',
      help: 'The gateway that a route of the Gateway API attaches to.',
      empty: 'none',
      to: 'gateways',
      isOptional: true,
      onRemoval: 'drop',
    }),
    listener: line(
      'Listener',
      'The one listener of the gateway that it attaches to; empty for each that takes it.',
      63,
    ),
    additionalParents: texts({
      label: 'Additional gateways',
      formerly: ['Further gateways'],
      help: [
        'Gateways or listeners that it attaches to beside the first,',
        'each as namespace and name, with one listener if it is only for that: edge/public plain.',
      ].join(' '),
      min: 0,
      max: 31,
      maxLength: 400,
      form: 'parentRef',
      fallback: [],
      since: 13,
    }),
    hosts: texts({
      label: 'Hosts',
      help: 'Host names; empty for every one. A wildcard covers one label in an Ingress, one or more in the Gateway API.',
      min: 0,
      max: 16,
      maxLength: 253,
      form: 'host',
      fallback: [],
    }),
    pathType: choice({
      label: 'Path type',
      help: 'The whole path, a prefix of whole path elements, or a regular expression; a default backend takes what no rule of its class does.',
      options: ['Prefix', 'Exact', 'RegularExpression', DEFAULT_BACKEND],
      fallback: 'Prefix',
    }),
    path: text({
      label: 'Path',
      help: 'Begins with a slash; of a GRPCRoute /package.Service/Method.',
      min: 1,
      max: 1024,
      compare: 'exact',
      fallback: '/',
    }),
    method: choice({
      label: 'Method',
      help: 'The method that it is for.',
      options: ['any', 'GET', 'HEAD', 'POST', 'PUT', 'DELETE', 'CONNECT', 'OPTIONS', 'TRACE', 'PATCH'],
      fallback: 'any',
    }),
    headers: conditions('Headers', 'Each as name=value, or name~regular expression.'),
    query: conditions('Query', 'Parameters, each as name=value, or name~regular expression.'),
    backends: texts({
      label: 'Backend services',
      formerly: ['Sends to'],
      help: 'Services with a port, and a weight where there are several: tide 80 weight 90.',
      min: 0,
      max: 16,
      maxLength: 160,
      form: 'backendRef',
      fallback: [],
    }),
    rewritePath: line(
      'New path',
      'What takes the place of the path, or of its matched prefix; empty to leave it.',
      1024,
    ),
    rewriteHost: line('New host', 'What takes the place of the host; empty to leave it.', 253),
    redirect: line(
      'Redirects to',
      'The URL or path that clients are sent to instead; {scheme}, {host} and {path} are those of the request, {rest} its path after the prefix.',
      1024,
    ),
    redirectStatus: choice({
      label: 'Redirect status',
      help: 'Status of the redirect: 301 and 308 for good, 302, 303 and 307 for now; 307 and 308 keep the method.',
      options: ['301', '302', '303', '307', '308'],
      fallback: '302',
    }),
    headerChanges: texts({
      label: 'Header changes',
      help: 'Each as set name=value, add name=value or remove name.',
      min: 0,
      max: 32,
      maxLength: 300,
      form: 'headerChange',
      fallback: [],
    }),
    timeoutMs: millis('Time-out', 'How long the whole request may take.'),
    retries: integer({
      label: 'Retries',
      help: 'How often a failed call is sent again.',
      unit: 'times',
      min: 0,
      max: 10,
      fallback: 0,
    }),
    mirror: line('Mirror to', 'A service with a port that gets a copy of each request, its answers thrown away.', 160),
    rateLimitPerMinute: optionalInteger({
      label: 'Rate limit',
      help: 'Requests per minute of one client address; what exceeds them is refused with status 429.',
      empty: 'none',
      unit: 'per minute',
      min: 1,
      max: 60_000_000,
    }),
    rateLimitAlgorithm: choice({
      label: 'Rate limit algorithm',
      formerly: ['Counted by'],
      help: 'Requests in each whole minute, or a bucket of as many that fills again evenly.',
      options: ['fixed window', 'token bucket'],
      fallback: 'token bucket',
    }),
    allowedSources: prefixes({
      label: 'Allowed sources',
      help: 'Client addresses that may call; empty for all.',
      min: 0,
      max: 64,
      fallback: [],
    }),
    age: integer({
      label: 'Age',
      help: 'Of routes that match equally the older one wins: 1 for the oldest; 0 where it is not known.',
      unit: 'place',
      min: 0,
      max: 1_000_000,
      fallback: 0,
    }),
    isDeprecatedVersion: flag({
      label: 'Deprecated version',
      formerly: ['Retired form'],
      help: 'Whether it is in the cluster in an API version that is retired.',
      fallback: false,
    }),
    certificate: certificateName(),
    certificateHosts: certificateHosts(),
    preserved: keptFields(),
    note: note(),
  },
});

/** One rule of an Ingress, an HTTPRoute, a GRPCRoute, a TLSRoute or a TCPRoute. */
export type IngressRoute = EntityOfFields<(typeof ingressRoutes)['fields']>;
