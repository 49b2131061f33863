import { familyName } from '../../address/index.js';
import type { Family } from '../../address/index.js';
import type { ChainStep } from '../../verdicts/index.js';
import { beginning, formatCount, formatNumber } from '../../working/index.js';
import { formatChainStep } from '../chains.js';
import { inZone, formatOwner, sentences } from './words.js';
import type { FindingTable, Owner } from './words.js';

/** A use of addresses, as verdicts label it, and why no proposal moves it. */
export interface UseFact {
  readonly label: string;
  readonly prefix: string;
  readonly lock: 'pinned' | 'built' | 'ground' | 'in use' | 'advertised' | 'shown';
}

interface RangeFact {
  readonly cluster: string;
  readonly purpose: string;
  readonly prefix: string;
}

interface OverlapFact {
  readonly a: UseFact;
  readonly b: UseFact;
  readonly isPlanned: boolean;
  /** Whether neither of the two can be moved by a proposal. */
  readonly isStuck: boolean;
  readonly chain: readonly ChainStep[];
}

interface BlockFact {
  readonly owner: Owner;
  readonly prefix: string;
  readonly block: string;
  readonly name: string;
  readonly source: string;
}

const formatUse = ({ label, prefix }: UseFact) => `${label} ${prefix}`;
const formatUses = (uses: readonly UseFact[], more: number) =>
  `${uses.map(formatUse).join('; ')}${more > 0 ? `; and ${formatNumber(more)} more` : ''}.`;
const onceMade = (isPlanned: boolean) => (isPlanned ? ' once the planned link is made' : '');
const formatStuck = ({ isStuck, a, b }: OverlapFact) =>
  isStuck ? `Neither can be moved here: ${formatLock(a)}; ${formatLock(b)}.` : '';

/** Why a range cannot be moved by a proposal, and what would let it. */
function formatLock({ lock, label }: UseFact): string {
  switch (lock) {
    case 'pinned':
      return `the ${label} is pinned (clear Pinned where it may move)`;
    case 'built':
      return `the cluster of the ${label} is built (plan its rebuild)`;
    case 'ground':
      return `the ${label} is entered at Ground`;
    case 'in use':
      return `the ${label} belongs to others (have it renumbered)`;
    case 'advertised':
      return `the ${label} is advertised by its network (have it advertise less)`;
    case 'shown':
      return `the ${label} is what its connection shows (translate it to another)`;
  }
}

const enlarging = {
  'built subnet': 'Grow it in place, or add another subnet; the cluster is built, so moving it is a rebuild.',
  built: 'The cluster is built: a larger range is a rebuild.',
  subnet: 'Grow it in place, move it to a larger range, or add another subnet.',
  free: 'Move it to a larger range before the cluster is built.',
} as const;

