import { formatAddress } from '../address/index.js';
import type { Address } from '../address/index.js';
import { byId } from '../plan/index.js';
import type { Place, Question, Target } from '../plan/index.js';
import type { Problem } from '../result.js';
import { sayNumber } from '../working/index.js';
import type { Forwarding } from './forwarding.js';
import { tunnelAddress } from './host.js';
import type { Host } from './host.js';
import { answerTo, HOST_PORTS } from './packet.js';
import type { Packet } from './packet.js';
import { aimsOf, familyOf, hostOfPlace } from './resolve.js';
import type { Aim } from './resolve.js';
import type { Failed, Step } from './step.js';
import { newFlow, walk } from './walk.js';
import type { Walked } from './walk.js';

/** pass: there and back; refused: a rule or device says no; broken: something is missing or wrong; unknown: the plan does not say. */
export type TraceVerdict = 'pass' | 'refused' | 'broken' | 'unknown';

/** One flow of a question, hop by hop, there and back. */
export interface FlowTrace {
  readonly aim: Aim;
  readonly verdict: TraceVerdict;
  readonly forth: readonly Step[];
  readonly back: readonly Step[];
  /** Where it failed; undefined when it passes. */
  readonly failed: (Failed & { readonly isBack: boolean }) | undefined;
  /** Largest packet that passes whole both ways, in bytes; of a failed flow, as far as it came. */
  readonly room: number;
}

/** The answer to a question. */
export interface Trace {
  readonly verdict: TraceVerdict;
  /** The answer in one sentence. */
  readonly sentence: string;
  /** Each flow that the question comes to, the one that decides first; none when a place has no address. */
  readonly flows: readonly FlowTrace[];
}

/** Verdicts, the worst first. */
export const worstFirst: readonly TraceVerdict[] = ['broken', 'refused', 'unknown', 'pass'];

/** Gives a host what is known of it beyond forwarding: of which workload a pod is. */
export type Dress = (host: Host, place: Place | Target) => Host;

/** Answers a question: the flow is followed there and back, and the worst of several flows decides. */
export function trace(forwarding: Forwarding, question: Question, dress: Dress = (host) => host): Trace {
  const family =
    familyOf(forwarding, question.to) ??
    familyOf(forwarding, question.from) ??
    familyOfNeed(forwarding, question.to) ??
    4;
  const asking = hostOfPlace(forwarding, question.from, family);
  if (!asking.ok) return unknown(asking.problem);
  const from = dress(asking.value, question.from);
  const aims = aimsOf(forwarding, question.to, from);
  if (!aims.ok) return unknown(aims.problem);
  // Who asks from the internet may be anywhere on it.
  const isAnybody = question.from.kind === 'internet' && family === 4;
  const askers = isAnybody ? forwarding.internet.map((address) => ({ ...from, address })) : [from];
  const flows = askers.flatMap((asker) =>
    aims.value.map((aim) => {
      const dressed = aim.host === undefined ? aim : { ...aim, host: dress(aim.host, question.to) };
      return traceFlow(forwarding, asker, dressed, question.bytes);
    }),
  );
  const sorted = [...flows].sort((a, b) => worstFirst.indexOf(a.verdict) - worstFirst.indexOf(b.verdict));
  const [first] = sorted;
  if (first === undefined) return unknown({ code: 'trace.nothing', message: 'There is nothing to reach.', mend: '' });
  return {
    verdict: first.verdict,
    sentence: sentenceOf(from, first, flows.length, isAnybody || question.to.kind === 'internet'),
    flows: sorted,
  };
}

