import { formatNumber } from '@wide-lattice/core/working';
import { formatMoney } from '@wide-lattice/core/money';
import type { CostTime } from '@wide-lattice/core/money';
import { Link } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { FigureButton } from '../shared/FigureButton';
import { Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import type { CostSheet } from '../worker/slices/costs';
import { TableHead } from '../shared/TableHead';

const times: readonly { readonly id: CostTime; readonly label: string }[] = [
  { id: 'now', label: 'now' },
  { id: 'horizon', label: 'at the horizon' },
];

/** A total that leaves something out never looks whole. */
function formatTotal(total: string, lines: number, missing: number): string {
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
  return (
    <>
      <Part
        title={formatTotal(formatMoney(costs.total, currency), costs.count, costs.missingCount)}
        aside={<Times time={time} onChoose={(id) => set({ time: id })} />}
      >
        <Bars items={costs.items} />
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
      <Lines rows={costs.rows} count={costs.count} planId={session.planId} />
      {costs.missingCount > 0 && <Missing missing={costs.missing} count={costs.missingCount} planId={session.planId} />}
    </>
  );
}

interface TimesProps {
  readonly time: (typeof times)[number]['id'];
  readonly onChoose: (time: (typeof times)[number]['id']) => void;
}

function Times({ time, onChoose }: TimesProps) {
  return (
    <div role="group" aria-label="When" className="join">
      {times.map(({ id, label }) => (
        <button
          key={id}
          type="button"
          aria-pressed={time === id}
          className={`btn btn-xs join-item ${time === id ? 'btn-primary' : 'btn-outline'}`}
          onClick={() => onChoose(id)}
        >
          {label}
        </button>
      ))}
    </div>
  );
}

function Bars({ items }: Pick<CostSheet, 'items'>) {
  const most = Math.max(1, ...items.map(({ amount }) => amount));
  return (
    <ul aria-label="By item">
      {items.map(({ item, amount }) => (
        <li key={item} className="grid grid-cols-[10.5rem_1fr_7rem] items-center gap-2">
          <span className="truncate">{item}</span>
          <span className="bg-base-200 h-2.5">
            <span className="bg-primary block h-full" style={{ width: `${(100 * amount) / most}%` }} />
          </span>
          <span className="text-right font-mono text-[0.92rem]">{formatMoney(amount)}</span>
        </li>
      ))}
    </ul>
  );
}

interface LinesProps {
  readonly rows: CostSheet['rows'];
  readonly count: number;
  readonly planId: string;
}

function Lines({ rows, count, planId }: LinesProps) {
  return (
    <Part title={`Lines: ${formatNumber(count)}`}>
      <table className="w-full" aria-label="Cost lines">
        <TableHead labels={['Cluster', 'Item', 'Quantity', 'Per month']} rightFrom={2} />
        <tbody>
          {rows.map(({ id, clusterId, cluster, item, quantity, monthly }) => (
            <tr key={id} className="rule-b align-top">
              <th scope="row" className="py-0.5 pr-2 text-left font-normal whitespace-nowrap">
                <Link to={`/plans/${planId}/clusters/${clusterId}`}>{cluster}</Link>
              </th>
              <td>{item}</td>
              <td className="text-right whitespace-nowrap">{quantity}</td>
              <td className="pl-2 text-right font-mono text-[0.92rem]">
                <FigureButton figure={monthly}>{formatMoney(monthly.value)}</FigureButton>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length < count && <p className="quiet mt-1">and {formatNumber(count - rows.length)} smaller ones.</p>}
    </Part>
  );
}

interface MissingProps {
  readonly missing: CostSheet['missing'];
  readonly count: number;
  readonly planId: string;
}

function Missing({ missing, count, planId }: MissingProps) {
  return (
    <Part title={`Cannot be computed: ${formatNumber(count)}`}>
      <ul>
        {missing.map(({ id, clusterId, cluster, item, cannot }) => (
          <li key={id} className="rule-b py-0.5">
            <Link to={`/plans/${planId}/clusters/${clusterId}`}>{cluster}</Link>, {item.toLowerCase()}: cannot be
            computed because {cannot}.
          </li>
        ))}
      </ul>
      {missing.length < count && <p className="quiet mt-1">and {formatNumber(count - missing.length)} more.</p>}
    </Part>
  );
}
