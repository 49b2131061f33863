import type { Address } from '../address/index.js';
import type { LookUp, Loss, NextHop, Origin, RouteRow } from '../road/index.js';

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
    lost: sorted.slice(1).map((each) => ({ row: each, why: lossOf(row, each) })),
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

function lossOf(winner: RouteRow, loser: RouteRow): Loss {
  if (loser.prefix.length < winner.prefix.length) return 'shorter';
  if (loser.origin !== winner.origin) return 'origin';
  if (loser.rank !== winner.rank) return 'rank';
  return isSameHop(winner.hop, loser.hop) ? 'same hop' : 'tie';
}
