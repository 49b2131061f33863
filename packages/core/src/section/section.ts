import type { Plan } from '../plan/index.js';

/** A collection of the plan, or its settings. */
export type Part = keyof Plan;

/** The parts of a plan that a section declares. */
export type PartsOf<R extends Part> = Pick<Plan, R>;

/** Any section that gives this, whatever it reads and needs. */
// oxlint-disable-next-line typescript/no-explicit-any -- a section is both a source and a sink of its types
export type SectionGiving<T> = Section<any, any, T>;

/** Any section, whatever it reads, needs and gives. */
// oxlint-disable-next-line typescript/no-explicit-any -- the same of what it gives
export type AnySection = SectionGiving<any>;

/** Sections by the names that another one knows them by. */
export type Needs = Readonly<Record<string, AnySection>>;

/** What a section gives. */
export type ValueOf<S> = S extends Section<infer _R, infer _N, infer T> ? T : never;

/** What the needed sections give, by those names. */
export type Needed<N extends Needs> = { readonly [K in keyof N]: ValueOf<N[K]> };

/** A section as it was built: from what, and what it came to. */
export interface Built<R extends Part, N extends Needs, T> {
  readonly parts: PartsOf<R>;
  readonly needed: Needed<N>;
  readonly value: T;
}

/**
 * A part of the evaluation. It declares what it reads of the plan and which sections it needs, and is handed exactly
 * those, so that reading anything else does not compile. It holds as long as all of them are identical.
 */
export interface Section<R extends Part, N extends Needs, T> {
  readonly name: string;
  readonly reads: readonly R[];
  readonly needs: N;
  /** From nothing. Pure: the same input gives the same value, which never changes afterwards. */
  readonly build: (parts: PartsOf<R>, needed: Needed<N>) => T;
  /**
   * From the last value, where an edit must not build everything anew; undefined when it has to. What it gives must be
   * what `build` would, and the last value stays as it was.
   */
  readonly follow?: (last: Built<R, N, T>, parts: PartsOf<R>, needed: Needed<N>) => T | undefined;
}

/** Declares a section; the types of what it reads and needs are taken from the declaration. */
export function section<const R extends Part, const N extends Needs, T>(of: Section<R, N, T>): Section<R, N, T> {
  return of;
}
