import type { MovingKind } from '@wide-lattice/core/allocation';
import { formatProblem } from '@wide-lattice/core/result';
import { useState } from 'react';
import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { ApplyButton } from '../shared/ApplyButton';
import { Computing } from '../shared/Halves';
import { More } from '../shared/More';
import { OperationList } from '../shared/OperationList';
import { TriedPart } from '../shared/TriedPart';

const SHOWN = 8;

interface MoveGroundProps {
  readonly moving: MovingKind;
  readonly id: string;
  readonly onMoved: () => void;
}

/** Where a block or subnet goes, what goes with it, what stays behind, and what comes of it; applied as one change. */
export function MoveGround({ moving, id, onMoved }: MoveGroundProps) {
  const commit = useCommit();
  const [to, setTo] = useState('');
  const { slice: move, isFresh } = useAnswer('groundMove', moving, id, to);
  const found = move?.ok === true ? move.value : undefined;
  const apply = async () => {
    if (found === undefined) return;
    const problem = await commit(`Move ${found.from} to ${found.to}`, found.operations);
    if (problem === '') onMoved();
    else toast.error(problem);
  };
  return (
    <>
      <div className="flex items-end gap-2">
        <label className="flex flex-col gap-0.5">
          <span className="quiet">To</span>
          <input
            className="input input-sm w-52 font-mono"
            autoComplete="off"
            placeholder={found?.to ?? 'a prefix of its size'}
            value={to}
            onChange={(event) => setTo(event.target.value)}
          />
        </label>
        <ApplyButton rows={found?.operations.length ?? 0} isFresh={isFresh} onApply={() => void apply()} />
      </div>
      {move === undefined && <Computing />}
      {move?.ok === false && (
        <p role="alert" className="text-error mt-2">
          {formatProblem(move.problem)}
        </p>
      )}
      {found !== undefined && (
        <>
          <p className="mt-2">
            {found.from} goes to <span className="font-mono">{found.to}</span>; each address keeps its place in it.
          </p>
          {found.keeps.length > 0 && (
            <section aria-label="What stays behind" className="mt-2">
              <h3 className="font-semibold">Stays behind</h3>
              <ul>
                {found.keeps.slice(0, SHOWN).map((each) => (
                  <li key={each}>{each}</li>
                ))}
              </ul>
              <More all={found.keeps.length} shown={SHOWN} />
            </section>
          )}
          <TriedPart operations={found.operations} proposing="moves" />
          <OperationList operations={found.operations} />
        </>
      )}
    </>
  );
}
