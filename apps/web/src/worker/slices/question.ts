import { formatAddress, formatPrefix } from '@wide-lattice/core/address';
import { forwarding } from '@wide-lattice/core/forwarding';
import { mendsOf } from '@wide-lattice/core/reach';
import { ask } from '@wide-lattice/core/request';
import { ingress } from '@wide-lattice/core/ingress';
import { codeOf } from '@wide-lattice/core/naming';
import type { Resolution } from '@wide-lattice/core/naming';
import { byId, kindRules, readQuestion, readPacketQuestion, readZone } from '@wide-lattice/core/plan';
import { formatProblem } from '@wide-lattice/core/result';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { Forwarding } from '@wide-lattice/core/forwarding';
import type { IngressState } from '@wide-lattice/core/ingress';
import type { Stage } from '@wide-lattice/core/request';
import type { Entity, Kind, Operation, Plan } from '@wide-lattice/core/plan';
import { kindViews } from '../../kinds/kindViews';
import { decisionsOf, lookUpOf, subjectOf } from '@wide-lattice/core/road';
import type { EventKind, RoadEvent, RouteRow, RuleDecision, TableLookUp, Verdict } from '@wide-lattice/core/road';
import {
  formatEvent,
  formatLoss,
  formatMend,
  formatNextHop,
  formatRouteLoss,
  formatRowSource,
} from '@wide-lattice/core/english';

/** One step of the road, ready to be shown. */
export interface ShownStep {
  /** The lane it stands in, counted from the left. */
  readonly lane: number;
  readonly event: EventKind;
  readonly description: string;
  readonly source: string;
  readonly destination: string;
  readonly before: { readonly source: string; readonly destination: string } | undefined;
  readonly wraps: string;
  /** Bytes that fit up to here; undefined before anything bounds them. */
  readonly room: number | undefined;
  readonly table: ShownLookUp | undefined;
  readonly rules: readonly { readonly words: string; readonly path: string }[];
  readonly path: string | undefined;
}

/** A table as it was looked up. */
interface ShownLookUp {
  readonly name: string;
  readonly decided: ShownRow | undefined;
  readonly lost: readonly (ShownRow & { readonly why: string })[];
}

/** A row of a route table. */
export interface ShownRow {
  readonly prefix: string;
  readonly hop: string;
  readonly from: string;
  readonly origin: RouteRow['origin'];
  /** Where the entity it comes from is shown. */
  readonly path: string;
}

/** A place on the road. */
export interface ShownLane {
  readonly kind: string;
  readonly name: string;
}

/** One flow of a question as lanes and two threads. */
export interface ShownFlow {
  readonly label: string;
  readonly verdict: Verdict;
  readonly lanes: readonly ShownLane[];
  readonly forth: readonly ShownStep[];
  readonly back: readonly ShownStep[];
}

/** One thing that was decided on the way of a request. */
export interface ShownStage {
  readonly about: Stage['about'];
  readonly outcome: Stage['outcome'];
  readonly description: string;
  readonly path: string | undefined;
  readonly lost: readonly {
    readonly label: string;
    readonly path: string;
    readonly isMatch: boolean;
    readonly why: string;
  }[];
}

/** Pods that answer a request. */
export interface ShownMember {
  readonly name: string;
  readonly path: string;
  readonly service: string;
  readonly port: number;
  /** Of each 100 requests. */
  readonly share: number;
}

/** The answer to a question, or why it cannot be asked. */
export type ShownTrace =
  | {
      readonly ok: true;
      readonly verdict: Verdict;
      readonly sentence: string;
      readonly flows: readonly ShownFlow[];
      /** What was decided on the way of a request, in its order; none for packets alone. */
      readonly stages: readonly ShownStage[];
      readonly members: readonly ShownMember[];
      /** Addresses and values that a name was answered with, or the code it ended with; undefined where no name was asked for. */
      readonly named: readonly string[] | undefined;
    }
  | { readonly ok: false; readonly message: string };

