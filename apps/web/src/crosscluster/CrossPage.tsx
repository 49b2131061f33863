import { kindsAt, kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { QuestionView } from '../question/QuestionView';
import { EntitySheet } from '../shared/EntitySheet';
import { Halves } from '../shared/Halves';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { ChooseView } from './ChooseView';
import { DrillView } from './DrillView';
import { SitesView } from './SitesView';
import { UsesView } from './UsesView';
import { ValueSheetsView } from './ValueSheetsView';

const sheets = kindsAt('cross-cluster');
const sides = [
  { id: 'uses', label: 'Uses' },
  { id: 'question', label: 'Question' },
  { id: 'choose', label: 'Choose' },
  { id: 'sites', label: 'Sites' },
  { id: 'drills', label: 'Drills' },
  { id: 'values', label: 'Value sheets' },
] as const;

/** Stop 8: connections, their members and exported services on the left; on the right who uses what, the choice between the three kinds, drills. */
export function CrossPage() {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const kind = sheets.find((each) => each === search.get('show')) ?? 'connections';
  const side = sides.find(({ id }) => id === search.get('side'))?.id ?? 'uses';
  const rows: readonly { readonly id: string }[] = plan[kind];
  const chosen = rows.find(({ id }) => id === search.get('row'));
  return (
    <Halves
      rightWidth="46rem"
      left={
        <>
          <h1 className="sr-only">Cross-cluster</h1>
          <Tabs
            label="Which sheet"
            tabs={sheets.map((each) => ({ id: each, label: kindViews[each].tab, count: plan[each].length }))}
            chosen={kind}
            onChoose={(show) => set({ show, filter: '', group: '', cols: '', row: '' })}
          >
            <div className="flex min-h-40 flex-1 flex-col">
              <EntitySheet
                key={kind}
                kind={kind}
                head={null}
                selectedId={chosen?.id ?? ''}
                onSelect={(id) => set({ row: id })}
              />
            </div>
          </Tabs>
        </>
      }
      right={
        <Tabs label="What follows" tabs={sides} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'uses' && <UsesView />}
          {side === 'question' && <QuestionView />}
          {side === 'choose' && <ChooseView />}
          {side === 'sites' && <SitesView />}
          {side === 'drills' && <DrillView />}
          {side === 'values' && <ValueSheetsView />}
        </Tabs>
      }
    />
  );
}
