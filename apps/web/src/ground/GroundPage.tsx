import type { Kind } from '@wide-lattice/core';
import { usePlan } from '../plan/PlanContext';
import { EntitySheet } from '../shared/EntitySheet';
import type { SheetField } from '../shared/EntitySheet';
import { Halves } from '../shared/Halves';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { Diagram } from './Diagram';
import { JoinPreview } from './JoinPreview';
import { Reach } from './Reach';
import { groundSheets } from './groundSheets';
import type { GroundKind } from './groundSheets';

const beside = [
  { id: 'diagram', label: 'Diagram' },
  { id: 'reach', label: 'Who reaches whom' },
  { id: 'join', label: 'Before joining' },
] as const;

/** Stop 1: what is there. The sheets on the left; the diagram, who reaches whom, and what a join would do on the right. */
export function GroundPage() {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const asked = search.get('show');
  const kind = groundSheets.find((each) => each.kind === asked)?.kind ?? 'networks';
  const side = beside.find(({ id }) => id === search.get('side'))?.id ?? 'diagram';
  return (
    <Halves
      rightWidth="34rem"
      left={
        <>
          <h1 className="sr-only">Ground</h1>
          <Tabs
            label="Which sheet"
            tabs={groundSheets.map(({ kind: each, tab }) => ({ id: each, label: tab, count: plan[each].length }))}
            chosen={kind}
            onChoose={(show) => set({ show, filter: '', group: '', cols: '' })}
          />
          <GroundSheet key={kind} kind={kind} />
        </>
      }
      right={
        <>
          <Tabs label="What follows" tabs={beside} chosen={side} onChoose={(id) => set({ side: id })} />
          {side === 'diagram' && <Diagram />}
          {side === 'reach' && <Reach />}
          {side === 'join' && <JoinPreview />}
        </>
      }
    />
  );
}

function GroundSheet({ kind }: { readonly kind: GroundKind }) {
  const sheet = groundSheets.find((each) => each.kind === kind);
  if (sheet === undefined) return null;
  return (
    <EntitySheet
      kind={kind}
      title={sheet.title}
      // Each sheet's fields are its own kind's.
      fields={sheet.fields as readonly SheetField<Kind>[]}
      empty={sheet.empty}
      head={null}
      canCopy={kind === 'profiles' || kind === 'shapes'}
    />
  );
}
