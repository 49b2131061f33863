import { formatAddress, formatPrefix, parseAddress, parsePrefix } from '../address/index.js';
import { bad } from '../result.js';
import type { Problem } from '../result.js';
import { kindNames } from './entities.js';
import type { EntityOf, Kind, PlanSettings } from './entities.js';
import { fieldRules, settingsRules } from './fields.js';
import type { FieldRule } from './fieldRule.js';
import { formExamples, hasForm, readStep } from './textForms.js';

/** A problem and the field it is in. */
export interface FieldProblem extends Problem {
  readonly field: string;
}

const uuidPattern = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** Whether the value can be the id of an entity (a UUID in lower case, RFC 9562). */
export function isId(value: unknown): value is string {
  return typeof value === 'string' && uuidPattern.test(value);
}

const problem = (code: string, message: string, mend: string): Problem => bad(code, message, mend).problem;

const show = (value: unknown): string => {
  const text = value === undefined ? 'nothing' : typeof value === 'string' ? `"${value}"` : JSON.stringify(value);
  return text.length > 60 ? `${text.slice(0, 57)}...` : text;
};

/** Checks one value against its field's rule; undefined when it is good. References are checked for form only. */
export function checkField(rule: FieldRule, value: unknown): Problem | undefined {
  const label = rule.label;
  switch (rule.type) {
    case 'text':
      if (typeof value !== 'string')
        return problem('field.text', `${label}: ${show(value)} is not text.`, 'Write text.');
      return checkText(label, value, rule.min, rule.max);
    case 'optionalInteger':
      return value === null ? undefined : checkInteger(rule, value);
    case 'integer':
      return checkInteger(rule, value);
    case 'decimal':
      return value === null && rule.isOptional ? undefined : checkDecimal(rule, value);
    case 'choice':
      if (typeof value === 'string' && rule.options.includes(value)) return undefined;
      return problem(
        'field.choice',
        `${label}: ${show(value)} is not one of the choices.`,
        `Use ${rule.options.join(', ')}.`,
      );
    case 'flag':
      return typeof value === 'boolean'
        ? undefined
        : problem('field.flag', `${label}: ${show(value)} is neither true nor false.`, 'Use true or false.');
    case 'prefix':
      return checkPrefix(label, value);
    case 'address':
      return checkAddress(label, value);
    case 'reference':
      if (isId(value) || (rule.isOptional && value === null)) return undefined;
      return problem(
        'field.reference',
        `${label}: ${show(value)} names no ${kindNames[rule.to]}.`,
        `Choose a ${kindNames[rule.to]} of this plan.`,
      );
    case 'references':
      return checkList(rule, value, rule.max, (item) => isId(item), `a ${kindNames[rule.to]} of this plan`);
    case 'prefixes': {
      const list = checkList(rule, value, rule.max, () => true, 'prefixes');
      return list ?? (value as string[]).map((item) => checkPrefix(label, item)).find((each) => each !== undefined);
    }
    case 'choices':
      return checkList(
        rule,
        value,
        rule.options.length,
        (item) => rule.options.includes(item),
        rule.options.join(', '),
      );
    case 'texts': {
      const { form, maxLength, max } = rule;
      const isText = (item: string) => checkText(label, item, 1, maxLength) === undefined;
      if (form === undefined || form === 'fix')
        return checkList(rule, value, max, isText, `1 to ${maxLength} characters`);
      return checkList(rule, value, max, (item) => isText(item) && hasForm(form, item), formExamples[form]);
    }
    case 'date':
      return isDay(value)
        ? undefined
        : problem('field.date', `${label}: ${show(value)} is not a day.`, 'Write one such as 2026-11-23.');
  }
}

function isDay(value: unknown): boolean {
  if (typeof value !== 'string' || !/^\d{4}-\d{2}-\d{2}$/.test(value)) return false;
  const day = new Date(`${value}T00:00:00Z`);
  return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(value);
}

function checkText(label: string, value: string, min: number, max: number): Problem | undefined {
  if (value.trim().length < min) return problem('field.empty', `${label} is empty.`, 'Write something.');
  if (value.length > max)
    return problem('field.long', `${label} has ${value.length} characters; ${max} is the most.`, 'Shorten it.');
  // eslint-disable-next-line no-control-regex -- control characters are exactly what is refused here
  if (/[\u0000-\u0008\u000b-\u001f\u007f]/.test(value))
    return problem('field.control', `${label} holds a control character.`, 'Remove it.');
  return undefined;
}

