import type { Link, Network } from '../plan/index.js';

/** How one network reaches another: directly (no link), or by one link. */
export interface Join {
  readonly link: Link | undefined;
  readonly isPlanned: boolean;
}

/** A network from which both of two networks are reached, and how: there, an address in both means two places. */
export interface Meeting {
  readonly vantageId: string;
  readonly toFirst: Join;
  readonly toSecond: Join;
  readonly isPlanned: boolean;
}

const itself: Join = { link: undefined, isPlanned: false };

/**
 * Who can send to whom. A network reaches itself, its peers, and all that share a hub with it; peering is
 * not transitive, so nothing is reached over two links. Planned links count and are marked.
 */
export class Domains {
  private readonly linksOf = new Map<string, Link[]>();
  private readonly membersOf = new Map<Link, Set<string>>();
  private readonly meetings = new Map<string, Map<string, Meeting | undefined>>();

  constructor(networks: readonly Network[], links: readonly Link[]) {
    for (const network of networks) this.linksOf.set(network.id, []);
    // Links that stand come first, so that a planned one is named only when nothing else joins the two.
    for (const link of [...links].sort((a, b) => Number(a.isPlanned) - Number(b.isPlanned))) {
      this.membersOf.set(link, new Set(link.networkIds));
      for (const id of link.networkIds) this.linksOf.get(id)?.push(link);
    }
  }

  /** How `from` reaches `to`; undefined when it does not. */
  join(from: string, to: string): Join | undefined {
    if (from === to) return itself;
    const link = this.linksOf.get(from)?.find((each) => this.membersOf.get(each)?.has(to) === true);
    return link === undefined ? undefined : { link, isPlanned: link.isPlanned };
  }

  /** The network where destinations of both meet; undefined when no network reaches both. */
  meeting(first: string, second: string): Meeting | undefined {
    let known = this.meetings.get(first);
    if (known === undefined) {
      known = new Map();
      this.meetings.set(first, known);
    }
    if (!known.has(second)) known.set(second, this.findMeeting(first, second));
    return known.get(second);
  }

  /** The networks that `from` reaches over a link, each once, itself not among them. */
  neighbours(from: string): string[] {
    const found = new Set<string>();
    for (const link of this.linksOf.get(from) ?? []) for (const id of link.networkIds) found.add(id);
    found.delete(from);
    return [...found];
  }

  private findMeeting(first: string, second: string): Meeting | undefined {
    const direct = this.join(first, second);
    const candidates: Meeting[] = [];
    if (direct !== undefined) {
      candidates.push({ vantageId: first, toFirst: itself, toSecond: direct, isPlanned: direct.isPlanned });
      if (!direct.isPlanned) return candidates[0];
    }
    for (const vantageId of this.neighbours(first)) {
      const toFirst = this.join(vantageId, first);
      const toSecond = this.join(vantageId, second);
      if (toFirst === undefined || toSecond === undefined || vantageId === second) continue;
      const isPlanned = toFirst.isPlanned || toSecond.isPlanned;
      const found = { vantageId, toFirst, toSecond, isPlanned };
      if (!isPlanned) return found;
      candidates.push(found);
    }
    return candidates[0];
  }
}
