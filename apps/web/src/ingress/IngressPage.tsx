import type { Entity, Kind } from '@wide-lattice/core/plan';
import { kindsAt, kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { LoadView } from '../load/LoadView';
import { ManifestsView } from '../manifests/ManifestsView';
import { QuestionView } from '../question/QuestionView';
import { EntitySheet } from '../shared/EntitySheet';
import { Empty, Halves } from '../shared/Halves';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { DoorsView } from './DoorsView';
import { ExposeView } from './ExposeView';
import { HeldPart } from './HeldPart';
import { RoomPart } from './RoomPart';
import { SelectingPart } from './SelectingPart';
import { ServicePart } from './ServicePart';

const sheets = kindsAt('ingress');

/** What is shown beside the marked row of a sheet. */
const ofRow: Partial<Record<Kind, string>> = { workloads: 'Room', services: 'Who answers', balancers: 'Configuration' };

/** Stop 6: doors and the sheets they are made of on the left; on the right a question with its road, and what follows for the marked row. */
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
    { id: 'load', label: 'Under load' },
    { id: 'expose', label: 'Expose' },
    { id: 'manifests', label: 'Manifests' },
  ];
  const side = beside.find(({ id }) => id === search.get('side'))?.id ?? beside[0]?.id ?? 'question';
  return (
    <Halves
      screen="ingress"
      rightWidth="38rem"
      left={
        <>
          <h1 className="sr-only">Ingress</h1>
          <Tabs
            label="Which sheet"
            tabs={[
              { id: 'doors', label: 'Doors' },
              ...sheets.map((each) => ({ id: each, label: kindViews[each].tab, count: plan[each].length })),
            ]}
            chosen={kind ?? 'doors'}
            onChoose={(show) => set({ show, filter: '', group: '', cols: '', row: '', side: '' })}
          >
            {kind === undefined ? (
              <DoorsView />
            ) : (
              <div className="flex min-h-40 flex-1 flex-col">
                <EntitySheet
                  key={kind}
                  kind={kind}
                  head={null}
                  selectedId={chosen?.id ?? ''}
                  onSelect={(id) => set({ row: id })}
                />
              </div>
            )}
          </Tabs>
        </>
      }
      right={
        <Tabs label="What follows" tabs={beside} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'question' && <QuestionView />}
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
    return (
      <Empty>Who answers, and whether the pods find room on the nodes, is shown here for the row that is marked.</Empty>
    );
  return (
    <>
      {kind === 'services' ? <ServicePart id={row.id} /> : <SelectingPart id={row.id} />}
      <RoomPart clusterId={row.clusterId} />
    </>
  );
}
