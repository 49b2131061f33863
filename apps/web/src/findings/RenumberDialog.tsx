import { formatCount } from '@wide-lattice/core/working';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { DialogFoot } from '../shared/DialogFoot';
import { SeverityMark } from '../shared/Marks';
import { Modal } from '../shared/Modal';
import { Tick } from '../shared/Tick';
import { core } from '../worker/coreClient';
import type { ShownRenumbering } from '../worker/slices/renumberings';

const ranks = ['nothing built', 'a link is not made', 'new pool', 'rebuild', 'rebuild and new pool'] as const;

interface RenumberDialogProps {
  /** What overlaps; those that are no ranges are passed over. */
  readonly rangeIds: readonly string[];
  readonly onClose: () => void;
}

/** The ways to end an overlap side by side, the least disturbing first; the chosen one is applied as one change. */
export function RenumberDialog({ rangeIds, onClose }: RenumberDialogProps) {
  const { session, revision } = usePlan();
  const commit = useCommit();
  const [chosen, setChosen] = useState(0);
  const [refused, setRefused] = useState('');
  const { data: ways } = useQuery({
    queryKey: [session.planId, revision, 'renumberings', rangeIds],
    queryFn: () => core.ask('renumberings', rangeIds),
    gcTime: 0,
    staleTime: Infinity,
  });
  const way = ways?.[chosen];
  const apply = async () => {
    if (way === undefined) return;
    const problem = await commit(way.title, way.operations);
    setRefused(problem);
    if (problem === '') onClose();
  };
  return (
    <Modal
      title="Ways to end the overlap"
      description="Each was tried on the plan; the least disturbing comes first. Pinned ranges are left where they are."
      onClose={onClose}
      isWide
    >
      <Ways ways={ways} chosen={chosen} onChoose={setChosen} />
      <DialogFoot refused={refused} onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={way === undefined}
          onClick={() => void apply()}
        >
          Do this
        </button>
      </DialogFoot>
    </Modal>
  );
}

/** The ways to choose from; undefined while they are tried. */
function Ways({
  ways,
  chosen,
  onChoose,
}: {
  readonly ways: readonly ShownRenumbering[] | undefined;
  readonly chosen: number;
  readonly onChoose: (at: number) => void;
}) {
  if (ways === undefined) return <p className="quiet">Trying them...</p>;
  if (ways.length === 0)
    return (
      <p>
        Nothing here can be moved: each range is pinned, or belongs to others. Clear Pinned on a range that may move, or
        have the other side renumbered.
      </p>
    );
  return (
    <fieldset>
      <legend className="sr-only">Ways</legend>
      {ways.map((each, i) => (
        <Tick
          key={each.title}
          group="way"
          isOn={i === chosen}
          onTick={() => onChoose(i)}
          className="rule-b cursor-pointer py-2"
        >
          <WayWords way={each} />
        </Tick>
      ))}
    </fieldset>
  );
}

/** What a way disturbs, ends and brings. */
function WayWords({ way }: { readonly way: ShownRenumbering }) {
  return (
    <>
      <span className="flex items-baseline justify-between gap-3">
        <strong>{way.title}</strong>
        <span className="quiet shrink-0">{ranks[way.rank]}</span>
      </span>
      <span className="block">{way.disturbs}</span>
      <span className="quiet block">
        Ends {formatCount(way.lost.length, 'finding')}
        {way.gained.length === 0 ? ', brings none.' : ', brings:'}
      </span>
      {way.gained.slice(0, 3).map((finding) => (
        <span key={finding.key} className="flex gap-2">
          <SeverityMark severity={finding.severity} /> {finding.title}
        </span>
      ))}
    </>
  );
}
