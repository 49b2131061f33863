import { contains } from '../address/index.js';
import { inWords } from '../findings/index.js';
import type { Finding, DescribedFinding } from '../findings/index.js';
import {
  byId,
  kindNames,
  kindOf,
  labelOf,
  operationsBetween,
  rangeOf,
  settingsRules,
  writeField,
} from '../plan/index.js';
import type { Allocation, Entity, FieldRule, FieldValue, Plan } from '../plan/index.js';
import { evaluate } from './evaluation.js';
import type { Evaluation } from './evaluation.js';

/** What became of one allocated range between two plans. */
export interface RangeChange {
  readonly what: 'added' | 'removed' | 'moved' | 'resized';
  readonly clusterName: string;
  readonly purpose: Allocation['purpose'];
  readonly zone: string;
  /** Empty when it was added. */
  readonly before: string;
  /** Empty when it was removed. */
  readonly after: string;
}

/** The difference between two states of a plan, as a person asks for it. */
export interface PlanComparison {
  readonly ranges: readonly RangeChange[];
  /** Other entities added, changed or removed, in a line each. */
  readonly others: readonly string[];
  /** Errors and warnings that the second has and the first has not. */
  readonly gained: readonly DescribedFinding[];
  /** Errors and warnings that the first has and the second has not. */
  readonly lost: readonly DescribedFinding[];
}

/**
 * Compares two states of a plan: ranges added, removed, moved (elsewhere) or resized (grown or shrunk in place), and
 * findings gained and lost.
 */
export function comparePlans(before: Plan, after: Plan): PlanComparison {
  const first = evaluate(before);
  return compareEvaluations(first, evaluate(after, first));
}

/** The same for two plans that are evaluated already. */
export function compareEvaluations(first: Evaluation, second: Evaluation): PlanComparison {
  const [before, after] = [first.plan, second.plan];
  const ranges: RangeChange[] = [];
  const others: string[] = [];
  for (const operation of operationsBetween(before, after)) {
    if (operation.kind === 'settings') {
      const changes = fieldChanges(
        [before, after],
        settingsRules,
        ({ settings }) => settings,
        Object.keys(operation.fields),
      );
      others.push(`Plan settings: ${changes.join('; ')}`);
      continue;
    }
    const id = operation.op === 'add' ? operation.entity.id : operation.id;
    if (operation.kind === 'allocations') {
      const change = rangeChange(before, after, id);
      if (change !== undefined) ranges.push(change);
      continue;
    }
    // What is gone is named by what it stood among.
    const plan = operation.op === 'remove' ? before : after;
    const entity = byId<Entity>(plan[operation.kind], id);
    const verb = { add: 'Added', set: 'Changed', remove: 'Removed' }[operation.op];
    const { kind } = operation;
    const changes =
      operation.op === 'set'
        ? fieldChanges(
            [before, after],
            kindOf[kind].fields as Readonly<Record<string, FieldRule>>,
            (of) => byId<Entity>(of[kind], id),
            Object.keys(operation.fields),
          )
        : [];
    others.push(
      `${verb} ${kindNames[operation.kind]} ${labelOf(plan, operation.kind, entity)}${changes.length === 0 ? '' : `: ${changes.join('; ')}`}`,
    );
  }
  const [had, has] = [serious(first), serious(second)];
  return {
    ranges,
    others,
    gained: [...has.values()].filter(({ key }) => !had.has(key)).map((each) => inWords(after, each)),
    lost: [...had.values()].filter(({ key }) => !has.has(key)).map((each) => inWords(before, each)),
  };
}

/** Characters of a value that a line of a difference shows. */
const SHOWN = 80;

type Fields = Readonly<Record<string, FieldValue>>;

/** The fields of an entity or of the settings that an operation sets, each by its label before and after: "Nodes now 9 to 11". */
function fieldChanges(
  [before, after]: readonly [Plan, Plan],
  rules: Readonly<Record<string, FieldRule>>,
  of: (plan: Plan) => Fields | undefined,
  fields: readonly string[],
): string[] {
  const written = (plan: Plan, rule: FieldRule, field: string) =>
    shown(writeField(plan, rule, of(plan)?.[field] ?? null));
  return fields.map((field) => {
    const rule = rules[field];
    if (rule === undefined) return field;
    const [was, is] = [written(before, rule, field), written(after, rule, field)];
    if (was === is) return rule.label;
    if (was === '') return `${rule.label} set to ${is}`;
    return is === '' ? `${rule.label} no longer ${was}` : `${rule.label} ${was} to ${is}`;
  });
}

function shown(text: string): string {
  return text.length > SHOWN ? `${text.slice(0, SHOWN)}...` : text;
}

function rangeChange(before: Plan, after: Plan, id: string): RangeChange | undefined {
  const was = byId(before.allocations, id);
  const is = byId(after.allocations, id);
  const known = is ?? was;
  if (known === undefined || was?.prefix === is?.prefix) return undefined;
  const plan = is === undefined ? before : after;
  return {
    what: was === undefined ? 'added' : is === undefined ? 'removed' : isInPlace(was, is) ? 'resized' : 'moved',
    clusterName: byId(plan.clusters, known.clusterId)?.name ?? '',
    purpose: known.purpose,
    zone: known.zone,
    before: was?.prefix ?? '',
    after: is?.prefix ?? '',
  };
}

function isInPlace(was: Allocation, is: Allocation): boolean {
  return contains(rangeOf(was), rangeOf(is)) || contains(rangeOf(is), rangeOf(was));
}

function serious(evaluation: Evaluation): Map<string, Finding> {
  return new Map(
    evaluation
      .findings()
      .filter(({ severity }) => severity !== 'note')
      .map((finding) => [finding.key, finding]),
  );
}
