import { byId } from '@wide-lattice/core/plan';
import type { Operation } from '@wide-lattice/core/plan';
import { useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { useBegan } from '../plan/useBegan';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { SeverityMark } from '../shared/Marks';

const SHOWN = 4;

interface ResizeDraftProps {
  readonly draft: { readonly id: string; readonly prefix: string };
  readonly operations: readonly Operation[];
  readonly onDone: () => void;
}

/** What a range being resized would gain and lose, before it is stored. */
export function ResizeDraft({ draft, operations, onDone }: ResizeDraftProps) {
  const { plan } = usePlan();
  const commit = useCommit();
  const [refused, setRefused] = useState('');
  const began = useBegan(true);

  const { slice: answered, isFresh } = useAnswer('effectOf', operations);
  // Of another size nothing is said.
  const effect = isFresh ? answered : undefined;
  const range = byId(plan.allocations, draft.id);
  const cluster = byId(plan.clusters, range?.clusterId ?? '');
  if (range === undefined || cluster === undefined) return null;
  const keep = async () => {
    const problem = await commit(`${cluster.name}: ${range.prefix} becomes ${draft.prefix}`, operations, began);
    setRefused(problem);
    if (problem === '') onDone();
  };
  const changes = [
    ...(effect?.gained ?? []).map((finding) => ({ finding, word: 'gains' })),
    ...(effect?.lost ?? []).map((finding) => ({ finding, word: 'ends' })),
  ];
  return (
    <div
      className="border-accent mt-1 flex items-start gap-3 border-l-4 pl-3"
      aria-label="Range being resized"
      role="group"
    >
      <div className="min-w-0 flex-1" aria-live="polite">
        <p>
          <strong>{cluster.name}</strong>, {range.purpose} range: <del className="quiet font-mono">{range.prefix}</del>{' '}
          <span className="font-mono font-semibold">{draft.prefix}</span>
          {changes.length === 0 && effect !== undefined && <span className="quiet">, nothing else changes</span>}
        </p>
        <ul>
          {changes.slice(0, SHOWN).map(({ finding, word }) => (
            <li key={`${word} ${finding.key}`} className="flex gap-2 truncate">
              <span className="quiet w-10 shrink-0">{word}</span> <SeverityMark severity={finding.severity} />
              <span className="truncate">{finding.title}</span>
            </li>
          ))}
          {changes.length > SHOWN && <li className="quiet">and {changes.length - SHOWN} more</li>}
        </ul>
        {refused !== '' && (
          <p role="alert" className="text-error">
            {refused}
          </p>
        )}
      </div>
      <button type="button" className="btn btn-xs btn-ghost" onClick={onDone}>
        Cancel
      </button>
      <button type="button" className="btn btn-xs btn-primary" onClick={() => void keep()}>
        Save
      </button>
    </div>
  );
}
