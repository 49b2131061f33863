export { evaluate, Evaluation } from './evaluation.js';
export type { PlanComparison, RangeChange } from './comparePlans.js';
export { comparePlans, compareStates } from './comparePlans.js';
