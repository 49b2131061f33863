import type { PlanSettings } from '@wide-lattice/core/plan';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';

interface WeightsProps {
  readonly criteria: readonly { readonly id: string; readonly label: string; readonly field: WeightField }[];
  readonly sensitivities: readonly {
    readonly criterion: string;
    readonly turnsAt: number | undefined;
    readonly winner: string | undefined;
  }[];
  readonly winner: string | undefined;
}

/** The settings that hold a number. */
type WeightField = { [F in keyof PlanSettings]: PlanSettings[F] extends number ? F : never }[keyof PlanSettings];

/** What weighs how much in the score, for the whole plan, and which weight would change the winner here. */
export function Weights({ criteria, sensitivities, winner }: WeightsProps) {
  const { plan } = usePlan();
  const commit = useCommit();
  const set = async (field: WeightField, label: string, value: number) => {
    if (value === plan.settings[field]) return;
    const problem = await commit(`${label} weighs ${value}`, [
      { op: 'set', kind: 'settings', fields: { [field]: value } },
    ]);
    if (problem !== '') toast.error(problem);
  };
  return (
    <table className="w-full" aria-label="Weights">
      <tbody>
        {criteria.map(({ id, field, label }) => {
          const found = sensitivities.find(({ criterion }) => criterion === id);
          return (
            <tr key={id} className="rule-b">
              <th scope="row" className="w-24 py-0.5 text-left font-normal">
                {label}
              </th>
              <td className="w-44">
                <input
                  key={plan.settings[field]}
                  type="range"
                  className="range range-xs w-36"
                  aria-label={`Weight of ${label.toLowerCase()}`}
                  min={0}
                  max={10}
                  defaultValue={plan.settings[field]}
                  onPointerUp={(event) => void set(field, label, Number(event.currentTarget.value))}
                  onKeyUp={(event) => void set(field, label, Number(event.currentTarget.value))}
                />
              </td>
              <td className="w-8 text-right">{plan.settings[field]}</td>
              <td className="quiet pl-4">
                {found?.turnsAt === undefined
                  ? winner === undefined
                    ? 'not possible'
                    : 'no weight of it changes the winner'
                  : `at ${found.turnsAt}, ${found.winner ?? 'none'} wins`}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
