import type { Network } from './networks.js';
import type { KindRules } from './rules.js';

export const networksRules: KindRules<Network> = {
  label: ({ name }) => name,
  about: ({ mtu }) => `MTU ${mtu} bytes`,
};
