import { hostAt, subnetEndAt } from '../host.js';
import type { Host } from '../machine.js';
import { policiesOf } from './policies.js';
import { premisesOf } from './station.js';
import type { Station } from './station.js';
import { carried, go, isSame, spotOf } from './trip.js';
import type { Carried, Next, Trip } from './trip.js';

type At<Is extends Station['is']> = Station & { readonly is: Is };

/** Finds the machine that an address of a network belongs to. */
export function deliver(trip: Trip, { premises: { networkId } }: At<'delivery'>): Next {
  const { destination } = trip.packet;
  const host =
    carrierAt(trip, networkId) ??
    partyAt(trip, networkId) ??
    hostAt(trip.forwarding, networkId, destination) ??
    unentered(trip, networkId);
  if (host === undefined) {
    const endOf = subnetEndAt(trip.forwarding, networkId, destination);
    return trip.stop({ code: 'nobody', networkId, lack: undefined, ...(endOf === undefined ? {} : { endOf }) });
  }
  return go({ is: 'host', host, premises: premisesOf(host) });
}

/** The node that is to take outer headers off, if the packet has come to its address. */
function carrierAt({ packet, carried: inside }: Trip, networkId: string): Host | undefined {
  const other = inside?.other;
  return other?.networkId === networkId && isSame(other.address, packet.destination) ? other : undefined;
}

/** The one that the flow is between, if the packet has come to its address. */
function partyAt({ packet, flow }: Trip, networkId: string): Host | undefined {
  const party = packet.isAnswer ? flow.origin : flow.target;
  const isAt = (host: Host | undefined) => host?.networkId === networkId && isSame(host.address, packet.destination);
  if (party === undefined || isAt(party)) return party;
  return isAt(party.node) ? party.node : undefined;
}

/** Somewhere in a network that advertises the address though nobody has entered it. */
function unentered(trip: Trip, networkId: string): Host | undefined {
  const { row } = trip.forwarding.routes.lookUp(networkId, undefined, trip.packet.destination);
  if (row?.subject.kind !== 'attachments' || row.hop.kind !== 'local') return undefined;
  return {
    kind: 'machine',
    label: `somewhere in ${trip.spotOfNetwork(networkId).name}`,
    address: trip.packet.destination,
    networkId,
    zone: '',
    isPublic: false,
    attachable: [],
  };
}

/** Arrives at a machine: at a node that translated for a pod, the answer goes on to that pod. */
export function atHost(trip: Trip, { host }: At<'host'>): Next {
  const { packet, flow, carried: inside } = trip;
  if (inside !== undefined && isSame(inside.other.address, host.address)) return unwrapped(trip, inside);
  const { target, origin } = flow;
  if (packet.isAnswer && host.cluster !== undefined) {
    const known = flow.translations.get(`node ${host.cluster.id}`);
    if (known !== undefined && isSame(known.after, packet.destination)) {
      trip.journal.change(
        spotOf(host),
        { ...packet, destination: known.before, clientPorts: known.ports },
        { event: 'translated', translation: { by: 'node back' } },
      );
      const label = `pod of ${host.cluster.name}`;
      return arrived(trip, { ...host, kind: 'pod', label, address: known.before, node: host });
    }
  }
  // Between a pod and its own node no policy stands: Kubernetes documentation, network policies (from memory).
  const isItsNode = target?.isNeighbour === true && origin.kind === 'node';
  const isTarget = host.kind === 'pod' && target?.kind === 'pod' && !isItsNode && isSame(target.address, host.address);
  const refused = !packet.isAnswer && isTarget ? policiesOf(trip, 'ingress', target, origin) : undefined;
  return refused === undefined ? arrived(trip, host) : { does: 'stop', failed: refused };
}

/** The other node takes the outer headers off. */
function unwrapped(trip: Trip, { inner, other, onward }: Carried): Next {
  const isWrapped = trip.journal.wraps.length > 0;
  trip.journal.packet = inner;
  trip.journal.wraps = [];
  trip.carried = undefined;
  if (isWrapped) trip.journal.write(spotOf(other), { event: 'unwrapped' });
  return carried(onward);
}

function arrived(trip: Trip, host: Host): Next {
  trip.journal.write(spotOf(host), { event: 'delivered' });
  return { does: 'arrive', host };
}
