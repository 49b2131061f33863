import type { EntityManager } from 'typeorm';

/** Rows that are written and sent at once. */
const AT_ONCE = 1000;

/** Lists up to this many rows go out with the statement that stores them. */
const FEW = AT_ONCE;

/**
 * A list as the value of a JSON column. A long one would be written, escaped and sent in one go, and keep all other requests waiting: it is
 * put together in the session, in parts, and the column takes it from there. The caller's transaction holds the connection.
 */
export async function jsonValue<T>(
  manager: EntityManager,
  name: 'operations' | 'inverse',
  rows: readonly T[],
): Promise<T[] | (() => string)> {
  if (rows.length <= FEW) return [...rows];
  const variable = `@wide_lattice_${name}`;
  await manager.query(`SET ${variable} = '['`);
  for (let at = 0; at < rows.length; at += AT_ONCE) {
    const part = JSON.stringify(rows.slice(at, at + AT_ONCE)).slice(1, -1);
    await manager.query(`SET ${variable} = CONCAT(${variable}, ?)`, [at === 0 ? part : `,${part}`]);
  }
  await manager.query(`SET ${variable} = CONCAT(${variable}, ']')`);
  return () => variable;
}

/** Lets go of what was put together in the session. */
export async function forgetJson(manager: EntityManager): Promise<void> {
  await manager.query('SET @wide_lattice_operations = NULL, @wide_lattice_inverse = NULL');
}
