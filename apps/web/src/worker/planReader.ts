import { kinds, SharedValues } from '@wide-lattice/core/plan';
import type { Kind, Plan } from '@wide-lattice/core/plan';

/** A plan as the server sent it. */
export interface SentPlan {
  readonly revision: number;
  readonly plan: Plan;
}

const ofKind: ReadonlyMap<string, Kind> = new Map(kinds.map((kind) => [kind, kind]));

/**
 * Reads the text of a plan while it comes: the server breaks it into lines of some rows each, which are parsed one by one, so
 * that a large plan never holds the page. Text that is not broken so is parsed at the end, whole.
 */
export class PlanReader {
  private rest = '';
  private head: { readonly revision: number; readonly plan: Pick<Plan, 'settings'> } | undefined;
  /** The kind whose rows are being read. */
  private current: { readonly kind: Kind; readonly rows: unknown[] } | undefined;
  private readonly collections: Partial<Record<Kind, unknown[]>> = {};
  private readonly shared = new SharedValues();
  private isWhole = false;

  /** Takes the next part of the text. */
  push(part: string): void {
    const lines = (this.rest + part).split('\n');
    this.rest = lines.pop() ?? '';
    for (const line of lines) this.line(line);
  }

  /** The plan once all of the text came. Throws a SyntaxError where it was cut off. */
  end(): SentPlan {
    if (this.head === undefined) return JSON.parse(this.rest) as SentPlan;
    this.line(this.rest);
    if (!this.isWhole) throw new SyntaxError('The plan was cut off on its way.');
    // The server gives every kind, and its rows as they are stored.
    return { revision: this.head.revision, plan: { ...this.head.plan, ...this.collections } as Plan };
  }

  private line(line: string): void {
    if (this.head === undefined) this.head = JSON.parse(`${line}}}`) as PlanReader['head'];
    else if (line === '}}') this.isWhole = true;
    else if (line === ']') this.current = undefined;
    else if (this.current === undefined) this.begin(line);
    else {
      const { kind, rows } = this.current;
      for (const row of JSON.parse(`[${line.startsWith(',') ? line.slice(1) : line}]`) as Record<string, unknown>[]) {
        this.shared.share(kind, row);
        rows.push(row);
      }
    }
  }

  /** A line such as `,"clusters":[`. */
  private begin(line: string): void {
    const kind = ofKind.get(line.slice(2, -3));
    if (kind === undefined) throw new SyntaxError(`"${line.slice(0, 40)}" is not a kind of row in a plan.`);
    const rows: unknown[] = [];
    this.current = { kind, rows };
    this.collections[kind] = rows;
  }
}
