import { comparePrefixes, contains } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { isHolding, isSharing } from './use.js';
import type { Use } from './use.js';

/** Ranges that overlap, harmlessly where no verdict says otherwise: the outermost of them and all inside it. A changed group is a new object. */
export interface ReuseGroup {
  readonly outermost: Prefix;
  /** How many ranges are in it. */
  readonly count: number;
  /** Overlapping pairs in the group that are neither conflict nor shadowed. */
  readonly pairs: number;
}

function isHolder(use: Use): boolean {
  return use.kind === 'blocks' || use.kind === 'subnets';
}

/** A range and the block or subnet it is in, or two in one subnet: they overlap as they should, and are no reuse. */
export function isHeldPair(one: Use, other: Use): boolean {
  if (isSharing(one, other)) return true;
  return (isHolder(one) && isHolding(one, other)) || (isHolder(other) && isHolding(other, one));
}

/** Makes groups of prefixes that come in order: the depth of what is open is the number of pairs a prefix adds. */
export class GroupBuilder {
  private readonly open: Use[] = [];
  /** Those among the open ones that may hold others: few, where the open ones can be thousands. */
  private readonly holders: Use[] = [];
  /** How many live in each subnet of the prefix that was last added as one. */
  private readonly sharing = new Map<string, number>();
  private shared: Prefix | undefined;
  private root: Prefix | undefined;
  private count = 0;
  private pairs = 0;
  private judged = 0;

  constructor(private readonly done: (group: ReuseGroup) => void) {}

  add(next: Use, verdicts: number): void {
    while (this.open.length > 0 && !contains((this.open.at(-1) as Use).prefix, next.prefix)) {
      if (this.open.pop() === this.holders.at(-1)) this.holders.pop();
    }
    if (this.open.length === 0) {
      this.close();
      this.root = next.prefix;
    }
    this.pairs += this.open.length;
    for (const holder of this.holders) if (isHeldPair(holder, next)) this.pairs--;
    // Of two alike, the one that is held can come first.
    if (isHolder(next)) {
      for (let at = this.open.length - 1; at >= 0; at--) {
        const other = this.open[at] as Use;
        if (other.prefix.length !== next.prefix.length) break;
        if (!isHolder(other) && isHeldPair(next, other)) this.pairs--;
      }
      this.holders.push(next);
    }
    if (next.subnetAt !== undefined) {
      if (this.shared === undefined || comparePrefixes(next.prefix, this.shared) !== 0) this.sharing.clear();
      this.shared = next.prefix;
      const before = this.sharing.get(next.subnetAt) ?? 0;
      this.pairs -= before;
      this.sharing.set(next.subnetAt, before + 1);
    }
    this.open.push(next);
    this.count++;
    this.judged += verdicts;
  }

  close(): void {
    // Each verdict was counted at both its ends.
    if (this.root !== undefined)
      this.done({ outermost: this.root, count: this.count, pairs: this.pairs - this.judged / 2 });
    this.root = undefined;
    this.count = this.pairs = this.judged = 0;
  }
}
