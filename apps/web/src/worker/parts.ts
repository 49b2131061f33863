/** Rows of an answer that are sent at once: few enough that taking them in never holds the page. */
const ROWS_AT_ONCE = 400;
/** Levels of an answer down to which its rows are looked for. */
const LEVELS = 3;

/** An answer whose rows follow in parts. */
export interface Parted {
  readonly isInParts: true;
  /** Where its rows belong, field by field. */
  readonly path: readonly string[];
  /** The answer without them. */
  readonly answer: unknown;
  readonly rows: number;
}

/** Whether an answer comes in parts. */
export function isParted(answer: unknown): answer is Parted {
  return typeof answer === 'object' && answer !== null && (answer as { isInParts?: unknown }).isInParts === true;
}

/** Keeps the rows of long answers until they were fetched part by part. */
export class Parts {
  private readonly kept = new Map<number, readonly unknown[]>();

  /** The answer as it is sent: whole, or without the longest of its lists, whose parts are then asked for. */
  sent(id: number, answer: unknown): unknown {
    const longest = longestList(answer, LEVELS);
    if (longest === undefined || longest.rows.length <= ROWS_AT_ONCE) return answer;
    this.kept.set(id, longest.rows);
    const parted: Parted = {
      isInParts: true,
      path: longest.path,
      answer: withRows(answer, longest.path, []),
      rows: longest.rows.length,
    };
    return parted;
  }

  /** Some rows of an answer, from one on; the last ones let it go. */
  part(id: number, from: number): readonly unknown[] {
    const rows = this.kept.get(id) ?? [];
    if (from + ROWS_AT_ONCE >= rows.length) this.kept.delete(id);
    return rows.slice(from, from + ROWS_AT_ONCE);
  }

  /** Drops an answer that was given up. */
  drop(id: number): void {
    this.kept.delete(id);
  }
}

/** An answer with its rows where they belong. */
export function withRows(answer: unknown, [field, ...path]: readonly string[], rows: readonly unknown[]): unknown {
  if (field === undefined) return rows;
  const fields = answer as Readonly<Record<string, unknown>>;
  return { ...fields, [field]: withRows(fields[field], path, rows) };
}

interface Longest {
  readonly path: readonly string[];
  readonly rows: readonly unknown[];
}

function longestList(answer: unknown, levels: number): Longest | undefined {
  if (Array.isArray(answer)) return { path: [], rows: answer };
  if (levels === 0 || typeof answer !== 'object' || answer === null) return undefined;
  // Maps, sets and dates go through as they are.
  if (Object.getPrototypeOf(answer) !== Object.prototype) return undefined;
  let longest: Longest | undefined;
  for (const [field, value] of Object.entries(answer)) {
    const found = longestList(value, levels - 1);
    if (found !== undefined && found.rows.length > (longest?.rows.length ?? 0))
      longest = { path: [field, ...found.path], rows: found.rows };
  }
  return longest;
}
