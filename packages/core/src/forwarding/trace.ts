import { formatAddress } from '../address/index.js';
import type { Address } from '../address/index.js';
import { byId } from '../plan/index.js';
import type { Place, Question, Target } from '../plan/index.js';
import { answerTo, HOST_PORTS, verdictOf, verdictOfLack, worstFirst } from '../road/index.js';
import type { Failed, Failure, Lack, Packet, RoadEvent, Verdict } from '../road/index.js';
import type { ForwardingState } from './forwardingState.js';
import { publicStandIn, tunnelAddress } from './host.js';
import type { Host } from './machine.js';
import { aimsOf, familyOf, hostsOfPlace } from './resolve.js';
import type { ResolvedTarget } from './resolve.js';
import { newFlow, Turns } from './stations/trip.js';
import { walk } from './walk.js';
import type { Walked } from './walk.js';

/** One flow of a question, hop by hop, there and back. */
export interface FlowTrace {
  readonly from: Host;
  readonly aim: ResolvedTarget;
  readonly verdict: Verdict;
  readonly forth: readonly RoadEvent[];
  readonly back: readonly RoadEvent[];
  /** Where it failed; undefined when it passes. */
  readonly failed: (Failed & { readonly isBack: boolean }) | undefined;
  /** Largest packet that passes whole both ways, in bytes; of a failed flow, as far as it came. */
  readonly room: number;
}

/** The answer to a question. */
export interface Trace {
  readonly verdict: Verdict;
  /** What the plan does not say, so that nothing was sent. */
  readonly lack: Lack | undefined;
  /** Each flow that the question comes to, the one that decides first; none when a place has no address. */
  readonly flows: readonly FlowTrace[];
  /** Whether the flows stand for all of the internet. */
  readonly isOfInternet: boolean;
}

/** Gives a host what is known of it beyond forwarding: of which workload a pod is. */
export type Dress = (host: Host, place: Place | Target) => Host;

/** Answers a question: the flow is followed there and back, and the worst of several flows decides. */
export function trace(forwarding: ForwardingState, question: Question, dress: Dress = (host) => host): Trace {
  const family =
    familyOf(forwarding, question.to) ??
    familyOf(forwarding, question.from) ??
    familyOfNeed(forwarding, question.to) ??
    4;
  const asking = hostsOfPlace(forwarding, question.from, family);
  if (!asking.ok) return without(asking.lack);
  // Who asks from the internet may be anywhere on it.
  const isAnybody = question.from.kind === 'internet' && family === 4;
  const askers = isAnybody
    ? forwarding.internet.flatMap((address) => asking.value.map((host) => ({ ...host, address })))
    : asking.value;
  const flows: FlowTrace[] = [];
  for (const asker of askers) {
    const from = dress(asker, question.from);
    const aims = aimsOf(forwarding, question.to, from);
    if (!aims.ok) return without(aims.lack);
    for (const aim of aims.value) {
      const withWorkload = aim.host === undefined ? aim : { ...aim, host: dress(aim.host, question.to) };
      flows.push(traceFlow(forwarding, from, withWorkload, question.bytes));
    }
  }
  const sorted = [...flows].sort((a, b) => worstFirst.indexOf(a.verdict) - worstFirst.indexOf(b.verdict));
  const [first] = sorted;
  if (first === undefined) return without({ code: 'trace.nothing' });
  const stranger = flows.find(isElsewhere);
  if (stranger !== undefined) return without({ code: 'trace.elsewhere', address: stranger.aim.address });
  const isOfInternet = asking.value.length === 1 && (isAnybody || question.to.kind === 'internet');
  return { verdict: first.verdict, lack: undefined, flows: sorted, isOfInternet };
}

/** Whether somebody on the internet asked somebody else there: of neither does the plan say anything. */
function isElsewhere({ from, aim, forth, verdict }: FlowTrace): boolean {
  return (
    verdict === 'pass' &&
    from.kind === 'internet' &&
    aim.host === undefined &&
    forth.every(({ event, spot }) => spot.kind === 'internet' && (event === 'sent' || event === 'delivered'))
  );
}

/** Ways of a flow that are followed, at most, where several are as good. */
const MAX_WAYS = 1024;

