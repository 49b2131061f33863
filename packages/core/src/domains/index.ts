export type { Hop, Join, Meeting } from './domains.js';
export { Domains } from './domains.js';
export { joinOfNetworks } from './joinOfNetworks.js';
export { domains } from './domainsSection.js';
