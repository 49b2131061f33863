import { kindRules } from '@wide-lattice/core/plan';
import type { Entity, Kind } from '@wide-lattice/core/plan';
import { kindsAt } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { EntitySheet } from '../shared/EntitySheet';
import { Halves } from '../shared/Halves';
import { SheetsHalf } from '../shared/SheetsHalf';
import type { Head } from '../shared/SheetsHalf';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { ExpectationSheet } from './ExpectationSheet';
import { MatrixView } from './MatrixView';
import { ProposeEgress } from './ProposeEgress';
import { QuestionView } from '../question/QuestionView';
import { DependentsPart } from './DependentsPart';
import { RouteTableRows } from './RouteTableRows';
import { WaysOutView } from './WaysOutView';

const beside = [
  { id: 'question', label: 'Question' },
  { id: 'matrix', label: 'Matrix' },
  { id: 'propose', label: 'Proposals' },
] as const;

const heads = [
  { label: 'Routes', kinds: ['routeTables', 'routes'] },
  { label: 'Translation', kinds: ['natDevices', 'endpoints', 'bastions'] },
  { label: 'Filters', kinds: ['filters', 'filterRules', 'firewalls', 'firewallRules'] },
  { label: 'Needs', kinds: ['needs', 'prefixSets', 'expectations'] },
] as const satisfies readonly Head<Kind>[];
const sheets = kindsAt('egress');

/** What is asked rests on rows; nothing rests on it. */
const isAsked: ReadonlySet<Kind> = new Set(['needs', 'prefixSets']);

/** Stop 5: ways out, filters and needs on the left; on the right a question with its road, the matrix, and what follows from intent. */
export function EgressPage() {
  const [search, set] = useSearchState();
  const kind = sheets.find((each) => each === search.get('show'));
  const side = beside.find(({ id }) => id === search.get('side'))?.id ?? 'question';
  return (
    <Halves
      screen="egress"
      rightWidth="38rem"
      left={
        <SheetsHalf<Kind>
          title="Egress"
          heads={heads}
          picture={{ label: 'Ways out', view: <WaysOutView /> }}
          kind={kind}
          sheet={(each) => <EgressSheet kind={each} />}
        />
      }
      right={
        <Tabs label="What follows" tabs={beside} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'question' && <QuestionView stop="egress" />}
          {side === 'matrix' && <MatrixView />}
          {side === 'propose' && <ProposeEgress />}
        </Tabs>
      }
    />
  );
}

function EgressSheet({ kind }: { readonly kind: Kind }) {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const row = search.get('row') ?? '';
  if (kind === 'expectations') return <ExpectationSheet />;
  if (kind !== 'routeTables') {
    const entity = (plan[kind] as readonly Entity[]).find(({ id }) => id === row);
    return (
      <>
        <div className="flex min-h-40 flex-1 flex-col">
          <EntitySheet key={kind} kind={kind} head={null} selectedId={row} onSelect={(id) => set({ row: id })} />
        </div>
        {entity !== undefined && !isAsked.has(kind) && (
          <DependentsPart id={entity.id} name={kindRules(kind).label(entity, plan)} />
        )}
      </>
    );
  }
  const chosen = plan.routeTables.find(({ id }) => id === row)?.id ?? plan.routeTables[0]?.id;
  return (
    <>
      <div className="flex min-h-40 flex-1 flex-col">
        <EntitySheet kind={kind} head={null} selectedId={chosen} onSelect={(id) => set({ row: id })} />
      </div>
      {chosen !== undefined && <RouteTableRows tableId={chosen} />}
    </>
  );
}
