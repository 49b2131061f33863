import type { Address } from '../address/index.js';
import type { LookUp, Loss, NextHop, Origin, RouteRow } from '../road/index.js';

const order: Readonly<Record<Origin, number>> = { local: 0, pods: 0, static: 1, learned: 2 };

/**
 * Decides among the rows that hold an address: the longest prefix (RFC 4632 5.1), then local, static, learned, then the higher
 * local preference (RFC 4271 5.1.5), then the better link.
 */
export function decideRow(destination: Address, candidates: readonly RouteRow[]): LookUp {
  const sorted = [...candidates].sort(compareRows);
  const [row, second] = sorted;
  if (row === undefined) return { destination, row, lost: [], equal: [], tie: undefined };
  const isGood = (each: RouteRow) => compareRows(row, each) === 0 && !isSameHop(row.hop, each.hop);
  const good = second !== undefined && compareRows(row, second) === 0 ? sorted.slice(1).filter(isGood) : [];
  return {
    destination,
    row,
    lost: sorted.slice(1).map((each) => ({ row: each, why: lossOf(row, each) })),
    equal: good.filter((each) => isBeside(row.hop, each.hop)),
    tie: good.find((each) => !isBeside(row.hop, each.hop)),
  };
}

/** Whether two next hops lead to one network over two links, so that packets take either (equal cost, common practice). */
function isBeside(a: NextHop, b: NextHop): boolean {
  return a.kind === 'link' && b.kind === 'link' && a.toNetworkId !== undefined && a.toNetworkId === b.toNetworkId;
}

function compareRows(a: RouteRow, b: RouteRow): number {
  return (
    b.prefix.length - a.prefix.length ||
    order[a.origin] - order[b.origin] ||
    b.preference - a.preference ||
    a.rank - b.rank
  );
}

function isSameHop(a: NextHop, b: NextHop): boolean {
  if (a.kind === 'link' && b.kind === 'link') return a.link.id === b.link.id && a.toNetworkId === b.toNetworkId;
  if (a.kind === 'pods' && b.kind === 'pods') return a.clusterId === b.clusterId;
  return a.kind === b.kind;
}

function lossOf(winner: RouteRow, loser: RouteRow): Loss {
  if (loser.prefix.length < winner.prefix.length) return 'shorter';
  if (loser.origin !== winner.origin) return 'origin';
  if (loser.preference !== winner.preference) return 'preference';
  if (loser.rank !== winner.rank) return 'rank';
  if (isSameHop(winner.hop, loser.hop)) return 'same hop';
  return isBeside(winner.hop, loser.hop) ? 'equal' : 'tie';
}
