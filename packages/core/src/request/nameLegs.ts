import type { FlowTrace, Host } from '../forwarding/index.js';
import { addressesOf, askerOf, codeOf, resolve } from '../naming/index.js';
import type { NameOutcome, Query, Resolution } from '../naming/index.js';
import type { NameTarget } from '../plan/index.js';
import type { AnyType } from '../zones/index.js';
import type { Answer, Leg, Stage } from './answer.js';
import { joined } from './answer.js';
import type { IngressState } from '../ingress/index.js';
import type { NameQuestion, RequestFact, RoadEvent, Verdict } from '../road/index.js';
import { CLIENT_OUTSIDE, formatNameAnswered, formatRequest } from '../english/index.js';
import type { Names } from '../english/index.js';

/** Resolves a name as a machine or pod would; network policies may keep a pod from asking at all. */
export function resolveFor(state: IngressState, from: Host, name: string, type: AnyType): Resolution {
  return resolve(state.names, askerOf(from, heldBack(state, from)), name, type);
}

/** Answers a question for a name. */
export function askName(state: IngressState, from: Host, { name, type }: NameTarget): Answer {
  const resolution = resolveFor(state, from, name, type);
  const verdict = verdictOf(resolution);
  const legs = legsOf(from, resolution);
  const road = joined(legs, `name ${name}`, verdict);
  return {
    verdict,
    status: undefined,
    sentence: sentenceOf(from, resolution, name, state.forwarding.parts),
    flows: road === undefined ? [] : [road],
    stages: stagesOf(state, resolution),
    members: [],
    standby: [],
    addresses: [],
    sentTo: undefined,
    unanswered: [],
    via: [],
    seenAs: undefined,
    resolution,
  };
}

/** How an ending of a name counts: a filter that stops the question refuses it. */
export function verdictOf({ outcome, queries }: Resolution): Verdict {
  if (outcome === 'answer') return 'pass';
  if (outcome === 'outside') return 'unknown';
  const stopped = queries.at(-1)?.flow?.verdict;
  return outcome === 'time-out' && stopped === 'refused' ? 'refused' : 'broken';
}

/** Each question as something that was decided on the way. What is found further on makes earlier names that do not exist no fault. */
export function stagesOf(
  { forwarding }: Pick<IngressState, 'forwarding'>,
  { queries: all, type: asked }: Resolution,
): Stage[] {
  // That the question for the other family is passed on alike is told once.
  const queries = all.filter(
    ({ type, outcome, records }) => type === asked || outcome !== 'answer' || records.length > 0,
  );
  const last = queries.at(-1);
  const isFound = queries.some(({ outcome, name }) => outcome === 'answer' && name === last?.name);
  return pairs(queries).map(({ query, types }) => {
    const { name, server, outcome, records, why, subject, flow } = query;
    const fact: RequestFact = { code: 'query', name, types, server, ended: replied(outcome, records), why };
    const isOpen = outcome === 'outside' || isFound || name !== last?.name;
    const stopped = outcome === 'time-out' && flow?.verdict === 'refused' ? 'refused' : 'broken';
    return {
      about: 'query',
      outcome: outcome === 'answer' ? 'ok' : isOpen ? 'open' : stopped,
      fact,
      description: formatRequest(forwarding.parts, fact),
      lost: [],
      ...(subject === undefined ? {} : { subject }),
    };
  });
}

/** Questions for A and AAAA of one name that end alike are told as one. */
function pairs(queries: readonly Query[]): { readonly query: Query; readonly types: string }[] {
  const told: { query: Query; types: string }[] = [];
  for (const query of queries) {
    const before = told.at(-1);
    const isAlike =
      before !== undefined &&
      before.query.name === query.name &&
      before.query.server === query.server &&
      before.query.outcome === query.outcome &&
      query.outcome !== 'answer';
    if (isAlike) before.types = `${before.types} and ${query.type}`;
    else told.push({ query, types: query.type });
  }
  return told;
}

