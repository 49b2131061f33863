import type { FieldRule } from '@wide-lattice/core/plan';
import { Column } from 'typeorm';
import { DecimalColumn, IdColumn, IntegerColumn, NameColumn, TextColumn } from './columns.js';
import { decorateRange } from './rangeColumns.js';

/** Wide enough for any choice; a test holds every option against it. */
export const CHOICE_LENGTH = 20;

/** The column, or columns, that hold a field of an entity: lists as they are, since the core checks what they name. */
export function columnFor(rule: FieldRule): PropertyDecorator {
  switch (rule.type) {
    case 'text':
      return rule.compare === undefined ? TextColumn(rule.max) : NameColumn(rule.max);
    case 'integer':
      return IntegerColumn(rule.max > 2_147_483_647 ? { unsigned: true } : {});
    case 'optionalInteger':
      return IntegerColumn({ nullable: true });
    case 'decimal':
      return DecimalColumn(rule.decimals, rule.isOptional ? { nullable: true } : {});
    case 'choice':
      return Column({ type: 'varchar', length: CHOICE_LENGTH });
    case 'flag':
      return Column({ type: 'boolean' });
    case 'prefix':
      return decorateRange;
    case 'address':
      return Column({
        type: 'varchar',
        length: 45,
        charset: 'ascii',
        collation: 'ascii_bin',
        ...(rule.isOptional ? { nullable: true } : {}),
      });
    case 'date':
      // As text, so that no time zone moves the day.
      return Column({ type: 'char', length: 10 });
    case 'reference':
      return IdColumn(rule.isOptional ? { nullable: true } : {});
    case 'references':
    case 'prefixes':
    case 'addresses':
    case 'choices':
    case 'texts':
      return Column({ type: 'json' });
  }
}
