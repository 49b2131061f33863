import { formatNumber } from '@wide-lattice/core/working';
import { removalOfAll } from '@wide-lattice/core/plan';
import type { Pool } from '@wide-lattice/core/plan';
import { FileUp, Plus } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { ReactNode } from 'react';
import { usePlan } from '../plan/PlanContext';
import { EntityForm } from '../shared/EntityForm';
import { ExportMenu } from '../shared/EntitySheet';
import { fieldColumn } from '../shared/entityColumns';
import { FigureButton } from '../shared/FigureButton';
import { Empty, Part } from '../shared/Halves';
import { ImportDialog } from '../shared/ImportDialog';
import { PurposeTag } from '../shared/Marks';
import { Sheet } from '../shared/Sheet';
import type { SheetColumn } from '../shared/sheetColumn';
import type { PoolRow } from '../worker/slices/pools';
import { PoolGrowthChart } from './PoolGrowthChart';

interface PoolsPartProps {
  readonly pools: readonly PoolRow[];
  readonly chosen: PoolRow | undefined;
  readonly onChoose: (id: string) => void;
}

/** The pools, and of the chosen one what is taken and free, and when it is exhausted. */
export function PoolsPart({ pools, chosen, onChoose }: PoolsPartProps) {
  const [dialog, setDialog] = useState<'add' | 'import'>();
  return (
    <Part
      title="Address pools"
      aside={
        <div className="flex gap-2">
          <ExportMenu kind="pools" title="Address pools" />
          <button
            type="button"
            className="btn btn-sm btn-outline"
            aria-label="Import pools"
            onClick={() => setDialog('import')}
          >
            <FileUp size={14} aria-hidden /> Import
          </button>
          <button
            type="button"
            className="btn btn-sm btn-outline"
            aria-label="Add a pool"
            onClick={() => setDialog('add')}
          >
            <Plus size={14} aria-hidden /> Add
          </button>
        </div>
      }
    >
      <PoolSheet rows={pools} chosen={chosen?.pool.id} onChoose={onChoose} onAdd={() => setDialog('add')} />
      {chosen !== undefined && <PoolFacts row={chosen} />}
      {chosen !== undefined && <PoolGrowthChart poolId={chosen.pool.id} />}
      {dialog === 'add' && <EntityForm kind="pools" onClose={() => setDialog(undefined)} onAdded={onChoose} />}
      {dialog === 'import' && <ImportDialog kind="pools" onClose={() => setDialog(undefined)} />}
    </Part>
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
  const columns = useMemo((): SheetColumn<PoolRow>[] => {
    const poolOf = (row: PoolRow): Pool => row.pool;
    return [
      fieldColumn(plan, 'pools', 'name', poolOf, { width: 'minmax(7.5rem, 1fr)' }),
      fieldColumn(plan, 'pools', 'prefix', poolOf, { width: '11.4rem' }),
      fieldColumn(plan, 'pools', 'purposes', poolOf, {
        width: '4.6rem',
        render: (row) => row.pool.purposes.map((purpose) => <PurposeTag key={purpose} purpose={purpose} />),
      }),
      { id: 'taken', label: 'Taken', width: '7rem', value: (row) => row.taken, render: (row) => <Taken row={row} /> },
    ];
  }, [plan]);
  return (
    <Sheet
      label="Address pools"
      columns={columns}
      rows={rows}
      idOf={(row) => row.pool.id}
      selectedId={chosen}
      onSelect={(row) => onChoose(row.pool.id)}
      removal={(gone) =>
        removalOfAll(
          plan,
          'pools',
          gone.map(({ pool }) => pool.id),
        )
      }
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
        {formatNumber(row.routes.value)}
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
