import type { Message, Packet } from '../../road/index.js';
import type { CompiledFilter } from '../compiledLists.js';
import { SOMEWHERE } from '../host.js';
import type { Host } from '../machine.js';
import { between } from './station.js';
import { isSame } from './trip.js';
import type { Trip } from './trip.js';

/**
 * Whether a filter lets in messages about packets of those behind it, whoever sends them: one that keeps state does for
 * its own connections, another one where a rule lets ICMP in from everywhere. Source: RFC 2923 2.1, RFC 4890 4.3.1.
 */
export function letsMessagesIn({ filter, ...lists }: CompiledFilter): boolean {
  if (filter.isStateful) return true;
  const message = {
    source: SOMEWHERE,
    destination: SOMEWHERE,
    protocol: 'icmp',
    message: 'too big',
    port: 0,
    clientPorts: { first: 0, last: 0 },
    isAnswer: false,
  } as const;
  return lists.in.decide(message, filter.defaultIn).action === 'allow';
}

/**
 * Whether who sent a packet that does not fit hears of it (RFC 1191 4, RFC 8201 4): the message of the router that could not
 * send it on is a packet of its own, which goes by that network's main table and meets lists and devices as every other
 * one does. Undefined where no message is sent to it: it knows what it may send itself, it is not in the plan, or the
 * packet is inside another one; and where it depends on what was sent before.
 */
export function messageTo(trip: Trip, routerOf: string): Message | undefined {
  const { forwarding, flow, packet, journal, carried } = trip;
  const sender = packet.isAnswer ? flow.target : flow.origin;
  // Nothing was met but the sender itself.
  const isOwn = journal.events.every(({ event }) => event === 'sent');
  if (sender === undefined || sender.kind === 'internet' || carried !== undefined || isOwn) return undefined;
  const { family } = packet.source;
  const message: Packet = {
    // The router may have any address.
    source: forwarding.internet.find((address) => address.family === family) ?? SOMEWHERE,
    destination: packet.source,
    protocol: 'icmp',
    message: 'too big',
    port: 0,
    clientPorts: packet.clientPorts,
    isAnswer: true,
  };
  const table = forwarding.routes.mainTable(routerOf);
  const zone = sender.zone;
  const came = trip.beside(message, { is: 'table', table, sender: undefined, zone, premises: between(routerOf) });
  if (came.ok) return { isHeard: isOf(came.host, sender), why: undefined };
  // A device knows the flow where its answers have passed it, which depends on what was sent before.
  return came.failed.failure.code === 'no-state' ? undefined : { isHeard: false, why: came.failed };
}

/** Whether a message came to the sender, or to the node that takes it to its pod. */
function isOf(host: Host, sender: Host): boolean {
  const isThere = (one: Host) => one.networkId === host.networkId && isSame(one.address, host.address);
  return isThere(sender) || (sender.node !== undefined && isThere(sender.node));
}
