import type { PlanSettings } from '../plan/index.js';
import type { Criterion } from './comparison.js';

/** Every criterion with the field of the plan's settings that holds its weight. */
export const criteria = [
  { id: 'addresses', field: 'weightAddresses', label: 'Addresses' },
  { id: 'reach', field: 'weightReach', label: 'Reach' },
  { id: 'wire', field: 'weightWire', label: 'Wire' },
  { id: 'routes', field: 'weightRoutes', label: 'Routes' },
  { id: 'effort', field: 'weightEffort', label: 'Effort' },
  { id: 'wishes', field: 'weightPreferences', label: 'Wishes' },
] as const satisfies readonly { id: Criterion; field: keyof PlanSettings; label: string }[];

/** The weight of each criterion. */
export function weightsOf(settings: PlanSettings): Record<Criterion, number> {
  return Object.fromEntries(criteria.map(({ id, field }) => [id, settings[field]])) as Record<Criterion, number>;
}
