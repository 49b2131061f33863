import {
  ArrowLeft,
  ArrowRight,
  Ban,
  Check,
  CornerDownRight,
  Link2,
  MapPin,
  PackageMinus,
  PackagePlus,
  Play,
  Repeat2,
  Shuffle,
  Tag,
  Unplug,
} from 'lucide-react';
import type { ShownStep } from '../worker/slices/question';

const shapes = {
  sent: { Icon: Play, colour: '' },
  routed: { Icon: CornerDownRight, colour: '' },
  allowed: { Icon: Check, colour: 'text-success' },
  refused: { Icon: Ban, colour: 'text-warning' },
  translated: { Icon: Repeat2, colour: 'text-primary' },
  wrapped: { Icon: PackagePlus, colour: 'text-primary' },
  unwrapped: { Icon: PackageMinus, colour: 'text-primary' },
  crossed: { Icon: Link2, colour: '' },
  chosen: { Icon: Shuffle, colour: 'text-primary' },
  resolved: { Icon: Tag, colour: 'text-primary' },
  delivered: { Icon: MapPin, colour: 'text-success' },
  dropped: { Icon: Unplug, colour: 'text-error' },
} as const;

interface KnotProps {
  readonly step: ShownStep;
  readonly index: number;
  readonly isBack: boolean;
  readonly isChosen: boolean;
  readonly onChoose: (index: number) => void;
}

/** One knot on a thread: shape and word say what happened there. */
export function Knot({ step, index, isBack, isChosen, onChoose }: KnotProps) {
  const { Icon, colour } = shapes[step.event];
  const Arrow = isBack ? ArrowLeft : ArrowRight;
  return (
    <button
      type="button"
      data-step={index}
      tabIndex={isChosen ? 0 : -1}
      aria-pressed={isChosen}
      aria-label={`${isBack ? 'back' : 'there'}: ${step.event}`}
      title={step.description}
      className={`bg-base-100 inline-flex items-center gap-0.5 border px-1 text-[11px] leading-5 ${isChosen ? 'border-primary font-semibold' : 'border-base-300'} ${colour}`}
      onClick={() => onChoose(index)}
      onFocus={() => onChoose(index)}
    >
      <Icon size={12} aria-hidden />
      <span>{step.event}</span>
      {(step.event === 'sent' || step.event === 'crossed') && <Arrow size={10} aria-hidden />}
    </button>
  );
}