function checkInteger(rule: FieldRule & { type: 'integer' | 'optionalInteger' }, value: unknown): Problem | undefined {
  const { label, min, max, unit } = rule;
  if (typeof value !== 'number' || !Number.isInteger(value)) {
    return problem(
      'field.integer',
      `${label}: ${show(value)} is not a whole number.`,
      `Write a number from ${min} to ${max}.`,
    );
  }
  if (value >= min && value <= max) return undefined;
  return problem(
    'field.range',
    `${label}: ${value} is outside ${min} to ${max} ${unit}.`,
    `Write a number from ${min} to ${max}.`,
  );
}

function checkDecimal(rule: FieldRule & { type: 'decimal' }, value: unknown): Problem | undefined {
  const { label, min, max, unit, decimals } = rule;
  const mend = `Write a number from ${min} to ${max}, at most ${decimals} digits after the point.`;
  if (typeof value !== 'number' || !Number.isFinite(value))
    return problem('field.number', `${label}: ${show(value)} is not a number.`, mend);
  if (value < min || value > max)
    return problem('field.range', `${label}: ${value} is outside ${min} to ${max} ${unit}.`, mend);
  return Number(value.toFixed(decimals)) === value
    ? undefined
    : problem('field.decimals', `${label}: ${value} has more than ${decimals} digits after the point.`, mend);
}

function checkAddress(label: string, value: unknown): Problem | undefined {
  const mend = 'Write one such as 10.20.0.7.';
  if (typeof value !== 'string') return problem('field.address', `${label}: ${show(value)} is not an address.`, mend);
  const parsed = parseAddress(value);
  if (!parsed.ok) return problem(parsed.problem.code, `${label}: ${parsed.problem.message}`, parsed.problem.mend);
  const standard = formatAddress(parsed.value);
  if (standard === value) return undefined;
  return problem('field.address-form', `${label}: "${value}" is not in standard form.`, `Write ${standard}.`);
}

function checkPrefix(label: string, value: unknown): Problem | undefined {
  if (typeof value !== 'string')
    return problem('field.prefix', `${label}: ${show(value)} is not a prefix.`, 'Write one such as 10.20.0.0/16.');
  const parsed = parsePrefix(value);
  if (!parsed.ok) return problem(parsed.problem.code, `${label}: ${parsed.problem.message}`, parsed.problem.mend);
  const standard = formatPrefix(parsed.value);
  if (standard === value) return undefined;
  return problem('field.prefix-form', `${label}: "${value}" is not in standard form.`, `Write ${standard}.`);
}

function checkList(
  rule: FieldRule & { min: number },
  value: unknown,
  max: number,
  isGood: (item: string) => boolean,
  accepted: string,
): Problem | undefined {
  const { label, min } = rule;
  if (!Array.isArray(value) || !value.every((item) => typeof item === 'string')) {
    return problem('field.list', `${label}: ${show(value)} is not a list.`, `Give a list of ${accepted}.`);
  }
  if (value.length < min || value.length > max) {
    return problem(
      'field.list-size',
      `${label}: ${value.length} given; ${min} to ${max} are needed.`,
      'Add or remove some.',
    );
  }
  if (new Set(value).size !== value.length)
    return problem('field.list-twice', `${label}: one is named twice.`, 'Remove the second.');
  const wrong = value.find((item) => !isGood(item));
  return wrong === undefined
    ? undefined
    : problem('field.list-item', `${label}: ${show(wrong)} is not accepted.`, `Use ${accepted}.`);
}

/** The rules of a kind or of the settings, by field name. */
export function rulesOf(kind: Kind | 'settings'): Readonly<Record<string, FieldRule>> {
  return kind === 'settings' ? settingsRules : fieldRules[kind];
}

/** Checks the given fields: unknown names are refused, values go by their rules. */
export function checkFields(kind: Kind | 'settings', fields: Readonly<Record<string, unknown>>): FieldProblem[] {
  const rules = rulesOf(kind);
  const found: FieldProblem[] = [];
  for (const [field, value] of Object.entries(fields)) {
    const rule = Object.hasOwn(rules, field) ? rules[field] : undefined;
    const wrong =
      rule === undefined
        ? problem(
            'field.unknown',
            `"${field}" is not a field here.`,
            `The fields are ${Object.keys(rules).join(', ')}.`,
          )
        : checkField(rule, value);
    if (wrong !== undefined) found.push({ field, ...wrong });
  }
  return found;
}

