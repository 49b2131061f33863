import type { Entity, Kind } from '@wide-lattice/core/plan';
import { kindsAt } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { LoadView } from '../load/LoadView';
import { ManifestsView } from '../manifests/ManifestsView';
import { QuestionView } from '../question/QuestionView';
import { Empty, Halves } from '../shared/Halves';
import { SheetsHalf } from '../shared/SheetsHalf';
import type { Head } from '../shared/SheetsHalf';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { EntryPointsView } from './EntryPointsView';
import { ExposeView } from './ExposeView';
import { HeldPart } from './HeldPart';
import { RoomPart } from './RoomPart';
import { SelectingPart } from './SelectingPart';
import { ServicePart } from './ServicePart';

const heads = [
  { label: 'Workloads', kinds: ['workloads', 'services', 'networkPolicies'] },
  { label: 'Load balancers', kinds: ['balancers', 'listeners', 'backends'] },
  { label: 'Routes', kinds: ['controllers', 'gateways', 'ingressRoutes', 'referenceGrants'] },
] as const satisfies readonly Head<Kind>[];
const sheets = kindsAt('ingress');

/** What is shown beside the marked row of a sheet. */
const ofRow: Partial<Record<Kind, string>> = { workloads: 'Room', services: 'Endpoints', balancers: 'Configuration' };

/** Stop 6: entry points and the sheets they are made of on the left; on the right a question with its road, and what follows for the marked row. */
export function IngressPage() {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const kind = sheets.find((each) => each === search.get('show'));
  const rows: readonly Entity[] = kind === undefined ? [] : plan[kind];
  const chosen = rows.find(({ id }) => id === search.get('row')) ?? rows[0];
  const hasRow = kind !== undefined && kind in ofRow;
  const beside = [
    ...(hasRow ? [{ id: 'row', label: ofRow[kind] ?? '' }] : []),
    { id: 'question', label: 'Question' },
    { id: 'load', label: 'Load test' },
    { id: 'expose', label: 'Expose' },
    { id: 'manifests', label: 'Manifests' },
  ];
  const side = beside.find(({ id }) => id === search.get('side'))?.id ?? beside[0]?.id ?? 'question';
  return (
    <Halves
      screen="ingress"
      rightWidth="38rem"
      left={
        <SheetsHalf<Kind>
          title="Ingress"
          heads={heads}
          picture={{ label: 'Entry points', view: <EntryPointsView /> }}
          kind={kind}
          resets={{ side: '' }}
          marksFirst
        />
      }
      right={
        <Tabs label="What follows" tabs={beside} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'question' && <QuestionView stop="ingress" />}
          {side === 'load' && <LoadView />}
          {side === 'expose' && <ExposeView />}
          {side === 'manifests' && <ManifestsView />}
          {side === 'row' && kind !== undefined && <OfRow kind={kind} id={chosen?.id} />}
        </Tabs>
      }
    />
  );
}

function OfRow({ kind, id }: { readonly kind: Kind; readonly id: string | undefined }) {
  const { plan } = usePlan();
  if (kind === 'balancers' && id !== undefined) return <HeldPart key={id} balancerId={id} />;
  const row = [...plan.workloads, ...plan.services].find((each) => each.id === id);
  if (row === undefined)
    return <Empty>Endpoints, and whether the pods fit on the nodes, are shown here for the row that is marked.</Empty>;
  return (
    <>
      {kind === 'services' ? <ServicePart id={row.id} /> : <SelectingPart id={row.id} />}
      <RoomPart clusterId={row.clusterId} />
    </>
  );
}
