export type { Starter, StarterName, StarterParts } from './starters.js';
export { starterOperations, starterPlan, starters } from './starters.js';
