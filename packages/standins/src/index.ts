export { LIMITS, LOOPBACK, USUAL_FIRST_PORT, USUAL_MINUTES } from './limits.js';
export type { LogLine } from './log.js';
export { StandInProblem, StandIns } from './standIns.js';
export type { DoorReport, StandInReport, StandInWish } from './standIns.js';
export { viewpointNames } from './viewpoints.js';
export type { ViewpointName } from './viewpoints.js';
