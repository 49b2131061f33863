import { addresses, choice, flag, intent, name, proposedAs, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A firewall that routes can lead through. */
export const firewalls = defineKind({
  kind: 'firewalls',
  code: 'firewall',
  one: 'firewall',
  about: 'A firewall that routes can lead through.',
  since: 5,
  unique: { by: ['name'] },
  fields: {
    name: name('What the firewall is called.'),
    subnetId: reference({ label: 'Subnet', help: 'The subnet it is in.', to: 'subnets' }),
    isStateful: flag({
      label: 'Stateful',
      help: 'Lets the answers of an allowed connection pass, and drops what belongs to none it has seen.',
      fallback: true,
    }),
    translates: flag({
      label: 'Translates',
      help: 'Translates private sources to its public addresses on the way to the internet.',
      fallback: true,
    }),
    publicAddresses: addresses({
      label: 'Public addresses',
      help: 'The public IPv4 addresses it translates to.',
      min: 0,
      max: 64,
      fallback: [],
    }),
    defaultAction: choice({
      label: 'Default',
      help: 'What happens to packets that no rule matches.',
      options: ['deny', 'allow'],
      fallback: 'deny',
    }),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** A firewall that routes can lead through. */
export type Firewall = EntityOfFields<(typeof firewalls)['fields']>;