/** Follows one flow there and back. */
export function traceFlow(forwarding: Forwarding, from: Host, aim: Aim, bytes: number): FlowTrace {
  const packet: Packet = {
    source: sourceOf(forwarding, from, aim.host),
    destination: aim.address,
    protocol: aim.protocol,
    port: aim.port,
    clientPorts: HOST_PORTS,
    isAnswer: false,
  };
  const size = Math.min(bytes, mtuOf(forwarding, from));
  const flow = newFlow(from, aim.host, aim.isOutside, aim.door);
  const forth = walk(forwarding, from, packet, size, flow);
  if (!forth.ok) {
    const failed = ofOverlayPod(forwarding, from, aim.host) ?? forth.failed;
    return {
      aim,
      verdict: verdictOf(failed),
      forth: forth.steps,
      back: [],
      failed: { ...forth.failed, ...failed, isBack: false },
      room: forth.room,
    };
  }
  if (aim.host !== undefined && !isSameHost(forth.host, aim.host)) {
    const say = `${formatAddress(aim.address)} leads to ${forth.host.label} there, not to ${aim.host.label}.`;
    return {
      aim,
      verdict: 'broken',
      forth: ended(forth.steps, say),
      back: [],
      failed: astray(forth, say, false),
      room: forth.room,
    };
  }
  const size2 = Math.min(bytes, mtuOf(forwarding, forth.host));
  const back = walk(forwarding, forth.host, answerTo(forth.packet), size2, flow);
  const room = Math.min(forth.room, back.room);
  if (!back.ok)
    return {
      aim,
      verdict: verdictOf(back.failed),
      forth: forth.steps,
      back: back.steps,
      failed: { ...back.failed, isBack: true },
      room,
    };
  if (!isSameHost(back.host, from)) {
    const say = `The answer to ${formatAddress(from.address)} arrives at ${back.host.label}, not at ${from.label}.`;
    return {
      aim,
      verdict: 'broken',
      forth: forth.steps,
      back: ended(back.steps, say),
      failed: astray(back, say, true),
      room,
    };
  }
  // A connection whose answers go around a firewall that keeps state is never established there.
  const avoided = aim.protocol === 'tcp' ? [...flow.firewalls].find((id) => !back.firewalls.has(id)) : undefined;
  if (avoided !== undefined) {
    const name = byId(forwarding.parts.firewalls, avoided)?.name ?? '';
    const say = `The answers go around the firewall ${name}, which keeps state: it never sees the connection established and drops what follows.`;
    const failed: Failed & { isBack: boolean } = {
      failure: { code: 'avoided', deviceId: avoided, networkId: from.networkId },
      say,
      packet: back.packet,
      tunnelOf: undefined,
      isBack: true,
    };
    const steps = ended(back.steps, say);
    return { aim, verdict: 'broken', forth: forth.steps, back: steps, failed, room };
  }
  return { aim, verdict: 'pass', forth: forth.steps, back: back.steps, failed: undefined, room };
}

/**
 * What a machine sends from: a node to overlay pods of its own cluster from its address in the overlay, so that their
 * answers come back inside it.
 */
function sourceOf(forwarding: Forwarding, from: Host, target: Host | undefined): Address {
  const { cluster } = from;
  if (from.kind !== 'node' || cluster?.podMode !== 'overlay') return from.address;
  if (target?.kind !== 'pod' || target.cluster?.id !== cluster.id) return from.address;
  return tunnelAddress(forwarding, cluster, from.address.family) ?? from.address;
}

/** Why a pod of an overlay is not reached from outside it, whatever others do with its address; undefined for all else. */
function ofOverlayPod(
  { crossings, parts }: Forwarding,
  from: Host,
  target: Host | undefined,
): Pick<Failed, 'failure' | 'say'> | undefined {
  const cluster = target?.cluster;
  if (target?.kind !== 'pod' || cluster?.podMode !== 'overlay' || from.cluster?.id === cluster.id) return undefined;
  const isJoined =
    from.cluster !== undefined && crossings.hasTunnels(from.cluster.id) && crossings.hasTunnels(cluster.id);
  // Over a tunnel they have addresses for others, and what stopped the packet is the reason.
  if (isJoined && from.kind === 'pod') return undefined;
  const joins = parts.members
    .filter(({ clusterId }) => clusterId === cluster.id)
    .flatMap(({ connectionId }) => byId(parts.connections, connectionId)?.name ?? []);
  const over =
    joins.length === 0 ? 'or over a connection that its cluster joins' : `or over ${joins.join(', ')} from its members`;
  return {
    failure: { code: 'overlay-pod', networkId: target.networkId },
    say: [
      `Pods of ${cluster.name} are in an overlay, so their addresses exist inside it only:`,
      `from outside they are reached through a service or an entry point of ${cluster.name}, ${over}.`,
    ].join(' '),
  };
}

