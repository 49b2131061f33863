import type { Family } from '../address/index.js';
import { lackProblem, formatRequest, formatTrace } from '../english/index.js';
import type { Names } from '../english/index.js';
import { hostsOfPlace, trace } from '../forwarding/index.js';
import type { Dress, Host } from '../forwarding/index.js';
import { byId, grouped, writeUrl } from '../plan/index.js';
import type { Place, Question, Target, Destination, UrlTarget, Workload } from '../plan/index.js';
import { formatProblem } from '../result.js';
import { verdictOfLack, worstFirst } from '../road/index.js';
import type { Answer } from './answer.js';
import type { IngressState } from '../ingress/index.js';
import { askName } from './nameLegs.js';
import { nameOf } from '../ingress/index.js';
import { atNodePort } from './nodePorts.js';
import { RequestWalk } from './requestWalk.js';

/**
 * Answers any question: packets are followed there and back, names to what answers them, services and requests to
 * the pods that answer. Where a pod of a workload is named, the network policies of its cluster hold its calls; where
 * none is, every kind of workload is asked.
 */
export function ask(state: IngressState, question: Question<Destination>): Answer {
  return askVia(state, question, undefined);
}

/**
 * Answers a request whose client connects to an address whatever its name comes to, and is not followed where it is sent on: what a
 * load balancer at that address does with it.
 */
export function askAt(state: IngressState, question: Question<UrlTarget>, address: string): Answer {
  return askVia(state, question, address);
}

function askVia(state: IngressState, question: Question<Destination>, at: string | undefined): Answer {
  const { to, bytes } = question;
  const from = ofWorkload(state, question.from);
  if (to.kind !== 'url' && to.kind !== 'service' && to.kind !== 'name')
    return askPackets(state, { from, to: ofWorkload(state, to), bytes });
  const asking = hostsOfPlace(state.forwarding, from, familyOfPlace(state, from));
  if (!asking.ok) {
    const { lack } = asking;
    return { ...undecided(formatProblem(lackProblem(state.forwarding.parts, lack))), verdict: verdictOfLack(lack) };
  }
  const names = state.forwarding.parts;
  const service = to.kind === 'service' ? byId(state.parts.services, to.serviceId) : undefined;
  if (to.kind === 'service' && service === undefined)
    return undecided(formatRequest(names, { code: 'asked.service-gone' }));
  const asked = (host: Host): Answer => {
    if (to.kind === 'name') return askName(state, host, to);
    if (to.kind === 'url') {
      const walk = new RequestWalk(state, host, writeUrl(to), bytes);
      return at === undefined ? walk.ask(to) : walk.askAt(to, at);
    }
    return service === undefined
      ? undecided('')
      : new RequestWalk(state, host, `${service.namespace}/${service.name}`, bytes).askService(service, to.port);
  };
  const kinds = workloadsMeant(state, from);
  return worstOf(
    names,
    kinds.flatMap((which) =>
      asking.value.map((host) => ({ which, answer: asked(withWorkload(state, host, from, which)) })),
    ),
    kinds.length > 1,
  );
}

/** A pod of a workload runs where that does: in its node pool, unless another one was named. */
function ofWorkload<T extends Place | Target>(state: IngressState, place: T): T {
  if (place.kind !== 'pod' || place.workloadId === undefined || place.nodePoolId !== null) return place;
  return { ...place, nodePoolId: byId(state.parts.workloads, place.workloadId)?.nodePoolId ?? null };
}

/** Packets between every kind of workload that may be meant at either end. */
function askPackets(state: IngressState, { from, to, bytes }: Question): Answer {
  const asking = workloadsMeant(state, from);
  const asked = workloadsMeant(state, to);
  return worstOf(
    state.forwarding.parts,
    asking.flatMap((one) =>
      asked.map((other) => {
        const dress = (host: Host, at: Place | Target) => withWorkload(state, host, at, at === from ? one : other);
        const answer = tracedPackets(state, { from, to, bytes }, dress);
        return {
          which: asking.length > 1 ? one : other,
          answer: to.kind === 'node' || to.kind === 'address' ? atNodePort(state, to.service, bytes, answer) : answer,
        };
      }),
    ),
    asking.length * asked.length > 1,
  );
}

