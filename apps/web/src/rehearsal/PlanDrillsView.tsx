import { formatCount, formatNumber } from '@wide-lattice/core/working';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { Computing, Empty, Part } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import { DrillRow } from './DrillRow';
import { LostAtOncePart } from './LostAtOncePart';
import type { ShownOutcome, ShownPrevention } from '../worker/slices/drillSlices';

/** Drills that are shown, as long as no state is chosen: those that do not hold. */
const MAX_ROWS = 60;

/** Every drill of the whole plan on one card: what breaks, for whom, how long, and which changes would help most cheaply. */
export function PlanDrillsView() {
  const { slice: card, isFresh } = useAnswer('scoreCard');
  if (card === undefined) return <Computing />;
  if (card.outcomes.length === 0)
    return (
      <Empty>
        No drill can be run yet: the plan has nothing that works and could fail. Give clusters their ranges first.
      </Empty>
    );
  return (
    <div className={isFresh ? '' : 'opacity-60'}>
      <Part title="Score card">
        <p className="text-[15px]">
          <strong>{card.score.toFixed(1)} of 100</strong>: {formatNumber(card.holds)} of{' '}
          {formatNumber(card.outcomes.length)} drills hold.
          {card.preventions.length > 0 &&
            ` The three changes below that cost least would make it ${card.scoreAfter.toFixed(1)}.`}
        </p>
        <p className="quiet">
          The score is the mean share that goes on over these drills. Every change was tried in its drills.
          {card.untested > 0 &&
            ` ${formatCount(card.untested, 'drill')} ${card.untested === 1 ? 'is' : 'are'} left out: nothing rests on them that works now.`}
        </p>
        <Preventions preventions={card.preventions} canApply={isFresh} />
      </Part>
      <LostAtOncePart />
      <DrillTable outcomes={card.outcomes} canApply={isFresh} />
    </div>
  );
}

interface DrillTableProps {
  readonly outcomes: readonly ShownOutcome[];
  readonly canApply: boolean;
}

function DrillTable({ outcomes, canApply }: DrillTableProps) {
  const [search, set] = useSearchState();
  const state = search.get('state') ?? '';
  const chosen = search.get('drill') ?? '';
  const shown = outcomes.filter((each) => (state === '' ? each.state !== 'holds' : each.state === state));
  return (
    <Part
      title="Drills"
      aside={
        <select
          className="select select-xs w-40"
          aria-label="Outcome of drills"
          value={state}
          onChange={(event) => set({ state: event.target.value })}
        >
          <option value="">that do not hold</option>
          <option>breaks</option>
          <option>interrupted</option>
          <option>holds</option>
        </select>
      }
    >
      {shown.length === 0 ? (
        <p className="quiet">{state === '' ? 'Every drill holds.' : 'No drill ends so.'}</p>
      ) : (
        <table className="w-full" aria-label="Drills">
          <TableHead labels={['Drill', 'Outcome', 'Goes on', 'For how long']} rightFrom={2} />
          <tbody>
            {shown.slice(0, MAX_ROWS).map((outcome) => (
              <DrillRow
                key={outcome.key}
                outcome={outcome}
                isOpen={outcome.key === chosen}
                canApply={canApply}
                onChoose={() => set({ drill: outcome.key === chosen ? '' : outcome.key })}
              />
            ))}
          </tbody>
        </table>
      )}
      <More all={shown.length} shown={Math.min(shown.length, MAX_ROWS)} />
    </Part>
  );
}

interface PreventionsProps {
  readonly preventions: readonly ShownPrevention[];
  readonly canApply: boolean;
}

function Preventions({ preventions, canApply }: PreventionsProps) {
  const commit = useCommit();
  const { plan } = usePlan();
  if (preventions.length === 0) return null;
  return (
    <table className="mt-2 w-full" aria-label="Changes that help">
      <TableHead labels={['Change', 'Points', 'Per month', '']} rightFrom={1} />
      <tbody>
        {preventions.slice(0, 8).map(({ title, operations, gain, cost, brings, leaves }) => (
          <tr key={title} className="rule-b align-top">
            <th scope="row" className="py-1 pr-2 text-left font-normal">
              {title}
              {(brings > 0 || leaves > 0) && (
                <div className="quiet text-xs">
                  {[
                    brings > 0 ? `brings ${formatCount(brings, 'error')}` : '',
                    leaves > 0 ? `${formatCount(leaves, 'drill')} still ${leaves === 1 ? 'breaks' : 'break'}` : '',
                  ]
                    .filter(Boolean)
                    .join('; ')}
                </div>
              )}
            </th>
            <td className="pl-3 text-right tabular-nums">+{gain.toFixed(2)}</td>
            <td className="pl-3 text-right tabular-nums">
              {cost === 0 ? '0' : `${formatNumber(Math.round(cost))} ${plan.settings.currency}`}
            </td>
            <td className="pl-3 text-right">
              <button
                type="button"
                className="btn btn-xs btn-outline"
                disabled={!canApply}
                onClick={() => void commit(title, operations)}
              >
                Apply
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
