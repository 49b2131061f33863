import { isNode, isSeq, LineCounter, parseDocument } from 'yaml';
import { formatNumber } from '../working/index.js';

/** Text of all documents together that is read at once. */
export const MAX_TEXT = 20_000_000;
/** Text of one document. */
export const MAX_DOCUMENT = 1_000_000;
/** How often anchors may be used in one document, each use counted with all that it expands to. */
const MAX_ALIASES = 100;

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
    if (part.replace(/^\s*#.*$/gm, '').trim() !== '') documents.push(...readOne(part, line));
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
  const counter = new LineCounter();
  const document = parseDocument(text, { lineCounter: counter, prettyErrors: false, uniqueKeys: true });
  const [error] = document.errors;
  if (error !== undefined && text.includes('{{'))
    return [
      broken(
        line + counter.linePos(Math.max(0, text.indexOf('{{'))).line - 1,
        'This is a template ({{ }}), not a manifest.',
        'Render it with its values, and read what comes out.',
      ),
    ];
  if (error !== undefined)
    return [
      broken(
        line + counter.linePos(error.pos[0]).line - 1,
        `The YAML cannot be read: ${error.message}`,
        'Correct it here; the other documents are read.',
      ),
    ];
  try {
    const value: unknown = document.toJS({ maxAliasCount: MAX_ALIASES });
    // A list of objects is read as those objects.
    if (!isRecord(value) || value['kind'] !== 'List' || !Array.isArray(value['items']))
      return [{ ok: true, line: first, value }];
    const nodes = document.get('items');
    return (value['items'] as unknown[]).map((item, at) => {
      const node: unknown = isSeq(nodes) ? nodes.items[at] : undefined;
      const start = isNode(node) ? node.range?.[0] : undefined;
      const own = start === undefined ? first : line + counter.linePos(start).line - 1;
      return { ok: true, line: own, value: item };
    });
  } catch {
    return [broken(first, `Its anchors expand to more than ${MAX_ALIASES} copies.`, 'Write out what they stand for.')];
  }
}

function broken(line: number, message: string, fix: string): ReadDocument {
  return { ok: false, line, problem: { line, message, fix } };
}

/** Whether a value is an object with fields. */
export function isRecord(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