/** Follows one flow there and back; where ways are as good, each of them, and the worst answers. */
export function traceFlow(forwarding: ForwardingState, from: Host, aim: ResolvedTarget, bytes: number): FlowTrace {
  const turns = new Turns();
  let worst = traceWay(forwarding, from, aim, bytes, turns);
  let room = worst.room;
  for (let ways = 1; worst.verdict !== 'broken' && turns.next(); ways++) {
    if (ways === MAX_WAYS) return worst.verdict === 'pass' ? beyond({ ...worst, room }) : worst;
    const other = traceWay(forwarding, from, aim, bytes, turns);
    room = Math.min(room, other.room);
    if (worstFirst.indexOf(other.verdict) < worstFirst.indexOf(worst.verdict)) worst = other;
  }
  return worst.verdict === 'pass' && room < worst.room ? { ...worst, room } : worst;
}

/** A flow of which not every way was followed: that those pass says nothing of the rest. */
function beyond(flow: FlowTrace): FlowTrace {
  const failure: Failure = { code: 'many-ways', followed: MAX_WAYS };
  const last = flow.back.at(-1) ?? flow.forth.at(-1);
  if (last === undefined) throw new Error('a way without an event');
  const { spot, packet, wraps, room } = last;
  return {
    ...flow,
    verdict: 'unknown',
    back: [...flow.back, { event: 'dropped', failure, spot, packet, wraps, room }],
    failed: { failure, spot, packet, tunnelOf: undefined, isBack: true },
  };
}

function traceWay(
  forwarding: ForwardingState,
  from: Host,
  aim: ResolvedTarget,
  bytes: number,
  turns: Turns,
): FlowTrace {
  const packet: Packet = {
    source: sourceOf(forwarding, from, aim.host),
    destination: addressFrom(from, aim),
    protocol: aim.protocol,
    port: aim.port,
    clientPorts: HOST_PORTS,
    isAnswer: false,
  };
  const flow = newFlow(from, aim.host, aim.isOutside, packet.destination, aim.service, turns);
  const forth = walk(forwarding, from, packet, sizeOf(forwarding, bytes, from, aim.host), flow);
  if (!forth.ok) {
    const failure = ofOverlayPod(forwarding, from, aim.host);
    const failed: Failed = failure === undefined ? forth.failed : { ...bare(forth.failed), failure };
    return {
      from,
      aim,
      verdict: verdictOf(failed),
      ...there(forth),
      failed: { ...failed, isBack: false },
      room: forth.room,
    };
  }
  if (aim.host !== undefined && !isSameHost(forth.host, aim.host))
    return { from, aim, ...astray(forth, aim.address, aim.host, undefined), room: forth.room };
  const back = walk(forwarding, forth.host, answerTo(forth.packet), sizeOf(forwarding, bytes, forth.host, from), flow);
  const both = { from, aim, forth: forth.events, back: back.events, room: Math.min(forth.room, back.room) };
  if (!back.ok) return { ...both, verdict: verdictOf(back.failed), failed: { ...back.failed, isBack: true } };
  if (!isSameHost(back.host, from)) return { ...both, ...astray(back, from.address, from, forth) };
  if (!isSameAddress(back.packet.source, packet.destination)) {
    const failure: Failure = {
      code: 'other-source',
      networkId: from.networkId,
      asked: packet.destination,
      came: back.packet.source,
    };
    return { ...both, ...undone(back, failure, forth) };
  }
  // A connection whose answers go around a firewall that keeps state is never established there.
  const avoided = aim.protocol === 'tcp' ? [...flow.firewalls].find((id) => !back.firewalls.has(id)) : undefined;
  if (avoided === undefined) return { ...both, verdict: 'pass', failed: undefined };
  const failure: Failure = { code: 'avoided', deviceId: avoided, networkId: from.networkId };
  return { ...both, ...undone(back, failure, forth) };
}

/** The address by which who asks knows the target: from the internet a public one. */
function addressFrom(from: Host, { address, host }: ResolvedTarget): Address {
  const isPublic = from.kind === 'internet' && host !== undefined && isSameAddress(host.address, address);
  return (isPublic ? publicStandIn(host) : undefined) ?? address;
}

/**
 * What a machine sends from: a node to overlay pods of its own cluster from its address in the overlay, so that their
 * answers come back inside it.
 */
