import type { Kind } from '@wide-lattice/core/plan';
import type { ReactNode } from 'react';
import { kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { EntitySheet } from './EntitySheet';
import { Tabs } from './Tabs';
import { useSearchState } from './useSearchState';

interface SheetsHalfProps<K extends Kind> {
  readonly title: string;
  readonly kinds: readonly K[];
  readonly kind: K;
  /** Beside the sheet, above and below. */
  readonly above?: ReactNode;
  readonly below?: ReactNode;
}

/** The deciding half of a stop: its sheets as tabs. The address holds which one and the marked row. */
export function SheetsHalf<K extends Kind>({ title, kinds, kind, above, below }: SheetsHalfProps<K>) {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const rows: readonly { readonly id: string }[] = plan[kind];
  const chosen = rows.find(({ id }) => id === search.get('row'));
  return (
    <>
      <h1 className="sr-only">{title}</h1>
      <Tabs
        label="Which sheet"
        tabs={kinds.map((each) => ({ id: each, label: kindViews[each].tab, count: plan[each].length }))}
        chosen={kind}
        onChoose={(show) => set({ show, filter: '', group: '', cols: '', row: '' })}
      >
        {above}
        <div className="flex min-h-40 flex-1 flex-col">
          <EntitySheet
            key={kind}
            kind={kind}
            head={null}
            selectedId={chosen?.id ?? ''}
            onSelect={(id) => set({ row: id })}
          />
        </div>
        {below}
      </Tabs>
    </>
  );
}
