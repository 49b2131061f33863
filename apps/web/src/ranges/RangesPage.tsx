import { contains, kindNames, parsePrefix, removalOf } from '@wide-lattice/core';
import type { Pool } from '@wide-lattice/core';
import { FileUp, Lock, Plus, ListPlus } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { EntityForm } from '../shared/EntityForm';
import { fieldColumn } from '../shared/entityColumns';
import { FigureButton } from '../shared/FigureButton';
import { Empty, Halves, Part } from '../shared/Halves';
import { ImportDialog } from '../shared/ImportDialog';
import { PurposeTag, VerdictMark } from '../shared/Marks';
import { Sheet } from '../shared/Sheet';
import { useSearchState } from '../shared/useSearchState';
import type { SheetColumn } from '../shared/Sheet';
import type { PoolRow } from '../worker/slices/pools';
import type { RangeRow } from '../worker/slices/ranges';
import { PoolGrowthChart } from './PoolGrowthChart';
import { ProposalDialog } from './ProposalDialog';
import { Ribbon } from './Ribbon';

/** Stop 3: pools and allocated ranges in sheets and to scale, and the proposal of what is missing. */
export function RangesPage() {
  const pools = useSlice(['pools'], (core) => core.pools());
  const [search, set] = useSearchState();
  const [dialog, setDialog] = useState<'add' | 'import' | 'propose'>();
  const pool = pools?.find(({ pool: each }) => each.id === search.get('pool')) ?? largest(pools);
  const root = pool?.pool.prefix;
  const asked = search.get('view');
  const view = root !== undefined && asked !== null && isInside(asked, root) ? asked : root;
  if (pools === undefined) return <p className="quiet p-6">Computing...</p>;
  return (
    <>
      {root !== undefined && view !== undefined && (
        <Ribbon root={root} view={view} onView={(next) => set({ view: next })} />
      )}
      <Halves
        rightWidth="35rem"
        left={
          <RangeSheet
            filter={search.get('filter') ?? ''}
            onFilter={(filter) => set({ filter })}
            onPropose={() => setDialog('propose')}
          />
        }
        right={
          <Part
            title="Pools"
            aside={
              <div className="flex gap-2">
                <button type="button" className="btn btn-sm btn-outline" onClick={() => setDialog('import')}>
                  <FileUp size={14} aria-hidden /> Import
                </button>
                <button type="button" className="btn btn-sm btn-outline" onClick={() => setDialog('add')}>
                  <Plus size={14} aria-hidden /> Add
                </button>
              </div>
            }
          >
            <PoolSheet
              rows={pools}
              chosen={pool?.pool.id}
              onChoose={(id) => set({ pool: id, view: '' })}
              onAdd={() => setDialog('add')}
            />
            {pool !== undefined && <PoolFacts row={pool} />}
            {pool !== undefined && <PoolGrowthChart poolId={pool.pool.id} />}
          </Part>
        }
      />
      {dialog === 'add' && (
        <EntityForm kind="pools" onClose={() => setDialog(undefined)} onAdded={(id) => set({ pool: id, view: '' })} />
      )}
      {dialog === 'import' && <ImportDialog kind="pools" onClose={() => setDialog(undefined)} />}
      {dialog === 'propose' && <ProposalDialog request={{}} onClose={() => setDialog(undefined)} />}
    </>
  );
}

function largest(pools: readonly PoolRow[] | undefined): PoolRow | undefined {
  return pools?.toSorted((a, b) => b.ranges - a.ranges)[0];
}

function isInside(view: string, root: string): boolean {
  const [inner, outer] = [parsePrefix(view), parsePrefix(root)];
  return inner.ok && outer.ok && contains(outer.value, inner.value);
}

