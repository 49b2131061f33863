import type { Kind } from './entities.js';
import { rulesOf } from './fields.js';

/** Lists up to this length are often alike: labels, ports, and those that say nothing. */
const MOST_SHARED = 4;
const emptyList: readonly string[] = [];
const listTypes: ReadonlySet<string> = new Set(['references', 'addresses', 'prefixes', 'choices', 'texts']);

/**
 * Keeps ids and short lists of rows that are being read once each. A plan of 5,000 clusters holds half a million empty lists
 * and as many ids of other rows; text that is parsed gives each a copy of its own, which is half of the memory that it takes.
 */
export class SharedValues {
  private readonly texts = new Map<string, string>();
  private readonly lists = new Map<string, readonly string[]>();
  private readonly fields = new Map<Kind, { readonly ids: readonly string[]; readonly lists: readonly string[] }>();

  /** Replaces the ids and short lists of a row by equal ones seen before. It changes the row, so it must not be in use yet. */
  share(kind: Kind, row: Record<string, unknown>): void {
    const { ids, lists } = this.fieldsOf(kind);
    for (const field of ids) {
      const value = row[field];
      if (typeof value === 'string') row[field] = this.text(value);
    }
    for (const field of lists) {
      const value = row[field];
      if (Array.isArray(value)) row[field] = this.list(value as readonly string[]);
    }
  }

  private text(value: string): string {
    const known = this.texts.get(value);
    if (known !== undefined) return known;
    this.texts.set(value, value);
    return value;
  }

  private list(list: readonly string[]): readonly string[] {
    if (list.length === 0) return emptyList;
    if (list.length > MOST_SHARED || !list.every((each) => typeof each === 'string')) return list;
    const key = list.length === 1 ? (list[0] as string) : list.join('\0');
    const known = this.lists.get(key);
    // A text with the separator in it may have the key of other texts.
    if (known !== undefined)
      return known.length === list.length && known.every((each, at) => each === list[at]) ? known : list;
    this.lists.set(key, list);
    return list;
  }

  private fieldsOf(kind: Kind) {
    const known = this.fields.get(kind);
    if (known !== undefined) return known;
    const rules = Object.entries(rulesOf(kind));
    const made = {
      ids: ['id', ...rules.filter(([, { type }]) => type === 'reference').map(([field]) => field)],
      lists: rules.filter(([, { type }]) => listTypes.has(type)).map(([field]) => field),
    };
    this.fields.set(kind, made);
    return made;
  }
}
