import type { Failed, Reason, RoadEvent, RouteRow } from '../../road/index.js';
import { formatNames, formatNumber } from '../../working/index.js';
import { formatEvent } from '../events.js';
import { formatFailed } from '../failures.js';
import type { Names } from '../names.js';
import { formatRowSource } from '../tables.js';
import { formatReason } from '../traces.js';
import { sentences } from './words.js';
import type { FindingTable } from './words.js';

/** What a cluster needs open among its own nodes. */
export type OpeningFact =
  | { readonly is: 'port'; readonly program: string; readonly port: number }
  | { readonly is: 'encapsulation'; readonly layer: string }
  | { readonly is: 'pods' };

/** What a rule matches; empty lists match everything. */
export interface RuleFact {
  readonly position: number;
  readonly action: 'allow' | 'deny';
  readonly protocol: string;
  readonly ports: readonly string[];
  readonly icmp: readonly string[];
  readonly sources: readonly string[];
  readonly destinations: readonly string[];
}

/** Two rules of a list, of which one covers the other. */
interface CoveredFact {
  readonly list: string;
  readonly rule: RuleFact;
  readonly by: RuleFact;
}

/** Prefixes named of a rule; the others are counted as such. */
const MAX_PREFIXES = 3;
/** Clusters named of a device or network. */
const MAX_CLUSTERS = 5;

/** What is refused: the names of programs and interfaces have an article, those of protocols none. */
export function formatOpening(opening: OpeningFact): string {
  switch (opening.is) {
    case 'port': {
      const { program, port } = opening;
      return `${program === 'kubelet' || program === 'API' ? `the ${program}` : program}, tcp ${port},`;
    }
    case 'encapsulation':
      return `its encapsulation ${opening.layer}`;
    case 'pods':
      return 'traffic between its pods';
  }
}

function formatRule({ protocol, ports, icmp, sources, destinations }: RuleFact): string {
  const service = [protocol, ...ports, icmp.join(', ')].filter(Boolean).join(' ');
  const prefixes = (all: readonly string[]) => (all.length === 0 ? 'anywhere' : formatNames(all, MAX_PREFIXES));
  return `${service} from ${prefixes(sources)} to ${prefixes(destinations)}`;
}

const hops = { nat: 'NAT device', link: 'link', firewall: 'firewall' } as const;

/** "a, b and 3 more". */
const formatClusters = (clusters: readonly string[], more: number) =>
  `${clusters.join(', ')}${more > 0 ? ` and ${formatNumber(more)} more` : ''}`;

