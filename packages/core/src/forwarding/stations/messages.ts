import type { Address } from '../../address/index.js';
import type { Firewall } from '../../plan/index.js';
import type { Message, Packet, Subject } from '../../road/index.js';
import type { CompiledFilter } from '../compiledLists.js';
import type { Forwarding } from '../forwarding.js';
import { SOMEWHERE } from '../host.js';
import type { Judge, Trip } from './trip.js';

/** A message about a packet to its sender. The router that writes it may have any address. */
function messageFor(sender: Address): Packet {
  return {
    source: SOMEWHERE,
    destination: sender,
    protocol: 'icmp',
    message: 'too big',
    port: 0,
    clientPorts: { first: 0, last: 0 },
    isAnswer: false,
  };
}

/**
 * Whether a filter lets in messages about packets of those behind it, whoever sends them: one that keeps state does for
 * its own connections, another one where a rule lets ICMP in from everywhere. Source: RFC 2923 2.1, RFC 4890 4.3.1.
 */
export function letsMessagesIn(list: CompiledFilter): boolean {
  return letsThrough(list, 'in', messageFor(SOMEWHERE));
}

function letsThrough({ filter, ...lists }: CompiledFilter, direction: 'in' | 'out', message: Packet): boolean {
  const fallback = direction === 'in' ? filter.defaultIn : filter.defaultOut;
  return filter.isStateful || lists[direction].decide(message, fallback).action === 'allow';
}

/**
 * Whether who sent a packet that does not fit on its way hears of it (RFC 1191 4, RFC 8201 4); undefined where no message
 * is sent to it: it knows what it may send itself, it is not in the plan, or the packet is inside another one. All that
 * judged the packet up to there judges the message on its way back.
 */
export function messageTo({ forwarding, flow, packet, journal, carried, judges }: Trip): Message | undefined {
  const sender = packet.isAnswer ? flow.target : flow.origin;
  // Nothing was met but the sender itself.
  const isOwn = journal.events.every(({ event }) => event === 'sent');
  if (sender === undefined || sender.kind === 'internet' || carried !== undefined || isOwn) return undefined;
  const droppedBy = new Map<string, Subject>();
  for (const judge of judges)
    for (const subject of droppingAt(forwarding, judge)) droppedBy.set(`${subject.kind} ${subject.id}`, subject);
  return { isHeard: droppedBy.size === 0, droppedBy: [...droppedBy.values()] };
}

/** What drops the message where the packet was judged: it goes the other way. */
function droppingAt(forwarding: Forwarding, judge: Judge): Subject[] {
  const message = messageFor(judge.source);
  if (judge.is === 'firewall') return drops(forwarding, judge.firewall, message) ? [subjectOf(judge.firewall)] : [];
  const direction = judge.direction === 'in' ? 'out' : 'in';
  const closed = judge.lists.filter((list) => !letsThrough(list, direction, message));
  // Of sets that only allow, one that lets it through is enough.
  const sets = judge.lists.filter(({ filter }) => filter.mode === 'allow-only');
  const isOpen = sets.some((set) => !closed.includes(set));
  return closed
    .filter(({ filter }) => filter.mode === 'ordered' || !isOpen)
    .map(({ filter }): Subject => ({ kind: 'filters', id: filter.id }));
}

function drops(forwarding: Forwarding, firewall: Firewall, message: Packet): boolean {
  const { isStateful, defaultAction } = firewall;
  return !isStateful && forwarding.rulesOf(firewall).decide(message, defaultAction).action === 'deny';
}

function subjectOf({ id }: Firewall): Subject {
  return { kind: 'firewalls', id };
}
