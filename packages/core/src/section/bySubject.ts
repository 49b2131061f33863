import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { isSameList } from './sameList.js';
import { section } from './section.js';
import type { Needed, Needs, Part, PartsOf, Section } from './section.js';

interface HasId {
  readonly id: string;
}

/** What was found about one subject, and what it rests on, by identity. */
interface Look<T> {
  readonly dependsOn: readonly unknown[];
  readonly found: readonly T[];
}

/** What was found about every subject, in their order. */
export interface Looks<T> {
  readonly subjects: readonly HasId[];
  readonly bySubject: ReadonlyMap<string, Look<T>>;
  readonly found: readonly T[];
}

/** A question that is asked of one subject at a time. */
export interface SubjectLook<R extends Part, N extends Needs, E extends HasId, T> {
  readonly name: string;
  readonly reads: readonly R[];
  readonly needs: N;
  /** In the order of ids. */
  readonly subjects: (parts: PartsOf<R>, needed: Needed<N>) => readonly E[];
  /** Everything that the answer for one subject follows from: as long as each of these is the same object, the answer is. */
  readonly dependsOn: (subject: E, parts: PartsOf<R>, needed: Needed<N>) => readonly unknown[];
  readonly look: (subject: E, parts: PartsOf<R>, needed: Needed<N>) => readonly T[];
  /**
   * The subjects whose rests an edit may have changed, told by what the edit touched, so that the others are not even asked
   * for them; undefined when it may be any.
   */
  readonly near?: (
    was: { readonly parts: PartsOf<R>; readonly needed: Needed<N> },
    is: { readonly parts: PartsOf<R>; readonly needed: Needed<N> },
  ) => ReadonlySet<string> | undefined;
}

function areOfSameIds(was: readonly HasId[], is: readonly HasId[]): boolean {
  return was === is || (was.length === is.length && is.every(({ id }, at) => id === was[at]?.id));
}

/** A section that looks at one subject at a time. After an edit only those are looked at again of whose rests one is another object. */
export function bySubject<const R extends keyof Plan, const N extends Needs, E extends HasId, T>(
  of: SubjectLook<R, N, E, T>,
): Section<R, N, Looks<T>> {
  /** What is known of a subject while it holds, else what is found now. */
  const lookAt = (subject: E, known: Look<T> | undefined, parts: PartsOf<R>, needed: Needed<N>): Look<T> => {
    const dependsOn = of.dependsOn(subject, parts, needed);
    return known !== undefined && isSameList(known.dependsOn, dependsOn)
      ? known
      : { dependsOn, found: of.look(subject, parts, needed) };
  };
  const lookAll = (parts: PartsOf<R>, needed: Needed<N>, last?: Looks<T>, near?: ReadonlySet<string>): Looks<T> => {
    const subjects = of.subjects(parts, needed);
    const isFar = (id: string) => near?.has(id) === false;
    // The same subjects: what was found about those that an edit has nothing to do with is not even passed over.
    const isStanding = near !== undefined && last !== undefined && areOfSameIds(last.subjects, subjects);
    const asked = isStanding ? [...near].flatMap((id) => byId(subjects, id) ?? []) : subjects;
    let isSame = last !== undefined && last.bySubject.size === subjects.length;
    const made: [string, Look<T>][] = [];
    for (const subject of asked) {
      const known = last?.bySubject.get(subject.id);
      const look = known !== undefined && isFar(subject.id) ? known : lookAt(subject, known, parts, needed);
      if (look !== known) isSame = false;
      if (look !== known || !isStanding) made.push([subject.id, look]);
    }
    if (last !== undefined && isSame) return last.subjects === subjects ? last : { ...last, subjects };
    const bySubject = new Map(isStanding ? [...last.bySubject, ...made] : made);
    return { subjects, bySubject, found: [...bySubject.values()].flatMap(({ found }) => found) };
  };
  return section({
    name: of.name,
    reads: of.reads,
    needs: of.needs,
    build: (parts, needed) => lookAll(parts, needed),
    follow: (last, parts, needed) => lookAll(parts, needed, last.value, of.near?.(last, { parts, needed })),
  });
}
