import type { ReactNode } from 'react';

/** The foot of a dialog: why it was refused, if it was; the way out; the action. */
export function DialogFoot({
  refused,
  onLeave,
  children,
}: {
  readonly refused: string;
  readonly onLeave: () => void;
  readonly children: ReactNode;
}) {
  return (
    <div className="bg-base-100 sticky -bottom-3 z-10 mt-3 -mb-3 flex items-center justify-end gap-2 pt-2 pb-3">
      {refused !== '' && (
        <p role="alert" className="text-error mr-auto">
          {refused}
        </p>
      )}
      <button type="button" className="btn btn-sm btn-ghost" onClick={onLeave}>
        Cancel
      </button>
      {children}
    </div>
  );
}
