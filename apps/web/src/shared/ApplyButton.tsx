import { formatNumber } from '@wide-lattice/core/working';
interface ApplyButtonProps {
  readonly rows: number;
  /** Whether what is shown answers what is typed and chosen now: nothing else is applied. */
  readonly isFresh: boolean;
  readonly onApply: () => void;
  readonly className?: string;
}

/** Applies the difference in sight as one change. */
export function ApplyButton({ rows, isFresh, onApply, className = '' }: ApplyButtonProps) {
  return (
    <button
      type="button"
      className={`btn btn-sm btn-primary ${className}`}
      disabled={!isFresh || rows === 0}
      onClick={onApply}
    >
      {isFresh ? `Apply ${formatNumber(rows)} ${rows === 1 ? 'row' : 'rows'}` : 'Computing...'}
    </button>
  );
}