/** Answers a question in the words of the question bar, while a zone is lost where one is named. */
export function shownTrace(
  { plan, ingress: all }: QuestionContext,
  from: string,
  to: string,
  bytes: number,
  lost: string,
): ShownTrace {
  const question = readQuestion(plan, from, to, bytes);
  if (!question.ok) return { ok: false, message: formatProblem(question.problem) };
  const zone = lost === '' ? undefined : readZone(plan, lost);
  if (zone?.ok === false) return { ok: false, message: formatProblem(zone.problem) };
  const answer = ask(zone === undefined ? all : all.without(new Set([zone.value])), question.value);
  return {
    ok: true,
    verdict: answer.verdict,
    sentence: answer.sentence,
    named:
      question.value.to.kind === 'name' && answer.resolution !== undefined ? namedAs(answer.resolution) : undefined,
    stages: answer.stages.map(({ about, outcome, description, subject, lost }) => ({
      about,
      outcome,
      description,
      path: subject === undefined ? undefined : pathOf(subject),
      lost: lost.map(({ route, isMatch, why }) => ({
        label: `${route.namespace}/${route.name}, rule ${route.rule}: ${route.hosts.join(', ')}${route.path}`,
        path: pathOf({ kind: 'ingressRoutes', id: route.id }),
        isMatch,
        why: formatRouteLoss(why),
      })),
    })),
    members: answer.members.map(({ workload, service, port, share }) => ({
      name: `${workload.namespace}/${workload.name}`,
      path: pathOf({ kind: 'workloads', id: workload.id }),
      service: `${service.namespace}/${service.name}`,
      port,
      share: 100 * share,
    })),
    flows: answer.flows.map(({ aim, verdict, forth, back }) => {
      const lanes = lanesOf(forth, back);
      const show = (steps: readonly RoadEvent[], isBack: boolean) => stepsIn(plan, lanes, steps, isBack);
      const service = aim.port === 0 ? aim.protocol : `${aim.protocol} ${aim.port}`;
      return {
        label: `${aim.label}, ${formatAddress(aim.address)} ${service}`,
        verdict,
        lanes,
        forth: show(forth, false),
        back: show(back, true),
      };
    }),
  };
}

/** What a name was answered with, aliases apart. */
function namedAs({ outcome, records }: Resolution): string[] {
  if (outcome !== 'answer') return outcome === 'outside' ? [] : [codeOf[outcome]];
  return records.filter(({ type }, at) => type !== 'CNAME' || at === records.length - 1).map(({ value }) => value);
}

/** A plan with its forwarding. */
export interface QuestionContext {
  readonly plan: Plan;
  readonly forwarding: Forwarding;
  readonly ingress: IngressState;
}

/** What questions are asked of. */
export function askedOf(evaluation: Evaluation): QuestionContext {
  return { plan: evaluation.plan, forwarding: evaluation.ask(forwarding), ingress: evaluation.ask(ingress) };
}

/** A change that would let a question pass, in words. */
export interface ShownMend {
  readonly steps: readonly string[];
  readonly opens: string;
  readonly operations: readonly Operation[];
}

/** The changes that would let a question pass. */
export function shownMends({ plan }: QuestionContext, from: string, to: string, bytes: number): readonly ShownMend[] {
  const question = readPacketQuestion(plan, from, to, bytes);
  if (!question.ok) return [];
  return mendsOf(plan, question.value).map((fix) => ({ ...formatMend(fix), operations: fix.operations }));
}

/** Places and targets that a question can name, for completion. */
export function placeWords({ plan }: QuestionContext): {
  readonly from: readonly string[];
  readonly to: readonly string[];
} {
  const of = (what: string, names: readonly { readonly name: string }[], after = '') =>
    names.slice(0, 400).map(({ name }) => `${what} ${name}${after}`);
  const ranges = plan.inUse
    .filter(({ networkId }) => networkId !== null)
    .slice(0, 200)
    .map(({ prefix, owner }) => `range ${prefix} (${owner})`);
  return {
    from: [
      'the internet',
      ...of('pod of', plan.clusters),
      ...plan.workloads
        .slice(0, 400)
        .map(
          (each) =>
            `pod of ${byId(plan.clusters, each.clusterId)?.name ?? ''}, workload ${each.namespace}/${each.name}`,
        ),
      ...of('node of', plan.clusters),
      ...of('bastion', plan.bastions),
      ...ranges,
    ],
    to: [
      'the internet tcp 443',
      ...hostWords(plan),
      ...nameWords(plan),
      ...plan.services
        .slice(0, 400)
        .map((each) => `service ${each.namespace}/${each.name} of ${byId(plan.clusters, each.clusterId)?.name ?? ''}`),
      ...of('need', plan.needs),
      ...of('api of', plan.clusters),
      ...of('pod of', plan.clusters, ' tcp 8080'),
      ...of('node of', plan.clusters, ' tcp 10250'),
      ...ranges.map((range) => `${range} tcp 443`),
    ],
  };
}

/** URLs of the hosts that routes are for. */
function hostWords({ ingressRoutes }: Plan): string[] {
  const hosts = new Set(
    ingressRoutes.flatMap((route) =>
      route.hosts
        .map((host) => ({ host, path: route.path, isTls: route.certificate !== '' }))
        .filter(({ host }) => !host.startsWith('*'))
        .map(({ host, path, isTls }) => `${isTls ? 'https' : 'http'}://${host}${path}`),
    ),
  );
  return [...hosts].slice(0, 400);
}

