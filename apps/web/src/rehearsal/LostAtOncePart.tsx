import { useAnswer, useSlice } from '../plan/useSlice';
import { Computing, Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import { ChosenOfMany } from './ChosenOfMany';
import { DrillRow } from './DrillRow';

/** Several things lost at once: chosen from what the drills lose one by one. */
export function LostAtOncePart() {
  const [search, set] = useSearchState();
  const losses = useSlice('losses') ?? [];
  const chosen = (search.get('with') ?? '').split(',').filter(Boolean);
  if (losses.length < 2) return null;
  return (
    <Part title="Several at once">
      <ChosenOfMany
        label="Lost together"
        help="A zone with a link, two firewalls: what holds alone may break together."
        all={losses}
        chosen={chosen}
        onChoose={(keys) => set({ with: keys.join(',') })}
      />
      {chosen.length > 1 && <Outcome keys={chosen} />}
    </Part>
  );
}

function Outcome({ keys }: { readonly keys: readonly string[] }) {
  const [search, set] = useSearchState();
  const { slice: outcome, isFresh } = useAnswer('lostAtOnce', keys);
  if (outcome === undefined) return <Computing />;
  if (outcome === null) return <p className="quiet">Nothing works now that could fail.</p>;
  const isOpen = search.get('drill') === outcome.key;
  return (
    <table className={`mt-2 w-full ${isFresh ? '' : 'opacity-60'}`} aria-label="Lost together">
      <TableHead labels={['Drill', 'Outcome', 'Goes on', 'For how long']} rightFrom={2} />
      <tbody>
        <DrillRow
          outcome={outcome}
          isOpen={isOpen}
          canApply={isFresh}
          onChoose={() => set({ drill: isOpen ? '' : outcome.key })}
        />
      </tbody>
    </table>
  );
}
