import { LIMITS } from './limits.js';

/** One line of what stand-ins were asked. */
export interface LogLine {
  /** Counts from 1, without gaps. */
  readonly number: number;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly from: string;
  readonly asked: string;
  readonly answer: string;
  /** Why it is answered so, in a sentence of the question bar. */
  readonly why: string;
}

/** The last lines of what was asked, in a ring. */
export class Log {
  private readonly lines: LogLine[] = [];
  private count = 0;

  note(from: string, asked: string, answer: string, why: string): void {
    const line = { number: ++this.count, at: Date.now(), from, asked, answer, why };
    this.lines[(this.count - 1) % LIMITS.logLines] = line;
  }

  /** The lines that are kept, the latest first. */
  latest(most: number): LogLine[] {
    return this.lines.toSorted((a, b) => b.number - a.number).slice(0, most);
  }

  /** How many there were. */
  get total(): number {
    return this.count;
  }
}
