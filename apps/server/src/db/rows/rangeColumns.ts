import { Column } from 'typeorm';
import { addressBytes, firstAddress, lastAddress, parsePrefix } from '@wide-lattice/core/address';

/** What the database can compare and index of a prefix: family, binary first and last address, length. */
interface RangeValues {
  readonly family: number;
  readonly firstAddress: Buffer;
  readonly lastAddress: Buffer;
  readonly prefixLength: number;
}

/** The columns that a range is looked up by, beside its plan. */
export const rangeIndex = ['family', 'firstAddress', 'prefixLength'] as const;

/** Gives a row the columns of a prefix: its text, and what the database can compare. */
export function decorateRange(row: object, field: string | symbol): void {
  Column({ type: 'varchar', length: 49, charset: 'ascii', collation: 'ascii_bin' })(row, field);
  Column({ type: 'tinyint' })(row, 'family');
  Column({ type: 'varbinary', length: 16 })(row, 'firstAddress');
  Column({ type: 'varbinary', length: 16 })(row, 'lastAddress');
  Column({ type: 'tinyint', unsigned: true })(row, 'prefixLength');
}

/** The values of those columns for a prefix that has been checked before. */
export function rangeValues(text: string): RangeValues {
  const parsed = parsePrefix(text);
  if (!parsed.ok) throw new Error(`rangeValues: ${parsed.problem.message}`);
  return {
    family: parsed.value.family,
    firstAddress: Buffer.from(addressBytes(firstAddress(parsed.value))),
    lastAddress: Buffer.from(addressBytes(lastAddress(parsed.value))),
    prefixLength: parsed.value.length,
  };
}
