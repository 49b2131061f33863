import { addOperation, newId, rulesOf, setOperation, withFallbacks } from '../plan/index.js';
import type { EntityOf, Operation, Plan } from '../plan/index.js';

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

type Fields<K extends ProposedKind> = Partial<Omit<EntityOf[K], 'id' | 'proposedAs'>>;

/** What became of one wanted row: a change, nothing since it stands, or left alone since somebody edited it. */
export interface Reconciled {
  readonly id: string;
  readonly operations: readonly Operation[];
  readonly isEdited: boolean;
}

/**
 * Brings one row to what an intent asks for. A row that the proposal made and nobody edited since follows; one that was edited by
 * hand is kept; one that is not there is added. `find` tells which row it is among those that stand.
 */
export function reconcile<K extends ProposedKind>(
  plan: Plan,
  kind: K,
  fields: Fields<K>,
  find: (entity: EntityOf[K]) => boolean,
): Reconciled {
  // The collection of a kind holds entities of that kind.
  const standing = (plan[kind] as unknown as readonly EntityOf[K][]).find(find);
  if (standing === undefined) {
    const made = withFallbacks(kind, { ...fields, id: newId() } as Partial<EntityOf[K]>);
    return {
      id: made.id,
      operations: [addOperation(kind, { ...made, proposedAs: digestOf(kind, made) })],
      isEdited: false,
    };
  }
  // Whose row it is does not matter as long as it says what is wanted.
  const changed = Object.entries(fields).filter(
    ([field, value]) =>
      field !== 'intent' &&
      JSON.stringify((standing as unknown as Record<string, unknown>)[field]) !== JSON.stringify(value),
  );
  if (changed.length === 0) return { id: standing.id, operations: [], isEdited: false };
  if (standing.proposedAs === '' || standing.proposedAs !== digestOf(kind, standing))
    return { id: standing.id, operations: [], isEdited: true };
  const after = { ...standing, ...fields };
  return {
    id: standing.id,
    operations: [
      setOperation(kind, standing.id, { ...Object.fromEntries(changed), proposedAs: digestOf(kind, after) } as never),
    ],
    isEdited: false,
  };
}

/** A digest of all that a person can edit of a row (FNV-1a, 32 bits, twice), to tell whether it is still as it was proposed. */
function digestOf(kind: ProposedKind, entity: object): string {
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
