import { comparePrefixes, contains, containsAddress, LongestMatch } from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';

/** Up to this many rows a scan from the longest prefix on is as quick as an index, and takes no memory of its own. */
const FEW = 48;

/** Finds the rows whose prefix holds an address: the longest first, and of equal prefixes the one given first (RFC 4632 5.1). */
export class RowLookup {
  private readonly ofFamily: Partial<Record<Family, FamilyLookup>> = {};

  /** Places of the rows in the order of their prefixes; made when first asked for. */
  private order: readonly number[] | undefined;

  constructor(private readonly prefixes: readonly Prefix[]) {}

  /** The row that wins for an address; -1 when none holds it. */
  best(address: Address): number {
    return this.of(address.family).best(address);
  }

  /** Every row that holds an address, the winner first. */
  all(address: Address): number[] {
    return this.of(address.family).all(address);
  }

  /** Made when an address of the family is first asked for: many lists hold one family, or are never asked. */
  private of(family: Family): FamilyLookup {
    return (this.ofFamily[family] ??= lookupOf(this.prefixes, family));
  }

  /** Every row whose prefix lies in another one, in no order. */
  inside(prefix: Prefix): number[] {
    const { prefixes } = this;
    const order = (this.order ??= prefixes
      .map((_, row) => row)
      .sort((a, b) => comparePrefixes(prefixes[a] as Prefix, prefixes[b] as Prefix)));
    let [low, high] = [0, order.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (comparePrefixes(prefixes[order[middle] as number] as Prefix, prefix) < 0) low = middle + 1;
      else high = middle;
    }
    const found: number[] = [];
    for (let row = order[low]; row !== undefined && contains(prefix, prefixes[row] as Prefix); row = order[++low])
      found.push(row);
    return found;
  }
}

interface FamilyLookup {
  best(address: Address): number;
  all(address: Address): number[];
}

function lookupOf(prefixes: readonly Prefix[], family: Family): FamilyLookup {
  const rows = prefixes.flatMap((prefix, row) => (prefix.family === family ? [row] : []));
  return rows.length <= FEW ? new Scan(prefixes, rows) : new Index(family, prefixes, rows);
}

class Scan implements FamilyLookup {
  private readonly rows: readonly number[];

  constructor(
    private readonly prefixes: readonly Prefix[],
    rows: readonly number[],
  ) {
    this.rows = [...rows].sort((a, b) => this.lengthOf(b) - this.lengthOf(a) || a - b);
  }

  best(address: Address): number {
    return this.rows.find((row) => containsAddress(this.prefixes[row] as Prefix, address)) ?? -1;
  }

  all(address: Address): number[] {
    return this.rows.filter((row) => containsAddress(this.prefixes[row] as Prefix, address));
  }

  private lengthOf(row: number): number {
    return (this.prefixes[row] as Prefix).length;
  }
}

class Index implements FamilyLookup {
  private readonly match: LongestMatch;
  private readonly rows: readonly number[];

  constructor(family: Family, prefixes: readonly Prefix[], rows: readonly number[]) {
    // Of equal prefixes the last given wins there.
    this.rows = [...rows].reverse();
    this.match = new LongestMatch(
      family,
      this.rows.map((row) => prefixes[row] as Prefix),
    );
  }

  best(address: Address): number {
    const found = this.match.find(address);
    return found < 0 ? -1 : (this.rows[found] as number);
  }

  all(address: Address): number[] {
    const found: number[] = [];
    for (let row = this.match.find(address); row >= 0; row = this.match.outerRow[row] as number)
      found.push(this.rows[row] as number);
    return found;
  }
}
