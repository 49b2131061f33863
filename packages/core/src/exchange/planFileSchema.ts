import { kindNames, kinds, MAX_OF_KIND, rulesOf } from '../plan/index.js';
import type { FieldRule, Kind } from '../plan/index.js';

/** Name of the format, in every plan file. */
export const PLAN_FILE_FORMAT = 'wide-lattice-plan';
/** Version of the format this build reads and writes. */
export const PLAN_FILE_VERSION = 15;

const uuid = { type: 'string', pattern: '^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$' };

const addressSchema = { type: 'string', pattern: '^[0-9a-f.:]+$' };
const prefixSchema = { type: 'string', pattern: '^[0-9a-f.:]+/[0-9]{1,3}$' };

/** The published JSON Schema (draft 2020-12) of a plan file, made from the same field rules that forms and imports use. */
export function planFileSchema(): Record<string, unknown> {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Wide Lattice plan file',
    description: 'A whole plan: settings and entities joined by id. Prefixes are CIDR text without host bits.',
    type: 'object',
    required: ['format', 'version', 'settings', ...kinds],
    additionalProperties: false,
    properties: {
      format: { const: PLAN_FILE_FORMAT },
      version: { const: PLAN_FILE_VERSION },
      settings: objectSchema('settings'),
      ...Object.fromEntries(
        kinds.map((kind) => [
          kind,
          {
            type: 'array',
            maxItems: MAX_OF_KIND,
            items: { ...objectSchema(kind, { id: uuid }), title: kindNames[kind] },
          },
        ]),
      ),
    },
  };
}

function objectSchema(kind: Kind | 'settings', extra: Record<string, unknown> = {}): Record<string, unknown> {
  const rules = Object.entries(rulesOf(kind));
  return {
    type: 'object',
    required: [...Object.keys(extra), ...rules.map(([field]) => field)],
    additionalProperties: false,
    properties: {
      ...extra,
      ...Object.fromEntries(rules.map(([field, rule]) => [field, { ...fieldSchema(rule), description: rule.help }])),
    },
  };
}

/** JSON Schema of one field's value. */
export function fieldSchema(rule: FieldRule): Record<string, unknown> {
  switch (rule.type) {
    case 'text':
      return { type: 'string', minLength: rule.min, maxLength: rule.max };
    case 'integer':
      return { type: 'integer', minimum: rule.min, maximum: rule.max };
    case 'decimal':
      return {
        type: rule.isOptional ? ['number', 'null'] : 'number',
        minimum: rule.min,
        maximum: rule.max,
      };
    case 'optionalInteger':
      return { type: ['integer', 'null'], minimum: rule.min, maximum: rule.max };
    case 'choice':
      return { type: 'string', enum: rule.options };
    case 'flag':
      return { type: 'boolean' };
    case 'prefix':
      return prefixSchema;
    case 'address':
      return rule.isOptional ? { anyOf: [addressSchema, { type: 'null' }] } : addressSchema;
    case 'addresses':
      return { type: 'array', items: addressSchema, minItems: rule.min, maxItems: rule.max, uniqueItems: true };
    case 'date':
      return { type: 'string', pattern: '^[0-9]{4}-[0-9]{2}-[0-9]{2}$' };
    case 'reference':
      return rule.isOptional ? { anyOf: [uuid, { type: 'null' }] } : uuid;
    case 'references':
      return { type: 'array', items: uuid, minItems: rule.min, maxItems: rule.max, uniqueItems: true };
    case 'prefixes':
      return {
        type: 'array',
        items: prefixSchema,
        minItems: rule.min,
        maxItems: rule.max,
        uniqueItems: true,
      };
    case 'choices':
      return { type: 'array', items: { type: 'string', enum: rule.options }, minItems: rule.min, uniqueItems: true };
    case 'texts':
      return {
        type: 'array',
        items: { type: 'string', minLength: 1, maxLength: rule.maxLength },
        minItems: rule.min,
        maxItems: rule.max,
        uniqueItems: true,
      };
  }
}
