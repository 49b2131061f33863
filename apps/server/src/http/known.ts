import { BadRequestException, Injectable, SetMetadata } from '@nestjs/common';
import type { ArgumentMetadata, CanActivate, ExecutionContext, PipeTransform } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import type { Request } from 'express';

/** The largest revision, and the largest whole number that any parameter takes: a signed 32-bit integer of the database. */
export const MOST = 2_147_483_647;

const KEY = 'known query';

/** Names the query parameters that a handler knows; all others are refused. */
export const KnownQuery = (...names: string[]) => SetMetadata(KEY, names);

/** Refuses query parameters that nobody would read: a slip there must not look like an answer. */
@Injectable()
export class QueryGuard implements CanActivate {
  constructor(private readonly reflector: Reflector) {}

  canActivate(context: ExecutionContext): boolean {
    const known = this.reflector.get<string[] | undefined>(KEY, context.getHandler()) ?? [];
    const { query } = context.switchToHttp().getRequest<Request>();
    const unknown = Object.keys(query).find((name) => !known.includes(name));
    if (unknown === undefined) return true;
    const knows = known.length === 0 ? 'It takes none' : `It takes ${known.join(', ')}`;
    throw refusedField(unknown, `"${unknown}" is not a query parameter of this request. ${knows}.`);
  }
}

/** Reads a whole number of a path or query; the usual value where a query gives none. */
export class WholeNumber implements PipeTransform<unknown, number> {
  constructor(
    private readonly least: number,
    private readonly usual?: number,
    private readonly most = MOST,
  ) {}

  transform(value: unknown, { data = '' }: ArgumentMetadata): number {
    if (value === undefined && this.usual !== undefined) return this.usual;
    // Nest's own pipe may have made a number of it already.
    const isWhole = Number.isInteger(value) || (typeof value === 'string' && /^-?\d{1,20}$/.test(value));
    const number = isWhole ? Number(value) : NaN;
    if (number >= this.least && number <= this.most) return number;
    const given =
      value === undefined ? 'nothing' : `"${(typeof value === 'string' ? value : JSON.stringify(value)).slice(0, 40)}"`;
    throw refusedField(data, `${data}: ${given} is not a whole number from ${this.least} to ${this.most}.`);
  }
}

function refusedField(field: string, message: string): BadRequestException {
  return new BadRequestException({ message, fields: [{ field, messages: [message] }] });
}
