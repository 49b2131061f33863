import { formatNumber } from '@wide-lattice/core/working';
import { Link } from 'react-router';
import { useSlice } from '../plan/useSlice';
import { usePlanPath } from '../plan/usePlanPath';
import { Part } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';

const SHOWN = 100;

const origins = { local: 'local', pods: 'per node', static: 'static', learned: 'learned' } as const;

/** Every row of one table: what is typed in ink, what is derived in quiet type, each with where it comes from. */
export function RouteTableRows({ tableId }: { readonly tableId: string }) {
  const table = useSlice('routeTable', tableId);
  const path = usePlanPath();
  if (table === undefined) return null;
  const { name, rows, count, most } = table;
  return (
    <Part
      title={`Rows of ${name}`}
      aside={
        <span className={most !== undefined && count > most ? 'text-error font-semibold' : 'quiet'}>
          {formatNumber(count)}
          {most === undefined ? '' : ` of ${formatNumber(most)} routes`}
        </span>
      }
    >
      <div className="max-h-64 overflow-auto" tabIndex={0} role="group" aria-label={`Rows of ${name}`}>
        <table className="w-full" aria-label={`Rows of ${name}`}>
          <TableHead labels={['Prefix', 'Next hop', 'From', 'Kind']} />
          <tbody>
            {rows.slice(0, SHOWN).map((row, i) => (
              <tr key={i} className={`rule-b ${row.origin === 'static' ? '' : 'quiet'}`}>
                <th scope="row" className="py-0.5 pr-3 text-left font-mono text-[13px] font-normal">
                  {row.prefix}
                </th>
                <td className="pr-3">{row.hop}</td>
                <td className="pr-3">
                  <Link className="hover:underline" to={path(row.path)}>
                    {row.from}
                  </Link>
                </td>
                <td>{origins[row.origin]}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <More all={count} shown={Math.min(rows.length, SHOWN)} />
      </div>
    </Part>
  );
}
