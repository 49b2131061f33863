import { formatCount, formatNumber } from '@wide-lattice/core/working';
import { Download } from 'lucide-react';
import { api } from '../plan/api';
import { usePlan } from '../plan/PlanContext';
import { useAnswer } from '../plan/useSlice';
import { scopeOf } from '../rehearsal/wish';
import { ScopeChoice } from '../rehearsal/ScopeChoice';
import { Computing, Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';

/** The whole design of a scope as one zip: what is in it, and where it is downloaded. */
export function BundlePart() {
  const { session } = usePlan();
  const [search, set] = useSearchState();
  const scope = scopeOf(search.get('scope') ?? '');
  const { slice: bundle, isFresh } = useAnswer('bundle', scope);
  return (
    <Part
      title="Bundle"
      aside={
        <a className="btn btn-sm btn-primary" href={api.handoverUrl(session.planId, scope)} download="handover.zip">
          <Download size={14} aria-hidden /> handover.zip
        </a>
      }
    >
      <h1 className="sr-only">Handover</h1>
      <div className="mb-2 w-72">
        <ScopeChoice label="Hand over" onChoose={(value) => set({ scope: value })} />
      </div>
      {bundle === undefined ? (
        <Computing />
      ) : (
        <div className={isFresh ? '' : 'opacity-60'}>
          <p>
            {formatCount(bundle.files, 'file')}, the same bytes for the same plan.
            {scope.kind !== 'plan' && ' Of a network everything in it comes along, of a connection all members.'}
          </p>
          <table className="mt-1.5 w-full" aria-label="What the bundle holds">
            <TableHead labels={['Part', 'What it is', 'Files']} rightFrom={2} />
            <tbody>
              {bundle.parts.map(({ name, about, files }) => (
                <tr key={name} className="rule-b">
                  <th scope="row" className="py-0.5 pr-3 text-left font-normal whitespace-nowrap">
                    {name}
                  </th>
                  <td className="quiet pr-3">{about}</td>
                  <td className="text-right tabular-nums">{formatNumber(files)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Part>
  );
}
