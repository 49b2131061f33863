import { byId } from '../collection.js';
import { hostPrefix } from '../rangeOf.js';
import type { NatDevice } from './natDevices.js';
import type { KindRules } from './rules.js';

export const natDevicesRules: KindRules<NatDevice> = {
  label: ({ name }) => name,
  about: ({ subnetId, publicAddresses }, plan) =>
    `NAT device in ${byId(plan.subnets, subnetId)?.name ?? ''}, ${publicAddresses.length} public ${publicAddresses.length === 1 ? 'address' : 'addresses'}`,
  holds: {
    prefixes: ({ publicAddresses }) => publicAddresses.map(hostPrefix),
    called: ({ name }) => `public address of the NAT device ${name}`,
  },
};
