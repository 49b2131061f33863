import { useSearchState } from '../shared/useSearchState';
import { phases } from '../worker/slices/rehearsalSlices';

/** What is shown of objects or of the log: by text, phase and state. */
export function FilterFields({
  states,
}: {
  readonly states: readonly { readonly value: string; readonly label: string }[];
}) {
  const [search, set] = useSearchState();
  return (
    <div className="rule-b flex flex-wrap gap-2 px-4 py-2">
      <input
        type="search"
        className="input input-xs w-44"
        aria-label="Filter by name or kind"
        placeholder="Name or kind"
        value={search.get('q') ?? ''}
        onChange={(event) => set({ q: event.target.value })}
      />
      <select
        className="select select-xs w-36"
        aria-label="Phase"
        value={search.get('phase') ?? ''}
        onChange={(event) => set({ phase: event.target.value })}
      >
        <option value="">all phases</option>
        {Object.keys(phases).map((phase) => (
          <option key={phase}>{phase}</option>
        ))}
      </select>
      <select
        className="select select-xs w-40"
        aria-label="State"
        value={search.get('state') ?? ''}
        onChange={(event) => set({ state: event.target.value })}
      >
        <option value="">all states</option>
        {states.map(({ value, label }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
    </div>
  );
}
