import type { Family } from '../address/index.js';
import { hostOfPlace, trace } from '../forwarding/index.js';
import type { Dress, Host } from '../forwarding/index.js';
import { lackProblem, sayTrace } from '../english/index.js';
import { sayProblem } from '../result.js';
import { byId, writeUrl } from '../plan/index.js';
import type { Place, Question, Target, Wish } from '../plan/index.js';
import type { Answer } from './answer.js';
import type { IngressState } from './ingressState.js';
import { askName } from './nameLegs.js';
import { RequestWalk } from './requestWalk.js';

/**
 * Answers any question: packets are followed there and back, names to what answers them, services and requests to
 * the pods that answer. Where a pod of a workload is named, the network policies of its cluster hold its calls.
 */
export function ask(state: IngressState, question: Question<Wish>): Answer {
  const dress = (host: Host, place: Place | Target) => dressed(state, host, place);
  const { from, to, bytes } = question;
  const answer = () => {
    if (to.kind !== 'url' && to.kind !== 'service' && to.kind !== 'name')
      return tracedPackets(state, { from, to, bytes }, dress);
    const asking = hostOfPlace(state.forwarding, from, familyOfPlace(state, from));
    if (!asking.ok) return undecided(sayProblem(lackProblem(state.forwarding.parts, asking.lack)));
    const host = dress(asking.value, from);
    if (to.kind === 'name') return askName(state, host, to);
    if (to.kind === 'url') return new RequestWalk(state, host, writeUrl(to), bytes).ask(to);
    const service = byId(state.parts.services, to.serviceId);
    if (service === undefined) return undecided('That service is not in the plan.');
    return new RequestWalk(state, host, `${service.namespace}/${service.name}`, bytes).askService(service, to.port);
  };
  const found = answer();
  return { ...found, sentence: found.sentence + unjudged(state, question) };
}

function tracedPackets(state: IngressState, question: Question, dress: Dress): Answer {
  const answer = trace(state.forwarding, question, dress);
  const { verdict, flows } = answer;
  return { ...noStages, verdict, flows, sentence: sayTrace(state.forwarding.parts, answer) };
}

const noStages = {
  status: undefined,
  stages: [],
  members: [],
  standby: [],
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

function dressed(state: IngressState, host: Host, place: Place | Target): Host {
  if (place.kind !== 'pod' || host.cluster === undefined) return host;
  const workload = byId(state.parts.workloads, place.workloadId ?? '');
  if (workload === undefined) return host;
  return {
    ...host,
    label: `${host.label.startsWith('another') ? 'another ' : ''}pod of ${workload.namespace}/${workload.name}`,
    guard: state.policiesOf(host.cluster).guardOf(workload),
  };
}

/** What cannot be judged while it is not said of which workload a pod is. */
function unjudged({ parts }: IngressState, { from, to }: Question<Wish>): string {
  const open = [from, to].some(
    (place) =>
      place.kind === 'pod' &&
      place.workloadId === undefined &&
      parts.networkPolicies.some(({ clusterId }) => clusterId === place.clusterId),
  );
  return open ? ' Network policies are not judged: name the workload of the pod, such as “workload shop/basket”.' : '';
}
