import type { Kind } from './entities.js';

interface Common {
  /** Column heading and form label. */
  readonly label: string;
  /** One line on what the field means. */
  readonly help: string;
  /** What it means to leave it empty, in a word or two; for fields that may be. */
  readonly empty?: string;
}

/** How each text of a list is written: a label or taint of the Kubernetes API, a step of growth, a field of a cluster with its value. */
export type TextForm = 'label' | 'taint' | 'step' | 'fix';

/** What one field accepts. Forms, imports, the server's validation and the published JSON Schema all read this. */
export type FieldRule = Common &
  (
    | { readonly type: 'text'; readonly min: number; readonly max: number; readonly fallback?: string }
    | {
        readonly type: 'integer';
        readonly min: number;
        readonly max: number;
        readonly unit: string;
        readonly fallback?: number;
      }
    | {
        readonly type: 'optionalInteger';
        readonly min: number;
        readonly max: number;
        readonly unit: string;
        readonly fallback?: null;
      }
    | {
        readonly type: 'decimal';
        readonly min: number;
        readonly max: number;
        readonly unit: string;
        /** Digits after the point. */
        readonly decimals: number;
        readonly isOptional: boolean;
        readonly fallback?: number | null;
      }
    | { readonly type: 'choice'; readonly options: readonly string[]; readonly fallback?: string }
    | { readonly type: 'flag'; readonly fallback: boolean }
    | { readonly type: 'prefix' }
    | { readonly type: 'address' }
    | { readonly type: 'reference'; readonly to: Kind; readonly isOptional: boolean }
    | {
        readonly type: 'references';
        readonly to: Kind;
        readonly min: number;
        readonly max: number;
        readonly fallback?: readonly string[];
      }
    | { readonly type: 'prefixes'; readonly min: number; readonly max: number; readonly fallback?: readonly string[] }
    | {
        readonly type: 'choices';
        readonly options: readonly string[];
        readonly min: number;
        readonly fallback?: readonly string[];
      }
    | {
        readonly type: 'texts';
        readonly min: number;
        readonly max: number;
        readonly maxLength: number;
        /** How each is written; free text when absent. */
        readonly form?: TextForm;
        readonly fallback?: readonly string[];
      }
    | { readonly type: 'date' }
  );

/** A rule for each field of an entity but its id. */
export type FieldsOf<E> = { readonly [F in Exclude<keyof E, 'id'>]-?: FieldRule };

export const name = (help: string): FieldRule => ({ type: 'text', label: 'Name', help, min: 1, max: 80 });
export const note: FieldRule = {
  type: 'text',
  label: 'Note',
  help: 'Anything worth knowing.',
  min: 0,
  max: 500,
  fallback: '',
};
export const prefixLength = (label: string, help: string, fallback: number): FieldRule => ({
  type: 'integer',
  label,
  help,
  unit: 'bits',
  min: 4,
  max: 31,
  fallback,
});
export const network = (help: string): FieldRule => ({
  type: 'reference',
  label: 'Network',
  help,
  to: 'networks',
  isOptional: false,
});
export const zone = (help: string): FieldRule => ({ type: 'text', label: 'Zone', help, min: 0, max: 20, fallback: '' });
export const prefix = (help: string): FieldRule => ({ type: 'prefix', label: 'Prefix', help });
export const integer = (
  label: string,
  help: string,
  unit: string,
  min: number,
  max: number,
  fallback?: number,
): FieldRule => ({
  type: 'integer',
  label,
  help,
  unit,
  min,
  max,
  ...(fallback === undefined ? {} : { fallback }),
});

export const price = (label: string, help: string): FieldRule => ({
  type: 'decimal',
  label,
  help: `${help}, in the currency of the plan; empty when it is not known.`,
  empty: 'not known',
  unit: 'a month',
  min: 0,
  max: 1_000_000,
  decimals: 4,
  isOptional: true,
  fallback: null,
});
export const optional = (label: string, help: string, to: Kind, empty: string): FieldRule => ({
  empty,
  type: 'reference',
  label,
  help,
  to,
  isOptional: true,
});
export const gigabytes = (label: string, help: string): FieldRule => ({
  type: 'decimal',
  label,
  help,
  unit: 'GB',
  min: 0,
  max: 1_000_000,
  decimals: 2,
  isOptional: false,
  fallback: 0,
});
