import { contains, overlaps } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { prefixesOf } from '../plan/index.js';
import type { Attachment, Link, Network } from '../plan/index.js';

/** One link on the way and the network it leads to. */
export interface Hop {
  readonly link: Link;
  readonly toNetworkId: string;
}

/** How one network reaches another: in itself (no hop), by one link, or by several where a network between passes the route on. */
export interface Join {
  readonly hops: readonly Hop[];
  readonly isPlanned: boolean;
}

/** A network from which both of two networks are reached, and how: there, an address in both means two places. */
export interface Meeting {
  readonly vantageId: string;
  readonly toFirst: Join;
  readonly toSecond: Join;
  readonly isPlanned: boolean;
}

/** A way together with the parts of the sought range whose routes it carries. */
interface Route extends Join {
  readonly parts: readonly Prefix[];
}

/** Most links one route is followed over; longer chains of passing on are not built. */
const MAX_HOPS = 4;

const itself: Join = { hops: [], isPlanned: false };

/**
 * Who can send to whom. A network reaches itself, what it is peered or joined with, and all that share a hub with it,
 * as far as the other side advertises and it learns. Nothing is passed on over two links unless a network between
 * lists the range among what it advertises. Planned links count and are marked.
 */
export class Domains {
  private readonly linksOf = new Map<string, Link[]>();
  private readonly membersOf = new Map<Link, ReadonlySet<string>>();
  private readonly attachmentOf = new Map<string, Attachment>();
  private readonly meetings = new Map<string, Map<string, Meeting | undefined>>();
  private readonly neighbourLists = new Map<string, readonly string[]>();
  /** Networks on links with any attachment: only their routes depend on the range that is sought. */
  private readonly isPolicied = new Set<string>();

  constructor(networks: readonly Network[], links: readonly Link[], attachments: readonly Attachment[] = []) {
    for (const network of networks) this.linksOf.set(network.id, []);
    // Links that stand come first, so that a planned one is named only when nothing else joins the two.
    for (const link of [...links].sort((a, b) => Number(a.isPlanned) - Number(b.isPlanned))) {
      this.membersOf.set(link, new Set(link.networkIds));
      for (const id of link.networkIds) this.linksOf.get(id)?.push(link);
    }
    const linkIds = new Set<string>();
    for (const attachment of attachments) {
      this.attachmentOf.set(`${attachment.linkId} ${attachment.networkId}`, attachment);
      linkIds.add(attachment.linkId);
    }
    for (const link of links) if (linkIds.has(link.id)) this.spreadPolicy(link);
  }

  /** How `from` reaches `to`, for `range` when one is given (any part of it), else for anything that `to` advertises. */
  join(from: string, to: string, range?: Prefix): Join | undefined {
    if (from === to) return itself;
    if (!this.isPolicied.has(from)) return this.plainJoin(from, to);
    if (range === undefined) return this.anyJoin(from, to);
    return this.routes(from, to, [range]).sort(standingFirst)[0];
  }

  /** The network where destinations of both meet for addresses of `range`; undefined when no network reaches both. */
  meeting(first: string, second: string, range: Prefix): Meeting | undefined {
    if (this.isPolicied.has(first) || this.isPolicied.has(second)) return this.findMeeting(first, second, range);
    let known = this.meetings.get(first);
    if (known === undefined) {
      known = new Map();
      this.meetings.set(first, known);
    }
    if (!known.has(second)) known.set(second, this.findMeeting(first, second, range));
    return known.get(second);
  }

  /** The networks that share a link with `from`, each once, itself not among them. */
  neighbours(from: string): readonly string[] {
    const known = this.neighbourLists.get(from);
    if (known !== undefined) return known;
    const found = new Set<string>();
    for (const link of this.linksOf.get(from) ?? []) for (const id of link.networkIds) found.add(id);
    found.delete(from);
    const list = [...found];
    this.neighbourLists.set(from, list);
    return list;
  }

  /** What an attachment advertises over a link: listed prefixes, or undefined for all the network's own. */
  advertised(link: Link, networkId: string): readonly Prefix[] | undefined {
    const attachment = this.attachmentOf.get(`${link.id} ${networkId}`);
    return attachment === undefined || attachment.advertises.length === 0 ? undefined : prefixesOf(attachment);
  }

