import { parseAddress } from '../../address/index.js';
import type { Address } from '../../address/index.js';
import { byId } from '../../plan/index.js';
import type { Firewall, NatDevice, Subnet } from '../../plan/index.js';
import { expectGood } from '../../result.js';
import type { RuleDecision, Spot } from '../../road/index.js';
import { isPublicAddress, SOMEWHERE } from '../host.js';
import { between, premisesOf } from './station.js';
import type { Station } from './station.js';
import { tableOfDevice } from './table.js';
import { go, isSame, spotOf } from './trip.js';
import type { Next, Trip } from './trip.js';

type At<Is extends Station['is']> = Station & { readonly is: Is };

/** The address that a device shows for packets of a family: undecided ones are of IPv4, since nothing else is translated by custom. */
function shownBy(
  { publicAddresses }: NatDevice | Firewall,
  { family }: Address,
): { readonly address: Address; readonly shown: string | undefined } | undefined {
  const shown = publicAddresses.find((each) => each.includes(':') === (family === 6));
  if (shown !== undefined) return { address: expectGood(parseAddress(shown)), shown };
  return publicAddresses.length === 0 && family === 4 ? { address: SOMEWHERE, shown } : undefined;
}

/** A NAT device puts its address in place of private ones, and knows no answer that nothing was sent out for. */
export function atNat(trip: Trip, { device, subnet, zone }: At<'nat'>): Next {
  const spot: Spot = { kind: 'NAT device', name: device.name };
  const turned = turningBack(trip, 'nat', device, subnet);
  if (turned !== undefined) return turned;
  if (trip.packet.isAnswer) return trip.stop({ code: 'no-state', deviceId: device.id, networkId: '' }, { spot });
  // Whoever takes the outer headers off does not ask where the packet came from.
  if (trip.carried !== undefined) return go(tableOfDevice(trip, subnet, zone));
  const stopped = translated(trip, device, spot, 'nat');
  if (stopped !== undefined) return stopped;
  // What it passes on as it came it follows all the same: a connection whose answers go around it is not established there.
  if (!trip.flow.translations.has(`nat ${device.id}`)) trip.flow.firewalls.add(device.id);
  return go(tableOfDevice(trip, subnet, zone));
}

/** An answer to what it translated comes to a device from inside, and is known there by its addresses all the same. */
function turningBack(
  trip: Trip,
  kind: 'nat' | 'firewall',
  { id }: NatDevice | Firewall,
  subnet: Subnet,
): Next | undefined {
  const key = `${kind} ${id}`;
  const known = trip.packet.isAnswer ? trip.flow.translations.get(key) : undefined;
  if (known === undefined || trip.carried !== undefined || !isSame(known.after, trip.packet.destination))
    return undefined;
  return go({ is: 'untranslate', key, subnet, premises: between(subnet.networkId, subnet) });
}

function translated(trip: Trip, device: NatDevice | Firewall, spot: Spot, kind: 'nat' | 'firewall'): Next | undefined {
  const shown = shownBy(device, trip.packet.source);
  if (shown === undefined) return trip.stop({ code: 'family', deviceId: device.id, networkId: '' }, { spot });
  if (isPublicAddress(trip.packet.source)) return undefined;
  trip.translate(
    spot,
    `${kind} ${device.id}`,
    shown.address,
    { by: 'device', shown: shown.shown },
    { kind: kind === 'nat' ? 'natDevices' : 'firewalls', id: device.id },
  );
  return undefined;
}

/** A firewall judges the packet by its rules or knows its connection; towards the internet it may translate. */
export function atFirewall(trip: Trip, { firewall, subnet, zone, premises }: At<'firewall'>): Next {
  const spot: Spot = { kind: 'firewall', name: firewall.name };
  const { packet, flow } = trip;
  const turned = turningBack(trip, 'firewall', firewall, subnet);
  if (turned !== undefined) return turned;
  const isKnown = packet.isAnswer && flow.firewalls.has(firewall.id);
  // What belongs to no connection: an answer of TCP, or a message about a packet.
  const isOfNone = packet.protocol === 'tcp' || packet.message !== undefined;
  if (packet.isAnswer && firewall.isStateful && !isKnown && isOfNone)
    return trip.stop({ code: 'no-state', deviceId: firewall.id, networkId: premises.networkId }, { spot });
  const refused = judged(trip, firewall, spot, isKnown && firewall.isStateful);
  if (refused !== undefined) return refused;
  const onward = tableOfDevice(trip, subnet, zone);
  const isAnswerOfPassed = packet.isAnswer && flow.passed.has(firewall.id);
  if (!packet.isAnswer) flow.passed.add(firewall.id);
  if (isAnswerOfPassed) return go(onward);
  if (!firewall.translates || isPublicAddress(packet.source) || trip.carried !== undefined) return go(onward);
  const table = onward.is === 'table' ? onward.table : undefined;
  const next = trip.forwarding.routes.lookUp(premises.networkId, table, packet.destination).row?.hop.kind;
  return (next === 'internet' ? translated(trip, firewall, spot, 'firewall') : undefined) ?? go(onward);
}

