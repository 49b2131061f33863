import type { Message } from '../../road/index.js';
import type { CompiledFilter } from '../compiledLists.js';
import { SOMEWHERE } from '../host.js';
import { premisesOf } from './station.js';
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
    port: 0,
    clientPorts: { first: 0, last: 0 },
    isAnswer: false,
  } as const;
  return lists.in.decide(message, filter.defaultIn).action === 'allow';
}

/**
 * Whether who sent a packet that does not fit on its way hears of it (RFC 1191 4, RFC 8201 4); undefined where no message
 * is sent to it: it knows what it may send itself, it is not in the plan, or the packet is inside another one.
 */
export function messageTo({ forwarding, flow, packet, journal, carried }: Trip): Message | undefined {
  const sender = packet.isAnswer ? flow.target : flow.origin;
  // Nothing was met but the sender itself.
  const isOwn = journal.events.every(({ event }) => event === 'sent');
  if (sender === undefined || sender.kind === 'internet' || carried !== undefined || isOwn) return undefined;
  const { subnet, machine } = premisesOf(sender);
  const lists = [...forwarding.filtersAt(subnet?.id), ...forwarding.filtersAt(...(machine?.attachable ?? []))];
  // Of sets that only allow, one that lets it in is enough.
  const sets = lists.filter(({ filter }) => filter.mode === 'allow-only');
  const isInSet = sets.length === 0 || sets.some(letsMessagesIn);
  const dropping = [
    ...(isInSet ? [] : sets),
    ...lists.filter((each) => each.filter.mode === 'ordered' && !letsMessagesIn(each)),
  ];
  return { isHeard: dropping.length === 0, filterIds: dropping.map(({ filter }) => filter.id) };
}
