import { findingTitles } from '@wide-lattice/core/english';
import type { DescribedFinding } from '@wide-lattice/core/findings';

import { useSlice } from '../plan/useSlice';
import { Empty, Halves } from '../shared/Halves';
import { SeverityMark } from '../shared/Marks';
import { Sheet } from '../shared/Sheet';
import { useSearchState } from '../shared/useSearchState';
import type { SheetColumn } from '../shared/sheetColumn';
import { FindingItem } from './FindingItem';

const order = { error: 0, warning: 1, note: 2 } as const;

const columns: readonly SheetColumn<DescribedFinding>[] = [
  {
    id: 'severity',
    label: 'Severity',
    width: '7rem',
    value: (row) => order[row.severity],
    render: (row) => <SeverityMark severity={row.severity} />,
  },
  { id: 'kind', label: 'Kind', width: '16rem', value: (row) => findingTitles[row.code] },
  { id: 'title', label: 'Finding', width: 'minmax(18rem, 1fr)', value: (row) => row.title },
];

/** Everything that is wrong or worth knowing, with the chosen one in full beside the list. */
export function FindingsPage() {
  const findings = useSlice('findings');
  const [search, set] = useSearchState();
  const filter = search.get('filter') ?? '';
  const severity = search.get('severity') ?? '';
  if (findings === undefined) return <p className="quiet p-6">Computing...</p>;
  const sought = filter.trim().toLowerCase();
  const shown = findings.filter(
    (each) =>
      (severity === '' || each.severity === severity) &&
      [each.title, findingTitles[each.code]].some((text) => text.toLowerCase().includes(sought)),
  );
  const chosen = shown.find(({ key }) => key === search.get('finding')) ?? shown[0];
  return (
    <Halves
      screen="findings"
      rightWidth="34rem"
      left={
        <>
          <Filters count={findings.length} filter={filter} severity={severity} onFilter={set} />
          <Sheet
            label="Findings"
            columns={columns}
            rows={shown}
            idOf={(row) => row.key}
            filter={filter}
            selectedId={chosen?.key}
            onSelect={(row) => set({ finding: row.key })}
            empty={filter === '' && severity === '' ? <Empty>Nothing is wrong in this plan.</Empty> : undefined}
          />
        </>
      }
      right={
        chosen === undefined ? null : (
          <div className="px-4 py-2">
            <FindingItem finding={chosen} heading="h2" />
          </div>
        )
      }
    />
  );
}

function Filters({
  count,
  filter,
  severity,
  onFilter,
}: {
  readonly count: number;
  readonly filter: string;
  readonly severity: string;
  readonly onFilter: (to: { filter: string } | { severity: string }) => void;
}) {
  return (
    <div className="rule-b flex items-center gap-3 px-4 py-1.5">
      <h1 className="heading">Findings</h1>
      <span className="quiet">{count}</span>
      <input
        className="input input-sm ml-auto w-44"
        placeholder="Filter"
        aria-label="Filter findings"
        value={filter}
        onChange={(event) => onFilter({ filter: event.target.value })}
      />
      <select
        className="select select-sm w-36"
        aria-label="Severity"
        value={severity}
        onChange={(event) => onFilter({ severity: event.target.value })}
      >
        <option value="">all severities</option>
        <option value="error">errors</option>
        <option value="warning">warnings</option>
        <option value="note">notes</option>
      </select>
    </div>
  );
}
