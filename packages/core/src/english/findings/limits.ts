import { formatCount, formatNumber } from '../../working/index.js';
import { sentences } from './words.js';
import type { FindingTable } from './words.js';

interface DemandFact {
  readonly cluster: string;
  /** What the field rule says of the value, and what would be right. */
  readonly message: string;
  readonly fix: string;
}

/** Words of findings on quotas, limits of providers, growth and packet sizes. */
export const limitWords = {
  'attachment.deaf': (fact: { readonly network: string; readonly link: string }) => ({
    title: `${fact.network} accepts no routes over ${fact.link}`,
    detail: 'It accepts routes from listed networks, and none is listed. List them, or set it to accept none.',
  }),
  'attachment.full': (fact: {
    readonly subnet: string;
    readonly prefix: string;
    readonly nodes: number;
    readonly usable: number;
  }) => ({
    title: `${fact.subnet} needs ${formatNumber(fact.nodes)} interface addresses; ${formatNumber(fact.usable)} are usable`,
    detail: `${fact.prefix} has ${formatNumber(fact.usable)} usable addresses. Enlarge it, or remove additional interfaces from node pools.`,
  }),
  'block.size': (fact: {
    readonly prefix: string;
    readonly network: string;
    readonly profile: string;
    readonly largest: number;
    readonly smallest: number;
  }) => ({
    title: `${fact.prefix} cannot be an address block of ${fact.network} under ${fact.profile}`,
    detail: `There, a block is a /${fact.largest} to a /${fact.smallest}. Split it, or choose another size.`,
  }),
  'block.count': (fact: {
    readonly network: string;
    readonly count: number;
    readonly family: number;
    readonly profile: string;
    readonly most: number;
  }) => ({
    title: `${fact.network} has ${fact.count} IPv${fact.family} address blocks, and ${fact.profile} allows ${fact.most}`,
    detail: 'Merge neighbouring blocks into one, or move part of the clusters to another network.',
  }),
  'clusters.over-quota': (fact: {
    readonly site: string;
    readonly count: number;
    readonly quota: number;
    readonly profile: string;
  }) => ({
    title: `${fact.site} has ${formatCount(fact.count, 'cluster')}, ${fact.count - fact.quota} over its quota of ${fact.quota}`,
    detail: `${fact.profile} allows ${formatCount(fact.quota, 'cluster')} at one site. Ask for a higher quota, or use another site.`,
  }),
  'demand.cannot': (fact: DemandFact) => ({
    title: `${fact.cluster}: ${fact.message}`,
    detail: `What follows from it cannot be computed; the closest feasible value is used instead. ${fact.fix}`,
  }),
  'demand.doubtful': (fact: DemandFact) => ({ title: `${fact.cluster}: ${fact.message}`, detail: fact.fix }),
  'limit.before-horizon': (fact: {
    readonly cluster: string;
    readonly limit: string;
    readonly nodes: number;
    readonly planned: number;
    /** Months from now; 0 or less where the limit is exceeded already. */
    readonly month: number;
    readonly cheapest: string | undefined;
  }) => ({
    title: [
      `${fact.cluster} reaches its limit of ${fact.limit.slice(0, 1).toLowerCase()}${fact.limit.slice(1)} at ${formatNumber(fact.nodes)} nodes;`,
      `${formatNumber(fact.planned)} are planned`,
    ].join(' '),
    detail: [
      fact.month <= 0 ? 'It is exceeded already.' : `It is exceeded in month ${fact.month}.`,
      fact.cheapest === undefined ? 'Only a second cluster helps.' : `Cheapest: ${fact.cheapest}`,
    ].join(' '),
  }),
  'mtu.below-floor': (fact: {
    readonly cluster: string;
    readonly packet: number;
    readonly floor: number;
    readonly network: string;
    readonly mtu: number;
    /** Empty where pods are in no overlay. */
    readonly encapsulation: string;
  }) => ({
    title: `${fact.cluster}: the pod MTU is ${formatNumber(fact.packet)} bytes, below the required ${formatNumber(fact.floor)}`,
    detail: [
      `Network ${fact.network} carries ${formatNumber(fact.mtu)} bytes${fact.encapsulation === '' ? '' : `, less what ${fact.encapsulation} takes`}.`,
      'Raise the network MTU, use a smaller encapsulation, or lower the MTU floor.',
    ].join(' '),
  }),
  'mtu.filtered': (fact: {
    readonly cluster: string;
    readonly filter: string;
    readonly link: string;
    readonly room: number;
    readonly mtu: number;
  }) => ({
    title: `${fact.cluster}: ${fact.filter} drops the messages that ${fact.link} is narrower`,
    detail: [
      `${fact.link} carries ${formatNumber(fact.room)} bytes and the nodes send ${formatNumber(fact.mtu)}.`,
      'Without state, the filter needs a rule that lets ICMP in from everywhere; otherwise large packets vanish.',
    ].join(' '),
  }),
  'mtu.narrow-link': (fact: {
    readonly link: string;
    readonly inside: number;
    readonly wider: readonly string[];
    readonly largest: number;
  }) => ({
    title: [
      `${fact.link} carries packets of up to ${formatNumber(fact.inside)} bytes;`,
      `${fact.wider.join(', ')} send${fact.wider.length === 1 ? 's' : ''} larger ones`,
    ].join(' '),
    detail: [
      `Packets of ${formatNumber(fact.largest)} bytes need path MTU discovery on this way.`,
      `Let the messages for it pass every filter, or limit the TCP segment at the link to ${formatNumber(fact.inside - 40)} bytes.`,
    ].join(' '),
  }),
  'mtu.too-narrow': (fact: {
    readonly cluster: string;
    readonly packet: number;
    readonly network: string;
    readonly mtu: number;
  }) => ({
    title: `${fact.cluster}: the pod MTU is ${formatNumber(fact.packet)} bytes, and IPv6 needs 1,280`,
    detail: [
      `Network ${fact.network} carries ${formatNumber(fact.mtu)} bytes, less what wraps packets between pods. Interfaces that take`,
      'less than 1,280 carry no IPv6 at all (RFC 8200 5). Raise the network MTU, or use a smaller encapsulation.',
    ].join(' '),
  }),
  'nodes.over-quota': (fact: {
    readonly cluster: string;
    readonly nodes: number;
    readonly quota: number;
    readonly profile: string;
  }) => ({
    title: `${fact.cluster} has ${formatNumber(fact.nodes)} nodes, ${formatNumber(fact.nodes - fact.quota)} over its quota of ${formatNumber(fact.quota)}`,
    detail: `${fact.profile} allows ${formatNumber(fact.quota)} nodes in one cluster. Split the cluster, or use larger machines.`,
  }),
  'peerings.over-quota': (fact: {
    readonly network: string;
    readonly count: number;
    readonly quota: number;
    readonly profile: string;
  }) => ({
    title: `${fact.network} has ${fact.count} peerings, ${fact.count - fact.quota} over its quota of ${fact.quota}`,
    detail: `${fact.profile} allows ${fact.quota} peerings on one network. Join by a transit hub instead.`,
  }),
  'pods.native-not-offered': (fact: { readonly cluster: string; readonly profile: string }) => ({
    title: `${fact.cluster}: native pods are not offered here`,
    detail: `Under ${fact.profile}, pods cannot take addresses from subnets. Use an overlay or routed pods.`,
  }),
  'routes.over-limit': (fact: {
    readonly cluster: string;
    readonly routes: number;
    readonly most: number;
    readonly profile: string;
  }) => ({
    title: `${fact.cluster}: ${formatNumber(fact.routes)} routes in a table of ${formatNumber(fact.most)}`,
    detail: `Routed pods take one route per node, and ${fact.profile} allows ${formatNumber(fact.most)} per table. Use an overlay, or split the cluster.`,
  }),
  'table.over-limit': (fact: {
    readonly table: string;
    /** Static, local and learned ones. */
    readonly count: number;
    readonly perNode: number;
    readonly profile: string;
    readonly most: number;
  }) => ({
    title: `${fact.table}: ${formatNumber(fact.count + fact.perNode)} routes, and ${fact.profile} allows ${formatNumber(fact.most)} per table`,
    detail: sentences(
      `${formatNumber(fact.perNode)} of them are one per node for routed pods at the horizon, ${formatNumber(fact.count)} are static, local or learned.`,
      'Advertise summaries, accept fewer routes, or choose another pod network.',
    ),
  }),
} satisfies FindingTable;
