import { exportRows } from '@wide-lattice/core/exchange';
import { duplicateOf, kindNames, kindRules, removalOfAll, rulesOf, formatField } from '@wide-lattice/core/plan';
import type { EntityOf, FieldValue, Kind } from '@wide-lattice/core/plan';
import { Copy, Download, FileUp, Plus, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { ReactNode } from 'react';
import { toast } from 'sonner';
import type { SheetField } from '../kinds/kindView';
import { kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { EntityForm } from './EntityForm';
import { ColumnMenu } from './ColumnMenu';
import { fieldColumn } from './entityColumns';
import { Empty } from './Halves';
import { ImportDialog } from './ImportDialog';
import { Menu, MenuItem } from './Menu';
import { saveFile } from './saveFile';
import { Sheet } from './Sheet';
import type { SheetColumn } from './sheetColumn';
import { useSearchState } from './useSearchState';
import { IconButton } from './IconButton';
import { withArticle } from './withArticle';

/** A column that is computed, beside those that show fields. */
export type DerivedColumn<K extends Kind> = Omit<SheetColumn<EntityOf[K]>, 'edit'>;

interface EntitySheetProps<K extends Kind> {
  readonly kind: K;
  /** Instead of those of the kind's view. */
  readonly title?: string;
  readonly empty?: string;
  readonly fields?: readonly SheetField<K>[];
  readonly derived?: readonly DerivedColumn<K>[];
  /** The rows in the order they are first shown; the plan's own order when left out. */
  readonly rows?: readonly EntityOf[K][] | undefined;
  /** Left of the bar: a heading, or which sheet is shown. */
  readonly head: ReactNode;
  /** More actions in the bar. */
  readonly actions?: ReactNode;
  /** More that can be done while there is nothing in the sheet. */
  readonly emptyActions?: ReactNode;
  readonly selectedId?: string | undefined;
  readonly onSelect?: (id: string) => void;
  readonly onOpen?: (id: string) => void;
}

const none: readonly never[] = [];
const groupable = new Set(['reference', 'choice', 'flag']);

/** The sheet of one kind with all that can be done to it: filter, group, choose columns, edit, paste, import, export, add, remove. */
export function EntitySheet<K extends Kind>(props: EntitySheetProps<K>) {
  const { kind, derived = none, head, actions, emptyActions, selectedId, onSelect, onOpen } = props;
  const view = kindViews[kind];
  const { title = view.title, empty = view.empty, fields = view.fields } = props;
  const canCopy = view.canCopy ?? false;
  const { plan } = usePlan();
  const commit = useCommit();
  const [search, set] = useSearchState();
  // An address can open the import, so that a new plan begins with it.
  const [dialog, setDialog] = useState<'add' | 'import' | undefined>(
    search.get('dialog') === 'import' ? 'import' : undefined,
  );
  const [pasted, setPasted] = useState('');
  type Row = EntityOf[K];
  const filter = search.get('filter') ?? '';
  const group = search.get('group') ?? '';
  const shownFields = useShownFields(fields);
  const columns = useMemo((): SheetColumn<Row>[] => {
    const own = shownFields.map(({ field, width, label, render, isReadOnly }) =>
      fieldColumn(plan, kind, field, (row: Row) => row, {
        width,
        ...(label === undefined ? {} : { label }),
        ...(render === undefined ? {} : { render }),
        ...(isReadOnly === true ? { edit: () => undefined } : {}),
      }),
    );
    const nameOf = (row: Row) => kindRules(kind).label(row, plan);
    return [...own, ...derived, actionColumn<Row>(canCopy, nameOf, copy, remove)];
    async function copy(row: Row) {
      const problem = await commit(`Copy ${kindNames[kind]} ${nameOf(row)}`, duplicateOf(plan, kind, row.id));
      if (problem !== '') toast.error(problem);
    }
    async function remove(row: Row) {
      const label = `Remove ${kindNames[kind]} ${nameOf(row)}`;
      const problem = await commit(label, removalOfAll(plan, kind, [row.id]));
      if (problem !== '') toast.error(problem);
    }
  }, [plan, kind, shownFields, derived, canCopy, commit]);
  const rules = rulesOf(kind);
  const groupRule = group === '' ? undefined : rules[group];
  // The plan's collection of this kind holds its entities.
  const rows = props.rows ?? (plan[kind] as readonly Row[]);
  return (
    <>
      <div className="rule-b flex flex-wrap items-center gap-x-2 gap-y-1 px-4 py-1.5">
        {head}
        <div className="ml-auto flex flex-wrap items-center justify-end gap-x-2 gap-y-1">
          <input
            className="input input-sm w-36"
            placeholder="Filter"
            aria-label={`Filter ${title.toLowerCase()}`}
            value={filter}
            onChange={(event) => set({ filter: event.target.value })}
          />
          <select
            className="select select-sm w-32"
            aria-label="Group rows"
            value={group}
            onChange={(event) => set({ group: event.target.value })}
          >
            <option value="">ungrouped</option>
            {fields
              .filter(({ field }) => groupable.has(rules[field]?.type ?? ''))
              .map(({ field, label }) => (
                <option key={field} value={field}>
                  by {(label ?? rules[field]?.label ?? field).toLowerCase()}
                </option>
              ))}
          </select>
          <ColumnMenu
            columns={fields.map(({ field, label }) => ({
              id: field,
              label: label ?? rulesOf(kind)[field]?.label ?? field,
            }))}
            shown={shownFields.map(({ field }) => field)}
            onShow={(cols) => set({ cols })}
          />
          <ExportMenu kind={kind} title={title} />
          <button type="button" className="btn btn-sm btn-outline" onClick={() => setDialog('import')}>
            <FileUp size={14} aria-hidden /> Import
          </button>
          {actions}
          <button type="button" className="btn btn-sm btn-primary" onClick={() => setDialog('add')}>
            <Plus size={14} aria-hidden /> Add
          </button>
        </div>
      </div>
      <Sheet
        label={title}
        columns={columns}
        rows={rows}
        idOf={(row) => row.id}
        filter={filter}
        selectedId={selectedId}
        onSelect={(row) => onSelect?.(row.id)}
        {...(onOpen === undefined ? {} : { onOpen: (row: Row) => onOpen(row.id) })}
        removal={(gone) =>
          removalOfAll(
            plan,
            kind,
            gone.map(({ id }) => id),
          )
        }
        groupOf={
          groupRule === undefined
            ? undefined
            : (row) => formatField(plan, groupRule, row[group as keyof Row] as FieldValue) || 'none'
        }
        onPasteRows={(text) => {
          setPasted(text);
          setDialog('import');
        }}
        empty={
          filter !== '' ? undefined : (
            <Empty
              action={
                <span className="flex gap-2">
                  <button type="button" className="btn btn-sm btn-outline" onClick={() => setDialog('import')}>
                    Import a list
                  </button>
                  {emptyActions}
                  <button type="button" className="btn btn-sm btn-primary" onClick={() => setDialog('add')}>
                    Add {withArticle(kindNames[kind])}
                  </button>
                </span>
              }
            >
              {empty}
            </Empty>
          )
        }
      />
      {dialog === 'add' && (
        <EntityForm kind={kind} onClose={() => setDialog(undefined)} onAdded={(id) => onSelect?.(id)} />
      )}
      {dialog === 'import' && (
        <ImportDialog
          kind={kind}
          initialText={pasted}
          onClose={() => {
            setPasted('');
            setDialog(undefined);
            if (search.get('dialog') !== null) set({ dialog: '' });
          }}
        />
      )}
    </>
  );
}

/** The columns in sight: those the address names, else all that are not extra. */
function useShownFields<K extends Kind>(fields: readonly SheetField<K>[]): readonly SheetField<K>[] {
  const [search] = useSearchState();
  const chosen = search.get('cols');
  return useMemo(() => {
    const named = chosen?.split(',');
    const shown = fields.filter(({ field, isExtra }) => named?.includes(field) ?? isExtra !== true);
    return shown.length > 0 ? shown : fields;
  }, [fields, chosen]);
}

function actionColumn<R extends object>(
  canCopy: boolean,
  name: (row: R) => string,
  copy: (row: R) => Promise<void>,
  remove: (row: R) => Promise<void>,
): SheetColumn<R> {
  return {
    id: 'actions',
    label: 'Actions',
    isAction: true,
    width: canCopy ? '4.4rem' : '2.6rem',
    value: () => '',
    render: (row) => (
      <span className="flex" onClick={(event) => event.stopPropagation()}>
        {canCopy && (
          <IconButton label={`Copy ${name(row)}`} onClick={() => void copy(row)}>
            <Copy size={13} aria-hidden />
          </IconButton>
        )}
        <IconButton label={`Remove ${name(row)}`} onClick={() => void remove(row)}>
          <Trash2 size={13} aria-hidden />
        </IconButton>
      </span>
    ),
  };
}

/** Every entity of the kind as a file that an import reads back. */
export function ExportMenu({ kind, title }: { readonly kind: Kind; readonly title: string }) {
  const { plan } = usePlan();
  const save = (syntax: 'csv' | 'json' | 'yaml') => {
    const content = new Blob([exportRows(plan, kind, syntax)], { type: 'text/plain' });
    saveFile(content, `${title.toLowerCase().replaceAll(' ', '-')}.${syntax}`);
  };
  return (
    <Menu label="Export" icon={<Download size={14} aria-hidden />}>
      {(['csv', 'json', 'yaml'] as const).map((syntax) => (
        <MenuItem key={syntax} onChoose={() => save(syntax)}>
          {syntax.toUpperCase()}
        </MenuItem>
      ))}
    </Menu>
  );
}
