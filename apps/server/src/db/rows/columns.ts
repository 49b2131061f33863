import { Column, PrimaryColumn } from 'typeorm';

const idType = { type: 'char', length: 36, charset: 'ascii', collation: 'ascii_bin' } as const;

/** A UUID that is (part of) the primary key; compared byte by byte, as the core orders ids. */
export const IdKey = () => PrimaryColumn(idType);

/** A UUID that refers to another row. */
export const IdColumn = (options: { nullable?: boolean } = {}) => Column({ ...idType, ...options });

/** A name: compared byte by byte, since the core has already refused names that differ in case only. */
export const NameColumn = (length = 80) => Column({ type: 'varchar', length, collation: 'utf8mb4_bin' });

/** Free text. */
export const TextColumn = (length: number) => Column({ type: 'varchar', length });

/** A whole number. */
export const IntegerColumn = (options: { nullable?: boolean; unsigned?: boolean } = {}) =>
  Column({ type: 'int', ...options });

/** A number with a fixed count of digits after the point; read back as a number. */
export const DecimalColumn = (scale: number, options: { nullable?: boolean } = {}) =>
  Column({
    type: 'decimal',
    precision: 12,
    scale,
    transformer: {
      to: (value: unknown) => value,
      from: (text: string | null) => (text === null ? null : Number(text)),
    },
    ...options,
  });
