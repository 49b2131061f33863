export type { Answer, AnsweredBy, Stage, Via } from './answer.js';
export { ask, askAt } from './ask.js';
