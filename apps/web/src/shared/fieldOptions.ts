import { kindRules, writeField } from '@wide-lattice/core/plan';
import type { Entity, FieldRule, Plan } from '@wide-lattice/core/plan';

/** A choice of a field whose value is one of a few; its value is the text that is read back. */
export interface FieldOption {
  readonly value: string;
  readonly label: string;
}

/** The choices of a field; undefined when its value is typed. */
export function optionsOf(plan: Plan, rule: FieldRule): readonly FieldOption[] | undefined {
  switch (rule.type) {
    case 'choice':
      return rule.options.map(asOption);
    case 'flag':
      return ['yes', 'no'].map(asOption);
    case 'reference': {
      const { label } = kindRules(rule.to);
      const known = (plan[rule.to] as readonly Entity[]).map((entity) => label(entity, plan)).sort();
      return rule.isOptional
        ? [{ value: '', label: rule.empty ?? 'none' }, ...known.map(asOption)]
        : known.map(asOption);
    }
    default:
      return undefined;
  }
}

/** The text a new entity's field starts with: its usual value, or the first choice. */
export function startText(plan: Plan, rule: FieldRule, usual: unknown): string {
  // Usual values are values of their fields.
  const text = writeField(plan, rule, (usual ?? null) as Parameters<typeof writeField>[2]);
  return text === '' ? (optionsOf(plan, rule)?.[0]?.value ?? '') : text;
}

function asOption(text: string): FieldOption {
  return { value: text, label: text };
}
