import { byId } from '../collection.js';
import { hostPrefix } from '../rangeOf.js';
import { addressOutside } from './addressInSubnet.js';
import type { Bastion } from './bastions.js';
import type { KindRules } from './rules.js';

export const bastionsRules: KindRules<Bastion> = {
  label: ({ name }) => name,
  about: ({ address, subnetId }, plan) => `bastion ${address} in ${byId(plan.subnets, subnetId)?.name ?? ''}`,
  holds: { prefixes: ({ address }) => [hostPrefix(address)], called: ({ name }) => `bastion ${name}` },
  betweenEntities: addressOutside,
};
