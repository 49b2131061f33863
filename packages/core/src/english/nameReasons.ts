import type { BlockedWay, NameReason } from '../road/index.js';
import { beginning } from '../working/index.js';
import { formatFailed, formatNoHub, formatTunnelFault } from './failures.js';
import { formatLack } from './lacks.js';
import type { Names } from './names.js';
import { formatByCode } from './words.js';
import type { Words } from './words.js';

/** Why calls do not come to a member that exports a service. */
export function formatBlocked(names: Names, blocked: BlockedWay): string {
  switch (blocked.code) {
    case 'export.no-service':
      return `${blocked.cluster} has no service ${blocked.service}.`;
    case 'export.not-there':
      return `${blocked.connection} is not there yet.`;
    case 'export.no-hub':
      return formatNoHub(blocked.connection);
    case 'export.lack':
      return formatLack(names, blocked.lack);
    case 'export.fault':
      return formatTunnelFault(names, blocked.fault, blocked.failed);
  }
}

/** Why a question for a name is answered as it is, or passed on. */
export function formatNameReason(names: Names, why: NameReason): string {
  return formatByCode(words, why, names);
}

function byWildcard({ wildcard }: { readonly wildcard: string | undefined }): string {
  return wildcard === undefined ? '' : ` by its wildcard ${wildcard}`;
}

const words: Words<NameReason, string, [names: Names]> = {
  'domain.itself': () => 'The domain of the cluster itself has no address.',
  'domain.above-services': () => 'The name is above those of services.',
  'domain.namespace': () => 'The name of a namespace has no address.',
  'domain.below': (why) => `Below ${why.domain} only services are named.`,
  'domain.no-namespace': (why) => `No service is in the namespace ${why.namespace}.`,
  'service.answers': (why) => `${why.service} is a service of the cluster.`,
  'service.of-address': (why) => `The address is that of ${why.service}.`,
  'service.none': (why) => `The cluster has no service ${why.service}.`,
  'service.nothing-below': (why) => `Nothing is below ${why.service}.`,
  'service.not-headless': (why) => `${why.service} is not headless: its pods have no names of their own.`,
  'service.no-pods': (why) => `${why.service} is headless and has no pods that are ready.`,
  'pod.nothing-below': () => 'Nothing is below the name of a pod.',
  'pod.no-host': (why) => `No pod of a StatefulSet that it selects has the host name ${why.host}.`,
  'type.none': (why) => `It has no ${why.type} record.`,
  'type.no-endpoint': (why) => `None of its endpoints has an ${why.type} record.`,
  'port.above': () => 'Only the ports below it have records.',
  'port.type': () => 'A port has only an SRV record.',
  'port.none-named': (why) => `The service has no named port of ${why.protocol}.`,
  'port.unknown': (why) => `The service has no port ${why.port} of ${why.protocol}.`,
  'port.no-pod': (why) => `No pod of ${why.service} listens on ${why.port}.`,
  'address.undecided': () => 'Which service has that address is not decided.',
  'address.of-nobody': () => 'No service of the cluster has that address.',
  'address.type': () => 'An address has only a PTR record.',
  'export.planned': (why) => `${why.connection} is only planned: its names are answered once it is in service.`,
  'export.answers': (why) => `${why.name} is exported in ${why.connection}.`,
  'export.none': (why) => `No member exports ${why.name} to ${why.cluster}.`,
  'export.not-reached': (why, names) => {
    const blocked = why.blocked.map((each) => formatBlocked(names, each)).join(' ');
    return `${why.service} is exported, and no exporter is reached. ${blocked}`;
  },
  'export.no-pod': (why) => `${why.service} is exported, and no pod of it is known by that name.`,
  'passed.cluster': (why) => {
    const { to } = why;
    const onward =
      to.is === 'stub'
        ? `the resolvers of the stub zone ${to.domain}`
        : to.is === 'upstream'
          ? 'its upstream resolvers'
          : `the resolver that nodes in ${to.network} use`;
    return `The ${why.server} forwards it to ${onward}.`;
  },
  'passed.rule': (why) => `The ${why.server} forwards it by the rule ${why.rule}.`,
  'passed.address': (why) => `${beginning(why.asker)} asks ${why.server}${why.by === '' ? '' : ` (${why.by})`}.`,
  held: (why) => `No network policy lets ${why.workload} ask for names on udp 53: its questions are dropped.`,
  'nothing-asked': () => 'Nothing was asked.',
  'no-resolver': () => 'No resolver is queried.',
  aliases: (why) => {
    const chain = why.chain.length === 0 ? '' : `: ${why.chain.slice(0, 4).join(', then ')}`;
    return `The aliases of ${why.name} loop or are more than ${why.most}${chain}.`;
  },
  'forward.loop': (why) => `The question comes back to the ${why.server}: the forwarding rules form a loop.`,
  'no-answer': (why, names) => {
    const by = why.by === '' ? '' : ` (${why.by})`;
    const failed = why.failed === undefined ? '' : ` ${formatFailed(names, why.failed)}`;
    return `${beginning(why.asker)} asks ${why.address}${by} and gets no answer.${failed}`;
  },
  'resolver.outbound': (why) => `${why.resolver} at ${why.address} only sends questions and answers none.`,
  'resolver.unknown': (why) =>
    `The plan does not say what the name server at ${why.address} answers: no resolver of the plan has that address.`,
  'zone.answers': (why) => `The zone ${why.zone} answers${byWildcard(why)}.`,
  'zone.alias': (why) => `The zone ${why.zone} says${byWildcard(why)} that it is ${why.target}.`,
  'zone.no-data': (why) => `${why.name} has no ${why.type} record in the zone ${why.zone}${byWildcard(why)}.`,
  'zone.no-name': (why) => `${why.name} does not exist in the zone ${why.zone}.`,
  'delegation.unknown-there': (why) =>
    `${why.cut} is delegated to ${why.servers.join(', ')}, and no address of them is known there.`,
  'delegation.no-glue': (why) =>
    `${why.cut} is delegated to ${why.servers.join(', ')}, and no address of them can be found: it lacks glue (RFC 1034 4.2.1).`,
  'delegation.elsewhere': (why) => `${why.zone} delegates ${why.cut} to servers whose zone the plan does not hold.`,
  'public.reserved': (why) => `${why.domain} is reserved and never exists on the internet (RFC 6761, RFC 6303).`,
  'public.undelegated': (why) => `No parent delegates ${why.apex} yet: no resolver finds it outside its own servers.`,
  'public.free': (why) =>
    `No load balancer of the plan has the provider’s name ${why.name}: it is free, and may be given to anyone.`,
  'public.no-zone': (why) => `No zone of the plan is for ${why.name}.`,
  'balancer.undecided': (why) => `${why.name} is ${why.balancer}, whose address is not decided.`,
  'balancer.answers': (why) => `${why.name} is the load balancer ${why.balancer}.`,
  'balancer.type': (why) => `${why.balancer} has no ${why.type} record.`,
};
