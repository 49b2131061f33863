import { formatDrillFact, formatNoticed, formatPrevention } from '@wide-lattice/core/english';
import { addOperation, newId, USUAL_BYTES, writeOutage } from '@wide-lattice/core/plan';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import {
  drillKey,
  drillsOf,
  noticedBy,
  outageOf,
  scoreCard,
  titleOf,
  titleOfDrill,
} from '@wide-lattice/core/rehearsal';
import type { DrillKind, DrillOutcome, ScoreCard, TestResult } from '@wide-lattice/core/rehearsal';
import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';

/** A drill with what came of it. */
export interface ShownOutcome {
  readonly key: string;
  readonly kind: DrillKind;
  readonly title: string;
  readonly state: DrillOutcome['state'];
  /** 0 to 100. */
  readonly kept: number;
  readonly clusters: readonly string[];
  readonly seconds: number | undefined;
  readonly noticed: string;
  readonly facts: readonly string[];
  readonly lost: readonly { readonly title: string; readonly sentence: string }[];
  readonly lostCount: number;
  /** Adds expectations that hold the plan to what the drill asked; none where it loses nothing that a question can miss. */
  readonly record: readonly Operation[];
}

/** A change that would help, as it was tried. */
export interface ShownPrevention {
  readonly title: string;
  readonly operations: readonly Operation[];
  readonly gain: number;
  readonly cost: number;
  readonly brings: number;
  readonly leaves: number;
}

/** The score card. */
export interface ShownScoreCard {
  readonly score: number;
  readonly scoreAfter: number;
  readonly holds: number;
  readonly untested: number;
  readonly outcomes: readonly ShownOutcome[];
  readonly preventions: readonly ShownPrevention[];
}

/** Most tests that are told of a drill, and most that are recorded. */
const MAX_SHOWN = 12;
const MAX_RECORDED = 10;

const order: readonly DrillOutcome['state'][] = ['breaks', 'interrupted', 'holds'];

/** Slices of the drills of the whole plan: run once for a state of it. */
export const drillSlices = {
  *scoreCard(host: SliceHost): Steps<ShownScoreCard> {
    const card = host.card ?? (host.card = yield* scoreCard(host.evaluation, host.drills));
    return shownCard(host.plan, card);
  },

  /** What can be lost together with other things, by the keys of its drills. */
  losses({ evaluation, plan }: SliceHost): readonly { readonly key: string; readonly label: string }[] {
    return drillsOf(evaluation).flatMap((drill) =>
      outageOf(drill).length === 0 ? [] : [{ key: drillKey(drill), label: titleOfDrill(plan, drill) }],
    );
  },

  /** What comes of losing several things at once; null where nothing works that could fail. */
  *lostAtOnce(host: SliceHost, keys: readonly string[]): Steps<ShownOutcome | null> {
    const parts = drillsOf(host.evaluation)
      .filter((drill) => keys.includes(drillKey(drill)))
      .flatMap(outageOf);
    const outcome = yield* host.drills.run({ kind: 'several lost', parts });
    return outcome === undefined ? null : shownOutcome(host.plan, knownExpectations(host.plan), outcome);
  },
};

function knownExpectations({ expectations }: Plan): ReadonlySet<string> {
  return new Set(expectations.map(({ from, to, during }) => `${from} ${to} ${during}`));
}

function shownCard(
  plan: Plan,
  { outcomes, untested, score, scoreAfter, holds, preventions }: ScoreCard,
): ShownScoreCard {
  const known = knownExpectations(plan);
  return {
    score,
    scoreAfter,
    holds,
    untested,
    outcomes: outcomes
      .toSorted((a, b) => order.indexOf(a.state) - order.indexOf(b.state) || a.kept - b.kept)
      .map((outcome) => shownOutcome(plan, known, outcome)),
    preventions: preventions.map(({ fact, operations, gain, cost, brings, leaves }) => ({
      title: formatPrevention(fact),
      operations,
      gain,
      cost,
      brings,
      leaves,
    })),
  };
}

function shownOutcome(plan: Plan, known: ReadonlySet<string>, outcome: DrillOutcome): ShownOutcome {
  const { drill, key, state, kept, lost, clusters, seconds, facts } = outcome;
  return {
    key,
    kind: drill.kind,
    title: titleOfDrill(plan, drill),
    state,
    kept: 100 * kept,
    clusters,
    seconds,
    noticed: formatNoticed(noticedBy(outcome)),
    facts: facts.map(formatDrillFact),
    lost: lost.slice(0, MAX_SHOWN).map((test) => ({ title: titleOf(test), sentence: test.sentence })),
    lostCount: lost.length,
    record: recordOf(plan, known, outcome),
  };
}

/** What must hold while something is lost, as expectations: what broke first, then what holds; each once. */
function recordOf(plan: Plan, known: ReadonlySet<string>, { drill, lost, held }: DrillOutcome): Operation[] {
  const parts = outageOf(drill);
  if (parts.length === 0) return [];
  const during = writeOutage(plan, parts);
  const isNew = ({ from, to }: TestResult) => !known.has(`${from} ${to} ${during}`);
  return [...lost, ...held]
    .filter(isNew)
    .slice(0, MAX_RECORDED)
    .map(({ from, to, bytes, verdict, answer }, i) =>
      addOperation('expectations', {
        id: newId(),
        name: `${titleOfDrill(plan, drill)}, ${from}`.slice(0, 70).concat(` ${i + 1}`),
        from,
        to,
        verdict,
        bytes: bytes === 0 ? USUAL_BYTES : bytes,
        answer,
        during,
        note: '',
      }),
    );
}
