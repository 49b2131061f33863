import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { api } from '../plan/api';
import type { ChangeSummary } from '../plan/api';
import { usePlan } from '../plan/PlanContext';
import { tellOutcome } from '../plan/useCommit';
import { Empty, Halves, Part } from '../shared/Halves';
import { OperationList } from '../shared/OperationList';
import { Sheet } from '../shared/Sheet';
import { useSearchState } from '../shared/useSearchState';
import type { SheetColumn } from '../shared/sheetColumn';
import { VersionsPart } from './VersionsPart';

const columns: readonly SheetColumn<ChangeSummary>[] = [
  { id: 'revision', label: 'Revision', width: '6rem', align: 'right', value: (row) => row.revision },
  { id: 'when', label: 'When (UTC)', width: '12.6rem', value: (row) => row.createdAt.slice(0, 19).replace('T', ' ') },
  { id: 'author', label: 'Who', width: '9rem', value: (row) => row.author },
  { id: 'label', label: 'What', width: 'minmax(14rem, 1fr)', value: (row) => row.label },
  { id: 'count', label: 'Steps', width: '5rem', align: 'right', value: (row) => row.operationCount },
];

/** Every change of the plan, newest first; any that still stands can be taken back; versions can be named, compared and restored. */
export function HistoryPage() {
  const { history } = usePlan();
  const [chosen, setChosen] = useState<number>();
  const [search, set] = useSearchState();
  const shown = search.get('show') === 'versions' ? 'versions' : 'change';
  const change = history.find(({ revision }) => revision === chosen) ?? history[0];
  return (
    <Halves
      screen="history"
      left={
        <>
          <div className="rule-b px-4 py-2">
            <h1 className="heading">History</h1>
          </div>
          <Sheet
            label="History"
            columns={columns}
            rows={history}
            idOf={(row) => String(row.revision)}
            selectedId={String(change?.revision)}
            onSelect={(row) => setChosen(row.revision)}
            empty={<Empty>No changes yet. Every edit is listed here and can be undone.</Empty>}
          />
        </>
      }
      rightWidth="32rem"
      right={
        <>
          <div className="rule-b flex gap-1 px-3 pt-1.5" role="group" aria-label="What to show">
            {(['change', 'versions'] as const).map((each) => (
              <button
                key={each}
                type="button"
                aria-pressed={shown === each}
                className={`border-b-2 px-2 pb-1.5 ${shown === each ? 'border-primary font-semibold' : 'border-transparent'}`}
                onClick={() => set({ show: each })}
              >
                {each === 'change' ? 'This change' : 'Versions'}
              </button>
            ))}
          </div>
          {shown === 'versions' ? <VersionsPart /> : change === undefined ? null : <ChangeDetail change={change} />}
        </>
      }
    />
  );
}

function ChangeDetail({ change }: { readonly change: ChangeSummary }) {
  const { session } = usePlan();
  const { data } = useQuery({
    queryKey: [session.planId, 'change', change.revision],
    queryFn: async () => (await api.changesAfter(session.planId, change.revision - 1))[0] ?? null,
    staleTime: Infinity,
  });
  const takeBack = async () => {
    const problem = tellOutcome(await session.takeBack(change));
    if (problem === '') toast.success(`Undone: ${change.label}`);
    else toast.error(problem);
  };
  return (
    <Part
      title={`Revision ${change.revision}`}
      aside={
        <button type="button" className="btn btn-sm btn-outline" onClick={() => void takeBack()}>
          Undo
        </button>
      }
    >
      <p className="mb-2">
        {change.author}: {change.label}
        {change.reverts !== null && <span className="quiet"> (undoes revision {change.reverts})</span>}
      </p>
      {data != null && <OperationList operations={data.operations} />}
    </Part>
  );
}