/** Names of records with addresses or aliases. */
function nameWords({ zones, records }: Plan): string[] {
  const apex = new Map(zones.map((zone) => [zone.id, zone.apex]));
  const named = records.filter(({ type }) => type === 'A' || type === 'AAAA' || type === 'CNAME');
  return [
    ...new Set(
      named.map(
        ({ zoneId, name, type }) =>
          `name ${name === '@' ? '' : `${name}.`}${apex.get(zoneId) ?? ''} type ${type === 'AAAA' ? 'AAAA' : 'A'}`,
      ),
    ),
  ].slice(0, 400);
}

/** Lanes from left to right: those of the way there in their order, those of the way back where they fit between. */
function lanesOf(forth: readonly RoadEvent[], back: readonly RoadEvent[]): ShownLane[] {
  const lanes: ShownLane[] = [];
  const at = ({ kind, name }: ShownLane) => lanes.findIndex((lane) => lane.kind === kind && lane.name === name);
  for (const { spot } of forth) if (at(spot) < 0) lanes.push(spot);
  let last = lanes.length;
  for (const { spot } of back) {
    const found = at(spot);
    if (found >= 0) last = found;
    else lanes.splice(last, 0, spot);
  }
  return lanes;
}

function stepsIn(plan: Plan, lanes: readonly ShownLane[], steps: readonly RoadEvent[], isBack: boolean): ShownStep[] {
  let last = isBack ? lanes.length - 1 : 0;
  return steps.map((step) => {
    // A place that is passed twice has one lane.
    const lane = lanes.findIndex(({ kind, name }) => kind === step.spot.kind && name === step.spot.name);
    last = lane < 0 ? last : lane;
    const lookUp = lookUpOf(step);
    const subject = subjectOf(step);
    return {
      lane: last,
      event: step.event,
      description: formatEvent(plan, step),
      source: formatAddress(step.packet.source),
      destination: formatAddress(step.packet.destination),
      before:
        step.before === undefined
          ? undefined
          : { source: formatAddress(step.before.source), destination: formatAddress(step.before.destination) },
      wraps: step.wraps.join(' in '),
      room: Number.isFinite(step.room) ? step.room : undefined,
      table: lookUp === undefined ? undefined : tableOf(plan, lookUp),
      rules: decisionsOf(step).map((decision) => ruleWords(plan, decision)),
      path: subject === undefined ? undefined : pathOf(subject),
    };
  });
}

function tableOf(plan: Plan, { networkId, tableId, found }: TableLookUp): ShownLookUp {
  const network = byId(plan.networks, networkId)?.name ?? '';
  const table = byId(plan.routeTables, tableId ?? '');
  return {
    name: table === undefined ? `Derived routes of ${network}` : `Table ${table.name} of ${network}`,
    decided: found.row === undefined ? undefined : shownRow(plan, found.row),
    lost: found.lost
      .slice(0, 12)
      .map(({ row, why }) => ({ ...shownRow(plan, row), why: formatLoss(found.row, row, why) })),
  };
}

function ruleWords(plan: Plan, { list, ruleId, why, direction }: RuleDecision) {
  const kind = list.kind === 'filters' ? 'filterRules' : 'firewallRules';
  const rule = byId<Entity>(plan[kind], ruleId ?? '');
  const name =
    byId<{ readonly id: string; readonly name: string }>(
      list.kind === 'filters' ? plan.filters : plan.firewalls,
      list.id,
    )?.name ?? '';
  if (rule === undefined)
    return {
      words:
        why === 'state'
          ? `${name}: the connection is known`
          : `${name}: the default${direction === undefined ? '' : ` ${direction}`}, no rule matches`,
      path: pathOf(list),
    };
  return {
    words: `${kindRules(kind).label(rule, plan)}: ${kindRules(kind).about(rule, plan)}`,
    path: pathOf({ kind, id: rule.id }),
  };
}

/** A row as it is shown: what is typed leads to its sheet, what is derived to what it comes from. */
export function shownRow(plan: Plan, row: RouteRow): ShownRow {
  const { prefix, origin, subject } = row;
  return {
    prefix: formatPrefix(prefix),
    hop: formatNextHop(plan, row),
    from: formatRowSource(plan, row),
    origin,
    path: pathOf(subject),
  };
}

/** Where an entity that decides is shown, below the plan's own address, marked in its sheet. */
function pathOf({ kind, id }: { readonly kind: Kind; readonly id: string }): string {
  if (kind === 'clusters') return `clusters/${id}`;
  if (kind === 'allocations') return 'ranges';
  return `${kindViews[kind].stop}?show=${kind}&row=${id}`;
}
