import { addresses, choice, integer, name, note } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

const servers = (label: string, help: string) => addresses({ label, help, min: 0, max: 8, fallback: [], since: 5 });

/** A network: one routing domain of its own, in which each address is unique. */
export const networks = defineKind({
  kind: 'networks',
  code: 'network',
  one: 'network',
  about: 'A network: each address is unique in it.',
  since: 1,
  unique: { by: ['name'] },
  fields: {
    name: name('What the network is called.'),
    mtu: integer({
      label: 'MTU',
      help: 'Largest IP packet that its links carry whole.',
      unit: 'bytes',
      min: 1280,
      max: 9216,
      fallback: 1500,
      since: 2,
    }),
    note: note(),
    internetEgress: choice({
      label: 'Internet egress',
      help: [
        'How its machines reach the internet: not at all, through NAT of their own zone or one NAT',
        'device for all, over a hub, directly; or not decided yet.',
      ].join(' '),
      options: ['undecided', 'none', 'nat per zone', 'one nat', 'hub', 'direct'],
      fallback: 'undecided',
      since: 5,
    }),
    nameServers: servers('Name servers', 'Addresses that its machines ask for names.'),
    timeServers: servers('Time servers', 'Addresses that its machines ask for the time.'),
  },
});

/** A network: one routing domain of its own, in which each address is unique. */
export type Network = EntityOfFields<(typeof networks)['fields']>;
