import { rangeColumnsOf } from '@wide-lattice/core/exchange';
import { shownRules } from '@wide-lattice/core/plan';
import type { ImportPreview } from '@wide-lattice/core/exchange';
import { More } from './More';
import { TableHead } from './TableHead';

const SHOWN = 200;

interface ImportColumnsProps {
  readonly preview: ImportPreview;
  readonly chosen: Readonly<Record<string, string>>;
  readonly onChoose: (fields: Readonly<Record<string, string>>) => void;
}

/** What each column is read as, shown when a heading is no field of its own. */
export function ImportColumns({ preview, chosen, onChoose }: ImportColumnsProps) {
  const isAsked = preview.columns.some(({ heading, field }) => field === undefined || Object.hasOwn(chosen, heading));
  if (!isAsked) return null;
  const options = [
    ...shownRules(preview.kind).map(([name, { label }]) => [name, label] as const),
    ...rangeColumnsOf(preview.kind),
  ];
  return (
    <fieldset className="border-base-300 mb-3 border px-3 py-2">
      <legend className="px-1 font-medium">What the columns are</legend>
      <div className="grid grid-cols-4 gap-x-3 gap-y-1.5">
        {preview.columns.map(({ heading, field }) => (
          <label key={heading} className="min-w-0">
            <span className={`block truncate ${field === undefined ? 'text-error font-semibold' : ''}`}>{heading}</span>
            <select
              className="select select-xs w-full"
              value={field ?? 'unknown'}
              onChange={(event) => onChoose({ ...chosen, [heading]: event.target.value })}
            >
              {field === undefined && <option value="unknown">choose</option>}
              <option value="">leave it out</option>
              {options.map(([name, label]) => (
                <option key={name} value={name}>
                  {label}
                </option>
              ))}
            </select>
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/** The rows that cannot be taken, each with line, field, problem and fix. */
export function ImportProblems({ problems }: Pick<ImportPreview, 'problems'>) {
  if (problems.length === 0) return null;
  return (
    <>
      <table className="w-full" aria-label="Rows that cannot be imported">
        <TableHead labels={['Line', 'Field', 'Problem and fix']} />
        <tbody>
          {problems.slice(0, SHOWN).map((problem, i) => (
            <tr key={i} className="rule-b align-top">
              <td className="py-1 font-mono">{problem.line}</td>
              <td className="py-1">{problem.field}</td>
              <td className="py-1">
                {problem.message} <span className="quiet">{problem.fix}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <More all={problems.length} shown={SHOWN} />
    </>
  );
}

/** New rows that bring more than themselves, as it was understood. */
export function ImportedAlong({ rows }: Pick<ImportPreview, 'rows'>) {
  const bringing = rows.filter(({ along }) => along.length > 0);
  if (bringing.length === 0) return null;
  return (
    <>
      <table className="mt-2 w-full" aria-label="What comes along with rows">
        <TableHead labels={['Line', 'Row', 'Comes along']} />
        <tbody>
          {bringing.slice(0, SHOWN).map(({ line, label, along }) => (
            <tr key={line} className="rule-b align-top">
              <td className="py-1 pr-3 font-mono">{line}</td>
              <td className="py-1 pr-3">{label}</td>
              <td className="py-1">{along.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <More all={bringing.length} shown={SHOWN} />
    </>
  );
}

/** The rows that change what the plan has, field by field. */
export function ImportedChanges({ rows }: Pick<ImportPreview, 'rows'>) {
  const changed = rows.filter(({ changes }) => changes.length > 0);
  if (changed.length === 0) return null;
  return (
    <>
      <table className="mt-2 w-full" aria-label="Rows that change what is there">
        <TableHead labels={['Line', 'Changes', 'From', 'To']} />
        <tbody>
          {changed.slice(0, SHOWN).flatMap(({ line, label, changes }) =>
            changes.map((change) => (
              <tr key={`${line} ${change.field}`} className="rule-b align-top">
                <td className="py-1 font-mono">{line}</td>
                <td className="py-1">
                  {label}: {change.field}
                </td>
                <td className="quiet">{change.before === '' ? 'empty' : change.before}</td>
                <td>{change.after}</td>
              </tr>
            )),
          )}
        </tbody>
      </table>
      <More all={changed.length} shown={SHOWN} />
    </>
  );
}
