import { MAX_PROBLEMS, STEP } from '@wide-lattice/core/plan';
import type { Operation, OperationProblem } from '@wide-lattice/core/plan';
import { refusedFields } from '../../http/bodyPipe.js';
import { OperationDto } from './changeDto.js';
import { dtoOf } from './dtoOf.js';

interface Checked {
  readonly operations: Operation[];
  readonly problems: OperationProblem[];
}

/**
 * Checks each operation and its entity or fields by the class of its kind; the good ones are operations of the core. It
 * comes in steps of a few hundred, and after MAX_PROBLEMS no more are looked for.
 */
export function* checkOperations(given: readonly unknown[]): Generator<undefined, Checked> {
  const problems: OperationProblem[] = [];
  const operations: Operation[] = [];
  for (const [at, each] of given.entries()) {
    const found = checkOperation(each, at);
    problems.push(...found);
    if (problems.length >= MAX_PROBLEMS) break;
    // Every part was checked by its class just above.
    if (found.length === 0) operations.push(each as Operation);
    if (at % STEP === STEP - 1) yield;
  }
  return { operations: problems.length > 0 ? [] : operations, problems: problems.slice(0, MAX_PROBLEMS) };
}

function checkOperation(given: unknown, at: number): OperationProblem[] {
  const misses = (field: string, message: string, fix: string): OperationProblem[] => [
    { operation: at, field, code: 'operation.shape', message, fix },
  ];
  const problemsOf = (shape: new () => object, values: unknown, isPartial: boolean): OperationProblem[] =>
    refusedFields(shape, values, isPartial).map((refused) => ({ operation: at, ...refused, fix: '' }));
  const wrong = problemsOf(OperationDto, given, false);
  if (wrong.length > 0) return wrong;
  const { op, kind, id, entity, fields } = given as OperationDto;
  if (kind === 'settings' && op !== 'set') return misses('op', 'The settings can only be set.', 'Use "set".');
  if (op === 'add')
    return isGiven(entity)
      ? problemsOf(dtoOf[kind], entity, false)
      : misses('entity', 'The entity to add is missing.', 'Send the complete entity.');
  if (kind !== 'settings' && !isGiven(id)) return misses('id', 'The id is missing.', 'Name the entity.');
  if (op === 'remove') return [];
  return isGiven(fields) && Object.keys(fields).length > 0
    ? problemsOf(dtoOf[kind], fields, true)
    : misses('fields', 'The fields to set are missing.', 'Send at least one.');
}

function isGiven<T>(value: T | null | undefined): value is T {
  return value !== undefined && value !== null;
}
