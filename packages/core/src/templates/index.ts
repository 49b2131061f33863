export type { TemplateEffect, TemplateGap, TemplateState } from './effects.js';
export { templateEffects } from './effects.js';
export type { Stamp, StampProblem, StampRow } from './stamp.js';
export { MAX_STAMPED, readStampList, stampTemplate } from './stamp.js';