function sourceOf(forwarding: ForwardingState, from: Host, target: Host | undefined): Address {
  const { cluster } = from;
  if (from.kind !== 'node' || cluster?.podMode !== 'overlay') return from.address;
  if (target?.kind !== 'pod' || target.cluster?.id !== cluster.id) return from.address;
  return tunnelAddress(forwarding, from, from.address.family) ?? from.address;
}

/** Why a pod of an overlay is not reached from outside it, whatever others do with its address; undefined for all else. */
function ofOverlayPod({ crossings }: ForwardingState, from: Host, target: Host | undefined): Failure | undefined {
  const cluster = target?.cluster;
  if (target?.kind !== 'pod' || cluster?.podMode !== 'overlay' || from.cluster?.id === cluster.id) return undefined;
  const isJoined =
    from.cluster !== undefined && crossings.hasTunnels(from.cluster.id) && crossings.hasTunnels(cluster.id);
  // Over a tunnel they have addresses for others, and what stopped the packet is the reason.
  if (isJoined && from.kind === 'pod') return undefined;
  return { code: 'overlay-pod', networkId: target.networkId, clusterId: cluster.id };
}

/** Whether a walk came to the machine that was meant: an address can mean another one elsewhere. */
function isSameHost(a: Host, b: Host): boolean {
  if (a.kind === 'internet' || b.kind === 'internet') return a.kind === b.kind;
  const isPod = a.kind === 'pod' || b.kind === 'pod';
  return (
    a.networkId === b.networkId && isSameAddress(a.address, b.address) && (!isPod || a.cluster?.id === b.cluster?.id)
  );
}

function isSameAddress(a: Address, b: Address): boolean {
  return formatAddress(a) === formatAddress(b);
}

type Arrived = Walked & { readonly ok: true };
type Ending = Pick<FlowTrace, 'verdict' | 'forth' | 'back' | 'failed'>;

/** A packet that came to another machine than was meant; an answer where the way there is known. */
function astray(walked: Arrived, address: Address, meant: Host, forth: Arrived | undefined): Ending {
  const failure: Failure = {
    code: 'elsewhere',
    networkId: walked.host.networkId,
    address,
    arrivedAt: walked.host.label,
    meant: meant.label,
    isBack: forth !== undefined,
  };
  return undone(walked, failure, forth);
}

/** A walk whose last event turns out to be no delivery. */
function undone(walked: Arrived, failure: Failure, forth: Arrived | undefined): Ending {
  const { events, packet, host } = walked;
  const spot = { kind: host.kind, name: host.label };
  const last = events.at(-1);
  const all: readonly RoadEvent[] =
    last === undefined
      ? events
      : [...events, { event: 'dropped', failure, spot, packet: last.packet, wraps: last.wraps, room: last.room }];
  const isBack = forth !== undefined;
  return {
    verdict: 'broken',
    ...(forth === undefined ? { forth: all, back: [] } : { forth: forth.events, back: all }),
    failed: { failure, spot, packet, tunnelOf: undefined, isBack },
  };
}

function there({ events }: Walked): Pick<FlowTrace, 'forth' | 'back'> {
  return { forth: events, back: [] };
}

/** A failure without the tunnel that it met. */
function bare({ tunnel: _, ...failed }: Failed): Failed {
  return failed;
}

function without(lack: Lack): Trace {
  return { verdict: verdictOfLack(lack), lack, flows: [], isOfInternet: false };
}

/** Hosts send no more than their network takes; with the internet each side learns what the other one takes (RFC 9293 3.7.1). */
function sizeOf(forwarding: ForwardingState, bytes: number, from: Host, to: Host | undefined): number {
  const own = Math.min(bytes, mtuOf(forwarding, from));
  return from.kind === 'internet' && to !== undefined ? Math.min(own, mtuOf(forwarding, to)) : own;
}

function mtuOf({ parts }: ForwardingState, { networkId }: Host): number {
  return byId(parts.networks, networkId)?.mtu ?? Number.POSITIVE_INFINITY;
}

function familyOfNeed({ parts }: ForwardingState, target: Target | Place): 4 | 6 | undefined {
  if (target.kind !== 'need') return undefined;
  const prefixes = byId(parts.needs, target.needId)?.prefixes ?? [];
  return prefixes.length > 0 && prefixes.every((prefix) => prefix.includes(':')) ? 6 : undefined;
}
