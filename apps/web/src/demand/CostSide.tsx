import { sayMoney } from '@wide-lattice/core/money';
import type { CostTime } from '@wide-lattice/core/money';
import { Link } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { FigureButton } from '../shared/FigureButton';
import { Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import { TableHead } from '../shared/TableHead';

const times: readonly { readonly id: CostTime; readonly label: string }[] = [
  { id: 'now', label: 'now' },
  { id: 'horizon', label: 'at the horizon' },
];

/** A total that leaves something out never looks whole. */
function sayTotal(total: string, lines: number, missing: number): string {
  if (lines === 0) return 'Cost not known';
  return missing === 0 ? `${total} per month` : `${total} per month, and what is not known`;
}

/** What the whole plan costs per month: by item as bars, then every line with its working. */
export function CostSide() {
  const { plan, session } = usePlan();
  const [search, set] = useSearchState();
  const time = times.find(({ id }) => id === search.get('time'))?.id ?? 'now';
  const costs = useSlice('costs', time);
  if (costs === undefined) return <p className="quiet p-4">Computing...</p>;
  const { currency } = plan.settings;
  const most = Math.max(1, ...costs.items.map(({ amount }) => amount));
  return (
    <>
      <Part
        title={sayTotal(sayMoney(costs.total, currency), costs.count, costs.missingCount)}
        aside={
          <div role="group" aria-label="When" className="join">
            {times.map(({ id, label }) => (
              <button
                key={id}
                type="button"
                aria-pressed={time === id}
                className={`btn btn-xs join-item ${time === id ? 'btn-primary' : 'btn-outline'}`}
                onClick={() => set({ time: id })}
              >
                {label}
              </button>
            ))}
          </div>
        }
      >
        <ul aria-label="By item">
          {costs.items.map(({ item, amount }) => (
            <li key={item} className="grid grid-cols-[10.5rem_1fr_7rem] items-center gap-2">
              <span className="truncate">{item}</span>
              <span className="bg-base-200 h-2.5">
                <span className="bg-primary block h-full" style={{ width: `${(100 * amount) / most}%` }} />
              </span>
              <span className="text-right font-mono text-[0.92rem]">{sayMoney(amount)}</span>
            </li>
          ))}
        </ul>
        {costs.missingCount > 0 && (
          <p className="text-warning mt-2 font-semibold">
            Not counted: {costs.missingCount} {costs.missingCount === 1 ? 'line' : 'lines'} that cannot be computed,
            below.
          </p>
        )}
        <p className="quiet mt-1 text-xs">
          Prices are this plan’s own: of machines in the sheet of shapes, all others in that of profiles, at the stop
          Ground. Two versions are compared at History.
        </p>
      </Part>
      <Part title={`Lines: ${costs.count.toLocaleString('en-US')}`}>
        <table className="w-full" aria-label="Cost lines">
          <TableHead labels={['Cluster', 'Item', 'Quantity', 'Per month']} rightFrom={2} />
          <tbody>
            {costs.rows.map(({ id, clusterId, cluster, item, quantity, monthly }) => (
              <tr key={id} className="rule-b align-top">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal whitespace-nowrap">
                  <Link to={`/plans/${session.planId}/clusters/${clusterId}`}>{cluster}</Link>
                </th>
                <td>{item}</td>
                <td className="text-right whitespace-nowrap">{quantity}</td>
                <td className="pl-2 text-right font-mono text-[0.92rem]">
                  <FigureButton figure={monthly}>{sayMoney(monthly.value)}</FigureButton>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {costs.rows.length < costs.count && (
          <p className="quiet mt-1">and {(costs.count - costs.rows.length).toLocaleString('en-US')} smaller ones.</p>
        )}
      </Part>
      {costs.missingCount > 0 && (
        <Part title={`Cannot be computed: ${costs.missingCount.toLocaleString('en-US')}`}>
          <ul>
            {costs.missing.map(({ id, clusterId, cluster, item, cannot }) => (
              <li key={id} className="rule-b py-0.5">
                <Link to={`/plans/${session.planId}/clusters/${clusterId}`}>{cluster}</Link>, {item.toLowerCase()}:
                cannot be computed because {cannot}.
              </li>
            ))}
          </ul>
          {costs.missing.length < costs.missingCount && (
            <p className="quiet mt-1">
              and {(costs.missingCount - costs.missing.length).toLocaleString('en-US')} more.
            </p>
          )}
        </Part>
      )}
    </>
  );
}