function RangeSheet({
  filter,
  onFilter,
  onPropose,
}: {
  readonly filter: string;
  readonly onFilter: (filter: string) => void;
  readonly onPropose: () => void;
}) {
  const rows = useSlice(['ranges'], (core) => core.ranges());
  const { plan, session } = usePlan();
  const commit = useCommit();
  const navigate = useNavigate();
  const columns = useMemo(
    (): SheetColumn<RangeRow>[] => [
      { id: 'cluster', label: 'Cluster', width: 'minmax(8rem, 1fr)', value: (row) => row.cluster },
      {
        id: 'purpose',
        label: 'For',
        width: '7.5rem',
        value: (row) => `${row.allocation.purpose} ${row.allocation.zone}`,
        render: (row) => (
          <>
            <PurposeTag purpose={row.allocation.purpose} />
            {row.allocation.purpose} {row.allocation.zone}
          </>
        ),
      },
      fieldColumn(plan, commit, 'allocations', 'prefix', (row: RangeRow) => row.allocation, {
        width: 'minmax(9rem, 1fr)',
      }),
      { id: 'size', label: 'Addresses', width: '6rem', align: 'right', value: (row) => row.size },
      { id: 'needed', label: 'Needs', width: '4rem', align: 'right', value: (row) => row.needed },
      {
        id: 'verdict',
        label: 'Verdict',
        width: '7.5rem',
        value: (row) => (row.verdict !== 'clear' ? row.verdict : row.isLargeEnough ? 'clear' : 'too small'),
        render: (row) =>
          row.verdict === 'clear' && !row.isLargeEnough ? (
            <span className="text-error font-semibold">too small</span>
          ) : (
            <VerdictMark verdict={row.verdict} />
          ),
      },
      {
        id: 'lock',
        label: 'Moves',
        width: '4.5rem',
        value: (row) => (row.isLocked ? 'locked' : 'free'),
        render: (row) =>
          row.isLocked ? (
            <span className="inline-flex items-center gap-1" title="Fixed, or the cluster is built">
              <Lock size={12} aria-hidden /> no
            </span>
          ) : (
            <span className="quiet">yes</span>
          ),
      },
    ],
    [plan, commit],
  );
  return (
    <>
      <div className="rule-b flex items-center gap-3 px-4 py-1.5">
        <h1 className="heading">Ranges</h1>
        <span className="quiet">{rows?.length ?? 0} allocated</span>
        <input
          className="input input-sm ml-auto w-44"
          placeholder="Filter"
          aria-label="Filter ranges"
          value={filter}
          onChange={(event) => onFilter(event.target.value)}
        />
        <button type="button" className="btn btn-sm btn-primary" onClick={onPropose}>
          <ListPlus size={14} aria-hidden /> Propose missing ranges
        </button>
      </div>
      <Sheet
        label="Allocated ranges"
        columns={columns}
        rows={rows ?? []}
        idOf={(row) => row.id}
        filter={filter}
        onOpen={(row) => void navigate(`/plans/${session.planId}/clusters/${row.allocation.clusterId}`)}
        empty={
          filter === '' ? (
            <Empty>Nothing is allocated yet. Add a pool, then propose the ranges that the clusters need.</Empty>
          ) : undefined
        }
      />
    </>
  );
}

interface PoolSheetProps {
  readonly rows: readonly PoolRow[];
  readonly chosen: string | undefined;
  readonly onChoose: (id: string) => void;
  readonly onAdd: () => void;
}

function PoolSheet({ rows, chosen, onChoose, onAdd }: PoolSheetProps) {
  const { plan } = usePlan();
  const commit = useCommit();
  const columns = useMemo((): SheetColumn<PoolRow>[] => {
    const poolOf = (row: PoolRow): Pool => row.pool;
    return [
      fieldColumn(plan, commit, 'pools', 'name', poolOf, { width: 'minmax(9rem, 1fr)' }),
      fieldColumn(plan, commit, 'pools', 'prefix', poolOf, { width: '12.2rem' }),
      fieldColumn(plan, commit, 'pools', 'purposes', poolOf, {
        width: '4.6rem',
        render: (row) => row.pool.purposes.map((purpose) => <PurposeTag key={purpose} purpose={purpose} />),
      }),
      { id: 'taken', label: 'Taken', width: '7rem', value: (row) => row.taken, render: (row) => <Taken row={row} /> },
    ];
  }, [plan, commit]);
  const remove = async ({ pool }: PoolRow) => {
    const problem = await commit(`Remove ${kindNames.pools} ${pool.name}`, removalOf(plan, 'pools', pool.id));
    if (problem !== '') toast.error(problem);
  };
  return (
    <Sheet
      label="Pools"
      columns={columns}
      rows={rows}
      idOf={(row) => row.pool.id}
      selectedId={chosen}
      onSelect={(row) => onChoose(row.pool.id)}
      onRemove={(row) => void remove(row)}
      maxHeight="11rem"
      empty={
        <Empty
          action={
            <button type="button" className="btn btn-sm btn-primary" onClick={onAdd}>
              Add a pool
            </button>
          }
        >
          A pool is address space that ranges are taken from.
        </Empty>
      }
    />
  );
}

function Taken({ row }: { readonly row: PoolRow }) {
  const percent = row.taken * 100;
  const words = percent > 0 && percent < 1 ? '<1 %' : `${Math.round(percent)} %`;
  return (
    <span className="flex w-full items-center gap-2" title={`${row.ranges} ranges`}>
      <span className="border-base-300 relative h-2.5 flex-1 border" aria-hidden>
        <span className="bg-primary absolute inset-y-0 left-0" style={{ width: `${percent}%` }} />
      </span>
      <span className="w-9 text-right">{words}</span>
    </span>
  );
}

function PoolFacts({ row }: { readonly row: PoolRow }) {
  const facts: [string, ReactNode][] = [
    ['Addresses', row.size],
    ['Free', row.free],
    ['Largest free block', row.largestFree],
    ['Fragmentation of what is free', <FigureButton key="fragmentation" figure={row.fragmentation} />],
    [
      'Routes to advertise',
      <FigureButton key="routes" figure={row.routes}>
        {row.routes.value.toLocaleString('en-US')}
      </FigureButton>,
    ],
    ['Ranges inside', String(row.ranges)],
    ['Site', row.siteName === '' ? 'any' : row.siteName],
    ['May repeat in other clusters', row.pool.isShared ? 'overlay pods and services' : 'no'],
  ];
  return (
    <dl className="mt-3 grid grid-cols-[1fr_auto] gap-x-4 gap-y-0.5" aria-label={`Pool ${row.pool.name}`}>
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="quiet">{name}</dt>
          <dd className="text-right font-mono">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
