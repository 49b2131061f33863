import type { Failed } from '../../road/index.js';
import { formatCount, formatNumber } from '../../working/index.js';
import { formatFailed } from '../failures.js';
import type { Names } from '../names.js';
import { formatUnsent } from '../requestFacts.js';
import { sentences } from './words.js';
import type { FindingTable } from './words.js';

/** A rule of a route, by its cluster, its kind of object, its name with the namespace, and its number. */
export interface RuleOf {
  readonly cluster: string;
  readonly form: string;
  readonly route: string;
  readonly rule: number;
}

/** Why a route attaches to no listener of a gateway. */
export type Unattached =
  | { readonly is: 'own namespace'; readonly namespace: string }
  | { readonly is: 'namespaces'; readonly terms: readonly string[]; readonly namespace: string }
  | { readonly is: 'no listener'; readonly listener: string }
  | {
      readonly is: 'protocol';
      /** Empty where the route names none of them. */
      readonly listener: string;
      readonly form: string;
      readonly listeners: readonly { readonly name: string; readonly protocol: string }[];
    }
  | { readonly is: 'other kinds' }
  | { readonly is: 'hosts'; readonly own: readonly string[]; readonly hosts: readonly string[] };

/** Why a service cannot be called through the members that a backend names. */
export type Unfit =
  | { readonly is: 'no NodePort'; readonly service: string }
  | { readonly is: 'overlay'; readonly cluster: string };

/** When pods find no room. */
type RoomCase = 'now' | 'horizon' | 'zone lost' | 'upgrade';

/** What a workload finds no node for. */
type RoomLack = 'no such node' | 'zone' | 'pods per node' | 'CPU' | 'memory';

/** A service of a cluster. */
interface ServiceOf {
  readonly cluster: string;
  readonly service: string;
}

const formatService = ({ cluster, service }: ServiceOf) => `${cluster}: service ${service}`;
const formatRule = ({ cluster, form, route, rule }: RuleOf) => `${cluster}: ${form} ${route}, rule ${rule}`;
const REFUSED = 'clients refuse the connection.';

function formatUnattached(why: Unattached): string {
  switch (why.is) {
    case 'own namespace':
      return `The gateway accepts only routes of its own namespace ${why.namespace}.`;
    case 'namespaces':
      return `The gateway accepts only routes of namespaces with ${why.terms.join(', ')}, and ${why.namespace} is none.`;
    case 'no listener':
      return `It has no listener ${why.listener}.`;
    case 'protocol': {
      const who = why.listener === '' ? 'None of its listeners takes' : `The listener ${why.listener} does not take`;
      return `${who} ${why.form}s; by protocol: ${why.listeners.map(({ name, protocol }) => `${name} ${protocol}`).join(', ')}.`;
    }
    case 'other kinds':
      return 'Its listeners take other kinds of routes.';
    case 'hosts':
      return `Its listeners are for ${why.own.map((host) => host || 'every host').join(', ')}, and none has ${why.hosts.join(', ')} in common with it.`;
  }
}

const formatUnfit = (why: Unfit) =>
  why.is === 'no NodePort'
    ? `calls nodes, and ${why.service} has no NodePort`
    : `calls pods of ${why.cluster}, which are in an overlay`;

/** Members that do not get calls or health checks. */
interface UnreachedFact {
  readonly balancer: string;
  readonly backend: string;
  readonly port: number;
  readonly areHealthChecks: boolean;
  readonly failed: Failed;
}

const formatUnreached = ({ balancer, backend, port, areHealthChecks }: UnreachedFact, what: string) =>
  `${balancer}: ${areHealthChecks ? 'health checks of' : 'calls to'} members of ${backend} on port ${port} ${what}`;
const unanswered = ({ areHealthChecks }: UnreachedFact) =>
  areHealthChecks ? 'No member counts as healthy, and nothing is answered.' : 'Nothing is answered.';

const cases: Readonly<Record<RoomCase, (zone: string) => string>> = {
  now: () => 'today',
  horizon: () => 'at the horizon',
  'zone lost': (zone) => `while zone ${zone} is lost`,
  upgrade: () => 'while an upgrade drains a node',
};

