import type { ReactNode } from 'react';

interface TickProps {
  /** The name of the group that a choice of one belongs to; left out for a tick of its own. */
  readonly group?: string;
  readonly isOn: boolean;
  readonly isDisabled?: boolean;
  readonly onTick: (isOn: boolean) => void;
  readonly className?: string;
  readonly children: ReactNode;
}

/** A choice of one, or a tick of its own, with its words beside it: all of it can be clicked. */
export function Tick({ group, isOn, isDisabled, onTick, className, children }: TickProps) {
  return (
    <label className={`flex items-start gap-2 ${className ?? ''}`}>
      <input
        type={group === undefined ? 'checkbox' : 'radio'}
        name={group}
        className={`mt-1 ${group === undefined ? 'checkbox checkbox-xs' : 'radio radio-xs'}`}
        checked={isOn}
        disabled={isDisabled}
        onChange={(event) => onTick(event.target.checked)}
      />
      <span className="min-w-0 flex-1">{children}</span>
    </label>
  );
}
