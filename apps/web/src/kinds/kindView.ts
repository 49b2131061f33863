import type { EntityOf, Kind } from '@wide-lattice/core/plan';
import type { ReactNode } from 'react';

/** The stops of the work that hold sheets of entities. */
export type SheetStop =
  | 'ground'
  | 'demand'
  | 'ranges'
  | 'pod-network'
  | 'egress'
  | 'ingress'
  | 'dns'
  | 'cross-cluster'
  | 'rehearsal';

/** How one field of a kind is shown in its sheet. */
export interface SheetField<K extends Kind> {
  readonly field: keyof EntityOf[K] & string;
  readonly width: string;
  /** A shorter heading than the field's own label. */
  readonly label?: string;
  /** Shown only when chosen among the columns. */
  readonly isExtra?: boolean;
  readonly isReadOnly?: boolean;
  readonly render?: (row: EntityOf[K]) => ReactNode;
}

/** How the interface shows one kind. */
export interface KindView<K extends Kind> {
  /** The stop whose sheets it is among; findings about it count there. */
  readonly stop: SheetStop;
  /** Short, for a row of sheets. */
  readonly tab: string;
  readonly title: string;
  /** What to do while there is none. */
  readonly empty: string;
  /** Rows to import, as they may be pasted: shown where they are. */
  readonly example: string;
  /** Whether one is often made from another. */
  readonly canCopy?: boolean;
  /** Where quick find goes, below the plan's own address. */
  readonly link: (entity: EntityOf[K]) => string;
  readonly fields: readonly SheetField<K>[];
}

/** Views of some kinds. */
export type ViewsOf<K extends Kind> = { readonly [P in K]: KindView<P> };
