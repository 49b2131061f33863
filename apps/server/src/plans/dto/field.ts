import { applyDecorators } from '@nestjs/common';
import { ApiProperty } from '@nestjs/swagger';
import { registerDecorator } from 'class-validator';
import { checkField, fieldSchema, isId, rulesOf, sayProblem } from '@wide-lattice/core';
import type { Kind } from '@wide-lattice/core';

/** Validates and documents one field of an entity by the core's rule for it, so that there is one rule in one place. */
export function Field(kind: Kind | 'settings', field: string): PropertyDecorator {
  const rule = rulesOf(kind)[field];
  if (rule === undefined) throw new Error(`Field: ${kind} has no field ${field}`);
  const problemOf = (value: unknown) => {
    const problem = checkField(rule, value);
    return problem === undefined ? '' : sayProblem(problem);
  };
  return applyDecorators(
    ApiProperty({ description: rule.help, ...fieldSchema(rule) }),
    validate('fieldRule', problemOf),
  );
}

/** Validates and documents the id of an entity. */
export function EntityId(): PropertyDecorator {
  return applyDecorators(
    ApiProperty({ description: 'UUID, version 7 for new entities; kept by export and import.', format: 'uuid' }),
    validate('entityId', (value) => (isId(value) ? '' : 'The id must be a UUID in lower case.')),
  );
}

function validate(name: string, problemOf: (value: unknown) => string): PropertyDecorator {
  return (target, propertyName) => {
    registerDecorator({
      name,
      target: target.constructor,
      propertyName: String(propertyName),
      validator: { validate: (value) => problemOf(value) === '', defaultMessage: (args) => problemOf(args?.value) },
    });
  };
}
