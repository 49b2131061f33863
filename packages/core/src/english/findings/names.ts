import type { Failed, NameReason } from '../../road/index.js';
import { formatCount, formatNames, formatNumber } from '../../working/index.js';
import { formatFailed } from '../failures.js';
import { formatNameReason } from '../nameReasons.js';
import type { Names } from '../names.js';
import { sentences } from './words.js';
import type { FindingTable } from './words.js';

/** Who asks a resolver: a rule in a network, or the DNS of a cluster. */
export type Asking =
  | { readonly is: 'rule'; readonly rule: string; readonly network: string }
  | { readonly is: 'cluster'; readonly cluster: string };

const formatAsking = (who: Asking) =>
  who.is === 'rule' ? `${who.rule}, in ${who.network},` : `The DNS of ${who.cluster}`;
const domainOf = (domain: string) => (domain === '' ? 'every name' : domain);
const GLUE = 'so no resolver can find it without its address beside the delegation.';

/** Two record controllers in the same zones, and which of them remove records. */
interface MarkFact {
  readonly one: string;
  readonly other: string;
  readonly zones: readonly string[];
  readonly removing: readonly string[];
}

const formatTouched = ({ removing }: MarkFact) =>
  removing.length === 0
    ? 'Each takes the records of the other for its own.'
    : `${removing.join(' and ')} remove${removing.length === 1 ? 's' : ''} the records of the other as its own that nothing asks for.`;

/** A record of a zone, by its name. */
interface RecordFact {
  readonly zone: string;
  readonly name: string;
}

/** The names that an alias leads over, as far as they are told. */
interface AliasChain {
  readonly chain: readonly string[];
}

/** Whether a chain is told up to the name where it comes back. */
const isClosed = (chain: readonly string[]) => chain.indexOf(chain.at(-1) ?? '') < chain.length - 1;

/** A host that a record names, and the record. */
interface TargetFact extends RecordFact {
  readonly type: string;
  readonly target: string;
}

