import { MAX_IMPORT_ROWS } from '@wide-lattice/core/exchange';
import { kindNames, removalOfAll, rulesOf } from '@wide-lattice/core/plan';
import type { ImportPreview } from '@wide-lattice/core/exchange';
import type { Kind } from '@wide-lattice/core/plan';
import { FileUp } from 'lucide-react';
import { useEffect, useId, useState } from 'react';
import { kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { core } from '../worker/coreClient';
import { DialogFoot } from './DialogFoot';
import { Modal } from './Modal';

const MAX_FILE_BYTES = 10_000_000;
const SHOWN = 200;

interface ImportDialogProps {
  readonly kind: Kind;
  readonly initialText?: string;
  readonly onClose: () => void;
}

/**
 * Imports rows pasted or from a file as a difference to the plan: what is new, what changes, what is alike, what the text
 * does not name. Bad rows are listed with line, field and mend; good rows can be taken without them.
 */
export function ImportDialog({ kind, initialText = '', onClose }: ImportDialogProps) {
  const [text, setText] = useState(initialText);
  const [fields, setFields] = useState<Readonly<Record<string, string>>>({});
  const [preview, setPreview] = useState<ImportPreview>();
  const [isRemoving, setRemoving] = useState(false);
  const [refused, setRefused] = useState('');
  const [isBusy, setBusy] = useState(false);
  const { plan } = usePlan();
  const commit = useCommit();
  const areaId = useId();
  useEffect(() => {
    let isCurrent = true;
    const later = setTimeout(() => {
      if (text.trim() === '') setPreview(undefined);
      else void core.ask('importRows', kind, text, { fields }).then((found) => isCurrent && setPreview(found));
    }, 150);
    return () => {
      isCurrent = false;
      clearTimeout(later);
    };
  }, [kind, text, fields]);
  const readFile = async (file: File | undefined) => {
    if (file === undefined) return;
    setRefused('');
    if (file.size > MAX_FILE_BYTES) {
      setRefused(`${file.name} has ${Math.ceil(file.size / 1_000_000)} MB; an import takes 10 MB. Split it.`);
      return;
    }
    try {
      setText(new TextDecoder('utf-8', { fatal: true }).decode(await file.arrayBuffer()));
    } catch {
      setRefused(`${file.name} is not UTF-8 text. Save it as UTF-8 and choose it again.`);
    }
  };
  const count = (what: ImportPreview['rows'][number]['what']) =>
    preview?.rows.filter((row) => row.what === what).length ?? 0;
  const taken = count('added') + count('changed');
  const absent = isRemoving ? (preview?.absent ?? []) : [];
  const take = async () => {
    if (preview === undefined) return;
    setBusy(true);
    const removals = removalOfAll(plan, kind, absent.map(({ id }) => id)); // prettier-ignore
    const problem = await commit(`Import ${taken + absent.length} × ${kindNames[kind]}`, [
      ...preview.operations,
      ...removals,
    ]);
    setBusy(false);
    if (problem === '') onClose();
    else setRefused(problem);
  };
  return (
    <Modal
      title={`Import: ${kindNames[kind]}`}
      description={`Columns: ${Object.values(rulesOf(kind))
        .map((rule) => rule.label)
        .join(', ')}`}
      onClose={onClose}
      isWide
    >
      <div className="mb-2 flex items-end justify-between gap-4">
        <label htmlFor={areaId} className="font-medium">
          Paste CSV, JSON or YAML, with column names first
        </label>
        <label className="btn btn-sm btn-outline">
          <FileUp size={14} aria-hidden /> Choose a file
          <input
            type="file"
            className="sr-only"
            accept=".csv,.tsv,.txt,.json,.yaml,.yml"
            onChange={(event) => void readFile(event.target.files?.[0])}
          />
        </label>
      </div>
      <textarea
        id={areaId}
        className={`textarea w-full shrink-0 font-mono text-xs ${preview === undefined ? 'h-40' : 'h-24'}`}
        spellCheck={false}
        value={text}
        onChange={(event) => setText(event.target.value)}
        placeholder={kindViews[kind].example}
      />
      <p className="quiet mt-1">
        At most {MAX_IMPORT_ROWS.toLocaleString('en-US')} rows and 10 MB. References go by name; empty cells take the
        usual value, or leave what the plan has.
      </p>
      {preview !== undefined && (
        <div className="mt-3 min-h-0">
          <Mapping preview={preview} chosen={fields} onChoose={setFields} />
          <p aria-live="polite" className="mb-2">
            Of {preview.rowsRead.toLocaleString('en-US')} rows <strong>{count('added')}</strong> are new,{' '}
            <strong>{count('changed')}</strong> change what is there, {count('unchanged')} are as in the plan
            <BadLines preview={preview} />. Read as {preview.syntax.toUpperCase()}.
          </p>
          <Problems preview={preview} />
          <Changes preview={preview} />
          {preview.absent.length > 0 && preview.rowsRead > 0 && (
            <label className="mt-2 flex items-start gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-xs mt-1"
                checked={isRemoving}
                onChange={(event) => setRemoving(event.target.checked)}
              />
              <span>
                {preview.absent.length.toLocaleString('en-US')} in the plan are not named here and stay. Remove them
                too:{' '}
                <span className="quiet">
                  {preview.absent
                    .slice(0, 4)
                    .map(({ label }) => label)
                    .join(', ')}
                  {preview.absent.length > 4 && ' and others'}
                </span>
              </span>
            </label>
          )}
        </div>
      )}
      <DialogFoot refused={refused} onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={isBusy || taken + absent.length === 0}
          onClick={() => void take()}
        >
          {isBusy
            ? 'Storing...'
            : `Import ${taken} valid ${taken === 1 ? 'row' : 'rows'}${absent.length > 0 ? `, remove ${absent.length}` : ''}`}
        </button>
      </DialogFoot>
    </Modal>
  );
}

function BadLines({ preview }: { readonly preview: ImportPreview }) {
  const lines = new Set(preview.problems.map(({ line }) => line)).size;
  if (lines === 0) return null;
  return (
    <span className="text-error">
      , {lines} {lines === 1 ? 'line cannot' : 'lines cannot'} be taken
    </span>
  );
}

interface MappingProps {
  readonly preview: ImportPreview;
  readonly chosen: Readonly<Record<string, string>>;
  readonly onChoose: (fields: Readonly<Record<string, string>>) => void;
}

/** What each column is read as, shown when a heading is no field of its own. */
function Mapping({ preview, chosen, onChoose }: MappingProps) {
  const isAsked = preview.columns.some(({ heading, field }) => field === undefined || Object.hasOwn(chosen, heading));
  if (!isAsked) return null;
  const rules = Object.entries(rulesOf(preview.kind));
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
              {rules.map(([name, { label }]) => (
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

function Problems({ preview }: { readonly preview: ImportPreview }) {
  const { problems } = preview;
  if (problems.length === 0) return null;
  return (
    <>
      <table className="w-full" aria-label="Rows that cannot be taken">
        <thead>
          <tr className="quiet rule-b text-left">
            <th className="w-16 py-1 font-medium">Line</th>
            <th className="w-40 font-medium">Field</th>
            <th className="font-medium">Problem and fix</th>
          </tr>
        </thead>
        <tbody>
          {problems.slice(0, SHOWN).map((problem, i) => (
            <tr key={i} className="rule-b align-top">
              <td className="py-1 font-mono">{problem.line}</td>
              <td>{problem.field}</td>
              <td>
                {problem.message} <span className="quiet">{problem.mend}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {problems.length > SHOWN && <p className="quiet mt-1">and {problems.length - SHOWN} more.</p>}
    </>
  );
}

function Changes({ preview }: { readonly preview: ImportPreview }) {
  const changed = preview.rows.filter(({ what }) => what === 'changed');
  if (changed.length === 0) return null;
  return (
    <>
      <table className="mt-2 w-full" aria-label="Rows that change what is there">
        <thead>
          <tr className="quiet rule-b text-left">
            <th className="w-16 py-1 font-medium">Line</th>
            <th className="font-medium">Changes</th>
            <th className="font-medium">From</th>
            <th className="font-medium">To</th>
          </tr>
        </thead>
        <tbody>
          {changed.slice(0, SHOWN).flatMap(({ line, label, changes }) =>
            changes.map((change) => (
              <tr key={`${line} ${change.field}`} className="rule-b align-top">
                <td className="py-1 font-mono">{line}</td>
                <td>
                  {label}: {change.field}
                </td>
                <td className="quiet">{change.before === '' ? 'empty' : change.before}</td>
                <td>{change.after}</td>
              </tr>
            )),
          )}
        </tbody>
      </table>
      {changed.length > SHOWN && <p className="quiet mt-1">and {changed.length - SHOWN} more.</p>}
    </>
  );
}
