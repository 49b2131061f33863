import type { RehearsalObject } from './graph.js';
import type { BringUp } from './outcome.js';

/** One object that two runs have otherwise. */
export interface RunDifference {
  readonly object: RehearsalObject;
  readonly what: 'only in the first' | 'only in the second' | 'comes to be' | 'never comes to be' | 'earlier' | 'later';
  /** Seconds at which it is as planned; infinite where it never is, or is not in that run. */
  readonly first: number;
  readonly second: number;
}

/** What a second run of a plan has otherwise than the first, object by object: the greatest difference in time first. */
export function compareRuns(first: BringUp, second: BringUp): RunDifference[] {
  const others = new Map(second.objects.map((object) => [object.key, object]));
  const found: RunDifference[] = [];
  for (const object of first.objects) {
    const other = others.get(object.key);
    others.delete(object.key);
    const [before, after] = [first.readyAt(object), other === undefined ? Infinity : second.readyAt(other)];
    const what = other === undefined ? 'only in the first' : differs(before, after);
    if (what !== undefined) found.push({ object, what, first: before, second: after });
  }
  for (const object of others.values())
    found.push({ object, what: 'only in the second', first: Infinity, second: second.readyAt(object) });
  const size = ({ first: before, second: after }: RunDifference) => Math.abs(before - after);
  return found.sort((a, b) => (size(a) === size(b) ? 0 : size(b) - size(a)));
}

function differs(before: number, after: number): RunDifference['what'] | undefined {
  if (before === after) return undefined;
  if (!Number.isFinite(after)) return 'never comes to be';
  if (!Number.isFinite(before)) return 'comes to be';
  return after < before ? 'earlier' : 'later';
}
