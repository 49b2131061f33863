import type { FlowTrace } from '../forwarding/index.js';
import type { Resolution } from '../naming/index.js';
import type { ClusterService, Workload } from '../plan/index.js';
import type { Lost } from '../ingress/index.js';
import type { Choice, RequestFact, RoadEvent, Subject, Verdict } from '../road/index.js';

/** One thing that is decided on the way of a request. */
export interface Stage {
  readonly about:
    | 'name'
    | 'query'
    | 'listener'
    | 'certificate'
    | 'route'
    | 'source'
    | 'limit'
    | 'service'
    | 'members'
    | 'open step';
  readonly outcome: 'ok' | 'refused' | 'broken' | 'open';
  readonly fact: RequestFact;
  /** The same in a sentence. */
  readonly description: string;
  readonly subject?: Subject;
  /** For a route: those that did not get the request. */
  readonly lost: readonly Lost[];
}

/** Pods that answer, and how many of all requests they get. */
export interface AnsweredBy {
  readonly service: ClusterService;
  readonly workload: Workload;
  readonly port: number;
  /** 0 to 1. */
  readonly share: number;
  /** The cluster that they are in. */
  readonly cluster: string;
  /** The lowest is called; others take over, one after the other, when none of it is left. */
  readonly rank: number;
}

/** A share of the calls that is not answered, 0 to 1, and why. */
export interface Unanswered {
  readonly share: number;
  readonly verdict: Verdict;
  readonly status: number | undefined;
  readonly description: string;
}

/** The answer to a request: who answers and why, with every hop. */
export interface Answer {
  readonly verdict: Verdict;
  /** The answer in one sentence. */
  readonly sentence: string;
  /** Each flow that the question comes to, the one that decides first; none when a place has no address. */
  readonly flows: readonly FlowTrace[];
  /** Status that the client sees, where the plan decides it: a redirect or a refusal. */
  readonly status: number | undefined;
  readonly stages: readonly Stage[];
  readonly members: readonly AnsweredBy[];
  /** Pods that take over when none of these is left, in their order. */
  readonly standby: readonly AnsweredBy[];
  /** Fixed addresses that answer in place of pods, each with the same share of what pods leave. */
  readonly addresses: readonly string[];
  /** Where a client is sent to, of a request that does not follow it; undefined where it is not. */
  readonly sentTo: string | undefined;
  /** Shares of the calls that end before anybody answers them; none where all or nothing is answered. */
  readonly unanswered: readonly Unanswered[];
  /** What the request passes before its pods, by name, in its order: a load balancer, a controller. */
  readonly via: readonly Via[];
  /** The client’s address as the pods see it; undefined where nobody answers. */
  readonly seenAs: string | undefined;
  /** What the name in the question came to; undefined where none was asked for. */
  readonly resolution: Resolution | undefined;
}

/** Something that a request passes before the pods that answer it. */
export interface Via {
  readonly what: 'load balancer' | 'controller' | 'relay';
  readonly name: string;
  /** Pods that do it, as far as it runs in pods; how its nodes share calls among them. */
  readonly pods: number | undefined;
  readonly isSharedByNode: boolean;
}

/** One part of a road, from one machine to the next, and what chose that one. */
export interface Leg {
  readonly flow: FlowTrace;
  /** Undefined for the first. */
  readonly chosen: Choice | undefined;
}

/** One road of several legs: there in their order, back the other way round. */
export function joined(legs: readonly Leg[], label: string, verdict: Verdict): FlowTrace | undefined {
  const [first] = legs;
  if (first === undefined) return undefined;
  const flows = legs.map(({ flow }) => flow);
  const failed = flows.find((flow) => flow.failed !== undefined)?.failed;
  const forth = legs.flatMap(({ flow, chosen }, at): readonly RoadEvent[] => {
    const before = flows[at - 1]?.forth.at(-1);
    if (before === undefined || chosen === undefined) return flow.forth;
    const { spot, packet, wraps, room } = before;
    return [{ event: 'chosen', choice: chosen, spot, packet, wraps, room }, ...flow.forth];
  });
  // What did not come there is not answered.
  const back = failed !== undefined && !failed.isBack ? [] : [...flows].reverse().flatMap((flow) => flow.back);
  // Where a name was asked for first, the road is to what it led to.
  const main = flows.find(({ forth: steps }) => steps.at(-1)?.spot.kind !== 'resolver') ?? first.flow;
  return {
    from: first.flow.from,
    aim: { ...main.aim, label },
    verdict,
    forth,
    back,
    failed,
    room: Math.min(...flows.map(({ room }) => room)),
  };
}
