import { useMemo } from 'react';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { EntitySheet } from '../shared/EntitySheet';
import type { DerivedColumn } from '../shared/EntitySheet';
import { useSearchState } from '../shared/useSearchState';
import { StateMark } from '../question/TraceMark';

/** Expectations with whether each is kept; the chosen one is asked on the right. */
export function ExpectationSheet() {
  const { plan } = usePlan();
  const states = useSlice('expectations');
  const [search, set] = useSearchState();
  const derived = useMemo(
    (): DerivedColumn<'expectations'>[] => [
      {
        id: 'state',
        label: 'State',
        width: '6.4rem',
        value: ({ id }) => states?.[id]?.state ?? '',
        render: ({ id }) => <StateMark state={states?.[id]?.state} />,
      },
    ],
    [states],
  );
  const ask = (id: string) => {
    const found = plan.expectations.find((each) => each.id === id);
    if (found !== undefined)
      set({ row: id, from: found.from, to: found.to, bytes: String(found.bytes), side: 'question' });
  };
  return (
    <EntitySheet
      kind="expectations"
      head={null}
      derived={derived}
      selectedId={search.get('row') ?? ''}
      onSelect={ask}
    />
  );
}