/** Words of findings on pools, ranges, subnets and their overlaps. */
export const rangeWords = {
  'address.taken': (fact: {
    readonly name: string;
    readonly address: string;
    readonly what: string;
    readonly holder: string;
    /** Whether the holder is an entity, not the provider or the subnet itself. */
    readonly isHeld: boolean;
    readonly subnet: string;
    readonly prefix: string;
  }) => ({
    title: `${fact.name}: the address ${fact.address} is taken`,
    detail: [
      `The ${fact.what} should have it, but it is ${fact.isHeld ? 'held by ' : ''}${fact.holder}, in the subnet ${fact.subnet},`,
      `${fact.prefix}. Choose another address.`,
    ].join(' '),
  }),
  'gateway.outside': (fact: { readonly subnet: string; readonly gateway: string; readonly prefix: string }) => ({
    title: `${fact.subnet}: its gateway ${fact.gateway} is not in ${fact.prefix}`,
    detail:
      'Machines reach their gateway without a router, so it must have an address of their own subnet. Choose one, or leave it empty for the first.',
  }),
  'overlap.conflict': (fact: OverlapFact) => ({
    title: beginning(`${formatUse(fact.a)} and ${formatUse(fact.b)} conflict${onceMade(fact.isPlanned)}`),
    detail: sentences('Both are destinations in one routing domain.', formatStuck(fact)),
    chain: fact.chain.map(formatChainStep),
  }),
  'overlap.shadowed': (fact: OverlapFact) => ({
    title: beginning(`${formatUse(fact.a)} hides ${formatUse(fact.b)}${onceMade(fact.isPlanned)}`),
    detail: sentences('The destination cannot be reached from inside that cluster.', formatStuck(fact)),
    chain: fact.chain.map(formatChainStep),
  }),
  'overlap.hidden': (fact: {
    readonly prefix: string;
    readonly owner: string;
    readonly isPlanned: boolean;
    readonly hiding: readonly UseFact[];
    readonly more: number;
    readonly chain: readonly ChainStep[];
  }) => ({
    title: `Part of ${fact.prefix}, which ${fact.owner} advertises, cannot be reached${onceMade(fact.isPlanned)}`,
    detail: [
      `The longest prefix wins, so this is not a conflict; but addresses of ${fact.owner} inside these ranges of other networks are out of reach:`,
      formatUses(fact.hiding, fact.more),
      `Advertise less, or make sure that ${fact.owner} uses nothing there.`,
    ].join(' '),
    chain: fact.chain.map(formatChainStep),
  }),
  'overlap.reuse': (fact: {
    readonly outermost: string;
    readonly count: number;
    readonly pairs: number;
    /** Pairs that connections of clusters make a conflict. */
    readonly broken: number;
    readonly uses: readonly UseFact[];
    readonly more: number;
  }) => ({
    title: `${fact.outermost} is used ${formatNumber(fact.count)} times`,
    detail: [
      `${formatCount(fact.pairs, 'overlapping pair')}, ${fact.broken === 0 ? 'harmless while no network reaches both' : `of which connections make ${formatNumber(fact.broken)} a conflict`}:`,
      formatUses(fact.uses, fact.more),
    ].join(' '),
  }),
  'per-node.too-small': (fact: {
    readonly cluster: string;
    readonly length: number;
    readonly addresses: number;
    readonly pods: number;
    readonly needed: number;
  }) => ({
    title: `${fact.cluster}: a /${fact.length} per node ${fact.addresses < fact.pods ? 'cannot hold' : 'is tight for'} ${fact.pods} pods`,
    detail: `A /${fact.length} has ${fact.addresses} addresses; twice the pods is ${2 * fact.pods}. Decide /${fact.needed}, or at most ${Math.floor(fact.addresses / 2)} pods per node.`,
  }),
  'pod.node-part-too-wide': (fact: {
    readonly cluster: string;
    readonly prefix: string;
    readonly length: number;
    readonly perNode: number;
    readonly most: number;
  }) => ({
    title: `${fact.cluster}: ${fact.perNode - fact.length} bits of nodes in ${fact.prefix}`,
    detail: `With a /${fact.perNode} per node, at most ${fact.most} bits can number nodes: use a /${fact.perNode - fact.most} or smaller.`,
  }),
  'pool.in-use': (fact: { readonly pool: string; readonly percent: number }) => ({
    title: `Others use ${fact.percent} % of pool ${fact.pool}`,
    detail: 'Proposals avoid what is in use, so that much of the pool is never given out. Shrink or replace the pool.',
  }),
  'pool.overlap': (fact: {
    readonly inner: string;
    readonly outer: string;
    readonly innerPrefix: string;
    readonly outerPrefix: string;
  }) => ({
    title: `Pools ${fact.inner} and ${fact.outer} overlap`,
    detail: `${fact.innerPrefix} lies in ${fact.outerPrefix}. Proposals stay right, since both see all ranges, but free space is counted twice. Shrink one.`,
  }),
  'range.missing': (fact: {
    readonly cluster: string;
    readonly missing: readonly {
      readonly purpose: string;
      readonly length: number;
      readonly zone: string;
      readonly family: Family;
    }[];
  }) => ({
    title: `${fact.cluster} lacks ${fact.missing.length === 1 ? 'a range' : `${fact.missing.length} ranges`}`,
    detail: `Still to allocate: ${fact.missing
      .map(({ purpose, length, zone, family }) => `${purpose} /${length}${inZone(zone)} (${familyName(family)})`)
      .join(', ')}.`,
  }),
  'range.outside-network': (fact: RangeFact & { readonly network: string }) => ({
    title: `${fact.cluster}: the ${fact.purpose} range ${fact.prefix} lies outside network ${fact.network}`,
    detail: `It is a subnet, and the address blocks of ${fact.network} do not contain it. Move it into a block, or add a block to the network.`,
  }),
  'range.outside-pools': (fact: {
    readonly cluster: string;
    readonly ranges: readonly { readonly purpose: string; readonly prefix: string }[];
  }) => {
    const count = fact.ranges.length;
    const each = fact.ranges.map(({ purpose, prefix }) => `${purpose} range ${prefix}`);
    const them = count === 1 ? 'it' : 'them';
    return {
      title: `${fact.cluster}: ${count === 1 ? `the ${each[0] ?? ''} is` : `${count} of its ranges are`} in no pool`,
      detail: sentences(
        count === 1 ? '' : `The ${each.join(', the ')}.`,
        `No pool for ranges of the kind contains ${them}, so nothing keeps ${them} free of later use.`,
        `Add a pool, or move the ${count === 1 ? 'range' : 'ranges'} into one.`,
      ),
    };
  },
  'range.purpose': (
    fact: RangeFact & { readonly subnet: string; readonly subnetPrefix: string; readonly subnetPurpose: string },
  ) => ({
    title: `${fact.cluster}: the ${fact.purpose} range ${fact.prefix} lies in a subnet for ${fact.subnetPurpose}s`,
    detail: [
      `Subnet ${fact.subnet} ${fact.subnetPrefix} is meant for ${fact.subnetPurpose}s.`,
      'Both take addresses from it, so each runs out sooner than its own size says.',
      'Move the range, or change the purpose of the subnet.',
    ].join(' '),
  }),
  'range.stray': (fact: RangeFact & { readonly zone: string; readonly isSecond: boolean }) => ({
    title: `${fact.cluster}: the ${fact.purpose} range ${fact.prefix} serves nothing`,
    detail: fact.isSecond
      ? `A cluster has one ${fact.purpose} range; only subnets can be several. Remove it.`
      : [
          `No ${fact.purpose} range${inZone(fact.zone) || ' for the whole cluster'} is needed in this family and mode.`,
          'Remove it, or correct its zone.',
        ].join(' '),
  }),
  'range.too-small': (
    fact: RangeFact & {
      /** The prefix length that is needed, by today’s nodes already or at the horizon. */
      readonly length: number;
      readonly isToday: boolean;
      readonly zone: string;
      readonly enlarging: keyof typeof enlarging;
    },
  ) => ({
    title: `${fact.cluster}: the ${fact.purpose} range ${fact.prefix} is too small`,
    detail: [
      `${fact.isToday ? 'Today’s nodes need' : 'The horizon needs'} a /${fact.length}${inZone(fact.zone)}.`,
      enlarging[fact.enlarging],
    ].join(' '),
  }),
  'range.too-small:together': (fact: {
    readonly cluster: string;
    readonly purpose: string;
    readonly zone: string;
    readonly prefixes: readonly string[];
    readonly usable: number;
    readonly needed: number;
  }) => ({
    title: `${fact.cluster}: its ${fact.prefixes.length} ${fact.purpose} subnets${inZone(fact.zone)} are too small`,
    detail: [
      `${fact.prefixes.join(' and ')} have ${formatNumber(fact.usable)} addresses to give,`,
      `and at its largest it takes ${formatNumber(fact.needed)}. Grow the last one, or add another subnet.`,
    ].join(' '),
  }),
  'range.too-small:shared': (
    fact: RangeFact & {
      readonly usable: number;
      readonly own: number;
      readonly others: readonly { readonly name: string; readonly addresses: number }[];
    },
  ) => ({
    title: `${fact.cluster}: the ${fact.purpose} subnet ${fact.prefix} is too small for all in it`,
    detail: [
      `It has ${formatNumber(fact.usable)} addresses to give;`,
      `at their largest ${fact.cluster} takes ${formatNumber(fact.own)} and ${fact.others.map(({ name, addresses }) => `${name} ${formatNumber(addresses)}`).join(', ')}.`,
      'Move one of them to a subnet of its own, or give them a larger one.',
    ].join(' '),
  }),
  'reservation.outside': (fact: {
    readonly name: string;
    readonly count: number;
    readonly first: string;
    readonly cluster: string;
  }) => ({
    title: `${fact.name}: ${formatCount(fact.count, 'address', 'addresses')} from ${fact.first} ${fact.count === 1 ? 'lies' : 'lie'} in no subnet of ${fact.cluster}`,
    detail: 'All of them must lie in one node or entry range of the cluster. Choose another first address.',
  }),
  'reservation.taken': (fact: {
    readonly name: string;
    readonly count: number;
    readonly first: string;
    readonly holder: string;
  }) => ({
    title: `${fact.name}: of ${formatCount(fact.count, 'address', 'addresses')} from ${fact.first}, some are taken`,
    detail: `They overlap ${fact.holder}. Choose another first address.`,
  }),
  'service.too-large': (fact: {
    readonly cluster: string;
    readonly prefix: string;
    readonly bits: number;
    readonly longest: number;
  }) => ({
    title: `${fact.cluster}: the service range ${fact.prefix} is larger than allowed`,
    detail: `The API server takes at most ${fact.bits} host bits: a /${fact.longest}. Use that or a smaller range.`,
  }),
  'space.unroutable': (fact: BlockFact) => ({
    title: `${formatOwner(fact.owner)} ${fact.prefix} lies in ${fact.name} space`,
    detail: `${fact.block} is ${fact.name} (${fact.source}) and is not forwarded between hosts. Choose private space.`,
  }),
  'space.documentation': (fact: BlockFact) => ({
    title: `${formatOwner(fact.owner)} ${fact.prefix} is ${fact.name} space`,
    detail: `${fact.block} (${fact.source}) is reserved for examples; do not use it in a running network.`,
  }),
  'space.public': (fact: { readonly owner: Owner; readonly prefix: string }) => ({
    title: `${formatOwner(fact.owner)} ${fact.prefix} is public space`,
    detail:
      'It lies in no private block (RFC 1918, RFC 6598, RFC 4193). Unless the organisation holds it, its real owner cannot be reached.',
  }),
  'space.widely-used': (fact: { readonly owner: Owner; readonly prefix: string; readonly block: string }) => ({
    title: `${formatOwner(fact.owner)} ${fact.prefix} is a widely used default`,
    detail: `Many installers use ${fact.block} by default (common practice), so a network joined later is likely to use it too.`,
  }),
  'subnet.size': (fact: {
    readonly owner: Owner;
    readonly prefix: string;
    readonly profile: string;
    readonly bound: 'smallest' | 'largest';
    readonly length: number;
  }) => ({
    title: `${formatOwner(fact.owner)} ${fact.prefix} cannot be a subnet under ${fact.profile}`,
    detail: `There, the ${fact.bound} subnet is a /${fact.length}. Give it another size, or split it.`,
  }),
  'subnet.scope': (fact: { readonly subnet: string; readonly zone: string; readonly profile: string }) =>
    fact.zone === ''
      ? {
          title: `Subnet ${fact.subnet} names no zone, and subnets of ${fact.profile} are in one`,
          detail: 'Say which zone it is in.',
        }
      : {
          title: `Subnet ${fact.subnet} is in zone ${fact.zone}, and subnets of ${fact.profile} span the region`,
          detail: 'Leave the zone empty.',
        },
  'subnet.shared': (fact: {
    readonly cluster: string;
    readonly prefix: string;
    readonly others: readonly string[];
    readonly profile: string;
  }) => ({
    title: `${fact.cluster} shares the subnet ${fact.prefix} with ${fact.others.join(', ')}`,
    detail: `${fact.profile} lets one cluster into a subnet. Give each a subnet of its own.`,
  }),
} satisfies FindingTable;
