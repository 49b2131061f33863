import { setOperation } from '@wide-lattice/core';
import type { PodMode } from '@wide-lattice/core';
import { Check, X } from 'lucide-react';
import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { FigureButton } from '../shared/FigureButton';
import { Part } from '../shared/Halves';
import type { ConsequenceCell, PodNetworkSheet } from '../worker/slices/podNetwork';

const titles: Readonly<Record<PodMode, string>> = { overlay: 'Overlay', routed: 'Routed', native: 'Native' };

/** The three modes side by side for one cluster: whether they can be, what each brings, and the score. */
export function ModeTable({ sheet }: { readonly sheet: PodNetworkSheet }) {
  const commit = useCommit();
  const { clusterId, clusterName, present, isBuilt, winner, modes, rows } = sheet;
  const use = async (podMode: PodMode) => {
    const problem = await commit(`${clusterName}: pods by ${podMode}`, [
      setOperation('clusters', clusterId, { podMode }),
    ]);
    if (problem !== '') toast.error(problem);
  };
  return (
    <Part title={clusterName}>
      {isBuilt && (
        <p className="quiet mb-2">
          Built: the pod network is locked. Another one is a rebuild; take the mark off in the sheet to plan it.
        </p>
      )}
      <table className="w-full table-fixed" aria-label={`Pod networks for ${clusterName}`}>
        <colgroup>
          <col className="w-36" />
        </colgroup>
        <thead>
          <tr className="rule-b text-left">
            <th>
              <span className="sr-only">Consequence</span>
            </th>
            {modes.map(({ mode, excluded }) => (
              <th key={mode} className="py-1 pr-2 align-top font-semibold">
                {titles[mode]}{' '}
                <span className="quiet font-normal">
                  {[mode === present ? 'now' : '', mode === winner ? 'best that can be' : '']
                    .filter(Boolean)
                    .join(', ')}
                </span>
                <div className="mt-1">
                  <button
                    type="button"
                    className="btn btn-xs btn-outline"
                    disabled={mode === present || isBuilt || excluded.length > 0}
                    onClick={() => void use(mode)}
                  >
                    Use {mode}
                  </button>
                </div>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="rule-b align-top">
            <th scope="row" className="quiet py-1 text-left font-normal">
              Possible
            </th>
            {modes.map(({ mode, excluded }) => (
              <td key={mode} className="py-1 pr-2">
                {excluded.length === 0 ? (
                  'yes'
                ) : (
                  <ul>
                    {excluded.map((reason) => (
                      <li key={reason} className="text-error">
                        {reason}
                      </li>
                    ))}
                  </ul>
                )}
              </td>
            ))}
          </tr>
          <tr className="rule-b align-top">
            <th scope="row" className="py-1 text-left font-semibold">
              Score
            </th>
            {modes.map(({ mode, score }) => (
              <td key={mode} className="py-1 text-lg font-semibold">
                <FigureButton figure={score}>{score.value}</FigureButton>
              </td>
            ))}
          </tr>
          {rows.map(({ label, cells }) => (
            <tr key={label} className="rule-b align-top">
              <th scope="row" className="quiet py-0.5 text-left font-normal">
                {label}
              </th>
              {cells.map((cell, i) => (
                <td key={modes[i]?.mode ?? i} className="py-0.5 pr-2">
                  <Cell cell={cell} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  );
}

function Cell({ cell }: { readonly cell: ConsequenceCell }) {
  if (cell.kind === 'figure')
    return (
      <FigureButton figure={cell.figure}>
        {cell.figure.value.toLocaleString('en-US')} {cell.figure.unit}
      </FigureButton>
    );
  const Icon = cell.isGood ? Check : X;
  return (
    <span className="flex items-start gap-1">
      <Icon
        size={13}
        className={`mt-1 shrink-0 ${cell.isGood ? 'text-success' : 'text-warning'}`}
        aria-label={cell.isGood ? 'welcome' : 'unwelcome'}
      />
      {cell.words}
    </span>
  );
}
