export type { Evaluation } from './evaluator.js';
export { evaluate, Evaluator } from './evaluator.js';
