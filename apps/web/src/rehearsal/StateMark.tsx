import type { ObjectState } from '@wide-lattice/core/rehearsal';
import { CircleCheck, CircleDashed, Hammer, OctagonX } from 'lucide-react';

const states = {
  ready: { Icon: CircleCheck, colour: 'text-success' },
  underway: { Icon: Hammer, colour: 'text-info' },
  waiting: { Icon: CircleDashed, colour: 'quiet' },
  refused: { Icon: OctagonX, colour: 'text-error font-semibold' },
} as const;

/** The state of an object by shape, colour and word. */
export function StateMark({ state }: { readonly state: ObjectState }) {
  const { Icon, colour } = states[state];
  return (
    <span className={`inline-flex items-center gap-1 ${colour}`}>
      <Icon size={13} aria-hidden />
      {state}
    </span>
  );
}