/** The questions as parts of the road: the way to who is asked, and what is answered there. Those for the other family go the same way. */
export function legsOf(from: Host, resolution: Resolution): Leg[] {
  const asked = resolution.queries.filter((query) => query.type === resolution.type);
  return asked.map(({ name, type, server, outcome, records, flow }, at): Leg => {
    if (flow !== undefined && flow.verdict !== 'pass') return { flow, chosen: undefined };
    const before = flow?.forth ?? [];
    // A question that crosses no network of the plan has no addresses to tell: those of who asks stand for them, and are not shown.
    const packet = before.at(-1)?.packet ?? {
      source: from.address,
      destination: from.address,
      protocol: 'udp' as const,
      port: 53,
      clientPorts: { first: 1024, last: 65_535 },
      isAnswer: false as const,
    };
    const sent: RoadEvent = {
      spot: { kind: from.kind, name: from.label },
      event: 'sent',
      question: { name, type },
      packet,
      wraps: [],
      room: Infinity,
    };
    const isEnd = at === asked.length - 1 && resolution.outcome !== 'answer' && resolution.outcome !== 'outside';
    const step: RoadEvent = {
      spot: { kind: 'resolver', name: server },
      event: isEnd ? 'dropped' : 'resolved',
      question: { name, type, ended: endedAs(outcome, records) },
      packet,
      wraps: [],
      room: Infinity,
    };
    const aim = flow?.aim ?? {
      address: packet.destination,
      protocol: 'udp' as const,
      port: 53,
      host: undefined,
      isOutside: true,
      label: server,
    };
    // Answers come back at once: the way on begins where the question did.
    const own: FlowTrace = {
      from,
      aim,
      verdict: 'pass',
      forth: [...(before.length === 0 && at === 0 ? [sent] : before), step],
      back: [],
      failed: undefined,
      room: Infinity,
    };
    return { flow: own, chosen: undefined };
  });
}

/** What a server replies, as part of a sentence. */
function replied(outcome: NameOutcome, records: Query['records']): (RequestFact & { readonly code: 'query' })['ended'] {
  if (outcome === 'answer' && records.length === 0) return { is: 'passed on' };
  if (outcome === 'time-out') return { is: 'time-out' };
  if (outcome === 'outside') return { is: 'elsewhere' };
  return { is: 'answered', with: endedAs(outcome, records) };
}

function endedAs(outcome: NameOutcome, records: Query['records']): NonNullable<NameQuestion['ended']> {
  return { code: outcome === 'answer' ? '' : codeOf[outcome], records };
}

function sentenceOf(
  from: Host,
  { outcome, records, ttl, why, queries, tried, sent, name }: Resolution,
  asked: string,
  names: Names,
): string {
  const addresses = addressesOf({ outcome, records });
  return formatNameAnswered(names, {
    asker: from.kind === 'internet' ? CLIENT_OUTSIDE : from.label,
    asked: asked.replace(/\.$/, ''),
    name,
    ended: outcome === 'answer' ? undefined : outcome === 'outside' ? '' : codeOf[outcome],
    values: addresses.length > 0 ? addresses : records.map(({ value }) => value),
    ttl,
    isRemembered: ttl > 0 && (outcome === 'no name' || outcome === 'no data'),
    why,
    sent: from.kind === 'pod' ? { queries: sent, names: tried.length } : undefined,
    steps: queries.length,
  });
}

/** The workload of a pod whose network policies let it ask nobody for names; undefined where they do. */
function heldBack(state: IngressState, { kind, cluster, guard }: Host): string | undefined {
  if (kind !== 'pod' || cluster === undefined || guard === undefined) return undefined;
  if (state.policiesOf(cluster).asksNames(guard.workload, state.dnsRangesOf(cluster))) return undefined;
  return `${guard.workload.namespace}/${guard.workload.name}`;
}
