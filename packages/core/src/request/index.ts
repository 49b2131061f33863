export type { Answer, AnsweredBy, Stage, Via } from './answer.js';
export { ask } from './ask.js';
