/** Where a rule comes from: S a published standard, C common practice without a source, M from memory of a published source. */
export interface Source {
  readonly mark: 'S' | 'C' | 'M';
  readonly text: string;
}

/** How a figure came about, in the order a person would redo it. */
export interface Working {
  readonly title: string;
  readonly formula: string;
  readonly inputs: readonly { readonly name: string; readonly value: string }[];
  readonly steps: readonly string[];
  readonly result: string;
  readonly source: Source;
}

/** A computed value with its derivation. The derivation is made by the function that computed the value, when asked. */
export interface Figure {
  readonly value: number;
  /** What is counted: "nodes", "pods", "bits" and so on. */
  readonly unit: string;
  readonly explain: () => Working;
}

/** Pairs a value with the way it came about. */
export function figure(value: number, unit: string, explain: () => Working): Figure {
  return { value, unit, explain };
}

/** A number with thousands separators, as figures are shown. */
export function formatNumber(value: number | bigint): string {
  return value.toLocaleString('en-US');
}

/** "1 error", "2 errors", "1,000 errors"; where another letter follows, "3 queries". */
export function formatCount(count: number, what: string, many = `${what}s`): string {
  return `${formatNumber(count)} ${count === 1 ? what : many}`;
}

/** "a, b, c", and of more than one beyond `most` the first and how many others: "a, b, c and 2 others". */
export function formatNames(names: readonly string[], most = 3): string {
  if (names.length <= most + 1) return names.join(', ');
  return `${names.slice(0, most).join(', ')} and ${formatCount(names.length - most, 'other')}`;
}

/** A number of addresses as people say it: whole up to a million million, else as a power of two. */
export function formatSize(size: bigint): string {
  return size < 1_000_000_000_000n ? formatNumber(size) : `2^${size.toString(2).length - 1}`;
}

/** Words of ours that a sentence may begin with; what else begins in small letters is a name, which people wrote so. */
const OWN_WORD = new RegExp(
  `^(?:${[
    ...['an?', 'the', 'all', 'another', 'every', 'no', 'nobody', 'none'],
    ...['pods?', 'nodes?', 'gateway', 'relay', 'bastion', 'machine', 'load', 'tunnel', 'link'],
    ...['range', 'service', 'block', 'subnet', 'network', 'reservation'],
  ].join('|')})(?=\\s)`,
);

/** A text as the beginning of a sentence: with a capital letter, unless a name stands there. */
export function beginning(text: string): string {
  return OWN_WORD.test(text) ? text.charAt(0).toUpperCase() + text.slice(1) : text;
}
