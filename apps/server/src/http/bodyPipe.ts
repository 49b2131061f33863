import { BadRequestException, Injectable } from '@nestjs/common';
import type { ArgumentMetadata, PipeTransform } from '@nestjs/common';
import { validateSync } from 'class-validator';

/** A field that its class refuses: its name, the validator that did, and why. */
export interface RefusedField {
  readonly field: string;
  readonly code: string;
  readonly message: string;
}

/** Fields that would change what an object is, and are none of any class here. */
const forbidden: ReadonlySet<string> = new Set(['__proto__', 'constructor', 'prototype']);

/**
 * Checks the fields of a flat object by a class. What is inside a field is left as it came: the usual transformer goes down
 * into it by whatever "constructor" it finds there, and falls.
 */
export function refusedFields(shape: new () => object, values: unknown, isPartial = false): readonly RefusedField[] {
  const read = readBy(shape, values, isPartial);
  return read.ok ? [] : read.refused;
}

type Read =
  | { readonly ok: true; readonly instance: object }
  | { readonly ok: false; readonly refused: readonly RefusedField[] };

function readBy(shape: new () => object, values: unknown, isPartial: boolean): Read {
  if (typeof values !== 'object' || values === null || Array.isArray(values))
    return { ok: false, refused: [{ field: '', code: 'object', message: 'This is not an object with fields.' }] };
  const instance = new shape();
  for (const [field, value] of Object.entries(values)) {
    if (forbidden.has(field))
      return {
        ok: false,
        refused: [{ field, code: 'whitelistValidation', message: `Unknown field ${field}.` }],
      };
    (instance as Record<string, unknown>)[field] = value;
  }
  const errors = validateSync(instance, {
    whitelist: true,
    forbidNonWhitelisted: true,
    skipUndefinedProperties: isPartial,
    forbidUnknownValues: true,
  });
  if (errors.length === 0) return { ok: true, instance };
  const refused = errors.map(({ property, constraints = {} }) => ({
    field: property,
    code: Object.keys(constraints)[0] ?? 'field',
    message: Object.values(constraints)[0] ?? 'This is not accepted.',
  }));
  return { ok: false, refused };
}

/** Checks every body, and every query that is taken as a whole, by its class; a refusal names each field. */
@Injectable()
export class BodyPipe implements PipeTransform<unknown, unknown> {
  transform(value: unknown, { type, metatype, data }: ArgumentMetadata): unknown {
    const isWhole = type === 'body' || (type === 'query' && data === undefined);
    if (!isWhole || metatype === undefined || metatype === Object) return value;
    const read = readBy(metatype as new () => object, value, false);
    if (read.ok) return read.instance;
    throw new BadRequestException({
      message: 'The request is not as documented at /api/docs.',
      fields: read.refused.map(({ field, message }) => ({ field, messages: [message] })),
    });
  }
}
