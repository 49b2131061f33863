import type { PlanSettings, PodMode } from '../plan/index.js';
import { figure } from '../working/index.js';
import type { Figure } from '../working/index.js';
import type { Criterion, ModeComparison, Sensitivity } from './comparison.js';

/** Every criterion with the field of the plan's settings that holds its weight. */
export const criteria = [
  { id: 'addresses', field: 'weightAddresses', label: 'Addresses' },
  { id: 'reach', field: 'weightReach', label: 'Reach' },
  { id: 'wire', field: 'weightWire', label: 'Wire' },
  { id: 'routes', field: 'weightRoutes', label: 'Routes' },
  { id: 'effort', field: 'weightEffort', label: 'Effort' },
  { id: 'wishes', field: 'weightWishes', label: 'Wishes' },
] as const satisfies readonly { id: Criterion; field: keyof PlanSettings; label: string }[];

function weightsOf(settings: PlanSettings): Record<Criterion, number> {
  return Object.fromEntries(criteria.map(({ id, field }) => [id, settings[field]])) as Record<Criterion, number>;
}

function mean(scores: Readonly<Record<Criterion, number>>, weights: Readonly<Record<Criterion, number>>): number {
  const total = criteria.reduce((sum, { id }) => sum + weights[id], 0);
  if (total === 0) return 0;
  return (100 * criteria.reduce((sum, { id }) => sum + weights[id] * scores[id], 0)) / total;
}

export function scoreOf(scores: Readonly<Record<Criterion, number>>, settings: PlanSettings, mode: PodMode): Figure {
  const weights = weightsOf(settings);
  const value = Math.round(10 * mean(scores, weights)) / 10;
  return figure(value, 'of 100', () => ({
    title: `Score of ${mode}`,
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
    source: { mark: 'C', text: 'A weighted mean; scores of reach and effort are judgements, the others are computed' },
  }));
}

export function winnerOf(
  compared: readonly ModeComparison[],
  settings: PlanSettings,
  changed: Partial<Record<Criterion, number>> = {},
): PodMode | undefined {
  const weights = { ...weightsOf(settings), ...changed };
  let best: { mode: PodMode; value: number } | undefined;
  for (const { mode, excluded, scores } of compared) {
    const value = mean(scores, weights);
    if (excluded.length === 0 && (best === undefined || value > best.value + 1e-9)) best = { mode, value };
  }
  return best?.mode;
}

export function sensitivity(
  compared: readonly ModeComparison[],
  settings: PlanSettings,
  criterion: Criterion,
  winner: PodMode | undefined,
): Sensitivity {
  const weight = weightsOf(settings)[criterion];
  for (let distance = 1; distance <= 10; distance++) {
    for (const turnsAt of [weight - distance, weight + distance]) {
      if (turnsAt < 0 || turnsAt > 10) continue;
      const other = winnerOf(compared, settings, { [criterion]: turnsAt });
      if (other !== winner) return { criterion, weight, turnsAt, winner: other };
    }
  }
  return { criterion, weight, turnsAt: undefined, winner: undefined };
}
