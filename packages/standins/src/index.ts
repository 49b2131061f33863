export { LIMITS, LOOPBACK, USUAL_FIRST_PORT, USUAL_MINUTES } from './limits.js';
export { StandInProblem, StandIns } from './standIns.js';
export type { StandInReport, StandInWish } from './standIns.js';
export { vantageNames } from './vantages.js';
