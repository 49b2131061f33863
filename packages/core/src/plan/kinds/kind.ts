import type { Field, FileVersion, AnyField } from './field.js';

/** A part of a key: a field, or the address family of a prefix. */
export type KeyPart = string | { readonly familyOf: string };

/** What may stand once only in a plan. */
interface UniqueKey {
  readonly by: readonly KeyPart[];
  /** The field that a second one is told at, with the reason; a name that is taken when absent. */
  readonly taken?: { readonly field: string; readonly code: string; readonly message: string; readonly fix: string };
}

/** Everything that is known of a kind of entity but its rules, which stand beside it. */
export interface KindDescriptor {
  /** Its collection in the plan: "nodePools". */
  readonly kind: string;
  /** One of it in code: the table and the class of the API are named after it. */
  readonly code: string;
  /** One of it in a sentence: "node pool". */
  readonly one: string;
  /** What it is, for the documentation of the API. */
  readonly about: string;
  /** The plan file version that it came with. */
  readonly since: FileVersion;
  readonly fields: Readonly<Record<string, AnyField>>;
  readonly unique?: UniqueKey;
  /** What makes a row of an import the same thing as an entity, where it is not the unique key. */
  readonly sameRow?: readonly KeyPart[];
  /** The same when only the rest was written another way: good while one entity has it. */
  readonly sameRowLoosely?: readonly KeyPart[];
}

/** The value that a field holds. */
type ValueOf<F> = F extends Field<infer T> ? T : never;

/** An entity with these fields. */
export type EntityOfFields<Fields> = { readonly id: string } & {
  readonly [F in keyof Fields]: ValueOf<Fields[F]>;
};

/** Keeps the exact types of a descriptor, from which its entity's type is read. */
export function defineKind<const D extends KindDescriptor>(descriptor: D): D {
  return descriptor;
}
