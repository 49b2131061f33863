import { kindsAt, kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { EntitySheet } from '../shared/EntitySheet';
import { Halves } from '../shared/Halves';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { Diagram } from './Diagram';
import { JoinPreview } from './JoinPreview';
import { MovePart } from './MovePart';
import { Reach } from './Reach';
import { SubnetSheet } from './SubnetSheet';

const beside = [
  { id: 'diagram', label: 'Diagram' },
  { id: 'reach', label: 'Reachability' },
  { id: 'join', label: 'Before joining' },
  { id: 'move', label: 'Move addresses' },
] as const;

const sheets = kindsAt('ground');

/** Stop 1: what is there. The sheets on the left; the diagram, who reaches whom, and what a join would do on the right. */
export function GroundPage() {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const asked = search.get('show');
  const kind = sheets.find((each) => each === asked) ?? 'networks';
  const side = beside.find(({ id }) => id === search.get('side'))?.id ?? 'diagram';
  return (
    <Halves
      screen="ground"
      rightWidth="34rem"
      left={
        <>
          <h1 className="sr-only">Ground</h1>
          <Tabs
            label="Which sheet"
            tabs={sheets.map((each) => ({ id: each, label: kindViews[each].tab, count: plan[each].length }))}
            chosen={kind}
            onChoose={(show) => set({ show, filter: '', group: '', cols: '' })}
          >
            {kind === 'subnets' ? <SubnetSheet /> : <EntitySheet key={kind} kind={kind} head={null} />}
          </Tabs>
        </>
      }
      right={
        <Tabs label="What follows" tabs={beside} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'diagram' && <Diagram />}
          {side === 'reach' && <Reach />}
          {side === 'join' && <JoinPreview />}
          {side === 'move' && <MovePart />}
        </Tabs>
      }
    />
  );
}
