import { formatAddress } from '../address/index.js';
import type { Member } from '../plan/index.js';
import type { PairTarget } from './aims.js';
import type { Pair } from './pair.js';

type Row = Map<string, Pair>;
type Kind = 'pods' | 'service' | 'address';

/** Ways between members by who asks, whom, and for what. Rows of a state before are shared until one of them is written to. */
export class PairBook {
  private readonly rows: Readonly<Record<Kind, Map<string, Row>>>;
  private readonly own = new Set<Row>();

  constructor(before?: PairBook) {
    this.rows = {
      pods: new Map(before?.rows.pods),
      service: new Map(before?.rows.service),
      address: new Map(before?.rows.address),
    };
    // From now on neither writes to what both have.
    before?.own.clear();
  }

  /** The way from one member to something of another one, if it was asked for. */
  get(from: Member, to: Member, asked: PairTarget): Pair | undefined {
    return this.rows[kindOf(asked)].get(from.id)?.get(keyOf(to, asked));
  }

  /** Keeps a way. */
  set(pair: Pair): void {
    const rows = this.rows[kindOf(pair.asked)];
    const last = rows.get(pair.from.id);
    let row = last;
    if (row === undefined || !this.own.has(row)) {
      row = new Map(last);
      this.own.add(row);
      rows.set(pair.from.id, row);
    }
    row.set(keyOf(pair.to, pair.asked), pair);
  }

  /** Forgets all ways to and from members. */
  drop(ids: ReadonlySet<string>): void {
    for (const rows of Object.values(this.rows)) for (const id of ids) rows.delete(id);
  }

  /** Every way that was asked for. */
  *[Symbol.iterator](): Generator<Pair> {
    for (const rows of Object.values(this.rows)) for (const row of rows.values()) yield* row.values();
  }

  /** Those from or to one of some members. */
  *of(ids: ReadonlySet<string>): Generator<Pair> {
    for (const rows of Object.values(this.rows))
      for (const [from, row] of rows) {
        if (ids.has(from)) yield* row.values();
        else if (rows === this.rows.address) {
          for (const pair of row.values()) if (ids.has(pair.to.id)) yield pair;
        } else
          for (const id of ids) {
            const pair = row.get(id);
            if (pair !== undefined) yield pair;
          }
      }
  }
}

function kindOf(asked: PairTarget): Kind {
  return typeof asked === 'string' ? asked : 'address';
}

function keyOf(to: Member, asked: PairTarget): string {
  return typeof asked === 'string' ? to.id : `${to.id} ${formatAddress(asked)}`;
}
