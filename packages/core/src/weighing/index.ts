export type { Consequence, Option, Sensitivity, Weighed } from './weighing.js';
export { scoreOf, sensitivityOf, winnerOf } from './weighing.js';
