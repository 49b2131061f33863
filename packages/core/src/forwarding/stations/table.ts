import { containsAddress, formatAddress } from '../../address/index.js';
import { byId, rangeOf } from '../../plan/index.js';
import type { Firewall, NatDevice, Subnet } from '../../plan/index.js';
import type { LookUp, RouteRow, TableLookUp } from '../../road/index.js';
import { largestPacket } from '../../wire/index.js';
import type { Host } from '../machine.js';
import { tooBig } from './lists.js';
import { between, outside, premisesOf } from './station.js';
import type { Premises, Station } from './station.js';
import { go } from './trip.js';
import type { Next, Trip } from './trip.js';

type At<Is extends Station['is']> = Station & { readonly is: Is };

/** Routers that one packet may pass: far more than any sensible plan has. */
const MAX_HOPS = 32;

/** The table by which a machine sends. */
export function tableFrom(trip: Trip, machine: Host, { subnet, networkId }: Premises = premisesOf(machine)): Station {
  const zone = subnet?.zone ?? machine.zone;
  const table = trip.forwarding.routes.tableOf({ routeTableId: subnet?.routeTableId ?? null, networkId, zone });
  return { is: 'table', table, sender: machine, zone: machine.zone, premises: onLink(trip, networkId, subnet) };
}

/** The table by which a device sends on, from the subnet that it is in. */
export function tableOfDevice(trip: Trip, subnet: Subnet, zone: string): Station {
  const table = trip.forwarding.routes.tableOf(subnet);
  return { is: 'table', table, sender: undefined, zone, premises: onLink(trip, subnet.networkId, subnet) };
}

/** What goes to its own subnet does not leave it. */
function onLink({ packet }: Trip, networkId: string, subnet: Subnet | undefined): Premises {
  const isThere = subnet !== undefined && containsAddress(rangeOf(subnet), packet.destination);
  return between(networkId, isThere ? subnet : undefined);
}

/** Looks the destination up, and hands the packet to the next hop. */
export function atTable(trip: Trip, station: At<'table'>): Next {
  const { packet, forwarding } = trip;
  const { networkId } = station.premises;
  const { table, zone } = station;
  const { destination, source } = packet;
  const spot = trip.spotOfNetwork(networkId);
  const key = `${networkId} ${table?.id ?? ''} ${formatAddress(destination)} ${formatAddress(source)}`;
  if (trip.been.has(key)) return trip.stop({ code: 'loop', networkId, hops: undefined });
  trip.been.add(key);
  if (trip.been.size > MAX_HOPS) return trip.stop({ code: 'loop', networkId, hops: MAX_HOPS });
  const found = forwarding.routes.lookUp(networkId, table, destination);
  const { tie } = found;
  const ways = [...(found.row === undefined ? [] : [found.row]), ...found.equal];
  const row = ways[trip.flow.turns.choose(ways.length)];
  const lookUp: TableLookUp = { networkId, tableId: table?.id, found: taking(found, row) };
  if (row === undefined) return trip.stop({ code: 'no-route', networkId, tableId: table?.id, zone }, { spot, lookUp });
  if (tie !== undefined)
    return trip.stop({ code: 'ambiguous', networkId, between: { is: 'routes', rows: [row, tie] } }, { spot, lookUp });
  trip.journal.write(spot, { event: 'routed', lookUp, subject: row.subject });
  return toNextHop(trip, station, row);
}

/** A look-up of which this one of the rows that are as good is taken: the first of them stands in its place. */
function taking(found: LookUp, row: RouteRow | undefined): LookUp {
  const first = found.row;
  if (row === undefined || first === undefined || row === first) return found;
  return {
    ...found,
    row,
    lost: found.lost.map((each) => (each.row === row ? { ...each, row: first } : each)),
    equal: found.equal.map((each) => (each === row ? first : each)),
  };
}

function toNextHop(trip: Trip, { premises, sender, zone }: At<'table'>, { hop, subject }: RouteRow): Next {
  const { forwarding, packet } = trip;
  const { networkId } = premises;
  const spot = trip.spotOfNetwork(networkId);
  switch (hop.kind) {
    case 'local':
    case 'pods':
      return go({ is: 'delivery', premises });
    case 'drop':
      return trip.stop({ code: 'route-drops', networkId, routeId: subject.id, zone }, { spot });
    case 'gone':
      return trip.stop({ code: 'hop-gone', networkId, routeId: subject.id, zone }, { spot });
    case 'internet':
      return go({ is: 'internet', fromNetworkId: networkId, sender, premises: outside });
    case 'link': {
      const toId = hop.toNetworkId ?? forwarding.routes.nextHopOnLink(hop.link, networkId, packet.destination);
      if (toId === undefined)
        return trip.stop(
          { code: 'no-taker', networkId, linkId: hop.link.id },
          { spot: { kind: 'link', name: hop.link.name } },
        );
      return go({ is: 'link', link: hop.link, toId, zone, premises: between(networkId) });
    }
    case 'nat':
    case 'firewall':
      return toDevice(trip, hop.kind, hop.id, networkId, zone);
  }
}

/** To a NAT device or firewall. */
function toDevice(trip: Trip, is: 'nat' | 'firewall', id: string, networkId: string, zone: string): Next {
  const { forwarding } = trip;
  const { parts } = forwarding;
  const device = byId<NatDevice | Firewall>(is === 'nat' ? parts.natDevices : parts.firewalls, id) as
    | NatDevice
    | Firewall;
  const subnet = byId(parts.subnets, device.subnetId) as Subnet;
  const onward = { subnet, zone, premises: between(networkId, subnet) };
  return go(is === 'nat' ? { is, device, ...onward } : { is, firewall: device as Firewall, ...onward });
}

/** Over a link to another network, where its main table decides. */
export function overLink(trip: Trip, { link, toId, zone, premises }: At<'link'>): Next {
  const layers = link.encapsulation === 'none' ? [] : [link.encapsulation];
  const fits = largestPacket(link.mtu, layers, 4).value;
  const subject = { kind: 'links', id: link.id } as const;
  const failed = tooBig(trip, fits, subject, premises.networkId);
  if (failed !== undefined) return { does: 'stop', failed };
  trip.journal.write({ kind: 'link', name: link.name }, { event: 'crossed', toNetworkId: toId, fits, subject });
  return go({
    is: 'table',
    table: trip.forwarding.routes.mainTable(toId),
    sender: undefined,
    zone,
    premises: between(toId),
  });
}
