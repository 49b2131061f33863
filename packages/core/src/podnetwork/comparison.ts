import type { ClusterFamily, PodMode } from '../plan/index.js';
import type { Consequence, Sensitivity } from '../weighing/index.js';
import type { Figure } from '../working/index.js';

/** What is weighed when pod networks are compared. */
export type Criterion = 'addresses' | 'reach' | 'wire' | 'routes' | 'effort' | 'wishes';

/** One mode for one cluster of one plan. */
export interface ModeComparison {
  readonly mode: PodMode;
  readonly consequences: readonly Consequence[];
  /** Why it cannot be; empty when it can. */
  readonly excluded: readonly string[];
  /** Each criterion from 0 (worst) to 1 (best). */
  readonly scores: Readonly<Record<Criterion, number>>;
  /** The weighted mean of the scores, 0 to 100. */
  readonly score: Figure;
}

/** The three modes in one address family. */
export interface FamilyComparison {
  readonly family: ClusterFamily;
  readonly modes: readonly ModeComparison[];
  /** The best that can be; undefined when none can. */
  readonly winner: PodMode | undefined;
}

/** Modes side by side in each address family, the winner in the cluster's own, and how sure it is. */
export interface PodNetworkComparison {
  readonly families: readonly FamilyComparison[];
  /** The modes in the cluster's own family. */
  readonly modes: readonly ModeComparison[];
  readonly winner: PodMode | undefined;
  readonly sensitivities: readonly Sensitivity<Criterion, ModeComparison>[];
}
