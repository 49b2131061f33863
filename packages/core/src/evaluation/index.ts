export type { Evaluation } from './evaluator.js';
export { evaluate, Evaluator } from './evaluator.js';
export type { PlanComparison, RangeChange } from './comparePlans.js';
export { comparePlans, compareStates } from './comparePlans.js';
