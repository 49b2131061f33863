import { formatNumber } from '@wide-lattice/core/working';
import { useSlice } from '../plan/useSlice';
import { PurposeTag } from '../shared/Marks';

/** The largest block that still fits for each need, and what a longer prefix for each node would free. */
export function Inverse({ clusterId }: { readonly clusterId: string }) {
  const answer = useSlice('inverse', clusterId);
  if (answer === undefined) return null;
  const { largest, perNode } = answer;
  const useful = perNode.filter(({ freed }) => freed > 0).slice(0, 3);
  return (
    <div className="mt-2 grid grid-cols-2 gap-6">
      <table className="self-start" aria-label="Largest that still fits">
        <caption className="quiet text-left">Largest block that still fits</caption>
        <tbody>
          {largest.map(({ purpose, zone, family, prefix, sourceName, needed }) => (
            <tr key={`${purpose} ${zone} ${family}`} className="rule-b">
              <th scope="row" className="py-0.5 text-left font-normal">
                <span className="inline-flex items-center gap-1.5">
                  <PurposeTag purpose={purpose} /> {zone === '' ? purpose : zone}
                </span>
              </th>
              <td className="font-mono">{prefix === '' ? 'none' : prefix}</td>
              <td className="quiet text-right" title={`needs a /${needed}`}>
                {sourceName}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {useful.length > 0 && (
        <table className="self-start" aria-label="What a longer per-node prefix would free">
          <caption className="quiet text-left">A longer prefix for each node</caption>
          <tbody>
            {useful.map(({ length, podsPerNode, podRangeLength, freed, holdsToday }) => (
              <tr key={length} className="rule-b">
                <th scope="row" className="py-0.5 text-left font-mono font-normal">
                  /{length}
                </th>
                <td
                  className={holdsToday ? '' : 'text-warning'}
                  title={holdsToday ? '' : 'fewer than the cluster asks for'}
                >
                  {podsPerNode} pods per node
                </td>
                <td className="font-mono">/{podRangeLength}</td>
                <td className="text-right">frees {formatNumber(freed)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
