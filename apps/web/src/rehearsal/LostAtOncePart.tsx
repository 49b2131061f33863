import { useAnswer, useSlice } from '../plan/useSlice';
import { Computing, Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import { searchNow, useSearchState } from '../shared/useSearchState';
import { ChosenOfMany } from './ChosenOfMany';
import { DrillRow } from './DrillRow';

/** Several things lost at once: chosen from what the drills lose one by one. */
export function LostAtOncePart() {
  const [search, set] = useSearchState();
  const losses = useSlice('losses') ?? [];
  // Two choices may come before either is drawn: each goes on from the address as it is then.
  const keep = (change: (keys: readonly string[]) => readonly string[]) => {
    set({ with: change(keysIn(searchNow())).join(',') });
  };
  const chosen = keysIn(search);
  if (losses.length < 2) return null;
  return (
    <Part title="Several at once">
      <ChosenOfMany
        label="Lost at once"
        help="What survives one loss may not survive two, such as a link and the one that replaces it."
        all={losses}
        chosen={chosen}
        onAdd={(key) => {
          keep((keys) => [...keys, key]);
        }}
        onRemove={(key) => {
          keep((keys) => keys.filter((each) => each !== key));
        }}
      />
      {chosen.length > 1 && <Outcome keys={chosen} />}
    </Part>
  );
}

function keysIn(search: URLSearchParams): readonly string[] {
  return (search.get('with') ?? '').split(',').filter(Boolean);
}

function Outcome({ keys }: { readonly keys: readonly string[] }) {
  const [search, set] = useSearchState();
  const { slice: outcome, isFresh } = useAnswer('lostAtOnce', keys);
  if (outcome === undefined) return <Computing />;
  if (outcome === null) return <p className="quiet">Nothing works now that could fail.</p>;
  const isOpen = search.get('drill') === outcome.key;
  return (
    <table className={`mt-2 w-full ${isFresh ? '' : 'opacity-60'}`} aria-label="Lost at once">
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
