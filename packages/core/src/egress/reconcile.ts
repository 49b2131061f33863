import { addOperation, digestOf, newId, setOperation, withFallbacks } from '../plan/index.js';
import type { EntityOf, Operation, Plan, ProposedKind } from '../plan/index.js';

type Fields<K extends ProposedKind> = Partial<Omit<EntityOf[K], 'id' | 'proposedAs'>>;

/** What became of one wanted row: a change, nothing since it stands, or left alone since somebody edited it. */
export interface Reconciled {
  readonly id: string;
  readonly operations: readonly Operation[];
  readonly isEdited: boolean;
}

/**
 * Brings one row to what an intent asks for. A row that the proposal made and nobody edited since follows; one that was edited by
 * hand is kept, unless it is forced; one that is not there is added. `find` tells which row it is among those that stand.
 */
export function reconcile<K extends ProposedKind>(
  plan: Plan,
  kind: K,
  fields: Fields<K>,
  find: (entity: EntityOf[K]) => boolean,
  isForced = false,
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
  if (!isForced && (standing.proposedAs === '' || standing.proposedAs !== digestOf(kind, standing)))
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
