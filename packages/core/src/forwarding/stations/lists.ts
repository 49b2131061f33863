import type { Failed, Failure, Narrow, RuleDecision, Spot, Subject } from '../../road/index.js';
import type { Address } from '../../address/index.js';
import type { CompiledFilter } from '../compiledLists.js';
import { largestPacket, MIN_IPV6 } from '../../wire/index.js';
import { messageTo } from './messages.js';
import type { Premises } from './station.js';
import { spotOf } from './trip.js';
import type { Trip } from './trip.js';

/**
 * The one rule for every packet that goes from one place to another: the lists of the machine and the subnet that it
 * leaves and of those that it enters let it pass, and the network that it enters takes packets of its size.
 */
export function passes(trip: Trip, from: Premises, to: Premises): Failed | undefined {
  const isLeaving = from.machine !== undefined && from.machine !== to.machine;
  const isEntering = to.machine !== undefined && from.machine !== to.machine;
  const isOtherSubnet = from.subnet?.id !== to.subnet?.id;
  return (
    (isLeaving ? heldByMachine(trip, 'out', from) : undefined) ??
    (isOtherSubnet ? heldBySubnet(trip, 'out', from) : undefined) ??
    squeezed(trip, from, to) ??
    (isOtherSubnet ? heldBySubnet(trip, 'in', to) : undefined) ??
    (isEntering ? heldByMachine(trip, 'in', to) : undefined)
  );
}

/** What a network passes whole. Who sends from the internet learns the size by the maximum segment (RFC 9293 3.7.1). */
function squeezed(trip: Trip, from: Premises, to: Premises): Failed | undefined {
  if (to.networkId === '' || from.networkId === to.networkId) return undefined;
  const mtu = trip.mtuOf(to.networkId);
  if (from.networkId === '') {
    trip.journal.room = Math.min(trip.journal.room, mtu);
    return undefined;
  }
  return tooBig(trip, mtu, { kind: 'networks', id: to.networkId }, from.networkId);
}

/** Holds the packet against what passes whole; one that does not fit ends there, since it must not be cut up, and the router of a network says so. */
export function tooBig(
  trip: Trip,
  room: number,
  subject: Subject & { kind: 'networks' | 'links' },
  routerOf: string,
): Failed | undefined {
  // Of what is underway inside another packet less fits.
  const { packet, journal } = trip;
  const inside =
    trip.carried === undefined ? room : largestPacket(room, journal.wraps, packet.destination.family).value;
  journal.room = Math.min(journal.room, inside);
  const is = subject.kind === 'links' ? 'link' : 'network';
  const narrow = tooNarrow((trip.carried?.inner ?? packet).destination, inside, subject, { is, id: subject.id });
  if (narrow !== undefined) return trip.failed(narrow);
  if (trip.bytes <= inside) return undefined;
  const message = messageTo(trip, routerOf);
  return trip.failed({ code: 'too-big', room, bytes: trip.bytes, subject, in: { is, id: subject.id }, message });
}

/** What takes less than IPv6 needs whole carries none of it, however small the packet. Source: RFC 8200 5. */
export function tooNarrow({ family }: Address, room: number, subject: Subject, narrow: Narrow): Failure | undefined {
  return family === 6 && room < MIN_IPV6 ? { code: 'ipv6-narrow', room, subject, in: narrow } : undefined;
}

type Direction = 'in' | 'out';

function heldByMachine(trip: Trip, direction: Direction, { machine }: Premises): Failed | undefined {
  if (machine === undefined) return undefined;
  const filters = trip.forwarding.lists.at(...machine.attachable);
  return applyFilters(trip, direction, filters, spotOf(machine), `${machine.label} ${machine.attachable.join(' ')}`);
}

function heldBySubnet(trip: Trip, direction: Direction, { subnet }: Premises): Failed | undefined {
  if (subnet === undefined) return undefined;
  const filters = trip.forwarding.lists.at(subnet.id);
  return applyFilters(trip, direction, filters, { kind: 'subnet', name: subnet.name }, `subnet ${subnet.id}`);
}

/** Holds the packet against filters: any allow-only one must allow it, and every list in order. */
function applyFilters(
  trip: Trip,
  direction: Direction,
  filters: readonly CompiledFilter[],
  spot: Spot,
  place: string,
): Failed | undefined {
  if (filters.length === 0) return undefined;
  const refuse = (refusing: readonly CompiledFilter[], by: RuleDecision | undefined, decisions: RuleDecision[]) =>
    trip.failed(
      {
        code: 'filter',
        filterIds: refusing.map(({ filter }) => filter.id),
        direction,
        ruleId: by?.ruleId,
        port: by?.port ?? 0,
      },
      { spot, decisions },
    );
  const allowOnly = filters.filter(({ filter }) => filter.mode === 'allow-only');
  const decisions: RuleDecision[] = [];
  if (allowOnly.length > 0) {
    const judged = allowOnly.map((each) => evaluateFilter(trip, direction, each, place));
    const allowed = judged.find(({ isAllowed }) => isAllowed);
    if (allowed === undefined) {
      const [first] = judged;
      const by = first && { ...first.decision, ruleId: undefined };
      return refuse(
        allowOnly,
        by,
        judged.map(({ decision }) => decision),
      );
    }
    // Every stateful one that allows the flow knows its answers.
    for (const { isAllowed, remember } of judged) if (isAllowed) remember();
    decisions.push(allowed.decision);
  }
  for (const each of filters) {
    if (each.filter.mode !== 'ordered') continue;
    const { isAllowed, decision, remember } = evaluateFilter(trip, direction, each, place);
    decisions.push(decision);
    if (!isAllowed) return refuse([each], decision, decisions);
    remember();
  }
  trip.journal.write(spot, { event: 'allowed', decisions });
  return undefined;
}

function evaluateFilter(trip: Trip, direction: Direction, { filter, ...lists }: CompiledFilter, place: string) {
  const { packet, flow } = trip;
  const list: Subject = { kind: 'filters', id: filter.id };
  const key = `${filter.id} ${place}`;
  // Tunnels between nodes keep no state of their own: each direction is a packet to the tunnel's port.
  const keepsState = filter.isStateful && trip.tunnelOf === undefined;
  const isSeen = (way: Direction) => flow.seen.has(`${key} ${way}`);
  // A message about a packet is known with its flow, whichever way it goes (RFC 5508 4).
  const isOfKnown = packet.message !== undefined && (isSeen('in') || isSeen('out'));
  if (keepsState && (isOfKnown || (packet.isAnswer && isSeen(direction === 'in' ? 'out' : 'in')))) {
    const decision: RuleDecision = { list, ruleId: undefined, why: 'state', port: packet.port, direction };
    return { isAllowed: true, decision, remember: nothing };
  }
  const fallback = direction === 'in' ? filter.defaultIn : filter.defaultOut;
  const { action, rule, port } = lists[direction].decide(packet, fallback);
  const why = rule === undefined ? 'default' : 'rule';
  const decision: RuleDecision = { list, ruleId: rule?.id, why, port, direction };
  const remember = () => {
    if (keepsState && !packet.isAnswer) flow.seen.add(`${key} ${direction}`);
  };
  return { isAllowed: action === 'allow', decision, remember };
}

function nothing(): void {
  // Answers by state leave nothing behind.
}
