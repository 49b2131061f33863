import { bad } from '../result.js';
import type { Problem } from '../result.js';
import { formatCount, formatNames, formatNumber } from '../working/index.js';

/** What is said of each code, as values. */
type ValuesOf<
  Table extends Readonly<Record<string, (values: never) => unknown>>,
  Code extends keyof Table,
> = Parameters<Table[Code]>;

/** A part, a note or an open step of what is proposed. */
export function formatProposed<Code extends keyof typeof parts>(
  code: Code,
  ...values: ValuesOf<typeof parts, Code>
): string {
  // What a code leads to takes its values, which the type of a look-up does not tell.
  return (parts[code] as (...values: readonly unknown[]) => string)(...values);
}

/** Why something cannot be proposed, or a file not be taken: the sentence and its fix. */
export function refuse<Code extends keyof typeof refusals>(
  code: Code,
  ...values: ValuesOf<typeof refusals, Code>
): { readonly ok: false; readonly problem: Problem } {
  const { message, fix } = (refusals[code] as (...values: readonly unknown[]) => Refusal)(...values);
  return bad(code, message, fix);
}

interface Refusal {
  readonly message: string;
  readonly fix: string;
}

/** A host with its path, and the route that it is about. */
interface Routed {
  readonly host: string;
  readonly path: string;
  readonly route: string;
}

interface Certified {
  readonly certificate: string;
  readonly host: string;
  /** Seconds for which resolvers may remember that a name does not exist. */
  readonly wait: number;
}

