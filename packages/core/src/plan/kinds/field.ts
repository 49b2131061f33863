/**
 * How each text of a list is written: a label or taint of the Kubernetes API, a step of growth, a field of a cluster
 * with its value, ports, a host name, a port of a container or a service, a part of a route or a network policy, a
 * domain with the resolvers that are asked for it, a range with the one that is seen instead.
 */
export type TextForm =
  | 'label'
  | 'taint'
  | 'step'
  | 'fieldValue'
  | 'ports'
  | 'host'
  | 'containerPort'
  | 'servicePort'
  | 'gatewayListener'
  | 'backendRef'
  | 'condition'
  | 'headerChange'
  | 'selectorTerm'
  | 'policyRule'
  | 'namespaceLabel'
  | 'parentRef'
  | 'grantFrom'
  | 'grantTo'
  | 'object'
  | 'stubZone'
  | 'translation';

/** What happens to an entity when another one that it refers to is removed: it stands in the way, goes along, or lets go of it. */
export type OnRemoval = 'refuse' | 'cascade' | 'drop';

/** Versions of the plan file, oldest first. */
export type FileVersion = 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8 | 9 | 10 | 11 | 12 | 13 | 14 | 15;

interface Common {
  /** Column heading and form label. */
  readonly label: string;
  /** Labels that it had before; columns with them are still read. */
  readonly formerly?: readonly string[];
  /** One line on what the field means. */
  readonly help: string;
  /** What it means to leave it empty, in a word or two; for fields that may be. */
  readonly empty?: string;
  /** Title of the part of a form that it is folded under; in sight when absent. */
  readonly group?: string;
  /** Kept by the application itself: left out of forms, sheets and imports. */
  readonly isHidden?: boolean;
  /** The plan file version that it came with; that of its kind when absent. Older files get the fallback. */
  readonly since?: FileVersion;
}

interface TextRule {
  readonly type: 'text';
  readonly min: number;
  readonly max: number;
  /** How it is told from others: letter by letter, or as a name, in any case and without spaces around. Free text when absent. */
  readonly compare?: 'exact' | 'name';
  /** A domain name: stored as RFC 5891 says, shown in its own letters. */
  readonly isDomain?: boolean;
  /** Text of any kind, in which somebody may paste a key: one that can be told as such is refused. */
  readonly isNote?: boolean;
  readonly fallback?: string;
}
interface IntegerRule {
  readonly type: 'integer';
  readonly min: number;
  readonly max: number;
  readonly unit: string;
  readonly fallback?: number;
}
interface OptionalIntegerRule {
  readonly type: 'optionalInteger';
  readonly min: number;
  readonly max: number;
  readonly unit: string;
}
interface DecimalRule {
  readonly type: 'decimal';
  readonly min: number;
  readonly max: number;
  readonly unit: string;
  /** Digits after the point. */
  readonly decimals: number;
  readonly isOptional: boolean;
  readonly fallback?: number;
}
interface ChoiceRule {
  readonly type: 'choice';
  readonly options: readonly string[];
  readonly fallback?: string;
}
interface FlagRule {
  readonly type: 'flag';
  readonly fallback: boolean;
}
interface ReferenceRule {
  readonly type: 'reference';
  /** The kind it refers to. */
  readonly to: string;
  readonly isOptional: boolean;
  readonly onRemoval: OnRemoval;
}
interface ReferencesRule {
  readonly type: 'references';
  readonly to: string;
  readonly min: number;
  readonly max: number;
  readonly onRemoval: OnRemoval;
  readonly fallback?: readonly string[];
}
interface AddressRule {
  readonly type: 'address';
  readonly isOptional: boolean;
}
interface AddressesRule {
  readonly type: 'addresses';
  readonly min: number;
  readonly max: number;
  readonly fallback?: readonly string[];
}
interface PrefixesRule {
  readonly type: 'prefixes';
  readonly min: number;
  readonly max: number;
  readonly fallback?: readonly string[];
}
interface ChoicesRule {
  readonly type: 'choices';
  readonly options: readonly string[];
  readonly min: number;
  readonly fallback?: readonly string[];
}
interface TextsRule {
  readonly type: 'texts';
  readonly min: number;
  readonly max: number;
  readonly maxLength: number;
  /** How each is written; free text when absent. */
  readonly form?: TextForm;
  readonly fallback?: readonly string[];
}

/** What one field accepts; a reference names its kind as any text, since kinds are made of fields. */
export type AnyField = Common &
  (
    | TextRule
    | IntegerRule
    | OptionalIntegerRule
    | DecimalRule
    | ChoiceRule
    | FlagRule
    | { readonly type: 'prefix' }
    | AddressRule
    | AddressesRule
    | { readonly type: 'date' }
    | ReferenceRule
    | ReferencesRule
    | PrefixesRule
    | ChoicesRule
    | TextsRule
  );

/** Whether a field may be empty, so that something else decides or nothing is known: null. */
export function mayBeEmpty(rule: AnyField): boolean {
  return rule.type === 'optionalInteger' || ('isOptional' in rule && rule.isOptional);
}

