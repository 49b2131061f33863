import { formatDuration } from '@wide-lattice/core/english';
import { formatCount, formatNames } from '@wide-lattice/core/working';
import { CircleCheck, OctagonX, TimerReset } from 'lucide-react';
import { useCommit } from '../plan/useCommit';
import { More } from '../shared/More';
import type { ShownOutcome } from '../worker/slices/drillSlices';

const marks = {
  holds: { Icon: CircleCheck, colour: 'text-success' },
  interrupted: { Icon: TimerReset, colour: 'text-warning' },
  breaks: { Icon: OctagonX, colour: 'text-error font-semibold' },
} as const;

interface DrillRowProps {
  readonly outcome: ShownOutcome;
  readonly isOpen: boolean;
  readonly canApply: boolean;
  readonly onChoose: () => void;
}

/** A drill in a table, and opened what fails with the way to record it. */
export function DrillRow({ outcome, isOpen, canApply, onChoose }: DrillRowProps) {
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
