import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import type { Operation, OperationProblem } from '@wide-lattice/core/plan';
import type { OperationDto } from './changeDto.js';
import { dtoOf } from './dtoOf.js';

/** Checks each operation's entity or fields by the class of its kind; the good ones are operations of the core. */
export function checkOperations(operations: readonly OperationDto[]): {
  operations: Operation[];
  problems: OperationProblem[];
} {
  const problems = operations.flatMap((operation, at) => checkOperation(operation, at));
  // Every part was checked by its class just above.
  return {
    operations:
      problems.length > 0 ? [] : operations.map((operation) => withoutUnset(operation) as unknown as Operation),
    problems,
  };
}

function checkOperation(operation: OperationDto, at: number): OperationProblem[] {
  const { op, kind, id, entity, fields } = operation;
  const misses = (field: string, message: string, mend: string): OperationProblem[] => [
    { operation: at, field, code: 'operation.shape', message, mend },
  ];
  if (kind === 'settings' && op !== 'set') return misses('op', 'The settings can only be set.', 'Use "set".');
  if (op === 'add')
    return entity === undefined
      ? misses('entity', 'The entity to add is missing.', 'Send it whole.')
      : checkFieldsOf(kind, entity, at, false);
  if (kind !== 'settings' && id === undefined) return misses('id', 'The id is missing.', 'Name the entity.');
  if (op === 'remove') return [];
  return fields === undefined || Object.keys(fields).length === 0
    ? misses('fields', 'The fields to set are missing.', 'Send at least one.')
    : checkFieldsOf(kind, fields, at, true);
}

function checkFieldsOf(
  kind: OperationDto['kind'],
  values: Record<string, unknown>,
  at: number,
  isPartial: boolean,
): OperationProblem[] {
  const errors = validateSync(plainToInstance(dtoOf[kind], values), {
    whitelist: true,
    forbidNonWhitelisted: true,
    skipUndefinedProperties: isPartial,
    forbidUnknownValues: true,
  });
  return errors.map((error) => ({
    operation: at,
    field: error.property,
    code: Object.keys(error.constraints ?? {})[0] ?? 'field',
    message: Object.values(error.constraints ?? {})[0] ?? 'This is not accepted.',
    mend: '',
  }));
}

function withoutUnset(operation: OperationDto): Record<string, unknown> {
  return Object.fromEntries(Object.entries(operation).filter(([, value]) => value !== undefined));
}
