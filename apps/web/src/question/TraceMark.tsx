import type { ExpectationState } from '@wide-lattice/core/findings';
import { Ban, CheckCheck, CircleHelp, Unplug } from 'lucide-react';
import type { Verdict } from '@wide-lattice/core/road';

const marks = {
  pass: { Icon: CheckCheck, colour: 'text-success', word: 'passes' },
  refused: { Icon: Ban, colour: 'text-warning', word: 'refused' },
  broken: { Icon: Unplug, colour: 'text-error', word: 'broken' },
  unknown: { Icon: CircleHelp, colour: 'text-info', word: 'unknown' },
} as const;

/** A verdict by shape, colour and word; the word can be another one. */
export function TraceMark({ verdict, word }: { readonly verdict: Verdict; readonly word?: string }) {
  const { Icon, colour, word: usual } = marks[verdict];
  return (
    <span className={`inline-flex items-center gap-1 whitespace-nowrap ${colour}`}>
      <Icon size="1.05em" aria-hidden className="shrink-0" />
      {word ?? usual}
      {word !== undefined && <span className="sr-only"> {usual}</span>}
    </span>
  );
}

/** Whether an expectation is kept. */
export function StateMark({ state }: { readonly state: ExpectationState['state'] | undefined }) {
  if (state === undefined) return null;
  if (state === 'kept') return <TraceMark verdict="pass" word="kept" />;
  return <TraceMark verdict={state === 'broken' ? 'broken' : 'unknown'} word={state} />;
}
