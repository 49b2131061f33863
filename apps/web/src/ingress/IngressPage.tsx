import { kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { EntitySheet } from '../shared/EntitySheet';
import { Empty, Halves } from '../shared/Halves';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { RoomPart } from './RoomPart';
import { SelectingPart } from './SelectingPart';
import { ServicePart } from './ServicePart';

const sheets = ['workloads', 'services'] as const;

/** Stop 6: workloads and services on the left; on the right who answers, and whether the pods find room. */
export function IngressPage() {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const kind = sheets.find((each) => each === search.get('show')) ?? 'workloads';
  const chosen = plan[kind].find(({ id }) => id === search.get('row')) ?? plan[kind][0];
  return (
    <Halves
      rightWidth="32rem"
      left={
        <>
          <h1 className="sr-only">Ingress</h1>
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
        chosen === undefined ? (
          <Empty>
            Who answers, and whether the pods find room on the nodes, is shown here for the row that is marked.
          </Empty>
        ) : (
          <>
            {kind === 'services' ? <ServicePart id={chosen.id} /> : <SelectingPart id={chosen.id} />}
            <RoomPart clusterId={chosen.clusterId} />
          </>
        )
      }
    />
  );
}