const lacks: Readonly<Record<RoomLack, string>> = {
  'no such node': 'there is no node that it may run on, by its node pool, its labels and their taints',
  zone: 'its own zone is full, though another is not: spread anywhere it would find room',
  'pods per node': 'every node already runs as many pods as it may',
  CPU: 'no node has enough CPU left',
  memory: 'no node has enough memory left',
};

interface RoomFact {
  readonly cluster: string;
  readonly pods: number;
  readonly case: RoomCase;
  readonly zone: string;
  readonly workload: string;
  readonly placed: number;
  readonly wanted: number;
  readonly lack: RoomLack | undefined;
}

const formatNoRoom = (fact: RoomFact) => ({
  title: `${fact.cluster}: ${formatNumber(fact.pods)} ${fact.pods === 1 ? 'pod finds' : 'pods find'} no room ${cases[fact.case](fact.zone)}`,
  detail: [
    `Of ${fact.workload} ${formatNumber(fact.placed)} of ${formatNumber(fact.wanted)} pods find room:`,
    `${fact.lack === undefined ? '' : lacks[fact.lack]}. Add nodes, ask for less, or run fewer pods.`,
  ].join(' '),
});

interface PodCounts {
  readonly today: number;
  readonly horizon: number;
}
const formatPods = ({ today, horizon }: PodCounts) =>
  `${formatNumber(today)} today and ${formatNumber(horizon)} at the horizon`;

