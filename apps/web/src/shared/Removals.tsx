import type { Operation } from '@wide-lattice/core/plan';
import type { ReactNode } from 'react';
import { OperationList } from './OperationList';
import { Tick } from './Tick';

interface RemovalsProps {
  readonly of: readonly Operation[];
  readonly isOn: boolean;
  readonly onTick: (isOn: boolean) => void;
  /** What the plan has that a text does not. */
  readonly children: ReactNode;
}

/** What a document that was read leaves out: it stays until its removal is asked for, with each row in sight. */
export function Removals({ of, isOn, onTick, children }: RemovalsProps) {
  if (of.length === 0) return null;
  return (
    <div className="mb-2">
      <Tick isOn={isOn} onTick={onTick}>
        {children} Remove {of.length === 1 ? 'it' : 'them'} too
      </Tick>
      {!isOn && (
        <details className="pl-6">
          <summary className="quiet cursor-pointer">What would be removed</summary>
          <OperationList operations={of} />
        </details>
      )}
    </div>
  );
}