interface Way {
  /** Who is meant; undefined for a pod of no workload. */
  readonly which: Workload | undefined;
  readonly answer: Answer;
}

/**
 * The answers of everybody who may be meant: the worst decides, and where some are answered otherwise that is told. Where
 * it depends on a workload that was not named, neither answer is that of the question.
 */
function worstOf(names: Names, ways: readonly Way[], isOpen: boolean): Answer {
  const rank = ({ answer }: Way) => worstFirst.indexOf(answer.verdict);
  const sorted = [...ways].sort((a, b) => rank(a) - rank(b));
  const [worst] = sorted;
  if (worst === undefined) return undecided(formatRequest(names, { code: 'asked.nobody' }));
  const stopped = sorted.filter(({ answer }) => answer.verdict !== 'pass');
  const passing = sorted.length - stopped.length;
  if (passing === 0 || stopped.length === 0) return worst.answer;
  const { answer } = worst;
  if (!isOpen) {
    const zones = formatRequest(names, { code: 'asked.zones', passing, of: ways.length });
    return { ...answer, sentence: `${answer.sentence} ${zones}` };
  }
  const kinds = [...new Set(stopped.map(({ which }) => (which === undefined ? undefined : nameOf(which))))];
  const depends = formatRequest(names, { code: 'asked.workloads', stopped: kinds });
  return { ...answer, verdict: 'unknown', sentence: `${depends} ${answer.sentence}` };
}

/**
 * The workloads that a pod may be of where none is named: one for each set of network policies, which tell them apart;
 * undefined stands for those that no policy selects.
 */
function workloadsMeant(state: IngressState, place: Place | Target): readonly (Workload | undefined)[] {
  if (place.kind !== 'pod' || place.workloadId !== undefined) return [undefined];
  const cluster = byId(state.parts.clusters, place.clusterId);
  if (cluster === undefined) return [undefined];
  const policies = grouped(state.parts.networkPolicies, 'clusterId').get(cluster.id) ?? [];
  if (policies.length === 0) return [undefined];
  const set = state.policiesOf(cluster);
  const kinds = new Map<string, Workload>();
  for (const workload of state.workloadsOf(cluster.id)) {
    const key = policies
      .filter((policy) => set.selects(policy, workload))
      .map(({ id }) => id)
      .join(' ');
    if (!kinds.has(key)) kinds.set(key, workload);
  }
  return kinds.size === 0 ? [undefined] : [...kinds.values()];
}

function tracedPackets(state: IngressState, question: Question, dress: Dress): Answer {
  const answer = trace(state.forwarding, question, dress);
  const { verdict, flows } = answer;
  return { ...noStages, verdict, flows, sentence: formatTrace(state.forwarding.parts, answer) };
}

const noStages = {
  status: undefined,
  stages: [],
  members: [],
  standby: [],
  addresses: [],
  sentTo: undefined,
  unanswered: [],
  via: [],
  seenAs: undefined,
  resolution: undefined,
} as const;

function undecided(sentence: string): Answer {
  return { ...noStages, verdict: 'unknown', sentence, flows: [] };
}

/** IPv6 where the place speaks nothing else. */
function familyOfPlace({ parts }: IngressState, place: Place): Family {
  if (place.kind === 'address') return place.address.includes(':') ? 6 : 4;
  if (place.kind !== 'pod' && place.kind !== 'node') return 4;
  return byId(parts.clusters, place.clusterId)?.family === 'ipv6' ? 6 : 4;
}

function withWorkload(state: IngressState, host: Host, place: Place | Target, meant: Workload | undefined): Host {
  if (place.kind !== 'pod' || host.cluster === undefined) return host;
  const named = byId(state.parts.workloads, place.workloadId ?? '');
  const workload = named ?? meant;
  if (workload === undefined) return host;
  const guard = state.policiesOf(host.cluster).guardOf(workload);
  // Of a workload that nobody named only what holds its pods is known.
  if (named === undefined) return { ...host, guard };
  const which = host.isNeighbour === true ? 'neighbouring ' : host.isAnother === true ? 'another ' : '';
  const label = `${which}pod of ${workload.namespace}/${workload.name}`;
  return { ...host, label, guard };
}
