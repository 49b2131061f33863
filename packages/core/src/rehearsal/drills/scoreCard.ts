import type { Noticed, PreventionFact } from '../../english/index.js';
import { evaluate } from '../../evaluation/index.js';
import type { Evaluation } from '../../evaluation/index.js';
import { costDifference } from '../../money/index.js';
import { applyOperations } from '../../plan/index.js';
import type { Operation } from '../../plan/index.js';
import type { Steps } from '../../working/index.js';
import { candidatesFor } from './candidates.js';
import type { Candidate } from './candidates.js';
import { DrillRunner } from './drillRunner.js';
import { drillsOf } from './planDrills.js';
import type { DrillOutcome } from './planDrills.js';

/** A change that was tried: what it gains in the drills that asked for it, what it costs, and what it leaves open. */
export interface Prevention {
  readonly fact: PreventionFact;
  readonly operations: readonly Operation[];
  readonly keys: readonly string[];
  /** Points of the score card. */
  readonly gain: number;
  /** Per month, in the currency of the plan. */
  readonly cost: number;
  /** Errors among the findings that it brings. */
  readonly brings: number;
  /** Drills that asked for it and break all the same. */
  readonly leaves: number;
}

/** All drills of a plan, and what would make it better. */
export interface ScoreCard {
  readonly outcomes: readonly DrillOutcome[];
  /** Drills for which the plan has nothing that could be put to the test. */
  readonly untested: number;
  /** The mean share that goes on over all drills, 0 to 100. */
  readonly score: number;
  readonly holds: number;
  /** Changes that were tried and gain something: those that bring no error first, then the cheapest. */
  readonly preventions: readonly Prevention[];
  /** The score with the cheapest three of them together. */
  readonly scoreAfter: number;
}

/** Changes that are tried, at most; and how many count as the cheapest. */
const MAX_TRIED = 16;
const CHEAPEST = 3;

const scoreOf = (outcomes: readonly DrillOutcome[]) =>
  outcomes.length === 0 ? 100 : (100 * outcomes.reduce((sum, { kept }) => sum + kept, 0)) / outcomes.length;

/** Runs every drill, and tries what may prevent what they broke. A runner of the same evaluation may have asked already what passes. */
export function* scoreCard(
  evaluation: Evaluation,
  runner: DrillRunner = new DrillRunner(evaluation),
): Steps<ScoreCard> {
  const drills = drillsOf(evaluation);
  const outcomes: DrillOutcome[] = [];
  let untested = 0;
  for (const [done, drill] of drills.entries()) {
    yield { what: 'the drills', done, of: drills.length };
    const outcome = yield* runner.run(drill);
    if (outcome === undefined) untested++;
    else outcomes.push(outcome);
  }
  const preventions: Prevention[] = [];
  // What most drills ask for is tried first.
  const candidates = candidatesFor(evaluation, outcomes)
    .sort((a, b) => lossOf(outcomes, b) - lossOf(outcomes, a))
    .slice(0, MAX_TRIED);
  for (const [done, candidate] of candidates.entries()) {
    yield { what: 'what would prevent it', done, of: candidates.length };
    const tried = yield* triedOn(evaluation, outcomes, candidate);
    if (tried !== undefined) preventions.push(tried);
  }
  // What breaks something else comes last, however cheap it is.
  preventions.sort((a, b) => a.brings - b.brings || a.cost - b.cost || b.gain - a.gain);
  const chosen = preventions.slice(0, CHEAPEST);
  const after = yield* rerun(
    evaluation,
    outcomes,
    chosen.flatMap(({ operations }) => operations),
    new Set(chosen.flatMap(({ keys }) => keys)),
  );
  return {
    outcomes,
    untested,
    score: scoreOf(outcomes),
    holds: outcomes.filter(({ state }) => state === 'holds').length,
    preventions,
    scoreAfter: scoreOf(after?.outcomes ?? outcomes),
  };
}

function lossOf(outcomes: readonly DrillOutcome[], { keys }: Candidate): number {
  return outcomes.reduce((sum, { key, kept }) => sum + (keys.includes(key) ? 1 - kept : 0), 0);
}

/** A candidate as the drills that asked for it tell it; undefined where it cannot be applied or gains nothing. */
function* triedOn(
  evaluation: Evaluation,
  outcomes: readonly DrillOutcome[],
  { fact, operations, keys }: Candidate,
): Steps<Prevention | undefined> {
  const after = yield* rerun(evaluation, outcomes, operations, new Set(keys));
  if (after === undefined) return undefined;
  const gain = scoreOf(after.outcomes) - scoreOf(outcomes);
  if (gain <= 0) return undefined;
  const { before, after: then } = costDifference(evaluation.plan, after.evaluation.plan, 'now');
  const known = new Set(evaluation.findings().map(({ key }) => key));
  const brought = after.evaluation.findings().filter(({ key, severity }) => severity === 'error' && !known.has(key));
  return {
    fact,
    operations,
    keys,
    gain,
    cost: then - before,
    brings: brought.length,
    leaves: after.outcomes.filter(({ key, state }) => keys.includes(key) && state === 'breaks').length,
  };
}

/** Some drills again with a change; the others as they were. */
function* rerun(
  evaluation: Evaluation,
  outcomes: readonly DrillOutcome[],
  operations: readonly Operation[],
  keys: ReadonlySet<string>,
): Steps<{ readonly outcomes: readonly DrillOutcome[]; readonly evaluation: Evaluation } | undefined> {
  const applied = applyOperations(evaluation.plan, operations);
  if (!applied.ok) return undefined;
  const changed = evaluate(applied.plan, evaluation);
  const runner = new DrillRunner(changed);
  const after: DrillOutcome[] = [];
  for (const outcome of outcomes) {
    const again = keys.has(outcome.key) ? yield* runner.run(outcome.drill) : outcome;
    // A change that leaves nothing to test does not count as one that helps.
    after.push(again ?? outcome);
  }
  return { outcomes: after, evaluation: changed };
}

/** Who would notice first what a drill broke. */
export function noticedBy({ state, lost, drill }: DrillOutcome): Noticed {
  if (state === 'holds') return 'none';
  if (drill.kind === 'load balancer replaced' || drill.kind === 'certificate expired') return 'clients';
  if (drill.kind === 'gateway lost') return 'other clusters';
  if (lost.some(({ suite }) => suite === 'entry by name')) return 'clients';
  if (lost.length === 0) return 'operators';
  return lost.every(({ suite }) => suite === 'between clusters' || suite === 'exported services')
    ? 'other clusters'
    : 'workloads';
}
