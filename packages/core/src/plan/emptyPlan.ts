import { byKind } from './entities.js';
import type { Plan, PlanSettings } from './entities.js';
import { defaultSettings } from './fields.js';

/** A plan that holds nothing yet. */
export function emptyPlan(settings: Partial<PlanSettings> = {}): Plan {
  return { settings: { ...defaultSettings, ...settings }, ...byKind(() => []) };
}