/** Checks a whole entity: id, no field missing, none unknown, each by its rule, then what holds between fields. */
export function checkEntity(kind: Kind, entity: Readonly<Record<string, unknown>>): FieldProblem[] {
  const { id, ...fields } = entity;
  const found = checkFields(kind, fields);
  if (!isId(id))
    found.push({ field: 'id', ...problem('field.id', `${show(id)} is not an id.`, 'Ids are UUIDs in lower case.') });
  for (const field of Object.keys(rulesOf(kind))) {
    if (!Object.hasOwn(fields, field))
      found.push({ field, ...problem('field.missing', `"${field}" is missing.`, 'Add it.') });
  }
  return found.length > 0 ? found : checkBetweenFields(kind, entity);
}

/** What must hold between the fields of one entity whose fields are each good. */
export function checkBetweenFields(kind: Kind, entity: Readonly<Record<string, unknown>>): FieldProblem[] {
  if (kind === 'links') {
    const link = entity as unknown as EntityOf['links'];
    if (link.kind !== 'hub' && link.networkIds.length !== 2) {
      return [
        {
          field: 'networkIds',
          ...problem(
            'link.pair-size',
            `A ${link.kind} joins two networks; ${link.networkIds.length} are named.`,
            'Name two, or make it a transit hub.',
          ),
        },
      ];
    }
  }
  if (kind === 'profiles') {
    const profile = entity as unknown as EntityOf['profiles'];
    return [
      ...inOrderOfSize(profile, 'smallestSubnet', 'largestSubnet'),
      ...inOrderOfSize(profile, 'smallestBlock', 'largestBlock'),
    ];
  }
  if (kind === 'nodePools') return nodePoolProblems(entity as unknown as EntityOf['nodePools']);
  if (kind === 'clusters') return clusterProblems(entity as unknown as EntityOf['clusters']);
  return [];
}

function nodePoolProblems({ nodesMin, nodesMax, nodesNow }: EntityOf['nodePools']): FieldProblem[] {
  if (nodesMax < nodesMin)
    return [
      {
        field: 'nodesMax',
        ...problem('pool.bounds', `Most (${nodesMax}) is below least (${nodesMin}).`, 'Raise most, or lower least.'),
      },
    ];
  if (nodesNow >= nodesMin && nodesNow <= nodesMax) return [];
  return [
    {
      field: 'nodesNow',
      ...problem(
        'pool.now',
        `${nodesNow} nodes now lie outside least and most: ${nodesMin} to ${nodesMax}.`,
        'Change the count, or the bounds.',
      ),
    },
  ];
}

function clusterProblems(cluster: EntityOf['clusters']): FieldProblem[] {
  const { services, nodePortServices, balancerServices, headlessServices, growthSteps } = cluster;
  const ofKind = nodePortServices + balancerServices + headlessServices;
  const steps = growthSteps.map((text) => readStep(text)?.month ?? 0);
  return [
    ...(ofKind <= services
      ? []
      : [
          {
            field: 'services',
            ...problem(
              'services.kinds',
              `${ofKind} services are NodePort, LoadBalancer or headless, and there are ${services} in all.`,
              'Raise the services, or lower one of these kinds.',
            ),
          },
        ]),
    ...(steps.every((month, i) => i === 0 || month > (steps[i - 1] ?? 0))
      ? []
      : [
          {
            field: 'growthSteps',
            ...problem(
              'growth.order',
              'The months of growth steps do not rise.',
              'Put them in order, each month once.',
            ),
          },
        ]),
  ];
}

function inOrderOfSize(
  profile: EntityOf['profiles'],
  smallest: 'smallestSubnet' | 'smallestBlock',
  largest: 'largestSubnet' | 'largestBlock',
): FieldProblem[] {
  if (profile[smallest] >= profile[largest]) return [];
  const labels = [fieldRules.profiles[smallest].label, fieldRules.profiles[largest].label];
  const text = `${labels[0]} /${profile[smallest]} is larger than ${labels[1]} /${profile[largest]}.`;
  return [
    { field: smallest, ...problem('profile.size-order', text, 'A smaller range has the longer prefix: swap them.') },
  ];
}

/** The values a new entity or a row with empty cells starts from; fields without a fallback are left out. */
export function fallbacks(kind: Kind): Record<string, unknown> {
  const values: Record<string, unknown> = {};
  for (const [field, rule] of Object.entries(rulesOf(kind))) {
    if ('fallback' in rule) values[field] = rule.fallback;
    else if (rule.type === 'optionalInteger' || (rule.type === 'reference' && rule.isOptional)) values[field] = null;
  }
  return values;
}

/** Settings of a new plan. */
export const defaultSettings: PlanSettings = {
  name: 'New plan',
  note: '',
  horizonMonths: 36,
  expectsJoins: true,
  weightAddresses: 5,
  weightReach: 5,
  weightWire: 3,
  weightRoutes: 3,
  weightEffort: 4,
  weightWishes: 5,
  currency: '',
};
