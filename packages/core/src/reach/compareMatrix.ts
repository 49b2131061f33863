import type { Forwarding } from '../forwarding/index.js';
import { matrixColumns } from './matrix.js';
import { MatrixMaker } from './matrixMaker.js';
import type { MatrixCell } from './matrix.js';

/** A cell of the matrix that differs between two states of a plan: how many of its targets pass. */
export interface CellChange {
  readonly clusterName: string;
  readonly label: string;
  readonly before: number;
  readonly after: number;
  readonly of: number;
}

/** Cells that pass more or less than before. Clusters are told apart by their ids, columns by their labels. */
export function compareMatrices(
  before: Forwarding,
  after: Forwarding,
): { readonly gained: readonly CellChange[]; readonly lost: readonly CellChange[] } {
  const old = cellsOf(before);
  const fresh = cellsOf(after);
  const changes = [...new Set([...old.keys(), ...fresh.keys()])].flatMap((key): CellChange[] => {
    const was = old.get(key);
    const is = fresh.get(key);
    const [from, to] = [was?.cell.passes ?? 0, is?.cell.passes ?? 0];
    const named = is ?? was;
    if (from === to || named === undefined) return [];
    return [{ clusterName: named.clusterName, label: named.label, before: from, after: to, of: named.cell.of }];
  });
  return {
    gained: changes.filter((change) => change.after > change.before),
    lost: changes.filter((change) => change.after < change.before),
  };
}

interface Named {
  readonly cell: MatrixCell;
  readonly clusterName: string;
  readonly label: string;
}

function cellsOf(forwarding: Forwarding): Map<string, Named> {
  const columns = matrixColumns(forwarding.parts);
  const maker = new MatrixMaker(forwarding);
  return new Map(
    forwarding.parts.clusters.flatMap((cluster) =>
      maker.row(cluster, columns).flatMap((cell, at): [string, Named][] => {
        const label = columns[at]?.label ?? '';
        return cell === undefined ? [] : [[`${cluster.id} ${label}`, { cell, clusterName: cluster.name, label }]];
      }),
    ),
  );
}
