import { formatCount, formatNumber } from '@wide-lattice/core/working';
import { MAX_IMPORT_ROWS, rangeColumnsOf } from '@wide-lattice/core/exchange';
import { fallbacks, kindRules, shownRules } from '@wide-lattice/core/plan';
import type { ImportPreview } from '@wide-lattice/core/exchange';
import type { Kind } from '@wide-lattice/core/plan';
import { FileUp } from 'lucide-react';
import { useEffect, useId, useMemo, useState } from 'react';
import { kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { core } from '../worker/coreClient';
import { DialogFoot } from './DialogFoot';
import { countsOf, importChange, textOfFile } from './importDraft';
import { ImportColumns, ImportedAlong, ImportedChanges, ImportProblems } from './ImportTables';
import { MissingReferences } from './MissingReferences';
import { Modal } from './Modal';
import { formatFailure } from './formatFailure';
import { Tick } from './Tick';

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
  const [read, setRead] = useState<{ readonly request: object; readonly preview: ImportPreview }>();
  const [isRemoving, setRemoving] = useState(false);
  const [refused, setRefused] = useState('');
  const [isBusy, setBusy] = useState(false);
  const [sheet, setSheet] = useState('');
  const { plan, revision } = usePlan();
  // Where there is no site yet, a site that is not there is no slip of the pen.
  const [isMaking, setMaking] = useState(plan.sites.length === 0);
  const [profileOf, setProfiles] = useState<Readonly<Record<string, string>>>({});
  const commit = useCommit();
  const areaId = useId();
  // A plan that went on meanwhile is compared with anew.
  const request = useMemo(
    () => ({ kind, text, options: { fields, ...(isMaking ? { make: { profileOf } } : {}) }, revision }),
    [kind, text, fields, isMaking, profileOf, revision],
  );
  useEffect(() => {
    let isLatest = true;
    const later = setTimeout(() => {
      if (request.text.trim() === '') setRead(undefined);
      else
        core.ask('importRows', request.kind, request.text, request.options).then(
          (preview) => isLatest && setRead({ request, preview }),
          (error: unknown) => isLatest && setRefused(`The text could not be read. ${formatFailure(error)}`),
        );
    }, 150);
    return () => {
      isLatest = false;
      clearTimeout(later);
    };
  }, [request]);
  const preview = read?.preview;
  // What is imported is what the text says now, not what it said before.
  const isCurrent = read?.request === request;
  const readFile = async (file: File | undefined) => {
    if (file === undefined) return;
    setRefused('');
    const opened = await textOfFile(file);
    if ('refused' in opened) {
      setRefused(opened.refused);
      return;
    }
    setText(opened.text);
    setSheet(opened.sheet ?? '');
  };
  const columns = [
    ...shownRules(kind).map(([, { label }]) => label),
    ...rangeColumnsOf(kind).map(([, label]) => label),
  ];
  const counts = preview && countsOf(preview);
  const change = preview && importChange(plan, preview, isRemoving);
  const take = async () => {
    if (change === undefined) return;
    setBusy(true);
    const problem = await commit(change.label, change.operations);
    setBusy(false);
    if (problem === '') onClose();
    else setRefused(problem);
  };
  return (
    <Modal
      title={`Import ${kindViews[kind].title.toLowerCase()}`}
      description={neededColumns(kind)}
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
            accept=".csv,.tsv,.txt,.json,.yaml,.yml,.xlsx,.xlsm"
            onChange={(event) => void readFile(event.target.files?.[0])}
          />
        </label>
      </div>
      <textarea
        id={areaId}
        className={`textarea w-full shrink-0 font-mono text-xs ${preview === undefined ? 'h-40' : 'h-24'}`}
        spellCheck={false}
        autoFocus
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setSheet('');
        }}
        placeholder={kindViews[kind].example}
      />
      <details className="quiet mt-1">
        <summary className="cursor-pointer">All {columns.length} columns</summary>
        {columns.join(', ')}
      </details>
      <p className="quiet mt-1">
        At most {formatNumber(MAX_IMPORT_ROWS)} rows and 10 MB. References go by name; empty cells take the usual value,
        or leave what the plan has.
      </p>
      {preview !== undefined && counts !== undefined && (
        <div className="mt-3 min-h-0">
          <ImportColumns preview={preview} chosen={fields} onChoose={setFields} />
          <p aria-live="polite" className="mb-2">
            {formatCount(preview.rowsRead, 'row')}: <strong>{counts.added}</strong> new,{' '}
            <strong>{counts.changed}</strong> changed, {counts.unchanged} as in the plan
            {counts.badLines > 0 && (
              <span className="text-error">
                , {counts.badLines} {counts.badLines === 1 ? 'line cannot' : 'lines cannot'} be imported
              </span>
            )}
            . Read as {preview.syntax.toUpperCase()}
            {sheet !== '' && `, from the sheet ${sheet} of the workbook`}.
          </p>
          <MissingReferences
            missing={preview.missing}
            isMaking={isMaking}
            onMake={setMaking}
            profiles={plan.profiles}
            profileOf={profileOf}
            onProfile={(site, id) => setProfiles({ ...profileOf, [site.toLowerCase()]: id })}
          />
          <ImportProblems problems={preview.problems} />
          <ImportedAlong rows={preview.rows} />
          <ImportedChanges rows={preview.rows} />
          {preview.absent.length > 0 && preview.rowsRead > 0 && preview.problems.length === 0 && (
            <Tick isOn={isRemoving} onTick={setRemoving} className="mt-2">
              {formatNumber(preview.absent.length)} in the plan are not named here and stay. Remove them too:{' '}
              <span className="quiet">
                {preview.absent
                  .slice(0, 4)
                  .map(({ label }) => label)
                  .join(', ')}
                {preview.absent.length > 4 && ' and others'}
              </span>
            </Tick>
          )}
        </div>
      )}
      <DialogFoot refused={refused} onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={isBusy || !isCurrent || change === undefined}
          onClick={() => void take()}
        >
          {isBusy ? 'Saving...' : (change?.button ?? 'Import 0 valid rows')}
        </button>
      </DialogFoot>
    </Modal>
  );
}

/** The columns that a new row cannot do without. */
function neededColumns(kind: Kind): string {
  const given = { ...fallbacks(kind), ...kindRules(kind).follows };
  const needed = shownRules(kind).filter(([field]) => !Object.hasOwn(given, field));
  return `Needed columns: ${needed.map(([, { label }]) => label).join(', ')}. All others are optional.`;
}
