import { kindsAt } from '../kinds/kindViews';
import { QuestionView } from '../question/QuestionView';
import { Halves } from '../shared/Halves';
import { SheetsHalf } from '../shared/SheetsHalf';
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
  const kind = sheets.find((each) => each === search.get('show')) ?? 'connections';
  const side = sides.find(({ id }) => id === search.get('side'))?.id ?? 'uses';
  return (
    <Halves
      screen="cross-cluster"
      rightWidth="46rem"
      left={<SheetsHalf title="Cross-cluster" kinds={sheets} kind={kind} />}
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
