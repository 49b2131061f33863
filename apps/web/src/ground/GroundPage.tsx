import { kindNames, removalOf } from '@wide-lattice/core';
import type { EntityOf } from '@wide-lattice/core';
import { FileUp, Plus, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { EntityForm } from '../shared/EntityForm';
import { fieldColumn, nameOf } from '../shared/entityColumns';
import { Empty, Halves } from '../shared/Halves';
import { ImportDialog } from '../shared/ImportDialog';
import { Sheet } from '../shared/Sheet';
import { useSearchState } from '../shared/useSearchState';
import type { SheetColumn } from '../shared/Sheet';
import { JoinPreview } from './JoinPreview';
import { Reach } from './Reach';

const groundKinds = ['networks', 'links', 'inUse', 'sites', 'profiles'] as const;
type GroundKind = (typeof groundKinds)[number];

const titles: Readonly<Record<GroundKind, string>> = {
  networks: 'Networks',
  links: 'Links',
  inUse: 'Ranges in use elsewhere',
  sites: 'Sites',
  profiles: 'Provider profiles',
};

const empties: Readonly<Record<GroundKind, string>> = {
  networks: 'A network is one forwarding place: in it, an address means one thing. Add the first.',
  links: 'No links: no network reaches another. Add a peering or a transit hub.',
  inUse: 'List what others already use, so that nothing is planned on top of it.',
  sites: 'A site is where clusters stand. It needs a provider profile; add that first.',
  profiles: 'A profile holds a provider’s rules: reserved addresses, zonal or regional subnets, route limits.',
};

const widths: Readonly<Record<string, string>> = {
  name: 'minmax(9rem, 1.2fr)',
  note: 'minmax(8rem, 1.5fr)',
  networkIds: 'minmax(12rem, 2.5fr)',
  owner: 'minmax(9rem, 1.4fr)',
  prefix: 'minmax(9rem, 1fr)',
  networkId: 'minmax(7rem, 1fr)',
  zones: 'minmax(6rem, 1fr)',
  profileId: 'minmax(6rem, 1fr)',
};

/** Stop 1: what is there. The sheets on the left, who reaches whom on the right. */
export function GroundPage() {
  const [search, set] = useSearchState();
  const asked = search.get('show');
  const kind: GroundKind = groundKinds.find((each) => each === asked) ?? 'networks';
  const [dialog, setDialog] = useState<'add' | 'import'>();
  const [pasted, setPasted] = useState('');
  const { plan } = usePlan();
  const isImportable = kind === 'inUse' || kind === 'networks' || kind === 'sites';
  return (
    <Halves
      left={
        <>
          <div className="rule-b flex items-center gap-1 px-4 py-1.5">
            <h1 className="sr-only">Ground</h1>
            <div className="flex" role="group" aria-label="Which sheet">
              {groundKinds.map((each) => (
                <button
                  key={each}
                  type="button"
                  aria-pressed={each === kind}
                  className={`border-b-2 px-2 py-1 ${each === kind ? 'border-primary font-semibold' : 'border-transparent'}`}
                  onClick={() => set({ show: each })}
                >
                  {titles[each]} <span className="quiet text-xs font-normal">{plan[each].length}</span>
                </button>
              ))}
            </div>
            <div className="ml-auto flex gap-2">
              {isImportable && (
                <button type="button" className="btn btn-sm btn-outline" onClick={() => setDialog('import')}>
                  <FileUp size={14} aria-hidden /> Import
                </button>
              )}
              <button type="button" className="btn btn-sm btn-primary" onClick={() => setDialog('add')}>
                <Plus size={14} aria-hidden /> Add
              </button>
            </div>
          </div>
          <GroundSheet
            key={kind}
            kind={kind}
            onAdd={() => setDialog('add')}
            {...(isImportable
              ? {
                  onPasteRows: (text: string) => {
                    setPasted(text);
                    setDialog('import');
                  },
                }
              : {})}
          />
          {dialog === 'add' && <EntityForm kind={kind} onClose={() => setDialog(undefined)} />}
          {dialog === 'import' && isImportable && (
            <ImportDialog
              kind={kind}
              initialText={pasted}
              onClose={() => {
                setPasted('');
                setDialog(undefined);
              }}
            />
          )}
        </>
      }
      right={
        <>
          <JoinPreview />
          <Reach />
        </>
      }
    />
  );
}

interface GroundSheetProps {
  readonly kind: GroundKind;
  readonly onAdd: () => void;
  readonly onPasteRows?: (text: string) => void;
}

function GroundSheet({ kind, onAdd, onPasteRows }: GroundSheetProps) {
  const { plan } = usePlan();
  const commit = useCommit();
  type Row = EntityOf[GroundKind];
  const remove = useMemo(
    () => async (row: Row) => {
      const problem = await commit(`Remove ${kindNames[kind]} ${nameOf(row)}`, removalOf(plan, kind, row.id));
      if (problem !== '') toast.error(problem);
    },
    [commit, kind, plan],
  );
  const columns = useMemo((): SheetColumn<Row>[] => {
    const fields = fieldsOf[kind];
    return [
      ...fields.map((field) =>
        fieldColumn(plan, commit, kind, field as never, (row: Row) => row as never, { width: widths[field] ?? '7rem' }),
      ),
      {
        id: 'remove',
        label: 'Remove',
        isAction: true,
        width: '2.5rem',
        value: () => '',
        render: (row) => (
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label={`Remove ${nameOf(row)}`}
            title={`Remove ${nameOf(row)}`}
            onClick={() => void remove(row)}
          >
            <Trash2 size={13} aria-hidden />
          </button>
        ),
      },
    ];
  }, [plan, commit, kind, remove]);
  return (
    <Sheet
      label={titles[kind]}
      columns={columns}
      rows={plan[kind]}
      idOf={(row) => row.id}
      onRemove={(row) => void remove(row)}
      {...(onPasteRows === undefined ? {} : { onPasteRows })}
      empty={
        <Empty
          action={
            <button type="button" className="btn btn-sm btn-primary" onClick={onAdd}>
              Add a {kindNames[kind]}
            </button>
          }
        >
          {empties[kind]}
        </Empty>
      }
    />
  );
}

const fieldsOf: { readonly [K in GroundKind]: readonly (keyof EntityOf[K])[] } = {
  networks: ['name', 'note'],
  links: ['name', 'kind', 'networkIds', 'isPlanned'],
  inUse: ['prefix', 'owner', 'networkId', 'note'],
  sites: ['name', 'kind', 'profileId', 'zones'],
  profiles: ['name', 'reservedFirst', 'reservedLast', 'subnetScope', 'routesPerTable'],
};
