import { kindsAt } from '../kinds/kindViews';
import { Link } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { usePlanPath } from '../plan/usePlanPath';
import { useSlice } from '../plan/useSlice';
import { Empty, Halves } from '../shared/Halves';
import { headsOf, SheetsHalf } from '../shared/SheetsHalf';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { BringUpPart } from './BringUpPart';
import { CompareView } from './CompareView';
import { LogView } from './LogView';
import { ObjectsView } from './ObjectsView';
import { PlanDrillsView } from './PlanDrillsView';
import { PrerequisitesView } from './PrerequisitesView';
import { StandInsView } from './StandInsView';
import { TestsView } from './TestsView';
import { wishOf } from './wish';

const sheets = kindsAt('rehearsal');
const heads = headsOf(sheets);
const sides = [
  { id: 'prerequisites', label: 'Prerequisites' },
  { id: 'objects', label: 'Objects' },
  { id: 'log', label: 'Log' },
  { id: 'compare', label: 'Compare' },
  { id: 'tests', label: 'Tests' },
  { id: 'drills', label: 'Drills' },
  { id: 'stand-ins', label: 'Stand-ins' },
] as const;

/** Stop 9: the plan brought up in simulation on the left, with build times; on the right what must hold before, every object with its conditions, the log, tests, drills, and stand-ins that answer stock clients. */
export function RehearsalPage() {
  const [search, set] = useSearchState();
  const kind = sheets.find((each) => each === search.get('show'));
  const { plan } = usePlan();
  const side = sides.find(({ id }) => id === search.get('side'))?.id ?? 'prerequisites';
  return (
    <Halves
      screen="rehearsal"
      rightWidth="36rem"
      left={
        <SheetsHalf
          title="Rehearsal"
          heads={heads}
          picture={{ label: 'Bring-up', view: plan.clusters.length === 0 ? <NoClusters /> : <BringUpPart /> }}
          kind={kind}
        />
      }
      right={
        <Tabs label="What follows" tabs={sides} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'prerequisites' && plan.clusters.length > 0 && <PrerequisitesView />}
          {side === 'tests' && <TestsView />}
          {side === 'drills' && <PlanDrillsView />}
          {side === 'stand-ins' && <StandInsView />}
          {isOfRun(side) && <OfRun side={side} />}
        </Tabs>
      }
    />
  );
}

function NoClusters() {
  const planPath = usePlanPath();
  return (
    <Empty
      action={
        <Link className="btn btn-sm btn-primary" to={planPath('demand')}>
          Add clusters
        </Link>
      }
    >
      There is no cluster to bring up yet.
    </Empty>
  );
}

type Side = (typeof sides)[number]['id'];
type RunSide = 'objects' | 'log' | 'compare';

function isOfRun(side: Side): side is RunSide {
  return side === 'objects' || side === 'log' || side === 'compare';
}

/** What is there once the run has begun. */
function OfRun({ side }: { readonly side: RunSide }) {
  const [search] = useSearchState();
  const before = useSlice('prerequisites', wishOf(search).scope);
  const { plan } = usePlan();
  if (plan.clusters.length === 0) return null;
  if (before?.areMet === false && search.get('even') !== 'yes')
    return <Empty>The run has not begun. Meet the prerequisites, or run even so on the left.</Empty>;
  if (side === 'objects') return <ObjectsView />;
  return side === 'log' ? <LogView /> : <CompareView />;
}