const parts = {
  // A service or an API that is exposed.
  'expose.route': ({ host, path, route }: Routed) => `route ${route} for ${host}${path}`,
  'expose.takes-over': ({ host, path, route, backends }: Routed & { readonly backends: readonly string[] }) =>
    `Takes over: ${host}${path} goes to ${backends.join(', ') || 'no service'} by the route ${route} until now.`,
  'expose.no-listener': (fact: {
    readonly gateway: string;
    readonly namespace: string;
    readonly host: string;
    readonly scheme: string;
  }) =>
    [
      `The gateway ${fact.gateway} takes no route of ${fact.namespace} for ${fact.host} by ${fact.scheme}, so this is an Ingress.`,
      'Add a listener there, or allow the namespace, to have it attach.',
    ].join(' '),
  'expose.name': ({ host, address }: { readonly host: string; readonly address: string | null }) =>
    `Name: ${host} must answer ${address ?? 'the address of the load balancer, once it is decided'}. Propose it at DNS, with its certificate.`,
  'expose.certificate': ({ certificate, host }: { readonly certificate: string; readonly host: string }) =>
    `Certificate: ${certificate} with ${host} on it; enter the names that it covers at the route.`,
  'expose.certificate-of-gateway': ({ host, gateway }: { readonly host: string; readonly gateway: string }) =>
    `Certificate: ${host} must be on that of the gateway ${gateway}.`,
  'expose.control-plane': ({ port, nodes }: { readonly port: number; readonly nodes: number }) =>
    `listener tcp ${port} and backend of ${nodes} control plane nodes`,
  'expose.api-name': ({ cluster, balancer }: { readonly cluster: string; readonly balancer: string }) =>
    `Name: api.${cluster} in the base domain must answer the address of ${balancer}, before the cluster is installed. Propose it at DNS.`,
  'expose.api-certificate': () =>
    'Certificate: the cluster makes that of its API itself; its names must hold this one.',
  'expose.controller': ({ controller, cluster }: { readonly controller: string; readonly cluster: string }) =>
    `controller ${controller} in ${cluster}, with a workload of two pods and a service`,
  'expose.listener': ({ port, balancer }: { readonly port: number; readonly balancer: string }) =>
    `listener ${port} of ${balancer}, and its backend of nodes`,
  'expose.subnet': ({ subnet, prefix }: { readonly subnet: string; readonly prefix: string }) =>
    `subnet ${subnet} ${prefix} for load balancers`,
  'expose.rule': (fact: { readonly filter: string; readonly port: number; readonly prefix: string }) =>
    `rule of the filter ${fact.filter}: tcp ${fact.port} from ${fact.prefix}`,
  'holds.no-members': ({ service }: { readonly service: string }) =>
    `${service}: none, since its pods are in an overlay and it has no NodePort`,

  // Names and certificates.
  'names.records': () => 'Records for hosts, APIs and load balancers',
  'names.no-balancer': ({ host }: { readonly host: string }) =>
    `${host}: no load balancer takes its calls, so no record can lead to one.`,
  'names.undecided': ({ host, balancer }: { readonly host: string; readonly balancer: string }) =>
    `${host}: the address of ${balancer} is not decided.`,
  'names.no-zone': ({ host }: { readonly host: string }) =>
    `${host}: no zone that its clients get answers from holds it. Add one.`,
  'names.no-own-zone': ({ host, domain }: { readonly host: string; readonly domain: string }) =>
    `${host}: no private zone of the cluster’s network holds it. Add one for ${domain}.`,
  'names.no-api': ({ host }: { readonly host: string }) =>
    `${host}: the cluster has neither a load balancer before its API nor addresses kept for its control plane.`,
  'names.no-front': ({ host, cluster }: { readonly host: string; readonly cluster: string }) =>
    `${host}: no load balancer with an address takes calls for ${cluster}.`,
  'names.no-zone-of-balancer': ({ balancer }: { readonly balancer: string }) =>
    `${balancer}: no zone answers where it is. Add one.`,
  'certificate.no-hosts': ({ certificate }: { readonly certificate: string }) =>
    `${certificate}: the hosts that it should cover are not known. Enter them.`,
  'certificate.private': (fact: { readonly certificate: string; readonly names: readonly string[] }) =>
    `${fact.certificate}: have your own authority issue it for ${fact.names.join(', ')}, then put it on its listener.`,
  'certificate.no-zone': ({ host }: { readonly host: string }) =>
    `${host}: no public zone of the plan is for it, so a public issuer cannot check whose it is.`,
  'certificate.by-http': ({ certificate, host, wait }: Certified) =>
    [
      `${certificate}: 1. let ${host} lead to the listener on port 80; 2. wait ${formatNumber(wait)} s; 3.`,
      'have the certificate issued; 4. put it on the listener.',
    ].join(' '),
  'certificate.by-dns': ({ certificate, host, wait, zone }: Certified & { readonly zone: string }) =>
    [
      `${certificate}: 1. record _acme-challenge.${host} TXT with the token of the issuer in ${zone}; 2.`,
      `wait ${formatNumber(wait)} s, as long as its absence may be remembered; 3.`,
      'have the certificate issued; 4. put it on its listener; 5. remove the record.',
    ].join(' '),
  'set.mirrored-pods': ({ cluster }: { readonly cluster: string }) => `the mirrored pods of ${cluster}`,
  'set.mirror': ({ pod, relay }: { readonly pod: string; readonly relay: string }) =>
    `the mirror of pod ${pod} at the relay of ${relay}`,
  'set.some-address': ({ cluster }: { readonly cluster: string }) => `an address of the service range of ${cluster}`,
  'set.service-range': ({ cluster }: { readonly cluster: string }) => `the service range of ${cluster}`,

  // Egress. What begins small is the intent that the rows keep, too.
  'egress.edited': ({ intent }: { readonly intent: string }) => `${intent}: edited by hand, so it is kept as it is.`,
  'egress.hub': ({ network }: { readonly network: string }) =>
    `the hub ${network}, with a firewall, a bastion and shared subnets`,
  'egress.through-firewall': ({ network }: { readonly network: string }) =>
    `what crosses the hub ${network} passes its firewall`,
  'egress.spokes': ({ hub, spokes }: { readonly hub: string; readonly spokes: readonly string[] }) =>
    spokes.length === 1
      ? `the spoke ${spokes.join()} reaches the others and the internet through ${hub}`
      : `the spokes ${spokes.join(', ')} reach one another and the internet through ${hub}`,
  'egress.through-hub': ({ network }: { readonly network: string }) =>
    `machines of ${network} leave through the hub firewall`,
  'egress.direct': ({ network }: { readonly network: string }) => `machines of ${network} leave directly`,
  'egress.one-nat': ({ network }: { readonly network: string }) => `nodes of ${network} leave through one NAT device`,
  'egress.nat': ({ where }: { readonly where: string }) => `nodes of ${where} leave through NAT in their own zone`,
  'egress.idle': ({ network, devices }: { readonly network: string; readonly devices: readonly string[] }) =>
    `No route of ${network} leads to ${devices.join(', ')} any more. Remove what you do not keep for something else.`,
  'egress.no-room': ({ network, length }: { readonly network: string; readonly length: number }) =>
    `${network}: no pool or block has a /${length} free.`,
  'egress.no-room-for': (fact: { readonly intent: string; readonly length: number; readonly subnet: string }) =>
    `${fact.intent}: no pool or block has a /${fact.length} free for the subnet ${fact.subnet}. Add a pool for node ranges.`,
  'egress.zoneless': ({ network, zones }: { readonly network: string; readonly zones: number }) =>
    `${network}: its node ranges name no zone, so no table can lead each zone to a device of its own. One serves all ${zones}.`,
  'egress.no-firewall': ({ intent }: { readonly intent: string }) =>
    `${intent}: no network that it has a link to has a firewall. Make one with Hub and spoke.`,
  'egress.need': (fact: { readonly need: string; readonly device: 'firewall' | 'filter'; readonly name: string }) =>
    `the need ${fact.need} passes the ${fact.device} ${fact.name}`,
  'egress.api': ({ cluster }: { readonly cluster: string }) => `API of ${cluster} is private`,
  'egress.openings': ({ cluster }: { readonly cluster: string }) =>
    `the nodes of ${cluster} let in what the cluster needs`,
  'opening.wrapped': () => 'encapsulation of the pod network',
  'opening.bastion': () => 'administration from the bastion',
  'opening.messages': () => 'path MTU discovery and reachability',

  // Connections.
  'connection.key': ({ connection, reference }: { readonly connection: string; readonly reference: string }) =>
    `Put the key of ${connection} where ${reference} says, and give the gateways the right to read it.`,
  'connection.no-rendezvous': () =>
    'Without a rendezvous every gateway is told the addresses of all others by hand, and again when one takes over.',
  'connection.vxlan': () => 'VXLAN does not encrypt: keep it to links of your own.',
  'connection.translated': () => 'Translated ranges, since members overlap',
  'connection.moved': () => 'Ranges that move, since members overlap',
  'connection.openings': ({ connection }: { readonly connection: string }) => `Openings and routes of ${connection}`,
  'connection.hub': ({ hub }: { readonly hub: string }) =>
    `Join all with the hub ${hub}: each of them reaches it, and not each reaches each other.`,
  'connection.takeover': ({ way }: { readonly way: string }) => `When a gateway takes over, ${way}`,
  'connection.public': (fact: { readonly cluster: string; readonly gateways: number; readonly areRelays: boolean }) => {
    const what = fact.areRelays ? 'relay' : 'gateway';
    const isOne = fact.gateways === 1;
    return [
      `Give ${fact.cluster} ${isOne ? `a public address for its ${what}` : `${fact.gateways} public addresses, one for each ${what}`},`,
      `and enter ${isOne ? 'it' : 'them'} as its gateway addresses: others meet it only over the internet.`,
      'Tried with stand-ins, which no row holds.',
    ].join(' ');
  },
  'connection.too-few': () => 'A connection joins two or more clusters. Choose another one.',
  'connection.overlay': ({ clusters }: { readonly clusters: readonly string[] }) =>
    `Pods of ${formatNames(clusters)} are in an overlay: no network knows them. Flat takes routed or native pods.`,
  'connection.pinned': ({ clash, pinned }: { readonly clash: string; readonly pinned: number }) =>
    [
      `${clash} overlap,`,
      `and ${pinned === 1 ? 'one of the ranges that would have to move is' : `${pinned} of those that would have to move are`} pinned or of a built cluster:`,
      'a rebuild.',
    ].join(' '),
  'connection.no-room': () => 'No pool has room for the ranges that would have to move.',
  'connection.no-room-translated': (fact: {
    readonly purpose: string;
    readonly prefix: string;
    readonly length: number;
    readonly cluster: string;
    readonly others: readonly string[];
  }) =>
    [
      `No pool has room for a translated /${fact.length} of the ${fact.purpose} range ${fact.prefix}`,
      `of ${fact.cluster}, which overlaps ranges of ${formatNames(fact.others)}.`,
      'Add a pool, or move one of them.',
    ].join(' '),
  'drill.way': (fact: { readonly one: string; readonly other: string; readonly connection: string }) =>
    `way between ${fact.one} and ${fact.other} in ${fact.connection} cut`,
  'drill.no-rendezvous': ({ connection, keeps }: { readonly connection: string; readonly keeps: number | null }) =>
    [
      keeps === null
        ? 'Tunnels and links that are up stay up.'
        : `Tunnels and links that are up stay up for ${formatNumber(keeps)} s; from then on ${connection} carries nothing.`,
      `No gateway of ${connection} can take over meanwhile, and no member can join.`,
    ].join(' '),
  'drill.no-other-zone': ({ clusters }: { readonly clusters: readonly string[] }) =>
    clusters.length === 1
      ? `${clusters.join()} has no other zone: it is gone as a whole.`
      : `${clusters.join(', ')} have no other zone: they are gone as a whole.`,
};

