import { prefixSize } from '@wide-lattice/core/address';
import { byId, rangeOf } from '@wide-lattice/core/plan';
import type { Allocation, Plan } from '@wide-lattice/core/plan';
import { formatSize } from '@wide-lattice/core/working';
import { ListPlus, Lock } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { SheetField } from '../kinds/kindView';
import { kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { EntitySheet } from '../shared/EntitySheet';
import type { DerivedColumn } from '../shared/EntitySheet';
import { Halves } from '../shared/Halves';
import { PurposeTag, VerdictMark } from '../shared/Marks';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import type { PoolRow } from '../worker/slices/pools';
import type { RangeRow } from '../worker/slices/ranges';
import { PoolsPart } from './PoolsPart';
import { ProposalDialog } from './ProposalDialog';
import { Ribbon } from './Ribbon';
import { UsePart } from './UsePart';

const beside = [
  { id: 'pools', label: 'Address pools' },
  { id: 'use', label: 'Use by site and purpose' },
] as const;

/** Stop 3: pools and allocated ranges in sheets and to scale, and the proposal of what is missing. */
export function RangesPage() {
  const pools = useSlice('pools');
  const [search, set] = useSearchState();
  const pool = pools?.find(({ pool: each }) => each.id === search.get('pool')) ?? busiest(pools);
  const view = search.get('view') ?? pool?.pool.prefix;
  const side = beside.find(({ id }) => id === search.get('side'))?.id ?? 'pools';
  if (pools === undefined) return <p className="quiet p-6">Computing...</p>;
  return (
    <>
      {view !== undefined && <Ribbon view={view} onView={(next) => set({ view: next })} />}
      <Halves
        screen="ranges"
        rightWidth="33rem"
        left={<RangeSheet />}
        right={
          <Tabs label="What follows" tabs={beside} chosen={side} onChoose={(id) => set({ side: id })}>
            {side === 'pools' ? (
              <PoolsPart pools={pools} chosen={pool} onChoose={(id) => set({ pool: id, view: '' })} />
            ) : (
              <UsePart />
            )}
          </Tabs>
        }
      />
    </>
  );
}

function busiest(pools: readonly PoolRow[] | undefined): PoolRow | undefined {
  return pools?.toSorted((a, b) => b.ranges - a.ranges)[0];
}

function RangeSheet() {
  const rows = useSlice('ranges');
  const { plan, session } = usePlan();
  const navigate = useNavigate();
  const [isProposing, setProposing] = useState(false);
  const rowOf = useMemo(() => new Map((rows ?? []).map((row) => [row.id, row])), [rows]);
  const derived = useMemo(() => derivedColumns(plan, rowOf), [plan, rowOf]);
  // Cluster by cluster; what was just added and is not computed yet comes last.
  const ordered = useMemo(
    () => [
      ...(rows ?? []).flatMap(({ id }) => byId(plan.allocations, id) ?? []),
      ...plan.allocations.filter(({ id }) => !rowOf.has(id)),
    ],
    [rows, rowOf, plan.allocations],
  );
  return (
    <>
      <EntitySheet
        kind="allocations"
        fields={fields}
        derived={derived}
        rows={ordered}
        head={<h1 className="heading">Ranges</h1>}
        actions={
          <button type="button" className="btn btn-sm btn-primary" onClick={() => setProposing(true)}>
            <ListPlus size={14} aria-hidden /> Propose
          </button>
        }
        onOpen={(id) => {
          const clusterId = byId(plan.allocations, id)?.clusterId;
          if (clusterId !== undefined) void navigate(`/plans/${session.planId}/clusters/${clusterId}`);
        }}
      />
      {isProposing && <ProposalDialog request={{}} onClose={() => setProposing(false)} />}
    </>
  );
}

const fields = kindViews.allocations.fields.map((column): SheetField<'allocations'> =>
  column.field !== 'purpose'
    ? column
    : {
        ...column,
        render: ({ purpose, zone }) => (
          <>
            <PurposeTag purpose={purpose} />
            {purpose} {zone}
          </>
        ),
      },
);

function derivedColumns(
  { clusters }: Pick<Plan, 'clusters'>,
  rowOf: ReadonlyMap<string, RangeRow>,
): DerivedColumn<'allocations'>[] {
  const of = (id: string) => rowOf.get(id);
  const isLocked = ({ isPinned, clusterId }: Allocation) => isPinned || byId(clusters, clusterId)?.isBuilt === true;
  return [
    {
      id: 'size',
      label: 'Addresses',
      width: '7rem',
      align: 'right',
      value: (row) => formatSize(prefixSize(rangeOf(row))),
    },
    { id: 'needed', label: 'Needs', width: '4.3rem', align: 'right', value: ({ id }) => of(id)?.needed ?? '' },
    {
      id: 'verdict',
      label: 'Verdict',
      width: '8rem',
      value: ({ id }) => formatVerdict(of(id)),
      render: ({ id }) => <Verdict row={of(id)} />,
    },
    {
      id: 'lock',
      label: 'Moves',
      width: '4.2rem',
      value: (row) => (isLocked(row) ? 'locked' : 'free'),
      render: (row) =>
        isLocked(row) ? (
          <span className="inline-flex items-center gap-1" title="Pinned, or the cluster is built">
            <Lock size={12} aria-hidden /> no
          </span>
        ) : (
          <span className="quiet">yes</span>
        ),
    },
  ];
}

function formatVerdict(row: RangeRow | undefined): string {
  if (row === undefined) return '';
  if (row.verdict !== 'clear') return row.verdict;
  if (!row.isLargeEnough) return 'too small';
  return row.sharedWith.length === 0 ? 'clear' : `shared with ${row.sharedWith.join(', ')}`;
}

function Verdict({ row }: { readonly row: RangeRow | undefined }) {
  if (row === undefined) return null;
  if (row.verdict === 'clear' && !row.isLargeEnough) return <span className="text-error font-semibold">too small</span>;
  if (row.verdict === 'clear' && row.sharedWith.length > 0)
    return <span title={formatVerdict(row)}>{formatVerdict(row)}</span>;
  return <VerdictMark verdict={row.verdict} />;
}
