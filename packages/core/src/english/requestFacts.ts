import { formatProblem } from '../result.js';
import type { Instead, NearestRoute, RequestChanges, RequestFact, Speaker } from '../road/index.js';
import { formatCount, formatNames } from '../working/index.js';
import { formatEnded } from './events.js';
import { formatFailed, formatPolicy, formatTunnelFault } from './failures.js';
import { lackProblem, formatLack } from './lacks.js';
import { formatBlocked, formatNameReason } from './nameReasons.js';
import type { Names } from './names.js';
import { formatByCode } from './words.js';
import type { Of, Words } from './words.js';
import { formatRouteLoss } from './routeLosses.js';

/** Something that is decided on the way of a request, in a sentence. */
export function formatRequest(names: Names, fact: RequestFact): string {
  return formatByCode(words, fact, names);
}

/** A share of 0 to 1 as it is said. */
export function formatShare(share: number): string {
  return `${(100 * share).toLocaleString('en-US', { maximumFractionDigits: 1 })} %`;
}

/** What stands in place of the client’s address. */
export function formatInstead(instead: NonNullable<Instead>): string {
  switch (instead.is) {
    case 'balancer':
      return `the address of ${instead.balancer}`;
    case 'node':
      return 'the address of a node';
    case 'relay':
      return `the relay of ${instead.cluster}`;
  }
}

/** What becomes of calls that a rule of a kind of route can send nowhere; the status is undefined where that is none of HTTP. */
export function formatUnsent(form: string, status: number | undefined): string {
  if (status !== undefined) return `Its calls are answered with status ${status}.`;
  return form === 'GRPCRoute'
    ? 'Its calls are answered with the gRPC status UNAVAILABLE.'
    : 'Its connections are rejected.';
}

function formatAt(at: Speaker): string {
  switch (at.is) {
    case 'controller':
      return `${at.controller} on port ${at.port}`;
    case 'gateway':
      return `The listener ${at.listener} of the gateway ${at.gateway}`;
    case 'balancer':
      return `The listener ${at.listener} of ${at.balancer}`;
    case 'Ingress':
      return `The Ingress ${at.route}`;
  }
}

/** The same within a sentence. */
function formatOfAt(at: Speaker): string {
  const speaker = formatAt(at);
  return at.is === 'controller' ? speaker : speaker.charAt(0).toLowerCase() + speaker.slice(1);
}

function formatChanges({ rewritePath, isPrefix, rewriteHost, headers, mirror, timeoutMs, retries }: RequestChanges) {
  return [
    rewritePath === '' ? '' : `${isPrefix ? 'the matched prefix' : 'the path'} becomes ${rewritePath}`,
    rewriteHost === '' ? '' : `the host becomes ${rewriteHost}`,
    ...headers.map((change) => `header: ${change}`),
    mirror === '' ? '' : `a copy goes to ${mirror}`,
    timeoutMs === null ? '' : `it ends after ${timeoutMs} ms`,
    retries === 0 ? '' : `it is sent again up to ${formatCount(retries, 'time')}`,
  ]
    .filter((each) => each !== '')
    .join('; ');
}

function formatNearest(nearest: NearestRoute): string {
  switch (nearest.is) {
    case 'no listener':
      return `The gateway ${nearest.gateway} has no listener for that host on port ${nearest.ports.join(' or ')}.`;
    case 'not attached':
      return `The listener ${nearest.listener} of the gateway ${nearest.gateway} gets it, and ${nearest.route} does not attach to that one.`;
    case 'no rule':
      return 'It has no rule for that host.';
    case 'near':
      return `Nearest is ${nearest.route}, rule ${nearest.rule}: ${formatRouteLoss(nearest.why)}.`;
  }
}

const unserved = {
  'no gateway': () => 'it attaches to no gateway',
  'no class': () => 'it names no class, and its cluster has no default',
  'no way': () => 'no way leads to its controller from there',
  'no listener': () => 'no listener of its gateway takes that host',
  'no controller': (classes: readonly string[]) => `no controller serves its class ${classes.join(' or ')}`,
} as const;

