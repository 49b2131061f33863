import type { Address, Prefix } from '../address/index.js';
import type { Kind, Link, Route } from '../plan/index.js';

/** Where a route leads. */
export type NextHop =
  | { readonly kind: 'local' }
  | { readonly kind: 'pods'; readonly clusterId: string }
  | { readonly kind: 'link'; readonly link: Link; readonly toNetworkId: string | undefined }
  | { readonly kind: 'nat'; readonly id: string }
  | { readonly kind: 'firewall'; readonly id: string }
  | { readonly kind: 'internet' }
  | { readonly kind: 'drop' }
  | { readonly kind: 'gone'; readonly what: string };

/** How routes are preferred among equally long ones. Source: common practice. */
export type Origin = 'local' | 'pods' | 'static' | 'learned';

/** A row of a route table, typed or derived. */
export interface RouteRow {
  readonly prefix: Prefix;
  readonly origin: Origin;
  /** Rank among learned routes, by the kinds of links that the profile prefers; 0 for all others. */
  readonly rank: number;
  readonly hop: NextHop;
  /** The entity it comes from. */
  readonly subject: { readonly kind: Kind; readonly id: string };
  /** Where it comes from, in words. */
  readonly from: string;
  readonly route?: Route;
}

/** What a look-up found: the row that decides, those that lost to it with the reason, and a second that is as good. */
export interface LookUp {
  readonly destination: Address;
  readonly row: RouteRow | undefined;
  readonly lost: readonly { readonly row: RouteRow; readonly why: string }[];
  readonly tie: RouteRow | undefined;
}

const order: Readonly<Record<Origin, number>> = { local: 0, pods: 0, static: 1, learned: 2 };

/** Decides among the rows that hold an address: the longest prefix (RFC 4632 5.1), then local, static, learned, then the better link. */
export function decideRow(destination: Address, candidates: readonly RouteRow[]): LookUp {
  const sorted = [...candidates].sort(compareRows);
  const [row, second] = sorted;
  if (row === undefined) return { destination, row, lost: [], tie: undefined };
  const isTied = second !== undefined && compareRows(row, second) === 0 && !isSameHop(row.hop, second.hop);
  return {
    destination,
    row,
    lost: sorted.slice(1).map((each) => ({ row: each, why: reason(row, each) })),
    tie: isTied ? second : undefined,
  };
}

function compareRows(a: RouteRow, b: RouteRow): number {
  return b.prefix.length - a.prefix.length || order[a.origin] - order[b.origin] || a.rank - b.rank;
}

function isSameHop(a: NextHop, b: NextHop): boolean {
  if (a.kind === 'link' && b.kind === 'link') return a.link.id === b.link.id && a.toNetworkId === b.toNetworkId;
  if (a.kind === 'pods' && b.kind === 'pods') return a.clusterId === b.clusterId;
  return a.kind === b.kind;
}

function reason(winner: RouteRow, loser: RouteRow): string {
  if (loser.prefix.length < winner.prefix.length)
    return `/${winner.prefix.length} is longer than /${loser.prefix.length}`;
  if (loser.origin !== winner.origin) return `${winner.origin} before ${loser.origin}`;
  if (loser.rank !== winner.rank) return 'the provider prefers the other link';
  return isSameHop(winner.hop, loser.hop) ? 'the same next hop' : 'as good as the other: ambiguous';
}
