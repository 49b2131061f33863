export type { Hit, LookupAnswer } from './lookup.js';
export { Lookup } from './lookup.js';
