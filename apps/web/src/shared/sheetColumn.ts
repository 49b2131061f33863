import type { ReactNode } from 'react';
import type { CellEdit } from './CellEditor';

/** One column of a sheet. */
export interface SheetColumn<R> {
  readonly id: string;
  readonly label: string;
  /** CSS grid track, such as "8rem" or "minmax(8rem, 1fr)". */
  readonly width: string;
  /** What sorting and filtering go by. */
  readonly value: (row: R) => string | number;
  readonly render?: (row: R) => ReactNode;
  readonly align?: 'right';
  readonly isMono?: boolean;
  /** Holds a button instead of a value: no sorting, and its heading is for screen readers only. */
  readonly isAction?: boolean;
  /** How the cell is edited in place; undefined when it cannot be. */
  readonly edit?: (row: R) => CellEdit | undefined;
}
