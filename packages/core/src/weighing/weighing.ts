import { figure } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** What is weighed: its name, and the scores and weights that go by its id. */
export interface Weighed<C extends string> {
  readonly id: C;
  readonly label: string;
}

/** One of several that are compared: excluded where it cannot be, with scores from 0 (worst) to 1 (best). */
export interface Option<C extends string> {
  readonly excluded: readonly string[];
  readonly scores: Readonly<Record<C, number>>;
}

/** One consequence of an option: a computed figure, or a fact in words. */
export type Consequence =
  | { readonly label: string; readonly figure: Figure }
  | { readonly label: string; readonly words: string; readonly isGood: boolean };

/** What would change the winner: a weight, and the value from which another option wins. */
export interface Sensitivity<C extends string, O> {
  readonly criterion: C;
  readonly weight: number;
  /** The nearest weight of 0 to 10 with another winner; undefined when there is none. */
  readonly turnsAt: number | undefined;
  readonly winner: O | undefined;
}

type Weights<C extends string> = Readonly<Record<C, number>>;

/** The weighted mean of scores, 0 to 100; 0 where nothing weighs. */
function mean<C extends string>(criteria: readonly Weighed<C>[], scores: Weights<C>, weights: Weights<C>): number {
  const total = criteria.reduce((sum, { id }) => sum + weights[id], 0);
  if (total === 0) return 0;
  return (100 * criteria.reduce((sum, { id }) => sum + weights[id] * scores[id], 0)) / total;
}

/** The score of an option with its parts, 0 to 100 to one digit; `judged` says which of them are judgements. */
export function scoreOf<C extends string>(
  criteria: readonly Weighed<C>[],
  scores: Weights<C>,
  weights: Weights<C>,
  name: string,
  judged: string,
): Figure {
  const value = Math.round(10 * mean(criteria, scores, weights)) / 10;
  return figure(value, 'of 100', () => ({
    title: `Score of ${name}`,
    formula: 'sum of weight × score ÷ sum of weights, × 100',
    inputs: criteria.map(({ id, label }) => ({
      name: `${label}, weight ${weights[id]}`,
      value: scores[id].toFixed(2),
    })),
    steps: criteria.map(
      ({ id, label }) =>
        `${label}: ${weights[id]} × ${scores[id].toFixed(2)} = ${(weights[id] * scores[id]).toFixed(2)}`,
    ),
    result: `${value} of 100`,
    source: { mark: 'C', text: `A weighted mean; ${judged}` },
  }));
}

/** The best option that can be; of equally good ones the first. Undefined when none can. */
export function winnerOf<C extends string, O extends Option<C>>(
  criteria: readonly Weighed<C>[],
  options: readonly O[],
  weights: Weights<C>,
): O | undefined {
  let best: { option: O; value: number } | undefined;
  for (const option of options) {
    const value = mean(criteria, option.scores, weights);
    if (option.excluded.length === 0 && (best === undefined || value > best.value + 1e-9)) best = { option, value };
  }
  return best?.option;
}

/** The nearest weight of a criterion, 0 to 10, at which another option wins. */
export function sensitivityOf<C extends string, O extends Option<C>>(
  criteria: readonly Weighed<C>[],
  options: readonly O[],
  weights: Weights<C>,
  criterion: C,
): Sensitivity<C, O> {
  const winner = winnerOf(criteria, options, weights);
  const weight = weights[criterion];
  for (let distance = 1; distance <= 10; distance++) {
    for (const turnsAt of [weight - distance, weight + distance]) {
      if (turnsAt < 0 || turnsAt > 10) continue;
      const other = winnerOf(criteria, options, { ...weights, [criterion]: turnsAt });
      if (other !== winner) return { criterion, weight, turnsAt, winner: other };
    }
  }
  return { criterion, weight, turnsAt: undefined, winner: undefined };
}
