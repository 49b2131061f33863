import type { Prefix } from '../../address/index.js';
import { bad } from '../../result.js';
import type { Problem } from '../../result.js';
import type { Plan } from '../entities.js';

/** A problem and the field it is in. */
export interface FieldProblem extends Problem {
  readonly field: string;
}

/** What is known of a kind beyond its fields: how a person knows one, and what must hold between fields and between entities. */
export interface KindRules<E> {
  /** How a person knows it: its name, or what tells it from the others. */
  readonly label: (entity: E, plan: Plan) => string;
  /** What it is, in a few words beside the label. */
  readonly about: (entity: E, plan: Plan) => string;
  /** The addresses it holds, and what it is called as their holder: "node range of booking". Absent when it holds none. */
  readonly holds?: {
    readonly prefixes: (entity: E) => readonly Prefix[];
    readonly called: (entity: E, plan: Plan) => string;
    /** Space to take from, not something that was taken. */
    readonly isSpace?: boolean;
  };
  /** What must hold between its fields, which are each good. */
  readonly betweenFields?: (entity: E) => FieldProblem[];
  /** What must hold between it and what it stands beside; its references are good. Asked when it was added or set. */
  readonly betweenEntities?: (plan: Plan, entity: E) => FieldProblem[];
  /** Usual words at the head of a column for a field, in lower case without spaces, beside its own name and label. */
  readonly headings?: Readonly<Record<string, string>>;
  /** Fields of a new row of an import that, where they are not given, take the value of another field. */
  readonly follows?: Readonly<Record<string, string>>;
  /** What is surely a slip in a row of an import, though a plan may hold it. */
  readonly mistypes?: (plan: Plan, entity: E) => FieldProblem[];
  /** What its removal would break, though nothing refers to it. */
  readonly afterRemoval?: (plan: Plan, gone: E) => FieldProblem[];
}

/** Builds a problem at a field: what is wrong with which value, and what to do instead. */
export function wrong(field: string, code: string, message: string, fix: string): FieldProblem {
  return { field, ...bad(code, message, fix).problem };
}
