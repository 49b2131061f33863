/** What a user can get wrong, as data: what is wrong, where, and the mend. */
export interface Problem {
  /** Stable name of the mistake, for tests and translations. */
  readonly code: string;
  /** What is wrong, in the user's terms, with the offending value. */
  readonly message: string;
  /** What to do about it; empty when the message already says so. */
  readonly fix: string;
}

/** A value, or the problem that kept it from being one. */
export type Result<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problem: Problem };

/** Wraps a good value. */
export function good<T>(value: T): Result<T> {
  return { ok: true, value };
}

/** Wraps a problem. */
export function bad(code: string, message: string, fix = ''): { readonly ok: false; readonly problem: Problem } {
  return { ok: false, problem: { code, message, fix } };
}

/** The sentence and its mend, as shown to a person. */
export function formatProblem(problem: Problem): string {
  return problem.fix === '' ? problem.message : `${problem.message} ${problem.fix}`;
}

/** Takes the value known to be good; throws when it is not, since then the caller is wrong. */
export function expectGood<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new Error(formatProblem(result.problem));
}
