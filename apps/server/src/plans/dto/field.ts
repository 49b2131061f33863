import 'reflect-metadata';
import { applyDecorators } from '@nestjs/common';
import { ApiProperty } from '@nestjs/swagger';
import { registerDecorator } from 'class-validator';
import { fieldSchema } from '@wide-lattice/core/exchange';
import { checkField, isId, rulesOf } from '@wide-lattice/core/plan';
import { formatProblem } from '@wide-lattice/core/result';
import type { FieldRule, Kind } from '@wide-lattice/core/plan';

/** Validates and documents one field of an entity by the core's rule for it, so that there is one rule in one place. */
export function Field(kind: Kind | 'settings', field: string): PropertyDecorator {
  const rule = rulesOf(kind)[field];
  if (rule === undefined) throw new Error(`Field: ${kind} has no field ${field}`);
  const problemOf = (value: unknown) => {
    const problem = checkField(rule, value);
    return problem === undefined ? '' : formatProblem(problem);
  };
  return applyDecorators(
    typed(rule),
    ApiProperty({ description: rule.help, ...fieldSchema(rule) }),
    validate('fieldRule', problemOf),
  );
}

/** Validates and documents the id of an entity. */
export function EntityId(): PropertyDecorator {
  return applyDecorators(
    ApiProperty({
      type: 'string',
      description: 'UUID, version 7 for new entities; kept by export and import.',
      format: 'uuid',
    }),
    validate('entityId', (value) => (isId(value) ? '' : 'The id must be a UUID in lower case.')),
  );
}

/** What the compiler would have noted of a declared property; the documentation asks for it. */
function typed({ type }: FieldRule): PropertyDecorator {
  const isNumber = type === 'integer' || type === 'optionalInteger' || type === 'decimal';
  const isList =
    type === 'references' || type === 'prefixes' || type === 'addresses' || type === 'choices' || type === 'texts';
  const known = isNumber ? Number : isList ? Array : type === 'flag' ? Boolean : String;
  return (target, propertyName) => Reflect.defineMetadata('design:type', known, target, propertyName);
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