const noPods = {
  'no selector': 'it has neither a selector nor endpoints',
  'none selected': 'its selector selects none',
  'none run': 'its workloads run none',
  'zones lost': 'all that its workloads run are in zones that are lost',
  'none ready': 'none that its workloads run is ready',
} as const;

/** What a rule that sends nowhere comes to, where that is no HTTP status. */
const besides = (form: string, status: number | undefined) =>
  status === undefined ? ` ${formatUnsent(form, status)}` : '';

function formatQuery({ name, types, server, ended, why }: Of<RequestFact, 'query'>, names: Names): string {
  const reason = formatNameReason(names, why);
  switch (ended.is) {
    case 'passed on':
      return reason;
    case 'time-out':
      return `${name} ${types}: the ${server} timed out. ${reason}`;
    case 'elsewhere':
      return `${name} ${types}: the answer of the ${server} is not in this plan. ${reason}`;
    case 'answered':
      return `${name} ${types}: the ${server} answers ${formatEnded(ended.with)}. ${reason}`;
  }
}

const ownNodes = (service: string) =>
  `It is the NodePort of ${service}, and each node answers for its own pods only (externalTrafficPolicy Local)`;

const words: Words<RequestFact, string, [names: Names]> = {
  query: formatQuery,
  'name.unknown': ({ host, why }, names) => `What ${host} resolves to is not known. ${formatNameReason(names, why)}`,
  'name.unanswered': ({ host, ended, why }, names) =>
    `${host} is not answered (${ended}): ${formatNameReason(names, why)}`,
  'address.unheld': ({ host, address, isPart }) =>
    `${host} resolves to ${address}, where no load balancer in the plan listens${isPart ? ': part of the traffic is lost' : ''}.`,
  'host.nowhere': ({ host, nearest }) =>
    `Nothing in the plan is for the host ${host}.${nearest.length === 0 ? '' : ` Nearest are ${nearest.join(', ')}.`}`,
  'host.service': ({ host, service }) => `${host} is the service ${service} for pods of its cluster.`,
  'host.several': ({ host, balancers }) =>
    `${host} answers several addresses: calls to ${balancers.join(', ')} are not followed here.`,
  'host.assumed': ({ host, balancer, controller, others }) => {
    const what =
      balancer === undefined
        ? `the controller ${controller}, which only its cluster calls`
        : `the load balancer ${balancer}`;
    const also = others.length === 0 ? '' : ` ${others.join(', ')} would take it, too.`;
    return `${host} is assumed to resolve to ${what}: the plan holds no zones yet.${also}`;
  },
  'route.unserved': ({ form, route, host, why, classes }) =>
    `The ${form} ${route} is for ${host}, but ${unserved[why](classes)}.`,

  'controller.inside': ({ controller, cluster }) =>
    `The controller ${controller} has no load balancer: only ${cluster} itself calls it.`,
  'balancer.no-subnet': ({ balancer }) => `The load balancer ${balancer} is in no subnet.`,
  'balancer.no-listener': ({ balancer, port, has }) =>
    `${balancer} does not listen on tcp ${port}${has.length === 0 ? ': it has no listener yet' : `; it has ${has.join(', ')}`}.`,
  'balancer.open': ({ balancer, address }) => `The address of ${balancer} is not decided: ${address} stands for it.`,
  'listener.no-backend': ({ listener, balancer }) =>
    `The listener ${listener} of ${balancer} forwards to no backend yet: nothing answers.`,
  'listener.passes': ({ at, port }) => `${formatAt(at)} takes tcp ${port} and passes it on as it is.`,
  'listener.takes': ({ at, protocol, port }) => `${formatAt(at)} takes ${protocol} ${port}.`,
  'backend.empty': ({ backend }) => `The backend ${backend} has no members.`,
  'backend.no-service': ({ backend }) => `The backend ${backend} names no service yet: it has no members.`,
  'backend.addresses': ({ backend, count }) =>
    `The backend ${backend} sends to ${formatCount(count, 'fixed address', 'fixed addresses')}.`,

  'tls.plain': ({ at, port }) =>
    `${formatAt(at)} speaks plain HTTP${port === undefined ? '' : ` on port ${port}`}: the TLS handshake fails.`,
  'tls.missing': ({ at, host }) => `${formatAt(at)} speaks TLS, and the request to ${host} comes without.`,
  'tls.missing-on': ({ at, port }) => `${formatAt(at)} speaks TLS on port ${port}, and the request comes without.`,
  'certificate.none': ({ at }) => `${formatAt(at)} has no certificate: no TLS connection is made.`,
  'certificate.unnamed': ({ at, certificate, host }) =>
    `The names on the certificate ${certificate} of ${formatOfAt(at)} are not entered: whether clients accept it for ${host} is not known.`,
  'certificate.other': ({ at, certificate, host, names: covered }) => {
    const shown = `${covered.slice(0, 3).join(', ')}${covered.length > 3 ? ' and others' : ''}`;
    return `${host} is not on the certificate ${certificate} of ${formatOfAt(at)}, which covers ${shown}: clients refuse it.`;
  },
  'certificate.covers': ({ certificate, host }) => `The certificate ${certificate} covers ${host}.`,
  'certificate.not-granted': ({ gateway, certificate }) =>
    [
      `The gateway ${gateway} may not use the certificate ${certificate} of another namespace:`,
      'no reference grant there allows it, and no TLS connection is made.',
    ].join(' '),

  'listener.rivals': ({ listener, rival, gateway, port }) =>
    [
      `The listeners ${listener} and ${rival} of the gateway ${gateway} cannot both be at port ${port}:`,
      'its controller accepts one of them or neither.',
    ].join(' '),
  'route.not-accepted': ({ form, route, rivalForm, rival, listener, gateway }) =>
    [
      `The ${form} ${route} is not accepted at the listener ${listener} of the gateway ${gateway}:`,
      `the ${rivalForm} ${rival} there is older, and has hosts in common with it.`,
    ].join(' '),
  'route.age-unknown': ({ form, route, rivalForm, rival, listener, gateway }) =>
    [
      `The ${form} ${route} and the ${rivalForm} ${rival} have hosts in common at the listener ${listener} of the gateway`,
      `${gateway}: only the older of the two is accepted, and the plan does not say which that is.`,
    ].join(' '),
  'route.tie': ({ one, other }) =>
    [
      `The ${one.form} ${one.route}, rule ${one.rule}, and the ${other.form} ${other.route}, rule ${other.rule}, ask for the same:`,
      'the older of the two gets the request, and the plan does not say which that is. Enter their ages.',
    ].join(' '),
  'route.none': ({ controller, host, path, nearest }) =>
    `No route of ${controller} takes ${host}${path}. ${formatNearest(nearest)}`,
  'route.taken': ({ controller, by, hosts, path }) =>
    `${controller} takes the ${by.form} ${by.route}, rule ${by.rule}: ${hosts.join(', ') || 'every host, '}${path}.`,
  'route.redirects': ({ to, status }) => `It sends the client to ${to} instead, with status ${status}.`,
  'route.sent': ({ to, status }) => `Status ${status}: the client is sent to ${to}.`,
  'route.changes': ({ changes }) => `On its way the request changes: ${formatChanges(changes)}.`,
  'source.refused': ({ route, allowed, from, hides }) => {
    const lost = hides === undefined ? '' : ` It sees ${formatInstead(hides)} in place of the client’s.`;
    return `${route} accepts requests only from ${allowed.join(', ')}, and this one comes from ${from}.${lost}`;
  },
  'source.taken': ({ from }) => `${from} is among the sources it takes.`,
  'limit.kept': ({ perMinute }) => `It takes ${formatCount(perMinute, 'request')} per minute of one client.`,
  'limit.refused': ({ route, perMinute, by, asked, refused, after, hides }) => {
    const shared =
      hides === undefined
        ? ''
        : ` The limit sees ${formatInstead(hides)} as the client of every call, so all share it.`;
    return [
      `${route} takes ${formatCount(perMinute, 'request')} per minute of one client by ${by}:`,
      `of ${asked} per minute ${formatShare(refused)} are refused, the first after ${Math.round(after)} s.${shared}`,
    ].join(' ');
  },

  'backends.none': ({ by, status }) => `${by.route}, rule ${by.rule}, sends to no service.${besides(by.form, status)}`,
  'backends.gone': ({ by, service, status }) =>
    `${by.route}, rule ${by.rule}, sends to the service ${service}, which does not exist.${besides(by.form, status)}`,
  'backends.not-granted': ({ by, service, there, here, status }) =>
    [
      `${by.route} is in another namespace than the service ${service}, and no reference grant in ${there} allows`,
      `${by.form}s of ${here} to send there.${besides(by.form, status)}`,
    ].join(' '),
  'external.ask': ({ service, target }) => `${service} stands for ${target}: ask for that name.`,
  'external.outside': ({ service, target }) =>
    `${service} stands for the name ${target}, which is outside the cluster.`,
  'local.endpoints': ({ service }) =>
    `${service} answers only on the node of who asks (internalTrafficPolicy Local), and its endpoints are on no node.`,
  'local.elsewhere': ({ service }) =>
    `${service} answers only on the node of who asks (internalTrafficPolicy Local), and no pod of it runs on such nodes.`,
  'local.unsaid': ({ service }) =>
    [
      `${service} answers only on the node of who asks (internalTrafficPolicy Local):`,
      'on which nodes its pods run is not in the plan. A DaemonSet has one on each.',
    ].join(' '),
  'pods.hidden': ({ cluster, service, balancer }) =>
    [
      `Pods of ${cluster} are in an overlay, and ${service} has no NodePort:`,
      `the load balancer ${balancer} cannot call them. Make it a NodePort service.`,
    ].join(' '),
  'pods.hidden-from': ({ cluster }) =>
    `Pods of ${cluster} are in an overlay: a load balancer outside the cluster cannot call them. Use its nodes.`,
  'node-port.type': ({ service, type }) =>
    `${service} is of the type ${type}: it has no NodePort on which nodes could be members.`,
  'service.inside': ({ service, type }) => `${service} is of the type ${type}: it answers only inside its cluster.`,
  'node-port.open': ({ service, port }) => `The cluster gives the NodePort of ${service}: ${port} stands for it here.`,
  'nodes.none': ({ cluster }) => `${cluster} has no node range yet.`,
  'range.none': ({ cluster }) => `${cluster} has no service range yet.`,
  'nodes.own-pods': ({ service, pools }) =>
    [
      `Nodes${pools.length === 0 ? '' : ` of ${pools.join(', ')}`} pass calls only to their own pods of ${service},`,
      'and leave the client’s address as it is; others do not answer.',
    ].join(' '),
  'nodes.any': ({ service }) =>
    `Any node passes calls on to any pod of ${service}, with its own address in place of the client’s.`,
  'service.pods': ({ service, pods, port, workloads }) =>
    `${service} has ${formatCount(pods, 'pod')} at port ${port}: ${workloads.join(', ')}.`,
  'service.no-pods': ({ service, why }) => `${service} has no pods: ${noPods[why]}.`,
  'service.deaf': ({ service, target, workload }) =>
    `${service} sends to the container port ${target}, on which ${workload} does not listen.`,
  'service.named-endpoints': ({ service, target }) =>
    `${service} names the container port ${target}, and endpoints only have numbers.`,
  'service.endpoints': ({ service, port, addresses }) =>
    `${service} has ${formatCount(addresses.length, 'endpoint')} at port ${port}: ${addresses.slice(0, 3).join(', ')}${addresses.length > 3 ? ' and others' : ''}.`,
  'service.headless-port': ({ service, port }) =>
    `No pod of ${service} listens on port ${port}: a headless service translates no ports.`,
  'service.no-port': ({ service, port, has }) =>
    `The service ${service} has no port ${port}${has.length === 0 ? '' : `; it has ${has.join('; ')}`}.`,
  'service.cluster-gone': () => 'The cluster of that service is gone.',
  'cluster.gone': () => 'The cluster is gone.',
  'controller.no-service': ({ controller }) =>
    `The controller ${controller} names no service of its own: nothing can call it.`,
  'health.unreached': ({ backend, port, to, failed }, names) =>
    [
      `Health checks of ${backend} on tcp ${port} do not reach ${to}, so that no member counts as healthy.`,
      ...(failed === undefined ? [] : [formatFailed(names, failed)]),
    ].join(' '),
  policy: ({ decision }) => formatPolicy(decision),
  lack: ({ lack }, names) => formatProblem(lackProblem(names, lack)),

  'export.idle': ({ cluster, service, blocked }, names) =>
    `${cluster} exports ${service} too and gets no calls. ${formatBlocked(names, blocked)}`,
  'export.by': ({ service, connection, shown, rank }) => {
    const by = shown.map(({ cluster, share }) => `${cluster}${share === undefined ? '' : ` ${formatShare(share)}`}`);
    return `${service} of ${connection} is answered by ${by.join(', ')}${rank > 1 ? `, in rank ${rank}, since none before is reached` : ''}.`;
  },
  'export.gone': ({ cluster, service }) => `${cluster} exports ${service}, and has no such service.`,
  'relay.no-way': ({ connection, from, to }) => `${connection} has no way from ${from} to ${to}.`,
  'relay.lack': ({ lack }, names) => formatLack(names, lack),
  'relay.down': ({ connection, fault, failed }, names) =>
    `The link of ${connection} does not come up: ${formatTunnelFault(names, fault, failed)}`,

  'asked.nobody': () => 'There is no host to ask.',
  'asked.service-gone': () => 'That service is not in the plan.',
  'asked.zones': ({ passing, of }) => `From ${passing} of ${formatCount(of, 'zone')} it passes.`,
  'asked.workloads': ({ stopped }) => {
    const shown = formatNames(stopped.map((each) => each ?? 'a pod of no workload'));
    return `It depends on the workload, which is not named: ${shown} ${stopped.length === 1 ? 'is' : 'are'} stopped, and others are not.`;
  },
  'node-port.undecided': ({ port }) => `Which service has the NodePort ${port} is not decided.`,
  'node-port.nobody': ({ cluster, port }) =>
    `Nothing listens there: no service of ${cluster} has the NodePort ${port}.`,
  'node-port.no-pods': ({ service }) => `It is the NodePort of ${service}, which has no pods that are ready.`,
  'node-port.of': ({ service }) => `It is the NodePort of ${service}.`,
  'node-port.local-elsewhere': ({ service }) => `${ownNodes(service)}: none of them runs on such nodes.`,
  'node-port.local': ({ service }) => `${ownNodes(service)}.`,
  'node-port.local-unsaid': ({ service }) => `${ownNodes(service)}: on which of them its pods run is not in the plan.`,

  'road.ends': ({ from, to, protocol, port, failed }, names) =>
    [
      `${from} does not reach ${to}${protocol === '' ? '' : `, ${protocol} ${port}`}.`,
      ...(failed === undefined ? [] : [formatFailed(names, failed)]),
    ].join(' '),
  'road.ends-as-client': ({ from, to, protocol, port, failed }, names) =>
    [
      `${from} leaves the client’s address as it is and does not reach ${to}, ${protocol} ${port}.`,
      ...(failed === undefined ? [] : [formatFailed(names, failed)]),
    ].join(' '),
};
