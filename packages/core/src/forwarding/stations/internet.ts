import { formatAddress } from '../../address/index.js';
import type { Address } from '../../address/index.js';
import type { Spot } from '../../road/index.js';
import { balancerHost, internetHost, isPublicAddress, publicBalancerAt, publicStandIn, SOMEWHERE } from '../host.js';
import type { Host } from '../machine.js';
import { isOnInternet } from '../onInternet.js';
import { untranslating } from './devices.js';
import { between, outside, premisesOf } from './station.js';
import type { Station } from './station.js';
import { go, isSame, spotOf } from './trip.js';
import type { Next, Trip } from './trip.js';

type At<Is extends Station['is']> = Station & { readonly is: Is };

const INTERNET: Spot = { kind: 'internet', name: 'the internet' };

/** On the internet only public addresses are known; whoever has the destination gets the packet, in the plan or outside it. */
export function onInternet(trip: Trip, { fromNetworkId: networkId, sender }: At<'internet'>): Next {
  const { destination } = trip.packet;
  // The answers of a gateway that was dialled there come back to who dialled, as everybody’s do.
  const key = translationTo(trip, destination, networkId === '');
  if (networkId !== '') {
    if (!isPublicAddress(destination))
      return trip.stop({ code: 'private-destination', networkId, isFromInternet: false }, { spot: INTERNET });
    const stopped = asPublic(trip, networkId, sender);
    if (stopped !== undefined) return stopped;
  }
  const back = key === undefined ? undefined : untranslating(trip, key);
  if (back !== undefined) return go(back);
  const device = ownerOf(trip, destination);
  if (device !== undefined)
    return trip.stop({ code: 'unsolicited', deviceId: device.id, networkId: '' }, { spot: INTERNET });
  if (!isPublicAddress(destination))
    return trip.stop({ code: 'private-destination', networkId: '', isFromInternet: true }, { spot: INTERNET });
  return toOwner(trip, destination);
}

/** A private source needs translation on the way, or a public address of the machine itself. */
function asPublic(trip: Trip, networkId: string, sender: Host | undefined): Next | undefined {
  const { source, isAnswer } = trip.packet;
  if (isPublicAddress(source)) return undefined;
  // The public address stands for that of the machine alone: pods that keep their own behind it have none.
  if (sender?.isPublic !== true || source.family === 6 || !isSame(source, sender.address))
    return trip.stop({ code: 'private-source', networkId }, { spot: INTERNET });
  const asked = isAnswer ? trip.flow.asked : undefined;
  trip.translate(spotOf(sender), 'own', sender.publicAddress ?? asked ?? SOMEWHERE, { by: 'own' });
  return undefined;
}

/** Whoever has a public address: a load balancer, gateway, public machine or network of the plan, or somebody it knows nothing of. */
function toOwner(trip: Trip, destination: Address): Next {
  const { forwarding, flow } = trip;
  const { target } = flow;
  const balancer = publicBalancerAt(forwarding, destination);
  const known = balancer === undefined ? undefined : balancerHost(forwarding, balancer);
  const host =
    (target?.kind === 'balancer' && isSame(target.address, destination) ? target : known) ??
    publicGateway(trip, destination);
  if (host !== undefined) return go({ is: 'host', host, premises: premisesOf(host) });
  const machine = publicMachine(trip, destination);
  if (machine !== undefined) return toPublicMachine(trip, machine);
  return inNetwork(trip, destination) ?? go(arriving(internetHost(destination)));
}

function arriving(host: Host): Station {
  return { is: 'host', host, premises: outside };
}

/** A node with a public address of its own, as the one that is asked: the provider puts its private one there. */
function publicMachine({ flow: { target, asked }, packet }: Trip, destination: Address): Host | undefined {
  const isAsked = !packet.isAnswer && isSame(asked, destination);
  return isAsked && target !== undefined && publicStandIn(target) !== undefined ? target : undefined;
}

function toPublicMachine(trip: Trip, machine: Host): Next {
  const before = trip.packet;
  trip.journal.change(
    spotOf(machine),
    { ...before, destination: machine.address },
    { event: 'translated', translation: { by: 'own back' } },
  );
  return go({ is: 'delivery', premises: between(machine.networkId) });
}

/** The network of the plan that has a public address in its own space: it is reached where it has a way to the internet. */
function inNetwork(trip: Trip, destination: Address): Next | undefined {
  const { forwarding } = trip;
  for (const { id } of forwarding.parts.networks) {
    const holder = forwarding.space(id).holderOf(destination);
    if (holder === undefined || holder.kind === 'block') continue;
    const subnet = forwarding.space(id).subnetOf(destination);
    if (!isOnInternet(forwarding, id, subnet ?? holder.allocation?.zone ?? '', destination.family)) {
      // A range in use may be on the internet by a way that the plan does not know.
      if (holder.kind === 'in use') continue;
      return trip.stop({ code: 'not-on-internet', networkId: id }, { spot: INTERNET });
    }
    return go({ is: 'delivery', premises: between(id) });
  }
  return undefined;
}

/** The gateway with a public address, as one of the two that the flow is between or by its number. */
function publicGateway({ forwarding, flow }: Trip, destination: Address): Host | undefined {
  const { target } = flow;
  if (target?.publicAddress !== undefined && isSame(target.publicAddress, destination)) return target;
  const known = forwarding.crossings.gatewayAt(formatAddress(destination));
  const found = known === undefined ? undefined : forwarding.tunnels.gatewayOf(known.member, known.index);
  return found?.ok === true ? found.value.host : undefined;
}

/** The device or machine that gave a flow the address to which its answers come on the internet. */
function translationTo({ packet, flow }: Trip, destination: Address, isFromOutside: boolean): string | undefined {
  if (!packet.isAnswer || (!isFromOutside && flow.origin.kind === 'internet')) return undefined;
  return [...flow.translations].find(([key, { after }]) => !key.startsWith('node ') && isSame(after, destination))?.[0];
}

/** The NAT device or firewall that has a public address. */
function ownerOf({ forwarding: { parts } }: Trip, address: Address): { readonly id: string } | undefined {
  const text = formatAddress(address);
  return [...parts.natDevices, ...parts.firewalls].find(({ publicAddresses }) => publicAddresses.includes(text));
}
