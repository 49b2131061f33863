import type { Family } from '../address/index.js';
import type { Operation, Purpose } from '../plan/index.js';

/** One range of a proposal: where it was and where it would be. */
export interface ProposedRange {
  readonly clusterId: string;
  readonly clusterName: string;
  readonly purpose: Purpose;
  readonly zone: string;
  readonly family: Family;
  /** The prefix it has now; empty when it has none. */
  readonly before: string;
  readonly after: string;
  /** The pool, address block or subnet it comes from. */
  readonly poolName: string;
  /** Clusters that live in the same subnet already, by name. */
  readonly sharedWith: readonly string[];
}

/** A range that found no place, and why. */
export interface Refusal {
  readonly clusterId: string;
  readonly clusterName: string;
  readonly purpose: Purpose;
  readonly zone: string;
  /** What was wanted. */
  readonly length: number;
  readonly reason: string;
  readonly fix: string;
}

/** How many prefixes a site advertises for a purpose, before a proposal and after it. */
export interface RouteChange {
  readonly siteName: string;
  readonly purpose: Purpose;
  readonly before: number;
  readonly after: number;
}

/** A change that has not been made: shown as a difference first, applied whole. */
export interface Proposal {
  readonly ranges: readonly ProposedRange[];
  readonly refusals: readonly Refusal[];
  readonly operations: readonly Operation[];
  /** Prefixes advertised for each site and purpose that the proposal touches, before and after. */
  readonly routes: readonly RouteChange[];
}
