import { formatNumber } from '@wide-lattice/core/working';
import { Check, X } from 'lucide-react';
import type { ConsequenceCell, ConsequenceRow } from '../worker/slices/podNetwork';
import type { ShownFigure } from '../worker/slices/figures';
import { FigureButton } from './FigureButton';

interface ComparedOption {
  readonly id: string;
  readonly title: string;
  /** Beside the title: "now", "best achievable". */
  readonly aside: string;
  readonly excluded: readonly string[];
  readonly score: ShownFigure;
  readonly action: { readonly label: string; readonly isDisabled: boolean; readonly onAct: () => void };
}

interface ComparedTableProps {
  readonly label: string;
  readonly options: readonly ComparedOption[];
  readonly rows: readonly ConsequenceRow[];
}

/** Options side by side: whether they can be, the score, and what each brings. One look for one kind of choice. */
export function ComparedTable({ label, options, rows }: ComparedTableProps) {
  return (
    <table className="w-full table-fixed" aria-label={label}>
      <colgroup>
        <col className="w-40" />
      </colgroup>
      <OptionHeads options={options} />
      <tbody>
        <tr className="rule-b align-top">
          <th scope="row" className="quiet py-1 text-left font-normal">
            Possible
          </th>
          {options.map(({ id, excluded }) => (
            <td key={id} className="py-1 pr-2">
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
          {options.map(({ id, score }) => (
            <td key={id} className="py-1 text-lg font-semibold">
              <FigureButton figure={score}>{score.value}</FigureButton>
            </td>
          ))}
        </tr>
        {rows.map(({ label: about, cells }) => (
          <tr key={about} className="rule-b align-top">
            <th scope="row" className="quiet py-0.5 text-left font-normal">
              {about}
            </th>
            {cells.map((cell, i) => (
              <td key={options[i]?.id ?? i} className="py-0.5 pr-2">
                <Cell cell={cell} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The options by name, each with what takes it. */
function OptionHeads({ options }: { readonly options: readonly ComparedOption[] }) {
  return (
    <thead>
      <tr className="rule-b text-left">
        <th>
          <span className="sr-only">Consequence</span>
        </th>
        {options.map(({ id, title, aside, action }) => (
          <th key={id} className="py-1 pr-2 align-top font-semibold">
            {title} <span className="quiet font-normal">{aside}</span>
            <div className="mt-1">
              <button
                type="button"
                className="btn btn-xs btn-outline"
                disabled={action.isDisabled}
                onClick={action.onAct}
              >
                {action.label}
              </button>
            </div>
          </th>
        ))}
      </tr>
    </thead>
  );
}

function Cell({ cell }: { readonly cell: ConsequenceCell }) {
  if (cell.kind === 'figure')
    return (
      <FigureButton figure={cell.figure}>
        {formatNumber(cell.figure.value)} {cell.figure.unit}
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