  /** Whether a network on a link takes the routes that another one on it advertises. */
  learns(link: Link, networkId: string, fromId: string): boolean {
    const attachment = this.attachmentOf.get(`${link.id} ${networkId}`);
    if (attachment === undefined || attachment.learns === 'all') return true;
    return attachment.learns === 'listed' && attachment.learnsFromIds.includes(fromId);
  }

  /** Marks all that can see a policied link: those on it, and those that what it carries may be passed on to. */
  private spreadPolicy(link: Link): void {
    const open = [...link.networkIds];
    for (let id = open.pop(); id !== undefined; id = open.pop()) {
      if (this.isPolicied.has(id)) continue;
      this.isPolicied.add(id);
      open.push(...this.neighbours(id));
    }
  }

  private plainJoin(from: string, to: string): Join | undefined {
    const link = this.linksOf.get(from)?.find((each) => this.membersOf.get(each)?.has(to) === true);
    return link === undefined ? undefined : { hops: [{ link, toNetworkId: to }], isPlanned: link.isPlanned };
  }

  /** A way for whatever the other side advertises: directly, or for one of the listed prefixes that are passed on. */
  private anyJoin(from: string, to: string): Join | undefined {
    const direct = (this.linksOf.get(from) ?? []).find(
      (link) => this.membersOf.get(link)?.has(to) === true && this.learns(link, from, to),
    );
    return direct === undefined
      ? undefined
      : { hops: [{ link: direct, toNetworkId: to }], isPlanned: direct.isPlanned };
  }

  /** Every way from one network to another for parts of a range; depth first, no network twice. */
  private routes(from: string, to: string, wanted: readonly Prefix[], passed: readonly string[] = []): Route[] {
    if (from === to) return [{ ...itself, parts: wanted }];
    if (passed.length === MAX_HOPS) return [];
    const found: Route[] = [];
    for (const link of this.linksOf.get(from) ?? []) {
      for (const next of link.networkIds) {
        if (next === from || passed.includes(next) || !this.learns(link, from, next)) continue;
        const listed = this.advertised(link, next);
        // Without a list a network tells its own ranges only, so the way ends there.
        if (listed === undefined && next !== to) continue;
        const parts = listed === undefined ? wanted : common(wanted, listed);
        if (parts.length === 0) continue;
        for (const rest of this.routes(next, to, parts, [...passed, from]))
          found.push({
            hops: [{ link, toNetworkId: next }, ...rest.hops],
            isPlanned: link.isPlanned || rest.isPlanned,
            parts: rest.parts,
          });
      }
    }
    return found;
  }

  private ways(from: string, to: string, range: Prefix): Route[] {
    if (from !== to && !this.isPolicied.has(from)) {
      const join = this.plainJoin(from, to);
      return join === undefined ? [] : [{ ...join, parts: [range] }];
    }
    return this.routes(from, to, [range]).sort(standingFirst);
  }

  private findMeeting(first: string, second: string, range: Prefix): Meeting | undefined {
    let planned: Meeting | undefined;
    for (const vantageId of this.vantages(first, second)) {
      for (const toFirst of this.ways(vantageId, first, range)) {
        for (const toSecond of this.ways(vantageId, second, range)) {
          if (common(toFirst.parts, toSecond.parts).length === 0) continue;
          const isPlanned = toFirst.isPlanned || toSecond.isPlanned;
          const found = { vantageId, toFirst, toSecond, isPlanned };
          if (!isPlanned) return found;
          planned ??= found;
        }
      }
    }
    return planned;
  }

  /** Networks from which both may be reached, the two themselves first. */
  private vantages(first: string, second: string): readonly string[] {
    if (first === second) return [first];
    const near = this.neighbours(first);
    if (!this.isPolicied.has(first)) return [first, ...near];
    const found = new Set([first, second, ...near]);
    // Passing on can make any network of the joined whole see both.
    for (const id of found) if (found.size < this.linksOf.size) for (const next of this.neighbours(id)) found.add(next);
    return [...found];
  }
}

function standingFirst(a: Join, b: Join): number {
  return Number(a.isPlanned) - Number(b.isPlanned) || a.hops.length - b.hops.length;
}

/** The parts that two lists of prefixes have in common; of two that overlap, that is the longer. */
function common(some: readonly Prefix[], others: readonly Prefix[]): Prefix[] {
  return some.flatMap((one) =>
    others.flatMap((other) => (overlaps(one, other) ? [contains(one, other) ? other : one] : [])),
  );
}
