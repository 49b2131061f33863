import { formatDuration } from '@wide-lattice/core/english';
import { formatCount, formatNames, formatNumber } from '@wide-lattice/core/working';
import { CircleCheck, OctagonX, TimerReset } from 'lucide-react';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { Computing, Empty, Part } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import type { ShownOutcome, ShownPrevention } from '../worker/slices/drillSlices';

const marks = {
  holds: { Icon: CircleCheck, colour: 'text-success' },
  interrupted: { Icon: TimerReset, colour: 'text-warning' },
  breaks: { Icon: OctagonX, colour: 'text-error font-semibold' },
} as const;

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
      <table className="w-full" aria-label="Drills">
        <TableHead labels={['Drill', 'Outcome', 'Goes on', 'For how long']} rightFrom={2} />
        <tbody>
          {shown.slice(0, MAX_ROWS).map((outcome) => (
            <Row
              key={outcome.key}
              outcome={outcome}
              isOpen={outcome.key === chosen}
              canApply={canApply}
              onChoose={() => set({ drill: outcome.key === chosen ? '' : outcome.key })}
            />
          ))}
        </tbody>
      </table>
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

interface RowProps {
  readonly outcome: ShownOutcome;
  readonly isOpen: boolean;
  readonly canApply: boolean;
  readonly onChoose: () => void;
}

function Row({ outcome, isOpen, canApply, onChoose }: RowProps) {
  const { title, state, kept, seconds, clusters } = outcome;
  const { Icon, colour } = marks[state];
  return (
    <>
      <tr className={`align-top ${isOpen ? 'bg-base-200' : 'rule-b'}`}>
        <th scope="row" className="py-0.5 pr-2 text-left font-normal">
          <button type="button" className="link-hover text-left" aria-expanded={isOpen} onClick={onChoose}>
            {title}
          </button>
          {clusters.length > 0 && <div className="quiet text-xs">{formatNames(clusters)}</div>}
        </th>
        <td className={`pr-2 whitespace-nowrap ${colour}`}>
          <span className="inline-flex items-center gap-1">
            <Icon size={13} aria-hidden />
            {state}
          </span>
        </td>
        <td className="text-right tabular-nums">{kept.toFixed(kept > 99 && kept < 100 ? 1 : 0)} %</td>
        <td className="pl-3 text-right whitespace-nowrap">
          {seconds === undefined ? 'until mended' : seconds === 0 ? '–' : formatDuration(seconds)}
        </td>
      </tr>
      {isOpen && (
        <tr className="bg-base-200 rule-b">
          <td colSpan={4} className="px-3 pb-2">
            <Detail outcome={outcome} canApply={canApply} />
          </td>
        </tr>
      )}
    </>
  );
}

function Detail({ outcome, canApply }: { readonly outcome: ShownOutcome; readonly canApply: boolean }) {
  const commit = useCommit();
  const { title, facts, lost, lostCount, noticed, record } = outcome;
  return (
    <>
      {facts.map((fact) => (
        <p key={fact}>{fact}</p>
      ))}
      {noticed !== '' && <p className="quiet">Noticed by {noticed}.</p>}
      {lost.length > 0 && (
        <ul className="mt-1" aria-label="What fails">
          {lost.map(({ title: asked, sentence }) => (
            <li key={asked} className="rule-b py-0.5">
              {asked}
              <div className="quiet text-xs">{sentence}</div>
            </li>
          ))}
        </ul>
      )}
      <More all={lostCount} shown={lost.length} />
      {record.length > 0 && (
        <button
          type="button"
          className="btn btn-xs btn-outline mt-1.5"
          disabled={!canApply}
          onClick={() => void commit(`expectations of: ${title}`, record)}
        >
          Record {formatCount(record.length, 'test')} as expectations
        </button>
      )}
    </>
  );
}