/** Words of findings on routes, filters, devices and what cannot be reached. */
export const egressWords = {
  'egress.none': (
    fact: {
      readonly clusters: readonly string[];
      readonly more: number;
      readonly network: string;
      readonly egress: string;
      readonly from: string;
      readonly why: Reason | undefined;
    },
    names: Names,
  ) => ({
    title: `${formatClusters(fact.clusters, fact.more)}: the internet cannot be reached, though the egress of ${fact.network} is ${fact.egress}`,
    detail: `From ${fact.from}: ${formatReason(names, fact.why)} Without a way out, nodes cannot pull images (common practice).`,
  }),
  'egress.undecided': (fact: { readonly network: string; readonly clusters: readonly string[] }) => ({
    title: `${fact.network}: how its clusters reach the internet is not decided`,
    detail: [
      `${formatNames(fact.clusters, MAX_CLUSTERS)} ${fact.clusters.length === 1 ? 'is' : 'are'} in it.`,
      'Without a way out, nodes cannot pull images from outside (common practice).',
      'Choose the internet egress of the network; "none" is a decision too.',
    ].join(' '),
  }),
  'expectation.broken': (fact: {
    readonly expectation: string;
    readonly from: string;
    readonly to: string;
    readonly verdict: string;
    /** What should answer; empty where the verdict itself is not met. */
    readonly wanted: string;
    readonly answer: string;
    /** What is lost while it is asked; empty for the plan as it stands. */
    readonly during: string;
  }) => ({
    title: `${fact.expectation}: ${fact.from} to ${fact.to} ${fact.verdict}${fact.during === '' ? '' : ` while ${fact.during} is lost`}`,
    detail: formatBroken(fact.wanted, fact.answer),
  }),
  'expectation.unreadable': (fact: { readonly expectation: string; readonly problem: string }) => ({
    title: `${fact.expectation}: the expectation cannot be asked`,
    detail: `${fact.problem} Correct what it names, or remove it.`,
  }),
  'nat.no-address': (fact: { readonly device: string }) => ({
    title: `${fact.device} has no public address yet`,
    detail:
      'What it translates to is not decided, so partners cannot allow it. Enter its public addresses when they are known.',
  }),
  'nat.other-zone': (fact: {
    readonly table: string;
    readonly zones: readonly string[];
    readonly device: string;
    readonly zone: string;
    /** What traffic between zones costs, per GB. */
    readonly price: number | null;
  }) => ({
    title: `${fact.table}: zone ${fact.zones.join(', ')} leaves through ${fact.device} in zone ${fact.zone}`,
    detail: [
      `When zone ${fact.zone} fails, zone ${fact.zones.join(', ')} has no internet either, and its traffic is paid for between zones${fact.price === null ? '' : ` (${fact.price} per GB)`}.`,
      'Give it a NAT device of its own.',
    ].join(' '),
  }),
  'nat.ports': (fact: {
    readonly device: string;
    readonly clusters: readonly string[];
    readonly ports: number;
    readonly addresses: number;
    /** Ports of one public address. */
    readonly each: number;
  }) => ({
    title: `${fact.device}: its ports are exhausted at the horizon`,
    detail: [
      `The nodes of ${formatNames(fact.clusters, MAX_CLUSTERS)} need ${formatNumber(fact.ports)} ports;`,
      `${fact.addresses} public ${fact.addresses === 1 ? 'address has' : 'addresses have'} ${formatNumber(fact.addresses * fact.each)}.`,
      `${Math.ceil(fact.ports / fact.each)} addresses are enough.`,
    ].join(' '),
  }),
  'need.unreached': (
    fact: {
      readonly need: string;
      readonly clusters: readonly string[];
      readonly more: number;
      readonly from: string;
      readonly why: Reason | undefined;
    },
    names: Names,
  ) => ({
    title: `${fact.need} cannot be reached by ${formatClusters(fact.clusters, fact.more)}`,
    detail: `From ${fact.from}: ${formatReason(names, fact.why)} Its road offers the smallest changes that let it pass.`,
  }),
  'node.public': (fact: {
    readonly cluster: string;
    readonly pool: string;
    readonly network: string;
    readonly egress: string;
    /** Whether private nodes of the cluster reach the internet. */
    readonly isOut: boolean;
  }) => ({
    title: `${fact.cluster}, ${fact.pool}: public nodes without need`,
    detail: [
      `Its nodes have public addresses, and ${fact.isOut ? 'its private nodes reach the internet without' : `the egress of ${fact.network} is ${fact.egress}`}.`,
      'Make the pool private, unless something must call its nodes from the internet.',
    ].join(' '),
  }),
  'opening.missing': (
    fact: { readonly cluster: string; readonly opening: OpeningFact; readonly failed: Failed },
    names: Names,
  ) => ({
    title: `${fact.cluster}: ${formatOpening(fact.opening)} is refused on its own nodes`,
    detail: `${formatFailed(names, fact.failed)} Allow it in that filter; the openings that a cluster needs can be proposed at Egress.`,
  }),
  'path.asymmetric': (
    fact: {
      readonly from: string;
      readonly to: string;
      readonly why: Reason | undefined;
      readonly clusters: number;
    },
    names: Names,
  ) => ({
    title: `${fact.from} to ${fact.to}: one direction avoids a stateful firewall`,
    detail: sentences(
      formatReason(names, fact.why),
      fact.clusters > 1 ? `${fact.clusters} clusters are affected.` : '',
      'Lead both directions through the firewall, or neither.',
    ),
  }),
  'route.gone': (fact: { readonly table: string; readonly prefix: string; readonly hop: keyof typeof hops }) => ({
    title: `${fact.table}: the next hop of ${fact.prefix} is gone`,
    detail: [
      `Its ${hops[fact.hop]} is not in the plan any more, so what matches the route is dropped.`,
      'Choose another next hop, or remove the route.',
    ].join(' '),
  }),
  'route.loop': (fact: { readonly network: string; readonly from: string; readonly failed: Failed }, names: Names) => ({
    title: `${fact.network}: the default route leads back to where it came from`,
    detail: [
      `From ${fact.from}: ${formatFailed(names, fact.failed)} Packets loop until their TTL expires.`,
      'Change the next hop in one of the tables on the way.',
    ].join(' '),
  }),
  'route.past-firewall': (
    fact: {
      readonly network: string;
      readonly from: string;
      readonly row: RouteRow | undefined;
      /** How it leaves the network, and the whole way. */
      readonly leaves: RoadEvent;
      readonly forth: readonly RoadEvent[];
    },
    names: Names,
  ) => ({
    title: `${fact.network}: its default route leads past the firewall`,
    detail: [
      `From ${fact.from}, the route that wins is ${fact.row === undefined ? 'unknown' : formatRowSource(names, fact.row)}; then:`,
      `${formatEvent(names, fact.leaves)} No firewall is on the way.`,
      'Accept the default only from the network of the firewall, or enter a static default route that leads there.',
    ].join(' '),
    chain: fact.forth.map((event) => formatEvent(names, event)),
  }),
  'rule.any': (fact: { readonly list: string; readonly position: number }) => ({
    title: `${fact.list}: rule ${fact.position} allows everything from everywhere`,
    detail: 'With it, what comes after it in the list has no effect. Name protocol, ports and peers.',
  }),
  'rule.never': ({ list, rule, by }: CoveredFact) => ({
    title: `${list}: rule ${rule.position} never decides, since rule ${by.position} covers it`,
    detail: [
      `Rule ${by.position} ${by.action === 'allow' ? 'allows' : 'denies'} ${formatRule(by)};`,
      `rule ${rule.position} would ${rule.action} ${formatRule(rule)}.`,
      rule.action === by.action
        ? 'Remove it, or narrow the wider one.'
        : 'What it was meant to do does not happen: move it before the wider one.',
    ].join(' '),
  }),
  'rule.repeats': ({ list, rule, by }: CoveredFact) => ({
    title: `${list}: rule ${rule.position} repeats rule ${by.position}`,
    detail: `Both ${rule.action} ${formatRule(rule)}. Remove one of them.`,
  }),
} satisfies FindingTable;

/** Why an expectation does not hold: what should answer, and what is answered. */
export function formatBroken(wanted: string, answer: string): string {
  return sentences(wanted === '' ? '' : `It should be answered by ${wanted}.`, answer);
}
