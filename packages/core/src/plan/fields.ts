import { byKind, kindOf } from './entities.js';
import type { EntityOf, FieldRule, Kind, PlanSettings } from './entities.js';
import { mayBeEmpty } from './kinds/field.js';
import type { AnyField } from './kinds/field.js';
import { settingsFields } from './kinds/settings.js';

type FieldsOf<E> = { readonly [F in Exclude<keyof E, 'id'>]-?: FieldRule };

/** The rule of every field of every kind. */
export const fieldRules = byKind(({ fields }) => fields) as unknown as { readonly [K in Kind]: FieldsOf<EntityOf[K]> };

/** The rules of the plan's own fields. */
export const settingsRules = settingsFields as { readonly [F in keyof PlanSettings]: AnyField } as {
  readonly [F in keyof PlanSettings]: FieldRule;
};

/** The rules of a kind or of the settings, by field name. */
export function rulesOf(kind: Kind | 'settings'): Readonly<Record<string, FieldRule>> {
  // That every reference names a kind is checked by a test.
  return (kind === 'settings' ? settingsFields : kindOf[kind].fields) as Readonly<Record<string, FieldRule>>;
}

/** The rules of the fields that a person sees; what the application keeps for itself is left out. */
export function shownRules(kind: Kind | 'settings'): readonly (readonly [string, FieldRule])[] {
  return Object.entries(rulesOf(kind)).filter(([, { isHidden }]) => isHidden !== true);
}

/** The value of a field that has one before anybody chose it; undefined where it must be given. */
export function fallbackOf(rule: AnyField): unknown {
  if ('fallback' in rule) return rule.fallback;
  return mayBeEmpty(rule) ? null : undefined;
}

/** The values a new entity or a row with empty cells starts from; fields without a fallback are left out. */
export function fallbacks(kind: Kind | 'settings'): Record<string, unknown> {
  const values = Object.entries(rulesOf(kind)).map(([field, rule]) => [field, fallbackOf(rule)] as const);
  return Object.fromEntries(values.filter(([, value]) => value !== undefined));
}

/** Settings of a new plan. */
export const defaultSettings = { name: 'New plan', ...fallbacks('settings') } as unknown as PlanSettings;
