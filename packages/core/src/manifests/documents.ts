import { isNode, isSeq } from 'yaml';
import { formatNumber } from '../working/index.js';
import { parseYaml } from '../yaml/index.js';

/** Text of all documents together that is read at once. */
export const MAX_TEXT = 20_000_000;
/** Text of one document. */
export const MAX_DOCUMENT = 1_000_000;

/** Something wrong with a manifest: in which line of the whole text, what, and what to do. */
export interface ManifestProblem {
  /** From 1. */
  readonly line: number;
  readonly message: string;
  readonly fix: string;
}

/** One document of a text: a value, or why it cannot be read. */
export type ReadDocument =
  | { readonly ok: true; readonly line: number; readonly value: unknown }
  | { readonly ok: false; readonly line: number; readonly problem: ManifestProblem };

/** Parts a text into its documents and reads each by itself, so that a broken one spoils no other. YAML 1.2, of which JSON is a part. */
export function readDocuments(text: string): ReadDocument[] {
  if (text.length > MAX_TEXT)
    return [
      broken(
        1,
        `The text has ${formatNumber(text.length)} characters, and at most ${formatNumber(MAX_TEXT)} are read at once.`,
        'Read it in parts.',
      ),
    ];
  const documents: ReadDocument[] = [];
  let line = 1;
  for (const part of text.split(/^---(?=\s|$)/m)) {
    const lines = part.split('\n').length - 1;
    if (/^[^\S\n]*[^\s#]/m.test(part)) documents.push(...readOne(part, line));
    line += lines;
  }
  return documents;
}

function readOne(text: string, line: number): ReadDocument[] {
  const first = line + (/^[\s\n]*/.exec(text)?.[0].split('\n').length ?? 1) - 1;
  if (text.length > MAX_DOCUMENT)
    return [
      broken(
        first,
        `A document has ${formatNumber(text.length)} characters, and one may have ${formatNumber(MAX_DOCUMENT)}.`,
        'No object of a cluster is that large: is this a manifest?',
      ),
    ];
  const read = parseYaml(text, 'counted');
  if (!read.ok && text.includes('{{'))
    return [
      broken(
        line + (text.slice(0, text.indexOf('{{')).split('\n').length - 1),
        'This is a template ({{ }}), not a manifest.',
        'Render it with its values, and read what comes out.',
      ),
    ];
  if (!read.ok)
    return [
      broken(
        line + read.line - 1,
        `The YAML cannot be read: ${read.message}`,
        `${read.fix} The other documents are read.`,
      ),
    ];
  const { document, lineAt } = read;
  // How far aliases unfold was counted above.
  const value: unknown = document.toJS({ maxAliasCount: -1 });
  // A list of objects is read as those objects.
  if (!isRecord(value) || value['kind'] !== 'List' || !Array.isArray(value['items']))
    return [{ ok: true, line: first, value }];
  const nodes = document.get('items');
  return (value['items'] as unknown[]).map((item, at) => {
    const node: unknown = isSeq(nodes) ? nodes.items[at] : undefined;
    const start = isNode(node) ? node.range?.[0] : undefined;
    return { ok: true, line: start === undefined ? first : line + lineAt(start) - 1, value: item };
  });
}

function broken(line: number, message: string, fix: string): ReadDocument {
  return { ok: false, line, problem: { line, message, fix } };
}

/** Whether a value is an object with fields. */
export function isRecord(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
