import { formatAddress, formatPrefix, overlaps, prefixAround } from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';
import { formatLack, formatPair } from '../english/index.js';
import { RowLookup, shownRanges } from '../forwarding/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { grouped, rangeOf } from '../plan/index.js';
import type { Allocation, Member } from '../plan/index.js';
import { verdictOfLack } from '../road/index.js';
import type { Lack, Verdict } from '../road/index.js';
import type { PodHosts } from './podHosts.js';

/** What is asked for at the other end: its pods, any address of its services, or one of them. */
export type PairTarget = 'pods' | 'service' | Address;

/** Why a member’s packets to what another one shows never leave it, or not for it. */
export type Hidden =
  | { readonly is: 'lack'; readonly lack: Lack }
  | { readonly is: 'no service range' }
  | { readonly is: 'own range'; readonly range: Allocation }
  | { readonly is: 'shown twice'; readonly rival: Shown };

interface Shown {
  readonly member: Member;
  readonly prefix: Prefix;
}

/** What members of a connection meet that ask for something of another one. */
interface Aim {
  /** Why no member reaches it. */
  readonly forAll: Hidden | undefined;
  /** By cluster, the first range of its own that hides it. */
  readonly own: ReadonlyMap<string, Hidden>;
  /** What others show of the same. */
  readonly rivals: readonly Hidden[];
}

const noShown: readonly Shown[] = [];

/** How a hidden destination is judged. */
export function verdictOfHidden(hidden: Hidden): Verdict {
  if (hidden.is === 'lack') return verdictOfLack(hidden.lack);
  return hidden.is === 'own range' ? 'broken' : 'unknown';
}

/** The members that something of a member is hidden from: own ranges hide it, or two members show the same. */
export class Aims {
  private readonly aims: Record<'pods' | 'service', Map<string, Aim>> = { pods: new Map(), service: new Map() };
  private readonly pinned = new Map<string, Aim>();
  private readonly own = new Map<string, { readonly ranges: readonly Allocation[]; readonly lookup: RowLookup }>();

  constructor(
    private readonly members: readonly Member[],
    private readonly forwarding: Forwarding,
    private readonly pods: PodHosts,
  ) {}

  /** Why packets from one member to something of another one never leave it; undefined where they do. */
  hidden(from: Member, to: Member, family: Family, asked: PairTarget): Hidden | undefined {
    const { forAll, own, rivals } = this.aim(to, family, asked);
    if (forAll !== undefined) return forAll;
    const hiding = own.get(from.clusterId);
    if (hiding !== undefined || rivals.length === 0) return hiding;
    return rivals.find((each) => each.is === 'shown twice' && each.rival.member.id !== from.id);
  }

  /** The same in a sentence. */
  formatHidden(hidden: Hidden, from: string, to: string): string {
    switch (hidden.is) {
      case 'lack':
        return formatLack(this.forwarding.parts, hidden.lack);
      case 'no service range':
        return formatPair({ code: 'range.no-service', cluster: to });
      case 'own range': {
        const { purpose } = hidden.range;
        return formatPair({
          code: 'range.own',
          shownBy: to,
          of: from,
          purpose,
          prefix: formatPrefix(rangeOf(hidden.range)),
        });
      }
      case 'shown twice': {
        const one = this.forwarding.crossings.nameOf(hidden.rival.member);
        return formatPair({ code: 'range.two', one, other: to, prefix: formatPrefix(hidden.rival.prefix) });
      }
    }
  }

  private aim(to: Member, family: Family, asked: PairTarget): Aim {
    const known = typeof asked === 'string' ? this.aims[asked] : this.pinned;
    const key = typeof asked === 'string' ? keyOf(to, family) : `${to.id} ${family} ${formatAddress(asked)}`;
    const last = known.get(key);
    if (last !== undefined) return last;
    const made = this.make(to, family, asked);
    known.set(key, made);
    return made;
  }

  private make(to: Member, family: Family, asked: PairTarget): Aim {
    const none = { own: new Map<string, Hidden>(), rivals: [] } as const;
    const pod = this.pods.of(to.clusterId, family);
    if (!pod.ok) return { ...none, forAll: { is: 'lack', lack: pod.lack } };
    const shown =
      asked === 'pods'
        ? this.shownBy(to, 'pod', family)
        : asked === 'service'
          ? this.shownBy(to, 'service', family)
          : [
              prefixAround(
                this.forwarding.crossings.shownIn(to.connectionId, to.clusterId, asked),
                family === 4 ? 32 : 128,
              ),
            ];
    if (shown.length === 0) return { ...none, forAll: { is: 'no service range' } };
    const rivals = this.rivalsOf(to)
      .filter(({ prefix }) => shown.some((each) => overlaps(each, prefix)))
      .map((rival) => ({ is: 'shown twice', rival }) as const);
    return { forAll: undefined, own: this.ownOver(to.connectionId, shown), rivals };
  }

  /** By cluster of a connection, the first of its own ranges that shares addresses with some prefixes. */
  private ownOver(connectionId: string, shown: readonly Prefix[]): ReadonlyMap<string, Hidden> {
    const { ranges, lookup } = this.ownOf(connectionId);
    const at = new Set(shown.flatMap((prefix) => [...lookup.all(prefix), ...lookup.inside(prefix)]));
    const found = new Map<string, Hidden>();
    for (const place of [...at].sort((a, b) => a - b)) {
      const range = ranges[place] as Allocation;
      if (!found.has(range.clusterId)) found.set(range.clusterId, { is: 'own range', range });
    }
    return found;
  }

  private ownOf(connectionId: string) {
    const known = this.own.get(connectionId);
    if (known !== undefined) return known;
    const members = grouped(this.members, 'connectionId').get(connectionId) ?? [];
    const ranges = members.flatMap(({ clusterId }) => this.forwarding.rangesOf(clusterId));
    const made = { ranges, lookup: new RowLookup(ranges.map(rangeOf)) };
    this.own.set(connectionId, made);
    return made;
  }

  private shownBy(member: Member, purpose: 'pod' | 'service', family: Family): readonly Prefix[] {
    return shownRanges(
      member,
      this.forwarding.rangesOf(member.clusterId).filter((range) => range.purpose === purpose),
    ).filter((prefix) => prefix.family === family);
  }

  /** What other members show of what one member shows. */
  private rivalsOf(member: Member): readonly Shown[] {
    const ranges = shownRanges(member, this.forwarding.rangesOf(member.clusterId));
    if (ranges.length === 0) return noShown;
    return this.forwarding.crossings
      .shownAround(member.connectionId, ranges)
      .filter((each) => each.member.id !== member.id);
  }
}

/** By family first, so that no text is made for each question. */
function keyOf(member: Member, family: Family): string {
  return family === 4 ? member.id : `${member.id} 6`;
}
