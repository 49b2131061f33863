/** What can be chosen before anything is started: nothing here needs more than a browser has. */
export { LIMITS, USUAL_HEALTH_SECONDS, USUAL_MINUTES } from './limits.js';
export type { StandInReport, StandInWish } from './standIns.js';
export { vantageNames } from './vantages.js';
