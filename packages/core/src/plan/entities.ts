import type { AnyField } from './kinds/field.js';
import type { EntityOfFields, KindDescriptor } from './kinds/kind.js';
import { kindList } from './kinds/kindList.js';
import type { PlanSettings } from './kinds/settings.js';

export type { PlanSettings };

type Descriptor = (typeof kindList)[number];

/** The entities of each kind; a kind's name is also its collection in the plan. */
export type EntityOf = { readonly [D in Descriptor as D['kind']]: EntityOfFields<D['fields']> };

/** A kind of entity. */
export type Kind = Descriptor['kind'];

/** Any entity. */
export type Entity = EntityOf[Kind];

/** The kinds, each after those it may refer to. */
export const kinds: readonly Kind[] = kindList.map(({ kind }) => kind);

/** The whole plan. Each collection is ordered by id, so every place that holds the plan holds it alike. */
export type Plan = { readonly settings: PlanSettings } & { readonly [K in Kind]: readonly EntityOf[K][] };

/** What one field accepts. Forms, imports, the server's validation and tables and the published JSON Schema all read this. */
export type FieldRule = AnyField & ({ readonly to: Kind } | { readonly to?: never });

/** The descriptor of one of the plan's kinds. */
export type PlanKind = KindDescriptor & { readonly kind: Kind };

/** A record with an entry for every kind, made from its descriptor. */
export function byKind<T>(make: (descriptor: PlanKind) => T): {
  readonly [K in Kind]: T;
} {
  // One entry for each kind of the list.
  return Object.fromEntries(kindList.map((descriptor) => [descriptor.kind, make(descriptor)])) as { [K in Kind]: T };
}

/** The descriptor of each kind. */
export const kindOf: { readonly [K in Kind]: PlanKind } = byKind((descriptor) => descriptor);

/** What one entity of a kind is called in a sentence. */
export const kindNames: { readonly [K in Kind]: string } = byKind(({ one }) => one);
