import type { Family } from '../address/index.js';
import type { Connection, Member } from '../plan/index.js';
import type { Verdict } from '../road/index.js';
import type { Hidden, PairTarget } from './aims.js';
import type { Failing } from './legs.js';

/** What stands in the way between two members: one of its ends, who is meant by the address, a tunnel, or what a walk met. */
export type Obstacle =
  | { readonly at: 'families' | 'near leg' | 'far leg' | 'tunnels' }
  | { readonly at: 'hidden' | 'answers hidden'; readonly hidden: Hidden }
  | { readonly at: 'too narrow'; readonly inner: number }
  | { readonly at: 'packet'; readonly description: string; readonly failing: Failing | undefined };

/** How the pods of one member come to those of another one, and back. */
export interface Pair {
  readonly connection: Connection;
  readonly from: Member;
  readonly to: Member;
  readonly asked: PairTarget;
  readonly verdict: Verdict;
  /** Largest packet that passes whole; 0 where nothing passes. */
  readonly room: number;
  /** Milliseconds of a round trip that light takes at least; undefined where a site has no coordinates. */
  readonly floorMs: number | undefined;
  readonly km: number | undefined;
  /** Of clusters of both families the one that is told of. */
  readonly family: Family;
  /** Why it does not pass; undefined when it does. */
  readonly obstacle: Obstacle | undefined;
  /** Ids of what a walk of a pair of its own rests on. */
  readonly dependsOn: ReadonlySet<string> | undefined;
}

/** Pairs by the id of the member that is asked, and those that ask. */
export type PairSet = ReadonlyMap<string, ReadonlySet<string>>;
