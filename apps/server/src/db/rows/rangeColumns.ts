import { Column } from 'typeorm';
import { lastAddress, parsePrefix } from '@wide-lattice/core';

/** A prefix as text and as what the database can compare and index: family, binary first and last address, length. */
export abstract class RangeColumns {
  @Column({ type: 'varchar', length: 49, charset: 'ascii', collation: 'ascii_bin' }) prefix: string;
  @Column({ type: 'tinyint' }) family: number;
  @Column({ type: 'varbinary', length: 16 }) firstAddress: Buffer;
  @Column({ type: 'varbinary', length: 16 }) lastAddress: Buffer;
  @Column({ type: 'tinyint', unsigned: true }) prefixLength: number;
}

/** The range columns of a prefix that has been checked before. */
export function rangeColumns(text: string): Pick<RangeColumns, keyof RangeColumns> {
  const parsed = parsePrefix(text);
  if (!parsed.ok) throw new Error(`rangeColumns: ${parsed.problem.message}`);
  const { family, base, length } = parsed.value;
  const bytes = (value: bigint) => Buffer.from(value.toString(16).padStart(family === 4 ? 8 : 32, '0'), 'hex');
  return {
    prefix: text,
    family,
    firstAddress: bytes(base),
    lastAddress: bytes(lastAddress(parsed.value).value),
    prefixLength: length,
  };
}
