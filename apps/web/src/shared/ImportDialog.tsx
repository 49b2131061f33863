import { kindNames, MAX_IMPORT_ROWS, rulesOf } from '@wide-lattice/core';
import type { ImportPreview, importableKinds } from '@wide-lattice/core';
import { FileUp } from 'lucide-react';
import { useEffect, useId, useState } from 'react';
import { useCommit } from '../plan/useCommit';
import { core } from '../worker/coreClient';
import { DialogFoot } from './DialogFoot';
import { Modal } from './Modal';

/** Kinds that rows can be imported for. */
export type ImportKind = (typeof importableKinds)[number];

const MAX_FILE_BYTES = 10_000_000;
const SHOWN_PROBLEMS = 200;

/** Imports rows pasted or from a file: bad rows are listed with line, field and mend, good rows can be taken without them. */
export function ImportDialog({
  kind,
  initialText = '',
  onClose,
}: {
  readonly kind: ImportKind;
  readonly initialText?: string;
  readonly onClose: () => void;
}) {
  const [text, setText] = useState(initialText);
  const [preview, setPreview] = useState<ImportPreview>();
  const [refused, setRefused] = useState('');
  const [isBusy, setBusy] = useState(false);
  const commit = useCommit();
  const areaId = useId();
  useEffect(() => {
    let isCurrent = true;
    const later = setTimeout(() => {
      if (text.trim() === '') setPreview(undefined);
      else void core.importRows(kind, text).then((found) => isCurrent && setPreview(found));
    }, 150);
    return () => {
      isCurrent = false;
      clearTimeout(later);
    };
  }, [kind, text]);
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
  const take = async () => {
    if (preview === undefined) return;
    setBusy(true);
    const problem = await commit(`Import ${preview.good.length} × ${kindNames[kind]}`, preview.operations);
    setBusy(false);
    if (problem === '') onClose();
    else setRefused(problem);
  };
  const badLines = new Set(preview?.problems.map(({ line }) => line) ?? []).size;
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
        className="textarea h-40 w-full shrink-0 font-mono text-xs"
        spellCheck={false}
        value={text}
        onChange={(event) => setText(event.target.value)}
        placeholder={placeholders[kind]}
      />
      <p className="quiet mt-1">
        At most {MAX_IMPORT_ROWS.toLocaleString('en-US')} rows. References go by name; empty cells take the usual value.
      </p>
      {preview !== undefined && (
        <div className="mt-3 min-h-0">
          <p aria-live="polite" className="mb-2">
            <strong>{preview.good.length}</strong> of {preview.rowsRead} rows are good
            {badLines > 0 && (
              <span className="text-error">
                , {badLines} {badLines === 1 ? 'line is' : 'lines are'} not
              </span>
            )}
            . Read as {preview.syntax.toUpperCase()}.
          </p>
          {preview.problems.length > 0 && (
            <table className="w-full" aria-label="Rows that cannot be taken">
              <thead>
                <tr className="quiet rule-b text-left">
                  <th className="w-16 py-1 font-medium">Line</th>
                  <th className="w-40 font-medium">Field</th>
                  <th className="font-medium">What is wrong, and the mend</th>
                </tr>
              </thead>
              <tbody>
                {preview.problems.slice(0, SHOWN_PROBLEMS).map((problem, i) => (
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
          )}
          {preview.problems.length > SHOWN_PROBLEMS && (
            <p className="quiet mt-1">and {preview.problems.length - SHOWN_PROBLEMS} more.</p>
          )}
        </div>
      )}
      <DialogFoot refused={refused} leave="Cancel" onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={isBusy || preview === undefined || preview.good.length === 0}
          onClick={() => void take()}
        >
          {isBusy ? 'Storing...' : `Take ${preview?.good.length ?? 0} good rows`}
        </button>
      </DialogFoot>
    </Modal>
  );
}

const placeholders: Record<ImportKind, string> = {
  pools: 'name,prefix,for,site,shared\nNorth space,10.64.0.0/12,node;pod,,no',
  inUse: 'prefix,owner,network,note\n10.200.0.0/16,Ticket hall,piers,',
  clusters:
    'name,site,network,pod network,nodes now,nodes at horizon,pods a node,services\nkiosk-new,Wyre pier,piers,overlay,3,6,30,40',
  networks: 'name,note\ndepot,Bus depots',
  sites: 'name,kind,profile,zones\nNorth pier,edge,Pier site,pier',
};