const refusals = {
  'expose.service': (): Refusal => ({ message: 'That service is not in the plan.', fix: 'Choose another one.' }),
  'expose.host': ({ host }: { readonly host: string }): Refusal => ({
    message: `${host} is an address, and routes are found by a host name.`,
    fix: 'Enter a name, such as tickets.example.',
  }),
  'expose.port': (fact: { readonly service: string; readonly port: number; readonly ports: readonly number[] }) => ({
    message: `${fact.service} has no port ${fact.port}.`,
    fix: `It has ${fact.ports.join(', ') || 'none'}.`,
  }),
  'expose.cluster': (): Refusal => ({ message: 'That cluster is not in the plan.', fix: 'Choose another one.' }),
  'expose.hosted': ({ cluster }: { readonly cluster: string }): Refusal => ({
    message: `The provider of ${cluster} runs its API.`,
    fix: 'Choose a cluster that runs its own control plane.',
  }),
  'expose.there': ({ host, path, route }: Routed): Refusal => ({
    message: `The route ${route} sends ${host}${path} there already.`,
    fix: 'Ask for the host name to test it, or enter another.',
  }),
  'expose.taken': ({ host, path, route, backends }: Routed & { readonly backends: readonly string[] }): Refusal => ({
    message: `The route ${route} sends ${host}${path} to ${backends.join(', ') || 'no service'} already.`,
    fix: 'Enter another host name or path, or change that route.',
  }),
  'expose.reservation': ({ cluster }: { readonly cluster: string }): Refusal => ({
    message: `${cluster} has no addresses kept for its control plane.`,
    fix: 'Reserve addresses for its nodes at Demand.',
  }),
  'expose.name': ({ balancer }: { readonly balancer: string }): Refusal => ({
    message: `A load balancer is called ${balancer} already.`,
    fix: 'Rename it, or remove it.',
  }),
  'expose.subnet': ({ cluster }: { readonly cluster: string }): Refusal => ({
    message: `The network of ${cluster} has no subnet for entry, for a load balancer, and no block or pool has room for one.`,
    fix: 'Add a pool for node ranges, or a subnet at Ground with the purpose entry.',
  }),
  'zone.long': (fact: {
    readonly name: string;
    /** Which of the two is too long. */
    readonly of: 'name' | 'value';
    readonly length: number;
    readonly most: number;
  }): Refusal => ({
    message: `The ${fact.of === 'name' ? `name ${fact.name.slice(0, 30)}…` : `value of ${fact.name}`} has ${formatCount(fact.length, 'character')}; the limit is ${fact.most}.`,
    fix: 'Keep it by hand in the zone.',
  }),
  'zone.other': ({ apex, own }: { readonly apex: string; readonly own: string }): Refusal => ({
    message: `The file is for ${apex}, and this zone is ${own}.`,
    fix: `Choose the zone ${apex}, or add it first.`,
  }),
};
