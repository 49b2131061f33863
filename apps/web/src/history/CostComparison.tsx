import { formatMoney } from '@wide-lattice/core/money';
import type { CostDifference, CostTime } from '@wide-lattice/core/money';
import { usePlan } from '../plan/PlanContext';
import { Tick } from '../shared/Tick';

const SHOWN = 40;

interface CostComparisonProps {
  readonly difference: CostDifference;
  readonly time: CostTime;
  readonly onTime: (time: CostTime) => void;
}

/** What two states of the plan cost per month, and which items drive the difference. */
export function CostComparison({ difference, time, onTime }: CostComparisonProps) {
  const { currency } = usePlan().plan.settings;
  const { before, after, drivers } = difference;
  const change = after - before;
  return (
    <section aria-label="Cost" className="mt-3">
      <div className="flex items-center justify-between">
        <h3 className="heading">
          Cost per month: {formatMoney(before)} to {formatMoney(after, currency)}
        </h3>
        <Tick isOn={time === 'horizon'} onTick={(isOn) => onTime(isOn ? 'horizon' : 'now')}>
          at the horizon
        </Tick>
      </div>
      {drivers.length === 0 ? (
        <p className="quiet">No item costs more or less.</p>
      ) : (
        <table className="w-full" aria-label="What drives the difference">
          <thead>
            <tr className="quiet text-left">
              <th className="font-normal">Driver</th>
              <th className="text-right font-normal">First</th>
              <th className="text-right font-normal">Second</th>
              <th className="text-right font-normal">{signed(change)}</th>
            </tr>
          </thead>
          <tbody>
            {drivers.slice(0, SHOWN).map((driver) => (
              <tr key={`${driver.clusterName} ${driver.item}`} className="rule-b">
                <th scope="row" className="py-0.5 text-left font-normal">
                  {driver.clusterName}: {driver.item}
                </th>
                <td className="text-right font-mono text-[0.92rem]">{amount(driver.before)}</td>
                <td className="text-right font-mono text-[0.92rem]">{amount(driver.after)}</td>
                <td className="text-right font-mono text-[0.92rem] font-semibold">{signed(driver.difference)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {drivers.length > SHOWN && <p className="quiet">and {drivers.length - SHOWN} smaller ones</p>}
    </section>
  );
}

const amount = (value: number | null) => (value === null ? 'not known' : formatMoney(value));
const signed = (value: number) => `${value < 0 ? '−' : '+'}${formatMoney(Math.abs(value))}`;
