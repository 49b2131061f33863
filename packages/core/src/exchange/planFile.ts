import { stringify } from 'yaml';
import {
  addOperation,
  applyOperations,
  checkFields,
  emptyPlan,
  formatGiven,
  kindNames,
  kinds,
  MAX_OF_KIND,
  MAX_PROBLEMS,
  rulesOf,
} from '../plan/index.js';
import type { Entity, EntityOf, Kind, Operation, Plan, PlanSettings } from '../plan/index.js';
import { PLAN_FILE_FORMAT, PLAN_FILE_VERSION } from './planFileSchema.js';
import { upgradePlanFile } from './planFileVersions.js';
import { formatNumber } from '../working/index.js';
import { parseYaml, yamlRows } from '../yaml/index.js';

/** Something wrong in a plan file and where: "clusters[3].podsPerNode". */
export interface PlanFileProblem {
  readonly path: string;
  readonly message: string;
  readonly fix: string;
}

/** A plan read from a file, or everything wrong with the file. */
export type PlanFileResult =
  | { readonly ok: true; readonly plan: Plan }
  | { readonly ok: false; readonly problems: readonly PlanFileProblem[] };

/** Writes the whole plan; reading it back gives the same plan. */
export function writePlanFile(plan: Plan, syntax: 'json' | 'yaml'): string {
  const head = { format: PLAN_FILE_FORMAT, version: PLAN_FILE_VERSION, settings: plan.settings };
  const collections = kinds.map((kind): [Kind, Record<string, unknown>[]] => [
    kind,
    plan[kind].map((entity) => inFieldOrder(kind, entity)),
  ]);
  if (syntax === 'json')
    return `${JSON.stringify({ ...head, ...(Object.fromEntries(collections) as object) }, null, 2)}\n`;
  return stringify(head) + collections.map(([kind, entities]) => yamlRows(kind, entities)).join('');
}

/** One order of fields, whatever way the plan came here, so that equal plans give equal files. */
function inFieldOrder(kind: Kind, entity: Entity): Record<string, unknown> {
  const values = entity as unknown as Record<string, unknown>;
  return Object.fromEntries(['id', ...Object.keys(rulesOf(kind))].map((field) => [field, values[field]]));
}

/** Reads a plan file in JSON or YAML, of this version or an older one. Every field is checked; nothing unknown is dropped silently. */
export function readPlanFile(text: string): PlanFileResult {
  const content = parseText(text);
  if (!content.ok) return content;
  const problems: PlanFileProblem[] = [];
  if (content.value['format'] !== PLAN_FILE_FORMAT) {
    return fail(
      'format',
      'This is not a Wide Lattice plan file.',
      `The first field must be "format": "${PLAN_FILE_FORMAT}".`,
    );
  }
  const present = upgradePlanFile(content.value);
  if (present === undefined) {
    return fail(
      'version',
      `Version ${formatGiven(content.value['version'])} cannot be read here.`,
      `This build reads versions 1 to ${PLAN_FILE_VERSION}.`,
    );
  }
  const { settings } = present;
  const collections = Object.fromEntries(Object.entries(present).filter(([key]) => !headKeys.has(key)));
  for (const key of Object.keys(collections)) {
    if (!(kinds as readonly string[]).includes(key))
      problems.push({ path: key, message: `"${key}" is not a part of a plan file.`, fix: 'Remove it.' });
  }
  const operations = readCollections(collections, problems);
  if (!isObject(settings)) problems.push({ path: 'settings', message: 'The settings are missing.', fix: 'Add them.' });
  else
    problems.push(
      ...checkFields('settings', settings).map(({ field, message, fix }) => ({
        path: `settings.${field}`,
        message,
        fix,
      })),
    );
  if (problems.length > 0) return { ok: false, problems: problems.slice(0, MAX_PROBLEMS) };
  // Checked field by field just above.
  const applied = applyOperations(emptyPlan(settings as Partial<PlanSettings>), operations);
  if (applied.ok) return { ok: true, plan: applied.plan };
  return {
    ok: false,
    problems: applied.problems.map((p) => ({
      path: placeOf(operations, p.operation, p.field),
      message: p.message,
      fix: p.fix,
    })),
  };
}

const headKeys = new Set(['format', 'version', 'settings']);

function fail(path: string, message: string, fix: string): PlanFileResult & { ok: false } {
  return { ok: false, problems: [{ path, message, fix }] };
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function parseText(text: string): { ok: true; value: Record<string, unknown> } | (PlanFileResult & { ok: false }) {
  let value: unknown;
  if (text.trimStart().startsWith('{')) {
    try {
      value = JSON.parse(text);
    } catch (error) {
      return fail(
        'file',
        `The JSON cannot be read: ${error instanceof Error ? error.message : String(error)}.`,
        'Correct it at that place.',
      );
    }
  } else {
    const read = parseYaml(text);
    if (!read.ok) return fail(`line ${read.line}`, `The YAML cannot be read: ${read.message}.`, read.fix);
    value = read.document.toJS();
  }
  return isObject(value) ? { ok: true, value } : fail('file', 'The file holds no plan.', 'Export one to see the form.');
}

function readCollections(collections: Record<string, unknown>, problems: PlanFileProblem[]): Operation[] {
  return kinds.flatMap((kind) => {
    const items = collections[kind];
    if (!Array.isArray(items)) {
      problems.push({ path: kind, message: `The list "${kind}" is missing.`, fix: 'Add it, empty if there is none.' });
      return [];
    }
    if (items.length > MAX_OF_KIND) {
      problems.push({
        path: kind,
        message: `${formatNumber(items.length)} entries of kind ${kindNames[kind]}; ${formatNumber(MAX_OF_KIND)} is the most.`,
        fix: 'Split the plan.',
      });
      return [];
    }
    const wrong = items.findIndex((item) => !isObject(item));
    if (wrong >= 0)
      problems.push({
        path: `${kind}[${wrong}]`,
        message: 'This is not an entry.',
        fix: 'Write it as an object with fields.',
      });
    // Whether each is an entity of its kind is checked when it is applied.
    return wrong >= 0 ? [] : items.map((item) => addOperation(kind, item as EntityOf[Kind]));
  });
}

function placeOf(operations: readonly Operation[], at: number, field: string): string {
  const kind = operations[at]?.kind;
  const first = operations.findIndex((operation) => operation.kind === kind);
  return `${kind}[${at - first}].${field}`;
}
