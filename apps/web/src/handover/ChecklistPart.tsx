import { formatDuration } from '@wide-lattice/core/english';
import { formatCount } from '@wide-lattice/core/working';
import { useAnswer } from '../plan/useSlice';
import { scopeOf } from '../rehearsal/wish';
import { Computing, Part } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import type { ShownChecklist } from '../worker/slices/handoverSlices';

/** The steps of builders for what does not stand yet, in their order. */
export function ChecklistPart() {
  const [search] = useSearchState();
  const { slice: checklist, isFresh } = useAnswer('checklist', scopeOf(search.get('scope') ?? ''));
  if (checklist === undefined) return <Computing />;
  if (!checklist.ok)
    return (
      <Part title="Checklist">
        <p className="text-error">{checklist.message}</p>
      </Part>
    );
  return (
    <Part title="Checklist">
      <div className={isFresh ? '' : 'opacity-60'}>
        {checklist.found === 0 ? (
          <p>Nothing is left to build here: every cluster of it stands.</p>
        ) : (
          <Steps checklist={checklist} />
        )}
      </div>
    </Part>
  );
}

function Steps({ checklist: { steps, found, total } }: { readonly checklist: ShownChecklist & { readonly ok: true } }) {
  return (
    <>
      <p>
        {formatCount(found, 'step')}, {formatDuration(total)} as rehearsed; clusters that stand are left out. In the
        bundle it has columns for owner, name and date.
      </p>
      <table className="mt-1.5 w-full" aria-label="Checklist">
        <TableHead labels={['Step', 'What', 'Begins', 'Takes', 'After']} />
        <tbody>
          {steps.map((step) => (
            <tr key={step['step']} className="rule-b align-top">
              <th scope="row" className="py-0.5 pr-2 text-left font-normal tabular-nums">
                {step['step']}
              </th>
              <td className="py-0.5 pr-2">
                {step['kind']} <span className="quiet">{step['names']}</span>
                {step['cluster'] !== '' && <span className="quiet"> of {step['cluster']}</span>}
                {step['hold point'] !== '' && <div className="text-warning text-xs">{step['hold point']}</div>}
                {step['problem'] !== '' && <div className="text-error text-xs">{step['problem']}</div>}
              </td>
              <td className="py-0.5 pr-2 whitespace-nowrap tabular-nums">{step['begins']}</td>
              <td className="py-0.5 pr-2 whitespace-nowrap tabular-nums">{step['takes']}</td>
              <td className="py-0.5 tabular-nums">{step['after steps']}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <More all={found} shown={steps.length} />
    </>
  );
}