function judged(trip: Trip, firewall: Firewall, spot: Spot, isByState: boolean, isOfAnswer = false): Next | undefined {
  const { packet, flow } = trip;
  const list = { kind: 'firewalls', id: firewall.id } as const;
  if (firewall.isStateful || isOfAnswer) trip.firewalls.add(firewall.id);
  if (isByState) {
    const decision: RuleDecision = {
      list,
      ruleId: undefined,
      why: 'state',
      port: packet.port,
      direction: undefined,
    };
    trip.journal.write(spot, { event: 'allowed', decisions: [decision], subject: list });
    return undefined;
  }
  const { action, rule, port } = trip.forwarding.lists.rulesOf(firewall).decide(packet, firewall.defaultAction);
  const why = rule === undefined ? 'default' : 'rule';
  const decisions: RuleDecision[] = [{ list, ruleId: rule?.id, why, port, direction: undefined }];
  if (action === 'deny') {
    trip.firewalls.delete(firewall.id);
    return trip.stop(
      { code: 'firewall', firewallId: firewall.id, ruleId: rule?.id, port, isOfAnswer },
      { spot, decisions },
    );
  }
  trip.journal.write(spot, { event: 'allowed', decisions, subject: list });
  // Tunnels between nodes are no connection: each direction is a packet of its own to the tunnel’s port.
  if (firewall.isStateful && !packet.isAnswer && trip.carried === undefined) flow.firewalls.add(firewall.id);
  return undefined;
}

/** Where the answers to a translated address come back to. */
export function untranslating(trip: Trip, key: string): Station | undefined {
  const [kind = '', id = ''] = key.split(' ');
  const { parts } = trip.forwarding;
  if (kind === 'own') {
    const { origin } = trip.flow;
    const machine = origin.node ?? origin;
    // The provider takes the public address back before the packet enters the network.
    const came = trip.packet;
    const known = trip.flow.translations.get(key);
    trip.journal.change(
      spotOf(machine),
      { ...came, destination: known?.before ?? came.destination, clientPorts: known?.ports ?? came.clientPorts },
      { event: 'translated', translation: { by: 'own back' } },
    );
    return { is: 'delivery', premises: between(premisesOf(machine).networkId) };
  }
  const device = byId<NatDevice | Firewall>(kind === 'nat' ? parts.natDevices : parts.firewalls, id);
  const subnet = byId(parts.subnets, device?.subnetId ?? '');
  return subnet === undefined
    ? undefined
    : { is: 'untranslate', key, subnet, premises: between(subnet.networkId, subnet) };
}

/** A device takes its translation back of an answer and sends it on by its own table. */
export function atUntranslate(trip: Trip, { key, subnet }: At<'untranslate'>): Next {
  const [kind = '', id = ''] = key.split(' ');
  const { parts } = trip.forwarding;
  const known = trip.flow.translations.get(key);
  const came = trip.packet;
  const firewall = kind === 'firewall' ? byId(parts.firewalls, id) : undefined;
  const name = firewall?.name ?? byId(parts.natDevices, id)?.name ?? '';
  const spot: Spot = { kind: firewall === undefined ? 'NAT device' : 'firewall', name };
  trip.journal.change(
    spot,
    { ...came, destination: known?.before ?? came.destination, clientPorts: known?.ports ?? came.clientPorts },
    {
      event: 'translated',
      translation: { by: 'device back' },
      subject: { kind: firewall === undefined ? 'natDevices' : 'firewalls', id },
    },
  );
  const refused = firewall === undefined ? undefined : answered(trip, firewall, spot);
  return refused ?? go(tableOfDevice(trip, subnet, subnet.zone));
}

/** A firewall that keeps no state holds the answer against its rules, though it has translated the question. */
function answered(trip: Trip, firewall: Firewall, spot: Spot): Next | undefined {
  if (!firewall.isStateful) return judged(trip, firewall, spot, false, true);
  trip.firewalls.add(firewall.id);
  return undefined;
}