declare const value: unique symbol;

/** A field whose values are of type T. The type is carried for the compiler only. */
export type Field<T> = AnyField & { readonly [value]?: T };

type About<R> = Omit<R, 'type'> & Common;
type Maybe<Without extends boolean, T> = Without extends true ? T | null : T;

/** Free text, from `min` to `max` characters. */
export const text = (of: About<TextRule>): Field<string> => ({ type: 'text', ...of });

/** A name of 1 to 80 characters, told apart in any case. */
export const name = (help: string): Field<string> => text({ label: 'Name', help, min: 1, max: 80, compare: 'name' });

/** A note of up to 500 characters. */
export const note = (since?: FileVersion): Field<string> =>
  text({
    label: 'Note',
    help: 'Anything worth knowing.',
    min: 0,
    max: 500,
    isNote: true,
    fallback: '',
    ...(since === undefined ? {} : { since }),
  });

/** The name of a zone; empty for none in particular. */
export const zone = (help: string): Field<string> =>
  text({ label: 'Zone', help, min: 0, max: 20, compare: 'exact', fallback: '' });

/** A whole number from `min` to `max`, in `unit`. */
export const integer = (of: About<IntegerRule>): Field<number> => ({ type: 'integer', ...of });

/** Extra nodes while an upgrade rolls, in percent. */
export const surge = (): Field<number> =>
  integer({ label: 'Surge', help: 'Extra nodes while an upgrade rolls.', unit: '%', min: 0, max: 100, fallback: 10 });

/** A whole number, or null where something else decides; `empty` says what. */
export const optionalInteger = (of: About<OptionalIntegerRule>): Field<number | null> => ({
  type: 'optionalInteger',
  ...of,
});

/** A number with up to `decimals` digits after the point; null where it is optional and not known. */
export const decimal = <const Without extends boolean>(
  of: About<DecimalRule> & { readonly isOptional: Without },
): Field<Maybe<Without, number>> => ({ type: 'decimal', ...of });

/** One of several values. */
export const choice = <const O extends readonly string[]>(
  of: About<ChoiceRule> & { readonly options: O; readonly fallback?: O[number] },
): Field<O[number]> => ({ type: 'choice', ...of });

/** Yes or no. */
export const flag = (of: About<FlagRule>): Field<boolean> => ({ type: 'flag', ...of });

/** A CIDR prefix without host bits, in standard form. */
export const prefix = (help: string): Field<string> => ({ type: 'prefix', label: 'Prefix', help });

/** One address in standard form; null where it is optional and something else decides, as `empty` says. */
export const address = <const Without extends boolean = false>(
  of: Common & { readonly isOptional?: Without },
): Field<Maybe<Without, string>> => ({ type: 'address', ...of, isOptional: of.isOptional ?? false });

/** Addresses in standard form, each once. */
export const addresses = (of: About<AddressesRule>): Field<readonly string[]> => ({ type: 'addresses', ...of });

/** A day, such as 2026-11-23. */
export const date = (of: Common): Field<string> => ({ type: 'date', ...of });

/** The id of another entity; null where it is optional and there is none. */
export const reference = <const Without extends boolean = false>(
  of: Common & {
    readonly to: string;
    readonly onRemoval?: OnRemoval;
    readonly isOptional?: Without;
  },
): Field<Maybe<Without, string>> => ({
  type: 'reference',
  onRemoval: 'refuse',
  ...of,
  isOptional: of.isOptional ?? false,
});

/** Ids of other entities, each once. */
export const references = (
  of: Omit<About<ReferencesRule>, 'onRemoval'> & { readonly onRemoval?: OnRemoval },
): Field<readonly string[]> => ({ type: 'references', onRemoval: 'refuse', ...of });

/** Prefixes, each once. */
export const prefixes = (of: About<PrefixesRule>): Field<readonly string[]> => ({ type: 'prefixes', ...of });

/** Several of some values, each once. */
export const choices = <const O extends readonly string[]>(
  of: About<ChoicesRule> & { readonly options: O; readonly fallback?: readonly O[number][] },
): Field<readonly O[number][]> => ({ type: 'choices', ...of });

/** Texts, each once. */
export const texts = (of: About<TextsRule>): Field<readonly string[]> => ({ type: 'texts', ...of });

/** Which intent a proposal made something for, in words; empty for what was entered by hand. */
export const intent = (): Field<string> =>
  text({
    label: 'Intent',
    help: 'The intent that a proposal made it for; empty when entered by hand.',
    min: 0,
    max: 120,
    fallback: '',
  });

/** What the proposal wrote, as a digest: while it holds, a later proposal may change the entity; after an edit by hand it does not. */
export const proposedAs = (): Field<string> =>
  text({
    label: 'Proposed as',
    help: 'A digest of what the proposal wrote.',
    min: 0,
    max: 24,
    fallback: '',
    isHidden: true,
  });

/** Ports, each one number or a range; empty for every port. */
export const ports = (help: string): Field<readonly string[]> =>
  texts({ label: 'Ports', help, min: 0, max: 64, maxLength: 11, form: 'ports', fallback: [] });
