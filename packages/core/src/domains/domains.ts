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
    return this.routesTo(to, range, from).get(from)?.sort(standingFirst)[0];
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

  /**
   * Whether what a network advertises over some links is another network's, which it passes on: it reaches that one for
   * the range by another link, and does not tell it to that one itself.
   */
  passesOn(linkIds: readonly string[], networkId: string, ownerId: string, range: Prefix): boolean {
    const over = (this.linksOf.get(networkId) ?? []).filter(({ id }) => linkIds.includes(id));
    if (networkId === ownerId || over.some((link) => this.membersOf.get(link)?.has(ownerId) === true)) return false;
    return this.routesTo(ownerId, range, networkId, (link, id) => id === networkId && over.includes(link)).has(
      networkId,
    );
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
    if (attachment === undefined || attachment.accepts === 'all') return true;
    return attachment.accepts === 'listed' && attachment.acceptsFromIds.includes(fromId);
  }

  /** Whether two networks on a link are joined by it only later: the link is planned, or the attachment of one. */
  private isPlannedBetween(link: Link, one: string, other: string): boolean {
    const isLate = (networkId: string) => this.attachmentOf.get(`${link.id} ${networkId}`)?.isPlanned === true;
    return link.isPlanned || isLate(one) || isLate(other);
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
    const ways = (this.linksOf.get(from) ?? [])
      .filter((link) => this.membersOf.get(link)?.has(to) === true && this.learns(link, from, to))
      .map((link): Join => ({ hops: [{ link, toNetworkId: to }], isPlanned: this.isPlannedBetween(link, from, to) }));
    return ways.find(({ isPlanned }) => !isPlanned) ?? ways[0];
  }

  /**
   * The routes by which networks reach `to` for parts of a range, however many networks pass them on: told link by link
   * from `to` outwards, over links that stand before planned ones. A route that carries nothing new is not told further,
   * so it ends. With `until` it ends as soon as that network has a route that stands; what is barred is not told there.
   */
  private routesTo(
    to: string,
    range: Prefix,
    until?: string,
    isBarred: (link: Link, id: string) => boolean = () => false,
  ): Map<string, Route[]> {
    const found = new Map<string, Route[]>([[to, [{ ...itself, parts: [range] }]]]);
    const planned: [string, Route][] = [];
    let open: [string, Route][] = [[to, { ...itself, parts: [range] }]];
    while (open.length > 0 || planned.length > 0) {
      if (open.length === 0) open = planned.splice(0);
      const next: [string, Route][] = [];
      for (const [via, route] of open) {
        for (const link of this.linksOf.get(via) ?? []) {
          const listed = this.advertised(link, via);
          // Without a list a network advertises its own ranges only.
          if (listed === undefined && via !== to) continue;
          const parts = listed === undefined ? route.parts : common(route.parts, listed);
          if (parts.length === 0) continue;
          for (const id of this.toldOver(link, via, until)) {
            if (id === to || isBarred(link, id)) continue;
            const isPlanned = route.isPlanned || this.isPlannedBetween(link, via, id);
            const told: Route = { hops: [{ link, toNetworkId: via }, ...route.hops], isPlanned, parts };
            const known = found.get(id);
            if (
              known?.some(
                (each) =>
                  (isPlanned || !each.isPlanned) &&
                  parts.every((part) => each.parts.some((own) => contains(own, part))),
              )
            )
              continue;
            if (known === undefined) found.set(id, [told]);
            else known.push(told);
            if (id === until && !isPlanned) return found;
            (isPlanned ? planned : next).push([id, told]);
          }
        }
      }
      open = next;
    }
    return found;
  }

  /** Who accepts over a link what a network on it advertises; `first` before all others. */
  private *toldOver(link: Link, fromId: string, first: string | undefined): Iterable<string> {
    const isFirstOn = first !== undefined && first !== fromId && this.membersOf.get(link)?.has(first) === true;
    if (isFirstOn && this.learns(link, first, fromId)) yield first;
    for (const id of link.networkIds)
      if (id !== fromId && (id !== first || !isFirstOn) && this.learns(link, id, fromId)) yield id;
  }

  private findMeeting(first: string, second: string, range: Prefix): Meeting | undefined {
    if (!this.isPolicied.has(first) && !this.isPolicied.has(second)) return this.plainMeeting(first, second);
    let planned: Meeting | undefined;
    const meet = (vantageId: string, toFirst: Route, toSecond: Route): Meeting | undefined => {
      if (common(toFirst.parts, toSecond.parts).length === 0) return undefined;
      const isPlanned = toFirst.isPlanned || toSecond.isPlanned;
      const met = { vantageId, toFirst, toSecond, isPlanned };
      if (isPlanned) planned ??= met;
      return isPlanned ? undefined : met;
    };
    const home: Route = { ...itself, parts: [range] };
    if (first === second) return meet(first, home, home);
    // Most meet where one of the two is at home, and that is soon found.
    for (const route of this.routesTo(second, range, first).get(first) ?? []) {
      const met = meet(first, home, route);
      if (met !== undefined) return met;
    }
    const toFirst = this.routesTo(first, range);
    const toSecond = this.routesTo(second, range);
    for (const vantageId of new Set([second, ...toFirst.keys()])) {
      for (const one of toFirst.get(vantageId) ?? []) {
        for (const other of toSecond.get(vantageId) ?? []) {
          const met = meet(vantageId, one, other);
          if (met !== undefined) return met;
        }
      }
    }
    return planned;
  }

  private plainMeeting(first: string, second: string): Meeting | undefined {
    let planned: Meeting | undefined;
    for (const vantageId of first === second ? [first] : [first, ...this.neighbours(first)]) {
      const toFirst = vantageId === first ? itself : this.plainJoin(vantageId, first);
      const toSecond = vantageId === second ? itself : this.plainJoin(vantageId, second);
      if (toFirst === undefined || toSecond === undefined) continue;
      const isPlanned = toFirst.isPlanned || toSecond.isPlanned;
      const met = { vantageId, toFirst, toSecond, isPlanned };
      if (!isPlanned) return met;
      planned ??= met;
    }
    return planned;
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
