import type { EntityOf, Kind, PlanSettings } from './entities.js';

/** Adds one entity with its id. */
type AddOperation = {
  [K in Kind]: { readonly op: 'add'; readonly kind: K; readonly entity: EntityOf[K] };
}[Kind];

/** Sets some fields of one entity. */
type SetOperation = {
  [K in Kind]: {
    readonly op: 'set';
    readonly kind: K;
    readonly id: string;
    readonly fields: Partial<Omit<EntityOf[K], 'id'>>;
  };
}[Kind];

/** Removes one entity; what refers to it must be removed in the same change. */
interface RemoveOperation {
  readonly op: 'remove';
  readonly kind: Kind;
  readonly id: string;
}

/** Sets some of the plan's own fields. */
interface SettingsOperation {
  readonly op: 'set';
  readonly kind: 'settings';
  readonly fields: Partial<PlanSettings>;
}

/** One step of a change. A change is a list of these, applied whole or not at all. */
export type Operation = AddOperation | SetOperation | RemoveOperation | SettingsOperation;

/** Builds an add without repeating the cast: kind and entity belong together by type. */
export function addOperation<K extends Kind>(kind: K, entity: EntityOf[K]): Operation {
  // One member of the union per kind; K ties the two fields together.
  return { op: 'add', kind, entity } as unknown as Operation;
}

/** Builds a set; kind and fields belong together by type. */
export function setOperation<K extends Kind>(kind: K, id: string, fields: Partial<Omit<EntityOf[K], 'id'>>): Operation {
  return { op: 'set', kind, id, fields } as unknown as Operation;
}

/** Names what an operation touches: "clusters:<id>", or "settings". */
export function touchedBy(operation: Operation): string {
  if (operation.kind === 'settings') return 'settings';
  return `${operation.kind}:${operation.op === 'add' ? operation.entity.id : operation.id}`;
}

/** Most problems that are told of one change or file: more help nobody to mend it. */
export const MAX_PROBLEMS = 500;

/** Operations that are looked at before others get their turn. */
export const STEP = 256;

/** A problem and the operation (from 0) and field it is in. */
export interface OperationProblem {
  readonly operation: number;
  readonly field: string;
  readonly code: string;
  readonly message: string;
  readonly fix: string;
}
