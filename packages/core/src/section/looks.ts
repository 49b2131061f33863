import type { Alongside } from './alongside.js';

/** What can be a subject. */
export interface HasId {
  readonly id: string;
}

/** What was found about one subject, and what it rests on, by identity. */
export interface Look<T> {
  readonly dependsOn: readonly unknown[];
  readonly found: readonly T[];
}

/** What was found about every subject, in their order. */
export interface Looks<T> {
  readonly looks: Alongside<HasId, Look<T>>;
  readonly found: readonly T[];
}
