import type { EntityOf } from './entities.js';
import { rulesOf } from './fields.js';

/** The kinds that a proposal makes, each row with the intent it was made for. */
export type ProposedKind =
  | 'routeTables'
  | 'routes'
  | 'natDevices'
  | 'firewalls'
  | 'firewallRules'
  | 'endpoints'
  | 'bastions'
  | 'filters'
  | 'filterRules';

/** A digest of all that a person can edit of a row (FNV-1a, 32 bits, twice), to tell whether it is still as it was proposed. */
export function digestOf(kind: ProposedKind, entity: object): string {
  const values = entity as Readonly<Record<string, unknown>>;
  const text = JSON.stringify(
    Object.keys(rulesOf(kind))
      .filter((field) => field !== 'proposedAs')
      .map((field) => values[field] ?? null),
  );
  return hash(text, 0x811c9dc5) + hash(text, 0x01000193);
}

function hash(text: string, seed: number): string {
  let value = seed;
  for (let i = 0; i < text.length; i++) value = Math.imul(value ^ text.charCodeAt(i), 0x01000193);
  return (value >>> 0).toString(16).padStart(8, '0');
}

/** A row marked as proposed: as long as nobody edits it, a later proposal may change it. */
export function asProposed<K extends ProposedKind>(kind: K, entity: EntityOf[K]): EntityOf[K] {
  return { ...entity, proposedAs: digestOf(kind, entity) };
}
