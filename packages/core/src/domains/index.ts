export type { Hop, Join, Meeting } from './domains.js';
export { Domains } from './domains.js';
