import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import type { Packet } from '../road/index.js';
import { destinationPorts, messageOf } from '../road/index.js';
import { formatAddress } from '../address/index.js';

/** What sentences of packets name things by. */
export type Names = Pick<
  Plan,
  | 'clusters'
  | 'networks'
  | 'links'
  | 'routeTables'
  | 'routes'
  | 'natDevices'
  | 'firewalls'
  | 'firewallRules'
  | 'filters'
  | 'filterRules'
  | 'inUse'
  | 'needs'
  | 'connections'
  | 'members'
>;

/** Whoever asks from outside. */
export const CLIENT_OUTSIDE = 'a client on the internet';

/** Those who ask for a name from outside: what they run keeps answers by itself, or not. */
export function formatClientsOf(name: string, areBrowsers: boolean): string {
  return areBrowsers ? `Browsers that ask for ${name}` : `Clients of ${name} on the internet`;
}

/** An address that a cluster gives a service, of one of its ranges. */
export function formatServiceAddress(ranges: readonly string[]): string {
  return `an address of ${ranges.length === 0 ? 'its service range' : ranges.join(' or ')}`;
}

interface Named {
  readonly id: string;
  readonly name: string;
}

/** The name of an entity; empty where it is gone. */
export function nameIn(rows: readonly Named[], id: string): string {
  return byId(rows, id)?.name ?? '';
}

/** The name of a NAT device or firewall. */
export function deviceName({ natDevices, firewalls }: Names, id: string): string {
  return nameIn(natDevices, id) || nameIn(firewalls, id);
}

/** Which kind of device one is. */
export function deviceKind({ natDevices }: Names, id: string): 'NAT device' | 'firewall' {
  return nameIn(natDevices, id) === '' ? 'firewall' : 'NAT device';
}

/** "tcp 443", or the protocol without ports. */
export function formatService(protocol: string, port: number): string {
  return protocol === 'tcp' || protocol === 'udp' ? `${protocol} ${port}` : protocol;
}

/** A packet by its service and both its addresses; of several ports that an answer may go to, the first or the one that decides. */
export function formatPacket(packet: Packet, port = destinationPorts(packet).first): string {
  const { protocol, source, destination } = packet;
  const service = [formatService(protocol, port), messageOf(packet)].filter(Boolean).join(' ');
  return `${service} from ${formatAddress(source)} to ${formatAddress(destination)}`;
}
