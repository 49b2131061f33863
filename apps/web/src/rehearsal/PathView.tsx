import { formatDuration } from '@wide-lattice/core/english';
import { Link } from 'react-router';
import { usePlanPath } from '../plan/usePlanPath';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import type { ShownRun } from '../worker/slices/rehearsalSlices';

/** The longest chain of steps, and how long each holds the rest up. */
export function PathView({ run }: { readonly run: ShownRun & { readonly ok: true } }) {
  const planPath = usePlanPath();
  return (
    <Part title="Critical path">
      <p className="quiet">
        These steps set the total of {formatDuration(run.total)}: each began when the one above ended.
      </p>
      <table className="mt-1.5 w-full" aria-label="Critical path">
        <TableHead labels={['Step', 'From', 'Takes', 'Waited for its turn']} rightFrom={1} />
        <tbody>
          {run.path.map(({ kind, name, condition, from, to, waited, path }) => (
            <tr key={`${kind} ${name} ${condition}`} className="rule-b">
              <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                {path === undefined ? (
                  name
                ) : (
                  <Link className="link-hover" to={planPath(path)}>
                    {name}
                  </Link>
                )}{' '}
                <span className="quiet text-xs">
                  {kind}, {condition}
                </span>
              </th>
              <td className="pl-3 text-right tabular-nums">{formatDuration(from)}</td>
              <td className="pl-3 text-right font-semibold tabular-nums">{formatDuration(to - from)}</td>
              <td className="pl-3 text-right tabular-nums">{waited === 0 ? '–' : formatDuration(waited)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  );
}
