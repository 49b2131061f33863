import type { Severity } from '@wide-lattice/core/findings';
import type { Purpose } from '@wide-lattice/core/plan';
import type { VerdictState } from '@wide-lattice/core/verdicts';
import { CircleDot, OctagonX, TriangleAlert } from 'lucide-react';

const severities = {
  error: { Icon: OctagonX, colour: 'text-error', word: 'error' },
  warning: { Icon: TriangleAlert, colour: 'text-warning', word: 'warning' },
  note: { Icon: CircleDot, colour: 'text-info', word: 'note' },
} as const;

/** A severity by shape, colour and word. */
export function SeverityMark({ severity, count }: { readonly severity: Severity; readonly count?: number }) {
  const { Icon, colour, word } = severities[severity];
  const words = count === undefined ? word : `${count} ${word}${count === 1 ? '' : 's'}`;
  return (
    <span className={`inline-flex items-center gap-1 ${colour}`} title={words}>
      <Icon size={14} aria-hidden />
      {count === undefined ? <span>{word}</span> : <span>{count}</span>}
      {count === undefined ? null : <span className="sr-only">{words}</span>}
    </span>
  );
}

const letters: Readonly<Record<Purpose | 'elsewhere', string>> = {
  node: 'N',
  pod: 'P',
  service: 'S',
  entry: 'E',
  elsewhere: 'U',
};

/** A purpose by letter and colour. */
export function PurposeTag({ purpose }: { readonly purpose: Purpose | 'elsewhere' }) {
  return (
    <span
      className="inline-flex h-4 w-4 shrink-0 items-center justify-center rounded-sm text-[11px] font-bold"
      style={{ background: `var(--purpose-${purpose})`, color: 'var(--purpose-text)' }}
      title={purpose === 'elsewhere' ? 'in use elsewhere' : `${purpose} range`}
    >
      {letters[purpose]}
    </span>
  );
}

/** A verdict by shape and word. */
export function VerdictMark({ verdict }: { readonly verdict: VerdictState }) {
  if (verdict === 'clear') return <span className="quiet">clear</span>;
  const isPlanned = verdict === 'planned conflict' || verdict === 'planned shadow';
  const Icon = isPlanned ? TriangleAlert : OctagonX;
  return (
    <span
      className={`inline-flex items-center gap-1 font-semibold ${isPlanned ? 'text-warning' : 'text-error'}`}
      title={isPlanned ? 'once the planned link is made' : undefined}
    >
      <Icon size={13} aria-hidden />
      {isPlanned ? 'when joined' : verdict}
    </span>
  );
}
