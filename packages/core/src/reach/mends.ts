import { formatAddress, formatPrefix, lastAddress } from '../address/index.js';
import { applyOperations, byId, prefixList, readPorts } from '../plan/index.js';
import type { FilterRule, FirewallRule, Operation, Plan, Question, Service } from '../plan/index.js';
import { Forwarding, internetAddresses, trace } from '../forwarding/index.js';
import { compareMatrices } from './compareMatrix.js';
import type { Trace } from '../forwarding/index.js';
import type { MendStep, Candidate } from './mendSteps.js';
import { mendsAt, translateCandidates } from './mendCandidates.js';

/** A change that lets a packet pass, with what it does and what else it would open. */
export interface Mend {
  readonly steps: readonly MendStep[];
  readonly operations: readonly Operation[];
  readonly opens: Opened;
}

/** What passes with a change beyond what was asked. */
export interface Opened {
  /**
   * Cells of the matrix that pass with it and did not before, those of the question's own kind included; undefined where there are
   * too many clusters to count.
   */
  readonly cells: readonly { readonly cluster: string; readonly label: string }[] | undefined;
  /** Clusters up to which cells are counted. */
  readonly countedUpTo: number;
  /** Prefixes of added rules that are more than one address: all of them pass. */
  readonly wide: readonly string[];
}

/** Consecutive changes that are tried, and traces in all. */
const DEEPEST = 3;
const MAX_TRACES = 40;
/** Prefixes of a need by whose last addresses a change is judged. */
const MAX_JUDGED = 8;
/** Clusters up to which it is counted what else a change would open. */
const MAX_COUNTED = 250;

/**
 * The smallest changes that would let a question pass: fewest steps first. None when it passes, or when no change of
 * the known kinds helps.
 */
export function mendsOf(plan: Plan, question: Question): Mend[] {
  const start = Forwarding.of(plan);
  const first = trace(start, question);
  const typed = typedIn(question);
  const found: { steps: readonly MendStep[]; operations: readonly Operation[]; plan: Plan }[] = [];
  let traces = 0;
  let open: { plan: Plan; trace: Trace; steps: readonly MendStep[]; operations: readonly Operation[] }[] = [
    { plan, trace: first, steps: [], operations: [] },
  ];
  for (let depth = 0; depth < DEEPEST && found.length === 0; depth++) {
    const next: typeof open = [];
    for (const each of open) {
      for (const candidate of candidatesFor(each.plan, each.trace, typed)) {
        if (traces++ >= MAX_TRACES) break;
        const applied = applyOperations(each.plan, candidate.operations);
        if (!applied.ok) continue;
        const answer = trace(Forwarding.of(applied.plan), question);
        const tried = {
          plan: applied.plan,
          trace: answer,
          steps: [...each.steps, candidate.step],
          operations: [...each.operations, ...candidate.operations],
        };
        if (answer.verdict === 'pass' && holdsForOthers(applied.plan, question)) found.push(tried);
        else if (isFurther(each.trace, answer)) next.push(tried);
      }
    }
    open = next;
  }
  return found.slice(0, 4).map((each) => ({
    steps: each.steps,
    operations: each.operations,
    opens: { cells: cellsOpened(plan, each.plan), countedUpTo: MAX_COUNTED, wide: wideOf(each.operations) },
  }));
}

/** The addresses that a question names itself, rather than what stands there. */
function typedIn({ from, to }: Question): ReadonlySet<string> {
  return new Set([from, to].flatMap((end) => (end.kind === 'address' ? [end.address] : [])));
}

/** Whether what passes at the addresses that were asked passes at others of the same set too: of the internet, or of a need. */
function holdsForOthers(plan: Plan, question: Question): boolean {
  const { to } = question;
  const forwarding = Forwarding.of(plan);
  if (to.kind === 'internet') {
    const others = internetAddresses(forwarding, 4, true);
    return others.every((address) => isPassing(forwarding, question, formatAddress(address), to.service));
  }
  const need = to.kind === 'need' ? byId(plan.needs, to.needId) : undefined;
  if (need === undefined || need.access === 'private endpoint') return true;
  const port = readPorts(need.ports[0] ?? '')?.first ?? 0;
  return prefixList(need.prefixes)
    .slice(0, MAX_JUDGED)
    .filter(({ family }) => family === 4)
    .every((prefix) =>
      isPassing(forwarding, question, formatAddress(lastAddress(prefix)), { protocol: need.protocol, port }),
    );
}

function isPassing(forwarding: Forwarding, question: Question, address: string, service: Service): boolean {
  return trace(forwarding, { ...question, to: { kind: 'address', address, service } }).verdict === 'pass';
}

/** Whether a change brought the packet further, or fewer flows fail. */
function isFurther(before: Trace, after: Trace): boolean {
  const failing = (of: Trace) => of.flows.filter(({ verdict }) => verdict !== 'pass').length;
  const length = ({ flows: [flow] }: Trace) => (flow === undefined ? 0 : flow.forth.length + flow.back.length);
  return failing(after) < failing(before) || length(after) > length(before);
}

function candidatesFor(plan: Plan, { flows: [flow] }: Trace, typed: ReadonlySet<string>): Candidate[] {
  return flow === undefined ? [] : [...mendsAt(plan, flow, typed), ...translateCandidates(plan, flow, typed)];
}

/** The ranges that added rules hold for at either end, since more than what was asked passes by them. */
function wideOf(operations: readonly Operation[]): string[] {
  const named = operations.flatMap((operation) => {
    if (operation.op !== 'add') return [];
    if (operation.kind === 'filterRules') return prefixList((operation.entity as FilterRule).peers);
    if (operation.kind !== 'firewallRules') return [];
    const { sources, destinations } = operation.entity as FirewallRule;
    return prefixList([...sources, ...destinations]);
  });
  return [...new Set(named.filter(({ family, length }) => length < (family === 4 ? 32 : 128)).map(formatPrefix))];
}

/** What passes afterwards and did not before, cell by cell of the matrix. */
function cellsOpened(before: Plan, after: Plan): Opened['cells'] {
  if (before.clusters.length > MAX_COUNTED) return undefined;
  return compareMatrices(Forwarding.of(before), Forwarding.of(after)).gained.map(({ clusterName, label }) => ({
    cluster: clusterName,
    label,
  }));
}
