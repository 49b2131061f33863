export { evaluate, Evaluation } from './evaluation.js';
export type { PlanComparison, RangeChange } from './comparePlans.js';
export { comparePlans, compareEvaluations } from './comparePlans.js';
