import { byId } from '../collection.js';
import { readBackendRef } from '../ingressForms.js';
import { notDnsLabels } from './dnsLabel.js';
import { DEFAULT_BACKEND } from './ingressRoutes.js';
import type { IngressRoute } from './ingressRoutes.js';
import { readRedirect } from '../redirects.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';

export const ingressRoutesRules: KindRules<IngressRoute> = {
  label: ({ name, namespace, rule }) => `${namespace}/${name} ${rule}`,
  about: ({ objectKind, hosts, path, clusterId }, plan) =>
    `${objectKind} rule for ${hosts[0] ?? 'every host, '}${path} in ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  headings: { service: 'backends', host: 'hosts', ingressclass: 'className' },
  betweenFields: (route) => [...notDnsLabels(route), ...pathProblems(route), ...formProblems(route)],
  betweenEntities: (plan, { clusterId, gatewayId }) => {
    const gateway = byId(plan.gateways, gatewayId ?? '');
    if (gateway === undefined || gateway.clusterId === clusterId) return [];
    return [
      wrong(
        'gatewayId',
        'route.gateway',
        `The gateway ${gateway.namespace}/${gateway.name} is of another cluster.`,
        'Choose one of the route’s own.',
      ),
    ];
  },
};

function pathProblems({ path, pathType, rewritePath, redirect, mirror }: IngressRoute): FieldProblem[] {
  const problems: FieldProblem[] = [];
  if (!path.startsWith('/') && pathType !== 'RegularExpression')
    problems.push(wrong('path', 'route.path', `“${path}” is not a path.`, `A path begins with a slash: /${path}.`));
  if (rewritePath !== '' && !rewritePath.startsWith('/'))
    problems.push(
      wrong(
        'rewritePath',
        'route.path',
        `“${rewritePath}” is not a path.`,
        `A path begins with a slash: /${rewritePath}.`,
      ),
    );
  if (redirect !== '' && readRedirect(redirect) === undefined)
    problems.push(
      wrong(
        'redirect',
        'route.redirect',
        `“${redirect}” is neither a URL nor a path.`,
        'Write https:// with a host, or a path that begins with a slash; {host}, {path} and {rest} stand for those of the request.',
      ),
    );
  if (mirror !== '' && readBackendRef(mirror) === undefined)
    problems.push(
      wrong('mirror', 'route.mirror', `“${mirror}” names no service with a port.`, 'Write it as shadow 80.'),
    );
  return problems;
}

/** A call of gRPC is a POST to /package.Service/Method, without a query (gRPC over HTTP/2, from memory of its protocol). */
function grpcProblems(route: IngressRoute): FieldProblem[] {
  const { objectKind, path, pathType, method, query, redirect, rewriteHost, rewritePath } = route;
  if (objectKind !== 'GRPCRoute') return [];
  const elements = path.split('/').filter((each) => each !== '').length;
  const fits =
    pathType === 'Prefix' ? elements <= 1 : pathType === 'Exact' ? elements === 2 : pathType === 'RegularExpression';
  const problem = (field: string, message: string, fix: string) => wrong(field, 'route.grpc', message, fix);
  return [
    ...(fits
      ? []
      : [
          problem(
            'path',
            `${pathType} ${path} does not match calls of gRPC.`,
            'Write / or /package.Service as a prefix, or /package.Service/Method exactly.',
          ),
        ]),
    ...(method === 'any' ? [] : [problem('method', 'Every call of gRPC is a POST.', 'Leave the method as any.')]),
    ...(query.length === 0 ? [] : [problem('query', 'A call of gRPC has no query.', 'Leave the parameters empty.')]),
    ...(redirect === '' && rewriteHost === '' && rewritePath === ''
      ? []
      : [
          problem(
            redirect === '' ? (rewriteHost === '' ? 'rewritePath' : 'rewriteHost') : 'redirect',
            'A GRPCRoute neither redirects nor rewrites.',
            'Leave it empty, or choose HTTPRoute.',
          ),
        ]),
  ];
}

function formProblems(route: IngressRoute): FieldProblem[] {
  const { objectKind, className, path, pathType, headers, query, method } = route;
  const problems = [...grpcProblems(route), ...(objectKind === 'Ingress' ? ingressProblems(route) : [])];
  if (objectKind !== 'Ingress' && className !== '')
    problems.push(
      wrong(
        'className',
        'route.class',
        `A rule of the kind ${objectKind} has no class of its own.`,
        'Leave the class empty: the gateway has one.',
      ),
    );
  const matchesMore = method !== 'any' || headers.length > 0 || query.length > 0;
  if (
    (objectKind === 'TLSRoute' || objectKind === 'TCPRoute') &&
    (matchesMore || path !== '/' || pathType !== 'Prefix')
  )
    problems.push(
      wrong(
        'path',
        'route.matches',
        `A ${objectKind} reads no requests: it knows no path, method, header or query.`,
        'Leave the path as / and the rest empty.',
      ),
    );
  if (pathType === DEFAULT_BACKEND && (objectKind !== 'Ingress' || path !== '/' || route.hosts.length > 0))
    problems.push(
      wrong(
        'pathType',
        'route.default',
        'A default backend is for what no rule of an Ingress takes: it has neither host nor path.',
        'Leave the hosts empty and the path as /, or choose Prefix.',
      ),
    );
  return problems;
}

/** What an Ingress cannot say that routes of the Gateway API can. */
function ingressProblems({ namespace, gatewayId, additionalParents, headers, query, method, backends }: IngressRoute) {
  const problems: FieldProblem[] = [];
  if (additionalParents.length > 0)
    problems.push(
      wrong(
        'additionalParents',
        'route.gateway',
        'An Ingress attaches to no gateway.',
        'Leave the further gateways empty, or choose HTTPRoute.',
      ),
    );
  if (gatewayId !== null)
    problems.push(
      wrong(
        'gatewayId',
        'route.gateway',
        'An Ingress attaches to no gateway.',
        'Leave the gateway empty, or choose HTTPRoute.',
      ),
    );
  if (method !== 'any' || headers.length > 0 || query.length > 0)
    problems.push(
      wrong(
        method === 'any' ? (headers.length > 0 ? 'headers' : 'query') : 'method',
        'route.matches',
        'An Ingress matches only by host and path.',
        'Choose HTTPRoute, or leave method, headers and query.',
      ),
    );
  if (backends.length > 1)
    problems.push(
      wrong(
        'backends',
        'route.backends',
        'A rule of an Ingress sends to one service.',
        'Choose HTTPRoute to share calls by weight.',
      ),
    );
  const elsewhere = backends
    .flatMap((text) => readBackendRef(text) ?? [])
    .find((each) => each.namespace !== '' && each.namespace !== namespace);
  if (elsewhere !== undefined)
    problems.push(
      wrong(
        'backends',
        'route.namespace',
        `An Ingress sends only to services of its own namespace, and ${elsewhere.namespace}/${elsewhere.service} is of another.`,
        'Choose HTTPRoute, or move the rule.',
      ),
    );
  return problems;
}
