import type { ReactNode } from 'react';

interface IconButtonProps {
  /** What it does, for who cannot see the icon. */
  readonly label: string;
  /** The same for who rests on it, where fewer words do. */
  readonly title?: string;
  readonly onClick: () => void;
  readonly children: ReactNode;
}

/** A small button that shows an icon alone. */
export function IconButton({ label, title = label, onClick, children }: IconButtonProps) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square"
      aria-label={label}
      title={title}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
