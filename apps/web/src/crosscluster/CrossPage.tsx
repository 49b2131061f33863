import { kindsAt } from '../kinds/kindViews';
import { QuestionView } from '../question/QuestionView';
import { Halves } from '../shared/Halves';
import { headsOf, SheetsHalf } from '../shared/SheetsHalf';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { ChooseView } from './ChooseView';
import { DrillView } from './DrillView';
import { SitesView } from './SitesView';
import { UsesView } from './UsesView';
import { ValueSheetsView } from './ValueSheetsView';

const sheets = kindsAt('cross-cluster');
const heads = headsOf(sheets);
const sides = [
  { id: 'question', label: 'Question' },
  { id: 'uses', label: 'Service matrix' },
  { id: 'choose', label: 'Choose' },
  { id: 'drills', label: 'Drills' },
  { id: 'values', label: 'Value sheets' },
] as const;

/** Stop 8: connections, their members and exported services on the left; on the right who uses what, the choice between the three kinds, drills. */
export function CrossPage() {
  const [search, set] = useSearchState();
  const kind = sheets.find((each) => each === search.get('show'));
  const side = sides.find(({ id }) => id === search.get('side'))?.id ?? 'question';
  return (
    <Halves
      screen="cross-cluster"
      rightWidth="53rem"
      left={
        <SheetsHalf title="Cross-cluster" heads={heads} picture={{ label: 'Sites', view: <SitesView /> }} kind={kind} />
      }
      right={
        <Tabs label="What follows" tabs={sides} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'uses' && <UsesView />}
          {side === 'question' && <QuestionView stop="cross-cluster" />}
          {side === 'choose' && <ChooseView />}
          {side === 'drills' && <DrillView />}
          {side === 'values' && <ValueSheetsView />}
        </Tabs>
      }
    />
  );
}