/** Words of findings on zones, records, resolvers and certificates. */
export const nameWords = {
  'certificate.caa': (fact: {
    readonly certificate: string;
    readonly issuer: string;
    readonly name: string;
    readonly at: string;
    readonly allowed: readonly string[];
  }) => ({
    title: `${fact.certificate}: ${fact.issuer} may not issue for ${fact.name}`,
    detail: [
      `The CAA records at ${fact.at} allow ${fact.allowed.length === 0 ? 'no issuer' : fact.allowed.join(', ')} (RFC 8659).`,
      `Add 0 ${fact.name.startsWith('*.') ? 'issuewild' : 'issue'} "${fact.issuer}" there, or have another issue it.`,
    ].join(' '),
  }),
  'certificate.expired': (fact: {
    readonly certificate: string;
    readonly end: string;
    readonly renewsItself: boolean;
  }) => ({
    title: `${fact.certificate} ended on ${fact.end}`,
    detail: fact.renewsItself
      ? 'It should have renewed itself. Enter the day from which the present one is valid, or find out why it did not.'
      : 'Clients refuse it. Replace it, and enter the day from which the new one is valid.',
  }),
  'certificate.renewal': (fact: { readonly certificate: string; readonly end: string }) => ({
    title: `${fact.certificate} ends on ${fact.end} before it is renewed`,
    detail:
      'No day is left between its renewal and its end: any delay breaks every listener that uses it. Renew it days before.',
  }),
  'certificate.renewal:by-hand': (fact: {
    readonly certificate: string;
    readonly end: string;
    readonly days: number;
  }) => ({
    title: `${fact.certificate} is renewed by hand ${fact.days} days before its end`,
    detail: `It ends on ${fact.end}. Two weeks are usual where somebody has to do it; or let it renew itself.`,
  }),
  'certificate.shared': (fact: {
    readonly certificate: string;
    readonly missing: readonly string[];
    readonly users: readonly string[];
  }) => ({
    title: `${fact.certificate} is used for different hosts and lacks ${fact.missing.join(', ')}`,
    detail: `${fact.users.join(' and ')} use one secret. Put all their names on it, or give each a certificate of its own.`,
  }),
  'forward.loop': (fact: { readonly rule: string; readonly domain: string; readonly networks: readonly string[] }) => ({
    title: `${fact.rule}: questions for ${domainOf(fact.domain)} loop`,
    detail: `${fact.networks.join(' → ')}. Each asks the next until all give up. Let one of them hold the zone, or send on to where it is.`,
  }),
  'forward.twice': (fact: {
    readonly one: string;
    readonly other: string;
    readonly domain: string;
    readonly network: string;
  }) => ({
    title: `${fact.one} and ${fact.other} both send ${domainOf(fact.domain)} on in ${fact.network}`,
    detail: 'Only one of them is followed. Remove one, or leave out the network.',
  }),
  'record-controller.no-mark': (fact: MarkFact) => ({
    title: `${fact.one} and ${fact.other} both touch ${fact.zones.join(', ')}, and not both have an owner mark`,
    detail: `${formatTouched(fact)} Give each a mark of its own.`,
  }),
  'record-controller.one-mark': (fact: MarkFact & { readonly mark: string }) => ({
    title: `${fact.one} and ${fact.other} share the owner mark ${fact.mark} in ${fact.zones.join(', ')}`,
    detail: `${formatTouched(fact)} Give each a mark of its own, or zones of its own.`,
  }),
  'name.elsewhere': (fact: {
    readonly host: string;
    readonly address: string;
    readonly balancer: string;
    readonly own: string;
  }) => ({
    title: `${fact.host} answers ${fact.address}, not its load balancer`,
    detail: `Its calls are taken by ${fact.balancer} at ${fact.own}. Change the record, or the load balancer of its route.`,
  }),
  'name.nobody': (fact: RecordFact & { readonly address: string }) => ({
    title: `${fact.zone}: ${fact.name} answers ${fact.address}, where nothing listens`,
    detail:
      'No load balancer, device or machine of the plan has that address. Correct it, or say that its target is elsewhere.',
  }),
  'name.nobody:no-listener': (fact: RecordFact & { readonly balancer: string }) => ({
    title: `${fact.zone}: ${fact.name} answers ${fact.balancer}, which has no listener`,
    detail: 'Calls are refused. Add a listener, or remove the record.',
  }),
  'name.self-run': (
    fact: { readonly cluster: string; readonly name: string; readonly answer: string; readonly why: NameReason },
    names: Names,
  ) => ({
    title: `${fact.cluster}: ${fact.name} is not answered in its own network (${fact.answer})`,
    detail: [
      formatNameReason(names, fact.why),
      'A cluster that runs its own control plane asks for this name while it is installed: add the record before.',
    ].join(' '),
  }),
  'name.too-long': (fact: { readonly cluster: string; readonly name: string; readonly problem: string }) => ({
    title: `${fact.cluster}: ${fact.name} is not a valid name`,
    detail: `${fact.problem} Shorten the cluster’s name or its base domain.`,
  }),
  'name.unanswered': (
    fact: {
      readonly host: string;
      readonly asker: string;
      readonly answer: string;
      readonly why: NameReason;
      readonly balancer: string | undefined;
      readonly cluster: string;
    },
    names: Names,
  ) => ({
    title: `${fact.host} is not answered for ${fact.asker}: ${fact.answer}`,
    detail: [
      `${formatNameReason(names, fact.why)} Its clients find no endpoint.`,
      `Add a record${fact.balancer === undefined ? '' : ` for ${fact.balancer}`}, or let a record controller of ${fact.cluster} keep it.`,
    ].join(' '),
  }),
  'record.alias-apex': (fact: RecordFact) => ({
    title: `${fact.zone}: ${fact.name} is an alias at the apex`,
    detail:
      'The apex has a SOA and NS records, and an alias may stand beside nothing (RFC 1034 3.6.2). Use A and AAAA records there.',
  }),
  'record.alias-beside': (fact: RecordFact) => ({
    title: `${fact.zone}: ${fact.name} is an alias beside other records`,
    detail:
      'A name that is an alias has no other data (RFC 1034 3.6.2, RFC 2181 10.1): name servers refuse the zone. Keep the alias or the others.',
  }),
  'record.chain': ({ zone, name, chain, aliases }: RecordFact & AliasChain & { readonly aliases: number }) => ({
    title: `${zone}: ${name} is ${formatNumber(aliases)} aliases away from its address`,
    detail: `${chain.join(' → ')}${chain.length <= aliases ? ` and ${formatNumber(aliases + 1 - chain.length)} more` : ''}. Resolvers give up after 8 to 16. Let it lead straight to the last name.`,
  }),
  'record.chain:loop': ({ zone, name, chain }: RecordFact & AliasChain) => ({
    title: `${zone}: the alias ${name} loops`,
    detail: `${chain.join(' → ')}${isClosed(chain) ? '' : ' and on'}. Resolvers answer SERVFAIL. Let it end at an address.`,
  }),
  'record.dangling:address': (fact: RecordFact & { readonly address: string }) => ({
    title: `${fact.zone}: ${fact.name} answers ${fact.address}, which nothing in the plan holds`,
    detail:
      'Whoever is given that address next answers under your name. Remove the record, or say that its target is elsewhere.',
  }),
  'record.dangling:name': (fact: RecordFact & { readonly target: string; readonly targetZone: string }) => ({
    title: `${fact.zone}: ${fact.name} leads to ${fact.target}, which does not exist`,
    detail: `The zone ${fact.targetZone} has no such name. Add it, or correct the record.`,
  }),
  'record.dangling:provider': (fact: RecordFact & { readonly target: string }) => ({
    title: `${fact.zone}: ${fact.name} leads to ${fact.target}, which no load balancer has`,
    detail:
      'The provider may give that name to anyone, who then answers under yours. Remove the record, or name a load balancer that is there.',
  }),
  'record.target-alias': (fact: TargetFact & { readonly standsFor: string | undefined }) => ({
    title: `${fact.zone}: the ${fact.type} of ${fact.name} leads to ${fact.target}, which is an alias`,
    detail: [
      `The name there must have addresses of its own (${fact.type === 'SRV' ? 'RFC 2782' : 'RFC 2181 10.3'}), and some do not follow an alias.`,
      `Name ${fact.standsFor ?? 'what it stands for'} instead.`,
    ].join(' '),
  }),
  'record.target-missing': (fact: TargetFact & { readonly holder: string }) => ({
    title: `${fact.zone}: the ${fact.type} of ${fact.name} leads to ${fact.target}, which has no address`,
    detail: `${fact.holder} holds no A or AAAA record of it, so no client gets there. Add one, or name another host.`,
  }),
  'record.ttl': (fact: RecordFact & { readonly ttl: number; readonly aim: number }) => ({
    title: `${fact.zone}: ${fact.name} may be cached for ${formatNumber(fact.ttl)} s`,
    detail: [
      `Names of the zone should move within ${formatNumber(fact.aim)} s.`,
      `Lower the TTL at least ${formatNumber(fact.ttl)} s before the move.`,
    ].join(' '),
  }),
  'record.wildcard': (fact: {
    readonly wildcard: string;
    readonly hidden: readonly string[];
    readonly types: readonly string[];
  }) => ({
    title: `${fact.wildcard} does not answer for ${formatNames(fact.hidden)}`,
    detail: [
      'These names exist, by other records or by names below them,',
      `so the wildcard of type ${fact.types.join(', ')} is not used for them (RFC 4592 2.2.1).`,
      'Add the records to them where they are meant to have them.',
    ].join(' '),
  }),
  'record.wildcard-hides': (fact: {
    readonly zone: string;
    readonly covered: readonly { readonly name: string; readonly wildcard: string }[];
    readonly twin: string;
  }) => ({
    title: `${fact.zone} answers by its wildcard for ${formatNames(fact.covered.map(({ name, wildcard }) => `${name} (by ${wildcard})`))}`,
    detail: [
      `The public zone ${fact.twin} has records of their own for them, which no client inside gets.`,
      'Add them to the private zone, or narrow the wildcard.',
    ].join(' '),
  }),
  'resolver.silent': (fact: { readonly asking: Asking; readonly resolver: string; readonly address: string }) => ({
    title: `${formatAsking(fact.asking)} asks ${fact.resolver} at ${fact.address}, which only sends questions`,
    detail: 'Nothing answers there. Ask an inbound resolver.',
  }),
  'resolver.twice': (fact: { readonly one: string; readonly other: string; readonly address: string }) => ({
    title: `${fact.one} and ${fact.other} both have ${fact.address}`,
    detail: 'An address belongs to one resolver. Give one of them another.',
  }),
  'resolver.unreached': (
    fact: { readonly asking: Asking; readonly address: string; readonly failed: Failed | undefined },
    names: Names,
  ) => ({
    title: `${formatAsking(fact.asking)} does not reach the resolver at ${fact.address}`,
    detail: sentences(
      fact.failed === undefined ? '' : formatFailed(names, fact.failed),
      'Every name that is asked there times out. Open udp 53 on the way, or ask another one.',
    ),
  }),
  'search.many': (fact: {
    readonly cluster: string;
    readonly names: readonly string[];
    readonly queries: number;
    readonly ndots: number;
  }) => {
    const more = fact.names.length - 2;
    const others = more > 0 ? ` and ${formatCount(more, 'other')}` : '';
    return {
      title: [
        `${fact.cluster}:`,
        `each look-up of ${fact.names.slice(0, 2).join(' or ')}${others} sends ${formatCount(fact.queries, 'query', 'queries')}`,
      ].join(' '),
      detail: [
        `ndots is ${fact.ndots}, so every suffix of the search list is tried first, for A and AAAA.`,
        'A final dot, ndots 2 or a per-node DNS cache saves most of them: see Load at DNS.',
      ].join(' '),
    };
  },
  'zone.delegation': (fact: {
    readonly parent: string;
    readonly apex: string;
    readonly servers: readonly string[];
  }) => ({
    title: `${fact.parent} does not delegate ${fact.apex}`,
    detail: `The parent answers for its names itself, that they do not exist. Add NS records for ${fact.apex} with ${fact.servers.join(', ')} to it.`,
  }),
  'zone.delegation:differs': (fact: {
    readonly parent: string;
    readonly zone: string;
    readonly apex: string;
    readonly servers: readonly string[];
  }) => ({
    title: `${fact.parent} and ${fact.zone} name different servers of ${fact.apex}`,
    detail: `${fact.servers.join(', ')} ${fact.servers.length === 1 ? 'is' : 'are'} on only one side. Make both sets the same.`,
  }),
  'zone.glue': (fact: {
    /** The zone that lacks the addresses. */
    readonly zone: string;
    readonly apex: string;
    readonly servers: readonly string[];
  }) => ({
    title: `${fact.zone} has no address for ${fact.servers.join(', ')}`,
    detail: [`The server is below ${fact.apex} itself, ${GLUE}`, 'Add A or AAAA records there (RFC 1034 4.2.1).'].join(
      ' ',
    ),
  }),
  'zone.glue:own': (fact: { readonly zone: string; readonly servers: readonly string[] }) => ({
    title: `${fact.zone} has no address for its own server ${fact.servers.join(', ')}`,
    detail: 'Name servers refuse to load such a zone. Add A or AAAA records for it, or name a server elsewhere.',
  }),
  'zone.glue:delegated': (fact: { readonly zone: string; readonly server: string; readonly apex: string }) => ({
    title: `${fact.zone}: no address for ${fact.server}, the server of ${fact.apex}`,
    detail: `It is below ${fact.apex} itself, ${GLUE} Add A or AAAA records there (RFC 1034 4.2.1).`,
  }),
  'zone.hides': (fact: { readonly zone: string; readonly names: readonly string[]; readonly twin: string }) => ({
    title: `${fact.zone} hides ${formatNames(fact.names)}`,
    detail: [
      `These names are only in the public zone ${fact.twin}: in the networks of the private one they do not exist.`,
      'Add them there where they are asked for inside.',
    ].join(' '),
  }),
  'zone.not-attached': (fact: { readonly zone: string }) => ({
    title: `${fact.zone} is attached to no network`,
    detail: 'Nobody gets its answers. Attach it to the networks that ask for its names.',
  }),
  'zone.not-attached:network': (fact: {
    readonly zone: string;
    readonly apex: string;
    readonly network: string;
    readonly twin: string | undefined;
  }) => ({
    title: `${fact.zone} is not attached to ${fact.network}`,
    detail: [
      `Its names are asked for there, or most networks that ${fact.network} is joined with get its answers;`,
      `in ${fact.network} ${fact.twin === undefined ? 'its names do not exist' : `the public zone ${fact.twin} answers instead, with other addresses or none`}.`,
      `Attach it, or forward ${fact.apex} to a resolver that has it.`,
    ].join(' '),
  }),
  'zone.overlap:public': (fact: { readonly one: string; readonly other: string; readonly apex: string }) => ({
    title: `${fact.one} and ${fact.other} are both public and begin at ${fact.apex}`,
    detail: 'The parent delegates a name once: only one of them is found. Bring their records together.',
  }),
  'zone.overlap:network': (fact: {
    readonly one: string;
    readonly other: string;
    readonly apex: string;
    readonly network: string;
  }) => ({
    title: `${fact.one} and ${fact.other} are both attached to ${fact.network}`,
    detail: `Both begin at ${fact.apex}: only one of them can answer there. Detach one, or bring their records together.`,
  }),
  'zone.overlap:link': (fact: {
    readonly one: string;
    readonly other: string;
    readonly apex: string;
    readonly link: string;
    readonly isPlanned: boolean;
  }) => ({
    title: `${fact.one} and ${fact.other} have one name, and ${fact.link} ${fact.isPlanned ? 'will join' : 'joins'} their networks`,
    detail: [
      `A name below ${fact.apex} is then answered in two ways, by where it is asked.`,
      'Rename one, or bring their records together before the join.',
    ].join(' '),
  }),
} satisfies FindingTable;
