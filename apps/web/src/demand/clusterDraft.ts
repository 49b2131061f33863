import { formatPrefix, parsePrefix } from '@wide-lattice/core/address';
import { addOperation, readFieldChecked, rulesOf, setOperation } from '@wide-lattice/core/plan';
import { formatProblem } from '@wide-lattice/core/result';
import type { Cluster, FieldRule, Operation, Plan } from '@wide-lattice/core/plan';
import type { NeedRow } from '../worker/slices/clusterSheet';

/** Where one range of a cluster goes: what it is for, its zone, its family, its turn there. */
export type Place = Pick<NeedRow, 'purpose' | 'zone' | 'family' | 'turn'>;

/** What has been typed and not stored: fields by name, ranges by their place. */
export interface Draft {
  readonly fields: Readonly<Record<string, string>>;
  readonly ranges: Readonly<Record<string, { readonly place: Place; readonly text: string }>>;
}

export const noDraft: Draft = { fields: {}, ranges: {} };

/** A name for a place, whatever its zone is called. */
export function placeKey({ purpose, zone, family, turn }: Place): string {
  return JSON.stringify([purpose, zone, family, turn]);
}

/** How a place is called in a sentence: "node range a IPv4", "node range a IPv4, turn 2". */
export function formatPlace({ purpose, zone, family, turn }: Place): string {
  const words = [purpose, 'range', zone, family].filter((word) => word !== '').join(' ');
  return turn === 1 ? words : `${words}, turn ${turn}`;
}

/** Whether anything is typed that differs from what is stored. */
export function isDraft({ fields, ranges }: Draft): boolean {
  return Object.keys(fields).length + Object.keys(ranges).length > 0;
}

/** The draft with a field typed; back at what is stored, it is no longer part of it. */
export function withField(draft: Draft, field: string, text: string, stored: string): Draft {
  const { [field]: _old, ...rest } = draft.fields;
  return { ...draft, fields: text === stored ? rest : { ...rest, [field]: text } };
}

/** The same with a range typed. */
export function withRange(draft: Draft, place: Place, text: string, stored: string): Draft {
  const key = placeKey(place);
  const { [key]: _old, ...rest } = draft.ranges;
  return { ...draft, ranges: text === stored ? rest : { ...rest, [key]: { place, text } } };
}

/** What a draft changes, in a few words for the history. */
export function formatDraft({ fields, ranges }: Draft): string {
  const rules = rulesOf('clusters');
  return [
    ...Object.keys(fields).map((field) => rules[field]?.label ?? field),
    ...Object.values(ranges).map(({ place }) => `${place.purpose} range`),
  ].join(', ');
}

/** A draft as a change; what cannot be read yet is named at its field or place, and the rest still counts. */
export interface ReadDraft {
  readonly operations: readonly Operation[];
  readonly problems: ReadonlyMap<string, string>;
}

/** Reads what was typed. `idOf` gives one id for each place, so that a range being typed stays the same range. */
export function readDraft(options: {
  readonly plan: Plan;
  readonly cluster: Cluster;
  readonly stored: readonly NeedRow[];
  readonly draft: Draft;
  readonly idOf: (place: Place) => string;
}): ReadDraft {
  const { plan, cluster, stored, draft, idOf } = options;
  const problems = new Map<string, string>();
  const good: Record<string, unknown> = {};
  for (const [field, text] of Object.entries(draft.fields)) {
    const read = readFieldChecked(plan, rulesOf('clusters')[field] as FieldRule, text);
    if (read.ok) good[field] = read.value;
    else problems.set(field, formatProblem(read.problem));
  }
  const operations: Operation[] = Object.keys(good).length === 0 ? [] : [setOperation('clusters', cluster.id, good)];
  const held = new Map(stored.map((need) => [placeKey(need), need.allocation]));
  for (const [key, { place, text }] of Object.entries(draft.ranges)) {
    const read = readRange(place, text, held.get(key), () => ({ id: idOf(place), clusterId: cluster.id }));
    if (typeof read === 'string') problems.set(key, read);
    else operations.push(read);
  }
  return { operations, problems };
}

function readRange(
  { purpose, zone, family, turn }: Place,
  text: string,
  allocation: NeedRow['allocation'],
  ids: () => { readonly id: string; readonly clusterId: string },
): Operation | string {
  if (text.trim() === '')
    return allocation === undefined ? 'Type a prefix.' : { op: 'remove', kind: 'allocations', id: allocation.id };
  const parsed = parsePrefix(text);
  if (!parsed.ok) return formatProblem(parsed.problem);
  const typed = `IPv${parsed.value.family}`;
  if (typed !== family) return `This is ${typed}; an ${family} range is needed here.`;
  const prefix = formatPrefix(parsed.value);
  if (allocation !== undefined) return setOperation('allocations', allocation.id, { prefix });
  return addOperation('allocations', { ...ids(), purpose, zone, prefix, turn, isPinned: false });
}
