import { useSlice } from '../plan/useSlice';
import type { SheetField } from '../kinds/kindView';
import { usePlan } from '../plan/PlanContext';
import { EntitySheet } from '../shared/EntitySheet';
import { Empty, Halves, Part } from '../shared/Halves';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { Fleet } from './Fleet';
import { LockedDecisions } from './LockedDecisions';
import { ModeTable } from './ModeTable';
import { PathTable } from './PathTable';
import { Weights } from '../shared/Weights';
import { criteria } from '@wide-lattice/core/podnetwork';

const fields: readonly SheetField<'clusters'>[] = [
  { field: 'name', width: 'minmax(7.5rem, 1fr)' },
  { field: 'podMode', width: '6.4rem', label: 'Pod network' },
  { field: 'encapsulation', width: '7.9rem' },
  { field: 'shapeId', width: 'minmax(6.5rem, 0.8fr)', label: 'Shape' },
  { field: 'podNeeds', width: 'minmax(7rem, 1.2fr)' },
  { field: 'podPreferences', width: 'minmax(7rem, 1fr)', isExtra: true },
  { field: 'encryption', width: '6.4rem', isExtra: true },
  { field: 'mtuFloor', width: '5.8rem', isExtra: true },
  { field: 'family', width: '5rem', isExtra: true },
  { field: 'isBuilt', width: '4.4rem' },
];

const beside = [
  { id: 'modes', label: 'Side by side' },
  { id: 'paths', label: 'On the wire' },
  { id: 'fleet', label: 'Fleet' },
  { id: 'locked', label: 'Locked decisions' },
] as const;

/** Stop 4: overlay, routed or native pods, with the consequences of each for the chosen cluster. */
export function PodNetworkPage() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const chosen = search.get('cluster') ?? plan.clusters[0]?.id;
  const side = beside.find(({ id }) => id === search.get('side'))?.id ?? 'modes';
  return (
    <Halves
      screen="pod-network"
      rightWidth="41rem"
      left={
        <EntitySheet
          kind="clusters"
          title="Clusters"
          fields={fields}
          empty="No clusters yet. Enter them at the stop Demand, then compare their pod networks here."
          head={<h1 className="heading">Pod network</h1>}
          selectedId={chosen}
          onSelect={(cluster) => set({ cluster })}
        />
      }
      right={
        <Tabs label="What follows" tabs={beside} chosen={side} onChoose={(id) => set({ side: id })}>
          {chosen === undefined ? (
            <Empty>
              Overlay, routed and native pods are compared here for each cluster: addresses, routes, packet sizes and
              what each of them rules out. Add the first cluster on the left.
            </Empty>
          ) : side === 'locked' ? (
            <LockedDecisions />
          ) : side === 'fleet' ? (
            <Fleet />
          ) : (
            <Chosen clusterId={chosen} isWire={side === 'paths'} />
          )}
        </Tabs>
      }
    />
  );
}

function Chosen({ clusterId, isWire }: { readonly clusterId: string; readonly isWire: boolean }) {
  const sheet = useSlice('podNetwork', clusterId);
  if (sheet === undefined) return null;
  if (isWire) return <PathTable sheet={sheet} />;
  return (
    <>
      <ModeTable sheet={sheet} />
      <Part title="What weighs">
        <Weights criteria={criteria} sensitivities={sheet.sensitivities} winner={sheet.winner} />
      </Part>
    </>
  );
}
