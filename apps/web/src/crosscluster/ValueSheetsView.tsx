import type { ValueSheet } from '@wide-lattice/core/crosscluster';
import { rowsAsCsv } from '@wide-lattice/core/exchange';
import { Copy, Printer } from 'lucide-react';
import { stringify } from 'yaml';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Empty, Part } from '../shared/Halves';
import { copyText } from '../shared/copyText';
import { saveFile } from '../shared/saveFile';
import { useSearchState } from '../shared/useSearchState';

/** Members shown at once; files hold all. */
const MAX_SHOWN = 60;

/** What builders type in at each member: to copy, to print, to save. */
export function ValueSheetsView() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const chosen = plan.connections.find(({ id }) => id === search.get('connection')) ?? plan.connections[0];
  const sheets = useSlice('valueSheets', chosen?.id ?? '');
  const rows = useSlice('valueRows', chosen?.id ?? '');
  if (chosen === undefined)
    return (
      <Empty>No connections yet: each member gets a sheet of everything that is typed in where it is built.</Empty>
    );
  const save = (form: 'csv' | 'json' | 'yaml') => {
    const name = `${chosen.name}-values.${form}`;
    const text =
      form === 'csv'
        ? rowsAsCsv(['connection', 'cluster', 'label', 'value'], rows ?? [])
        : form === 'json'
          ? JSON.stringify(rows, null, 2)
          : stringify(rows);
    saveFile(new Blob([text], { type: form === 'csv' ? 'text/csv' : `application/${form}` }), name);
  };
  const filter = (search.get('clusters') ?? '').toLowerCase();
  const wanted = (sheets ?? []).filter(({ cluster }) => cluster.toLowerCase().includes(filter));
  return (
    <>
      <div className="rule-b screen-only flex items-end gap-2 px-4 py-2">
        <Choice
          label="Connection"
          options={plan.connections.map(({ id, name }) => ({ value: id, label: name }))}
          value={chosen.id}
          onChoose={(connection) => set({ connection })}
        />
        <input
          className="input input-sm w-36"
          placeholder="Filter clusters"
          aria-label="Filter the members"
          value={search.get('clusters') ?? ''}
          onChange={(event) => set({ clusters: event.target.value })}
        />
        <span className="ml-auto flex gap-1">
          {(['csv', 'json', 'yaml'] as const).map((form) => (
            <button key={form} type="button" className="btn btn-sm btn-outline" onClick={() => save(form)}>
              Save {form.toUpperCase()}
            </button>
          ))}
          <button type="button" className="btn btn-sm btn-outline" onClick={() => window.print()}>
            <Printer size={14} aria-hidden /> Print
          </button>
        </span>
      </div>
      {wanted.slice(0, MAX_SHOWN).map((sheet) => (
        <SheetPart key={sheet.cluster} sheet={sheet} />
      ))}
      {wanted.length > MAX_SHOWN && (
        <p className="quiet px-4 py-2">and {wanted.length - MAX_SHOWN} others: filter by name, or save them all</p>
      )}
    </>
  );
}

/** The values of one member. */
function SheetPart({ sheet: { cluster, connection, values } }: { readonly sheet: ValueSheet }) {
  return (
    <Part
      title={`${cluster} in ${connection}`}
      aside={
        <button
          type="button"
          className="btn btn-xs btn-ghost"
          aria-label={`Copy the values of ${cluster}`}
          onClick={() => copyValues(cluster, values)}
        >
          <Copy size={13} aria-hidden /> Copy
        </button>
      }
    >
      <dl className="grid grid-cols-[9rem_minmax(0,1fr)] gap-x-3 gap-y-0.5">
        {values.map(({ label, value }) => (
          <div key={label} className="contents">
            <dt className="quiet">{label}</dt>
            <dd className="break-words">{value}</dd>
          </div>
        ))}
      </dl>
    </Part>
  );
}

function copyValues(cluster: string, values: ValueSheet['values']): void {
  const text = values.map(({ label, value }) => `${label}\t${value}`).join('\n');
  copyText(text, `Copied the values of ${cluster}.`);
}