/** Whether a walk came to the machine that was meant: an address can mean another one elsewhere. */
function isSameHost(a: Host, b: Host): boolean {
  if (a.kind === 'internet' || b.kind === 'internet') return a.kind === b.kind;
  const isPod = a.kind === 'pod' || b.kind === 'pod';
  return (
    a.networkId === b.networkId &&
    formatAddress(a.address) === formatAddress(b.address) &&
    (!isPod || a.cluster?.id === b.cluster?.id)
  );
}

function astray(
  { packet, host }: Walked & { readonly ok: true },
  say: string,
  isBack: boolean,
): Failed & { readonly isBack: boolean } {
  return { failure: { code: 'elsewhere', networkId: host.networkId }, say, packet, tunnelOf: undefined, isBack };
}

/** The steps of a walk whose last one turns out to be no delivery. */
function ended(steps: readonly Step[], say: string): readonly Step[] {
  const last = steps.at(-1);
  return last === undefined ? steps : [...steps, { ...last, event: 'dropped', say }];
}

/** Refused where a rule decided, unknown where the plan does not say, else broken. */
export function verdictOf({ failure }: Pick<Failed, 'failure'>): TraceVerdict {
  switch (failure.code) {
    case 'filter':
    case 'firewall':
    case 'route-drops':
    case 'unsolicited':
    case 'private-destination':
    case 'policy':
      return 'refused';
    case 'ambiguous':
    case 'service-address':
      return 'unknown';
    case 'no-route':
    case 'no-taker':
    case 'hop-gone':
    case 'loop':
    case 'nobody':
    case 'private-source':
    case 'no-state':
    case 'avoided':
    case 'too-big':
    case 'shadowed':
    case 'elsewhere':
    case 'overlay-pod':
    case 'no-gateway':
      return 'broken';
  }
}

function unknown({ message, mend }: Problem): Trace {
  return { verdict: 'unknown', sentence: `${message} ${mend}`.trim(), flows: [] };
}

function mtuOf({ parts }: Forwarding, { networkId }: Host): number {
  return byId(parts.networks, networkId)?.mtu ?? Number.POSITIVE_INFINITY;
}

function familyOfNeed({ parts }: Forwarding, target: Target | Place): 4 | 6 | undefined {
  if (target.kind !== 'need') return undefined;
  const prefixes = byId(parts.needs, target.needId)?.prefixes ?? [];
  return prefixes.length > 0 && prefixes.every((prefix) => prefix.includes(':')) ? 6 : undefined;
}

function sentenceOf(
  from: Host,
  { aim, verdict, forth, back, failed, room }: FlowTrace,
  count: number,
  isOfInternet: boolean,
): string {
  const flows = isOfInternet ? 'addresses that stand for the internet' : 'flows';
  const service = aim.port === 0 ? aim.protocol : `${aim.protocol} ${aim.port}`;
  const target = `${aim.label} (${formatAddress(aim.address)} ${service})`;
  const among = count > 1 ? ` This is one of ${count} ${flows}.` : '';
  if (failed !== undefined) {
    const what = verdict === 'refused' ? 'is refused' : verdict === 'unknown' ? 'is not decided' : 'does not arrive';
    return failed.isBack
      ? `${from.label} to ${target}: the packet arrives, and the answer ${what}. ${failed.say}${among}`
      : `${from.label} to ${target} ${what}. ${failed.say}${among}`;
  }
  const through = [
    ...new Set(
      [...forth, ...back]
        .filter(({ lane }) => lane.kind === 'NAT device' || lane.kind === 'firewall')
        .map(({ lane }) => `${lane.kind} ${lane.name}`),
    ),
  ];
  const way = through.length === 0 ? '' : ` through ${through.join(' and ')}`;
  const all = count > 1 ? ` So do all ${count} ${flows}.` : '';
  return `${from.label} reaches ${target}${way}, and the answers come back; packets of up to ${sayNumber(room)} bytes pass whole.${all}`;
}
