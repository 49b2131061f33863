import { choice, flag, integer, name, note, optionalInteger, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { domain } from './zones.js';

/** What can carry packets between the gateways of two clusters. */
export const tunnelNames = ['wireguard', 'esp-gcm', 'esp-gcm-nat', 'esp-cbc', 'esp-cbc-nat', 'vxlan'] as const;

/** A wait or an interval: never 0, since nothing is found out in no time. */
const seconds = (label: string, help: string, fallback: number) =>
  integer({ label, help, unit: 's', min: 1, max: 86_400, fallback, group: 'Timers' });

/** Clusters that work as one: by tunnels between gateways, by relays for single services, or flat in one routing domain. */
export const connections = defineKind({
  kind: 'connections',
  code: 'connection',
  one: 'connection',
  about:
    'Clusters that work as one: by tunnels between gateways, by relays for single services, or flat in one routing domain.',
  since: 9,
  unique: { by: ['name'] },
  fields: {
    name: name('What the connection is called.'),
    method: choice({
      label: 'Method',
      formerly: ['Kind'],
      help: 'Tunnels join the pods of all members; relays pass on single services; flat members are in one routing domain already.',
      options: ['tunnels', 'relays', 'flat'],
    }),
    shape: choice({
      label: 'Shape',
      help: 'Each member has a tunnel or a link with each other one, or all with the hub.',
      options: ['full mesh', 'hub'],
      fallback: 'full mesh',
    }),
    tunnel: choice({
      label: 'Tunnel',
      help: 'What packets are wrapped in between gateways. VXLAN does not encrypt.',
      options: tunnelNames,
      fallback: 'wireguard',
    }),
    port: optionalInteger({
      label: 'Port',
      help: 'The port that gateways or relays are dialled on; empty for 51820 of WireGuard, 4500 of ESP with NAT traversal, 4789 of VXLAN, 443 of relays.',
      empty: 'usual',
      unit: 'port',
      min: 1,
      max: 65_535,
    }),
    maxLinks: integer({
      label: 'Links per gateway',
      help: 'How many tunnels or links one gateway or relay holds at once.',
      unit: 'links',
      min: 1,
      max: 100_000,
      fallback: 100,
    }),
    rendezvous: text({
      label: 'Rendezvous',
      help: 'Address or host name of the place where members find each other; empty where gateways are told each other’s addresses by hand.',
      min: 0,
      max: 253,
      compare: 'exact',
      fallback: '',
    }),
    rendezvousPort: integer({
      label: 'Rendezvous port',
      help: 'The port it answers on.',
      unit: 'port',
      min: 1,
      max: 65_535,
      fallback: 443,
    }),
    keyReference: text({
      label: 'Key reference',
      help: 'Where the key is kept, such as keys/wan/coast: never the key itself.',
      min: 0,
      max: 200,
      compare: 'exact',
      fallback: '',
    }),
    domain: domain({
      label: 'Service domain',
      help: 'Where the names of exported services end; empty for clusterset.local.',
      min: 0,
    }),
    dnsTtl: seconds('Name TTL', 'For how long members may remember the name of an exported service.', 5),
    probeSeconds: seconds('Probe interval', 'How often gateways and relays ask each other whether they are there.', 10),
    probesLost: integer({
      label: 'Probes lost',
      help: 'How many consecutive ones must be lost before the other side counts as gone.',
      unit: 'probes',
      min: 1,
      max: 100,
      fallback: 3,
      group: 'Timers',
    }),
    takeoverSeconds: seconds(
      'Takeover',
      'How long the next gateway takes until it carries, or a relay until it has dialled again.',
      10,
    ),
    sessionHoldSeconds: optionalInteger({
      label: 'Hold time without rendezvous',
      formerly: ['Keeps without rendezvous'],
      help: 'How long members keep their tunnels or links while the rendezvous is gone; empty for as long as they last.',
      empty: 'as long as they last',
      unit: 's',
      min: 1,
      max: 31_536_000,
      group: 'Timers',
    }),
    isPlanned: flag({
      label: 'Planned',
      help: 'Not there yet: names and packets do not cross it, and what it would bring is said.',
      fallback: false,
    }),
    note: note(),
  },
});

/** Clusters that work as one. */
export type Connection = EntityOfFields<(typeof connections)['fields']>;

/** How clusters are joined. */
export type ConnectionMethod = Connection['method'];

/** What carries packets between gateways. */
export type TunnelEncapsulation = Connection['tunnel'];
