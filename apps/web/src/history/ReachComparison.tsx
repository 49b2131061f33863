import { formatNumber } from '@wide-lattice/core/working';
import type { CellChange } from '@wide-lattice/core/reach';
import { TableHead } from '../shared/TableHead';
import { More } from '../shared/More';

const SHOWN = 60;

interface ReachComparisonProps {
  readonly gained: readonly CellChange[];
  readonly lost: readonly CellChange[];
}

/** What clusters can reach in one state and not in the other: cells of the matrix that were gained or lost. */
export function ReachComparison({ gained, lost }: ReachComparisonProps) {
  if (gained.length + lost.length === 0) return null;
  return (
    <section aria-label="What can be reached" className="mt-3">
      <h3 className="heading mb-1">
        Reach: {formatNumber(lost.length)} lost, {formatNumber(gained.length)} gained
      </h3>
      <table className="w-full" aria-label="Cells that differ">
        <TableHead labels={['Cluster', 'Target', 'First', 'Second']} rightFrom={2} />
        <tbody>
          {[...lost, ...gained].slice(0, SHOWN).map(({ clusterName, label, before, after, of }) => (
            <tr key={`${clusterName} ${label}`} className="rule-b">
              <th scope="row" className="py-0.5 text-left font-normal">
                {clusterName}
              </th>
              <td>{label}</td>
              <td className="text-right">{formatCell(before, of)}</td>
              <td className="text-right">{formatCell(after, of)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <More all={gained.length + lost.length} shown={SHOWN} />
    </section>
  );
}

function formatCell(passes: number, of: number): string {
  if (of > 1) return `${passes} of ${of}`;
  return passes === 1 ? 'passes' : 'does not pass';
}