/** Words of findings on workloads, services, load balancers and routes. */
export const entryWords = {
  'backend.opening': (fact: UnreachedFact, names: Names) => ({
    title: formatUnreached(fact, 'are refused'),
    detail: sentences(formatFailed(names, fact.failed), unanswered(fact), 'Open the port for the load balancer.'),
  }),
  'backend.unreached': (fact: UnreachedFact, names: Names) => ({
    title: formatUnreached(fact, 'do not arrive'),
    detail: sentences(formatFailed(names, fact.failed), unanswered(fact)),
  }),
  'backend.unreached:unfit': (fact: { readonly balancer: string; readonly backend: string; readonly why: Unfit }) => ({
    title: `${fact.balancer}: the backend ${fact.backend} ${formatUnfit(fact.why)}`,
    detail: 'It has no members that can be called. Use a NodePort, another kind of members, or another pod network.',
  }),
  'backend.port': (fact: {
    readonly balancer: string;
    readonly backend: string;
    readonly port: number;
    readonly service: string;
    readonly ports: readonly number[];
  }) => ({
    title: `${fact.balancer}: the backend ${fact.backend} calls port ${fact.port}, which ${fact.service} does not have`,
    detail: `The service has ${fact.ports.join(', ') || 'no ports'}. Calls are not answered until the backend names one of them.`,
  }),
  'backend.port:protocol': (fact: {
    readonly balancer: string;
    readonly backend: string;
    readonly protocol: string;
    readonly service: string;
    readonly port: number;
    readonly speaks: string;
  }) => ({
    title: `${fact.balancer}: the backend ${fact.backend} calls ${fact.service} over ${fact.protocol}, and its port ${fact.port} is ${fact.speaks}`,
    detail: 'Nothing answers over the other protocol. Change the backend or the service.',
  }),
  'balancer.no-listener': (fact: { readonly balancer: string }) => ({
    title: `${fact.balancer} has no listener`,
    detail: 'It answers on no port. Add a listener, or remove it.',
  }),
  'balancer.placement': (fact: {
    readonly balancer: string;
    readonly lacking: readonly string[];
    readonly cluster: string;
    readonly profile: string;
  }) => ({
    title: `${fact.balancer} does not share ${fact.lacking.join(' and ')} with the nodes of ${fact.cluster}`,
    detail: [
      `${fact.profile} asks for it of a load balancer that an appliance runs: its members are not taken otherwise.`,
      'Place it there, or attach the filter to both.',
    ].join(' '),
  }),
  'balancer.quota': (fact: {
    readonly balancer: string;
    readonly of: 'members' | 'listeners';
    readonly count: number;
    readonly profile: string;
    readonly most: number;
  }) => {
    const areMembers = fact.of === 'members';
    return {
      title: `${fact.balancer}: ${formatNumber(fact.count)} ${fact.of}, and ${fact.profile} allows ${formatNumber(fact.most)}`,
      detail: [
        `The provider refuses the others${areMembers ? ' at the horizon' : ''}.`,
        `Use several load balancers${areMembers ? ', pods as members, or fewer nodes' : ''}.`,
      ].join(' '),
    };
  },
  'entry.certificate': (fact: {
    readonly rule: RuleOf;
    readonly host: string;
    /** Empty where the listener has none. */
    readonly certificate: string;
    readonly covered: readonly string[];
  }) => ({
    title: `${formatRule(fact.rule)}: no certificate covers ${fact.host}`,
    detail: [
      `${fact.certificate === '' ? 'The listener has no certificate' : `${fact.certificate} covers ${fact.covered.join(', ')}`}:`,
      REFUSED,
      'Have the name put on it.',
    ].join(' '),
  }),
  'entry.certificate:in-front': (fact: {
    readonly rule: RuleOf;
    readonly host: string;
    readonly balancer: string;
    readonly certificates: readonly string[];
  }) => ({
    title: `${formatRule(fact.rule)}: no certificate of ${fact.balancer} covers ${fact.host}`,
    detail: [
      `Its listeners end TLS with ${fact.certificates.join(', ')}:`,
      REFUSED,
      'Have the name put on one of them.',
    ].join(' '),
  }),
  'entry.certificate-names': (fact: {
    readonly rule: RuleOf;
    readonly certificate: string;
    readonly hosts: readonly string[];
  }) => ({
    title: `${formatRule(fact.rule)}: the names on the certificate ${fact.certificate} are not entered`,
    detail: `Whether clients accept it for ${fact.hosts.join(', ')} is not known. Enter the names, or the certificate with them.`,
  }),
  'entry.class': (fact: { readonly rule: RuleOf; readonly classes: readonly string[] }) => ({
    title: `${formatRule(fact.rule)}: ${fact.classes.length === 0 ? 'names no class' : `no controller serves the class ${fact.classes.join(' or ')}`}`,
    detail: [
      'The route has no effect, and its host is not answered.',
      'Name a class that a controller of the cluster implements, or add the controller.',
    ].join(' '),
  }),
  'entry.class-twice': (fact: {
    readonly cluster: string;
    readonly controllers: readonly string[];
    readonly className: string;
  }) => ({
    title: `${fact.cluster}: ${fact.controllers.join(' and ')} both serve the class ${fact.className}`,
    detail:
      'Each carries out the routes of the class, with addresses of its own, and each writes what it did into them. Leave the class to one.',
  }),
  'entry.covered': (fact: {
    readonly route: string;
    readonly rule: number;
    readonly first: { readonly route: string; readonly rule: number };
    readonly hosts: readonly string[];
    readonly path: string;
    /** Whether which of the two is older is not known. */
    readonly areUndated: boolean;
  }) => ({
    title: fact.areUndated
      ? [
          `Rule ${fact.first.rule} of ${fact.first.route} or rule ${fact.rule} of ${fact.route}`,
          'is never reached: which one depends on their ages',
        ].join(' ')
      : [
          `Rule ${fact.rule} of ${fact.route} is never reached:`,
          `rule ${fact.first.rule} of ${fact.first.route} matches first`,
        ].join(' '),
    detail: [
      `Both are for ${fact.hosts.join(', ') || 'every host, '}${fact.path}, and neither asks for more.`,
      fact.areUndated
        ? 'The older gets every request. Enter their ages, remove one, or let it ask for something else.'
        : 'Remove one of them, or let it ask for something else.',
    ].join(' '),
  }),
  'entry.grant': (fact: {
    readonly rule: RuleOf;
    readonly service: string;
    readonly namespace: string;
    readonly status: number | undefined;
  }) => ({
    title: `${formatRule(fact.rule)}: no reference grant allows it to send to ${fact.service}`,
    detail: [
      `The service is in another namespace. ${formatUnsent(fact.rule.form, fact.status)}`,
      `A grant in ${fact.namespace} has to name the kind and namespace of the route.`,
    ].join(' '),
  }),
  'entry.grant:secret': (fact: {
    readonly cluster: string;
    readonly gateway: string;
    readonly certificate: string;
    readonly namespace: string;
    /** The namespace of the gateway. */
    readonly own: string;
  }) => ({
    title: `${fact.cluster}: no reference grant allows the gateway ${fact.gateway} to use ${fact.certificate}`,
    detail: [
      'The certificate is in another namespace: its listeners make no TLS connection.',
      `A grant in ${fact.namespace} has to name gateways of ${fact.own} and the secret.`,
    ].join(' '),
  }),
  'entry.host': (fact: { readonly rule: RuleOf; readonly host: string }) => ({
    title: `${formatRule(fact.rule)}: its host ${fact.host} is an address`,
    detail:
      'Hosts of routes are names: clients that call an address send no name that could match. Use a name, or leave the host empty.',
  }),
  'entry.listeners': (fact: {
    readonly cluster: string;
    readonly gateway: string;
    readonly one: { readonly name: string; readonly protocol: string };
    readonly other: { readonly name: string; readonly protocol: string };
    readonly port: number;
  }) => {
    const { one, other } = fact;
    const why =
      one.protocol === other.protocol
        ? `Both are of ${other.protocol}, of which one listener takes every connection:`
        : `One is ${one.protocol}, the other ${other.protocol}, and nothing in a connection tells them apart:`;
    return {
      title: `${fact.cluster}: the listeners ${one.name} and ${other.name} of ${fact.gateway} cannot both be at port ${fact.port}`,
      detail: `${why} the controller accepts one of them or neither. Give one of them another port.`,
    };
  },
  'entry.no-port': (fact: {
    readonly rule: RuleOf;
    readonly service: string;
    readonly port: number;
    readonly ports: readonly number[];
  }) => ({
    title: `${formatRule(fact.rule)}: the service ${fact.service} has no port ${fact.port}`,
    detail: `It has ${fact.ports.join(', ') || 'no ports'}. Name one of them.`,
  }),
  'entry.no-service': (fact: { readonly rule: RuleOf; readonly status: number | undefined }) => ({
    title: `${formatRule(fact.rule)}: sends to no service`,
    detail: `${formatUnsent(fact.rule.form, fact.status)} Name a service and its port.`,
  }),
  'entry.no-service:gone': (fact: {
    readonly rule: RuleOf;
    readonly service: string;
    readonly status: number | undefined;
  }) => ({
    title: `${formatRule(fact.rule)}: the service ${fact.service} does not exist`,
    detail: `${formatUnsent(fact.rule.form, fact.status)} Add the service, or name another.`,
  }),
  'entry.pattern': (fact: { readonly rule: RuleOf; readonly pattern: string }) => ({
    title: `${formatRule(fact.rule)}: ${fact.pattern} is not a regular expression`,
    detail: 'It matches nothing. Use the syntax that runs in linear time: no look-around, no references back.',
  }),
  'entry.retired': (fact: { readonly rule: RuleOf }) => ({
    title: `${formatRule(fact.rule)}: is in the cluster in a retired API version`,
    detail: 'An upgrade of the cluster stops taking it. Write its manifest here: it comes in today’s version.',
  }),
  'entry.single': (fact: {
    /** Empty for every host. */
    readonly host: string;
    readonly path: string;
    readonly service: string;
    readonly isPod: boolean;
  }) => ({
    title: `${fact.host || 'Every host, '}${fact.path} is public and served by a single ${fact.isPod ? 'pod' : 'zone'} of ${fact.service}`,
    detail: [
      `One failure${fact.isPod ? ' of the pod or its node' : ' of that zone'} takes it down.`,
      fact.isPod ? 'Run two or more replicas.' : 'Run it in nodes of other zones, too.',
    ].join(' '),
  }),
  'entry.source': (fact: {
    readonly route: string;
    readonly rule: number;
    /** Whether the rule limits requests, rather than allows sources. */
    readonly isLimit: boolean;
    /** What replaces the address of clients; either may be empty. */
    readonly balancer: string;
    readonly service: string;
  }) => {
    const who = [fact.balancer, fact.service === '' ? '' : `the nodes of the service ${fact.service}`];
    return {
      title: `${fact.route}, rule ${fact.rule}: ${fact.isLimit ? 'limits requests by client' : 'allows sources by their address'}, which it does not see`,
      detail: [
        `${who.filter((each) => each !== '').join(' and ')} put their own address in place of the client’s, so that all clients look the same.`,
        `Let the load balancer keep it${fact.service === '' ? '' : ' and set the service to local'}, or put a load balancer of layer 7 before it.`,
      ].join(' '),
    };
  },
  'entry.two-kinds': (fact: {
    readonly rule: RuleOf;
    readonly rival: string;
    readonly listener: string;
    readonly gateway: string;
    /** The one that is accepted; undefined where their ages are not known. */
    readonly accepted: string | undefined;
  }) => ({
    title: `${formatRule(fact.rule)}: shares hosts with the ${fact.rival} at the listener ${fact.listener} of ${fact.gateway}`,
    detail: [
      fact.accepted === undefined
        ? 'Only the older of the two is accepted, and the plan does not say which that is.'
        : `Only the ${fact.accepted} is accepted, since it is older.`,
      'No rule of the other has any effect.',
      'Give one of them hosts of its own, or write both as one HTTPRoute, which takes calls of gRPC by their path.',
    ].join(' '),
  }),
  'entry.unattached': (fact: { readonly rule: RuleOf; readonly gateway: string; readonly why: Unattached }) => ({
    title: `${formatRule(fact.rule)}: attaches to no listener of ${fact.gateway}`,
    detail: `${formatUnattached(fact.why)} Change the listener, the host of the route or of the listener, or what the gateway takes.`,
  }),
  'entry.unattached:no-gateway': (fact: { readonly rule: RuleOf }) => ({
    title: `${formatRule(fact.rule)}: attaches to no gateway`,
    detail: 'The route has no effect. Name the gateway that it attaches to.',
  }),
  'listener.certificate': (fact: {
    readonly balancer: string;
    readonly listener: string;
    readonly protocol: string;
  }) => ({
    title: `${fact.balancer}: the listener ${fact.listener} speaks ${fact.protocol} and has no certificate`,
    detail: 'No TLS connection is made on it. Name a certificate and the hosts that it covers.',
  }),
  'listener.certificate-names': (fact: {
    readonly balancer: string;
    readonly listener: string;
    readonly certificate: string;
  }) => ({
    title: `${fact.balancer}: the names on the certificate of the listener ${fact.listener} are not entered`,
    detail: `For which hosts clients accept ${fact.certificate} is not known. Enter its names, or the certificate with them.`,
  }),
  'listener.no-members': (fact: {
    readonly balancer: string;
    readonly listener: string;
    readonly backend: string | undefined;
  }) => ({
    title: `${fact.balancer}: the listener ${fact.listener} has no members yet`,
    detail: [
      `${fact.backend === undefined ? 'It forwards to no backend' : `Its backend ${fact.backend} names no members`}:`,
      'until then calls are answered with an error. This is an open step.',
    ].join(' '),
  }),
  'listener.opening': (
    fact: { readonly balancer: string; readonly listener: string; readonly port: number; readonly failed: Failed },
    names: Names,
  ) => ({
    title: `${fact.balancer}: clients cannot reach the listener ${fact.listener} on port ${fact.port}`,
    detail: `${formatFailed(names, fact.failed)} Open the port for the clients that should call it.`,
  }),
  'policy.names': (fact: {
    readonly cluster: string;
    readonly policy: string;
    readonly workload: string;
    readonly rules: number;
  }) => ({
    title: `${fact.cluster}: the network policy ${fact.policy} cuts ${fact.workload} off from names`,
    detail: [
      `Its pods may call by ${formatCount(fact.rules, 'rule')}, and none lets them ask a name server on udp 53.`,
      'They find nothing by its name. Allow udp 53 and tcp 53 to the cluster’s DNS.',
    ].join(' '),
  }),
  'service.address:api': (fact: ServiceOf & { readonly address: string }) => ({
    title: `${formatService(fact)}: ${fact.address} is that of the API itself`,
    detail: 'The first address of the service range belongs to the API server’s own service.',
  }),
  'service.address:band': (
    fact: ServiceOf & { readonly address: string; readonly first: string; readonly last: string },
  ) => ({
    title: `${formatService(fact)}: ${fact.address} may be given to another service first`,
    detail: `The cluster gives addresses above ${fact.last} by itself. Fix addresses from ${fact.first} to ${fact.last}.`,
  }),
  'service.address:outside': (fact: ServiceOf & { readonly address: string; readonly ranges: readonly string[] }) => ({
    title: `${formatService(fact)}: ${fact.address} is in no service range`,
    detail: `The service range is ${fact.ranges.join(' and ')}. Take an address of it, or leave the address to the cluster.`,
  }),
  'service.address:taken': (fact: ServiceOf & { readonly address: string; readonly holder: string }) => ({
    title: `${formatService(fact)}: ${fact.address} is also that of ${fact.holder}`,
    detail: 'A cluster address belongs to one service. Give one of them another.',
  }),
  'service.closed': (
    fact: ServiceOf & {
      readonly protocol: string;
      readonly port: number;
      readonly workload: string;
      /** The container port that the service names, and those that are there. */
      readonly target: string;
      readonly open: readonly string[];
    },
  ) => ({
    title: `${formatService(fact)} sends ${fact.protocol} ${fact.port} to a port on which nothing listens`,
    detail: [
      `${fact.workload} has no container port ${fact.target} over ${fact.protocol};`,
      `it has ${fact.open.join(', ') || 'none with a name'}. Calls that reach its pods are refused.`,
    ].join(' '),
  }),
  'service.no-balancer': (fact: ServiceOf) => ({
    title: `${formatService(fact)} asks for a load balancer, and the plan has none for it`,
    detail: [
      'It is of the type LoadBalancer: the cluster has one made, with an address that this plan does',
      'not hold, so that neither its name nor its openings are planned. Expose it at Ingress, or enter',
      'the load balancer with a backend for it.',
    ].join(' '),
  }),
  'service.node-port:band': (
    fact: ServiceOf & { readonly nodePort: number; readonly first: number; readonly last: number },
  ) => ({
    title: `${formatService(fact)}: NodePort ${fact.nodePort} may be given to another service first`,
    detail: `The cluster gives NodePorts above ${fact.last} by itself. Fix ports from ${fact.first} to ${fact.last}.`,
  }),
  'service.node-port:outside': (
    fact: ServiceOf & { readonly nodePort: number; readonly first: number; readonly last: number },
  ) => ({
    title: `${formatService(fact)}: NodePort ${fact.nodePort} is out of range`,
    detail: `NodePorts are ${fact.first} to ${fact.last}.`,
  }),
  'service.node-port:taken': (fact: ServiceOf & { readonly nodePort: number; readonly holder: string }) => ({
    title: `${formatService(fact)}: NodePort ${fact.nodePort} is also that of ${fact.holder}`,
    detail: 'A NodePort belongs to one service of the cluster. Give one of them another, or leave it to the cluster.',
  }),
  'service.nobody': (fact: ServiceOf & { readonly namespace: string; readonly selector: readonly string[] }) => ({
    title: `${formatService(fact)} selects no pods`,
    detail: `No workload of the namespace ${fact.namespace} has the labels ${fact.selector.join(', ')}. Until one has, nothing answers.`,
  }),
  'service.single': (fact: ServiceOf & { readonly zones: number }) => ({
    title: `${formatService(fact)} has only one pod`,
    detail: [
      `When that pod${fact.zones > 1 ? ', its node or its zone' : ' or its node'} is gone, nothing answers from outside.`,
      'Two or more replicas keep it up.',
    ].join(' '),
  }),
  'workload.daemon-pods': (fact: {
    readonly cluster: string;
    readonly workload: string;
    readonly nodes: PodCounts;
    readonly planned: PodCounts;
  }) => ({
    title: `${fact.cluster}: ${fact.workload} runs on each node, and its pods are counted otherwise`,
    detail: [
      `A DaemonSet has one pod on each node that may run it: ${formatPods(fact.nodes)}.`,
      `The plan says ${formatPods(fact.planned)}.`,
    ].join(' '),
  }),
  'workload.no-room': formatNoRoom,
  'workload.zone-lost': formatNoRoom,
} satisfies FindingTable;
