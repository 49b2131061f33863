import { useMemo } from 'react';
import { useSlice } from '../plan/useSlice';
import type { SubnetUseRow } from '../worker/slices/subnetUses';
import { EntitySheet } from '../shared/EntitySheet';
import type { DerivedColumn } from '../shared/EntitySheet';

/** The subnets of the ground with who lives in each. */
export function SubnetSheet() {
  const uses = useSlice('subnetUses');
  const derived = useMemo(() => columnsOf(new Map((uses ?? []).map((use) => [use.id, use]))), [uses]);
  return <EntitySheet kind="subnets" head={null} derived={derived} />;
}

function columnsOf(useOf: ReadonlyMap<string, SubnetUseRow>): DerivedColumn<'subnets'>[] {
  return [
    {
      id: 'taken',
      label: 'Taken',
      width: '6.4rem',
      align: 'right',
      value: ({ id }) => useOf.get(id)?.percent ?? 0,
      render: ({ id }) => {
        const use = useOf.get(id);
        return <span className={(use?.percent ?? 0) > 100 ? 'text-error font-semibold' : ''}>{use?.taken}</span>;
      },
    },
    {
      id: 'living',
      label: 'Who lives there',
      width: 'minmax(9rem, 1.2fr)',
      value: ({ id }) => useOf.get(id)?.living ?? '',
      render: ({ id }) => <span title={useOf.get(id)?.living}>{useOf.get(id)?.living}</span>,
    },
  ];
}
