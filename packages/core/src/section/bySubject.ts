import { positionOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { Alongside } from './alongside.js';
import type { HasId, Look, Looks } from './looks.js';
import { haveSameIds } from './near.js';
import { isSameList } from './sameList.js';
import { section } from './section.js';
import type { Needed, Needs, Part, PartsOf, Section } from './section.js';

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
  /** What the answer rests on beside that, where only the answer itself tells: whatever it met on its way. */
  readonly met?: (found: readonly T[], parts: PartsOf<R>, needed: Needed<N>) => readonly unknown[];
  /**
   * The subjects whose rests an edit may have changed, told by what the edit touched, so that the others are not even asked
   * for them; undefined when it may be any.
   */
  readonly near?: (
    was: { readonly parts: PartsOf<R>; readonly needed: Needed<N> },
    is: { readonly parts: PartsOf<R>; readonly needed: Needed<N> },
  ) => ReadonlySet<string> | undefined;
}

/** The same that was found, about subjects of which none is told another way. */
function over<T>(last: Looks<T>, subjects: readonly HasId[]): Looks<T> {
  if (last.looks.items === subjects) return last;
  return { looks: new Alongside(subjects, last.looks.values), found: last.found };
}

/** The same subjects: what was found about those that an edit has nothing to do with is not even passed over. */
function withChanged<E extends HasId, T>(
  last: Looks<T>,
  subjects: readonly E[],
  near: ReadonlySet<string>,
  lookAt: (subject: E, known: Look<T> | undefined) => Look<T>,
): Looks<T> {
  const before = last.looks.values;
  const values = [...before];
  let isSame = true;
  let isAsEmpty = true;
  for (const id of near) {
    const at = positionOf(subjects, id);
    const subject = subjects[at];
    if (subject?.id !== id) continue;
    const known = before[at] as Look<T>;
    const look = lookAt(subject, known);
    if (look === known) continue;
    isSame = false;
    if (look.found.length > 0 || known.found.length > 0) isAsEmpty = false;
    values[at] = look;
  }
  if (isSame) return over(last, subjects);
  return {
    looks: new Alongside(subjects, values),
    found: isAsEmpty ? last.found : allFound(values),
  };
}

/** All that was found; a plain loop, since every subject of a plan passes here after an edit. */
function allFound<T>(looks: readonly Look<T>[]): readonly T[] {
  const all: T[] = [];
  for (const { found } of looks) for (const each of found) all.push(each);
  return all;
}

/** A section that looks at one subject at a time. After an edit only those are looked at again of whose rests one is another object. */
export function bySubject<const R extends keyof Plan, const N extends Needs, E extends HasId, T>(
  of: SubjectLook<R, N, E, T>,
): Section<R, N, Looks<T>> {
  /** What is known of a subject while it holds, else what is found now. */
  const lookAt = (subject: E, known: Look<T> | undefined, parts: PartsOf<R>, needed: Needed<N>): Look<T> => {
    const own = of.dependsOn(subject, parts, needed);
    const restsOf = (found: readonly T[]) => (of.met === undefined ? own : [...own, ...of.met(found, parts, needed)]);
    if (known !== undefined && isSameList(known.dependsOn, restsOf(known.found))) return known;
    const found = of.look(subject, parts, needed);
    return { dependsOn: restsOf(found), found };
  };
  const lookAll = (parts: PartsOf<R>, needed: Needed<N>, last?: Looks<T>, near?: ReadonlySet<string>): Looks<T> => {
    const subjects = of.subjects(parts, needed);
    const known = last?.looks;
    if (known !== undefined && near !== undefined && haveSameIds(known.items, subjects))
      return withChanged(last as Looks<T>, subjects, near, (subject, look) => lookAt(subject, look, parts, needed));
    const isFar = (id: string) => near?.has(id) === false;
    const values = subjects.map((subject) => {
      const look = known?.of(subject.id);
      return look !== undefined && isFar(subject.id) ? look : lookAt(subject, look, parts, needed);
    });
    if (known !== undefined && isSameList(known.values, values)) return over(last as Looks<T>, subjects);
    return { looks: new Alongside(subjects, values), found: allFound(values) };
  };
  return section({
    name: of.name,
    reads: of.reads,
    needs: of.needs,
    build: (parts, needed) => lookAll(parts, needed),
    follow: (last, parts, needed) => lookAll(parts, needed, last.value, of.near?.(last, { parts, needed })),
  });
}
