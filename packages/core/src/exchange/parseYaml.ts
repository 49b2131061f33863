import { isMap, isNode, isPair, isScalar, isSeq, LineCounter, parseDocument } from 'yaml';
import type { Document } from 'yaml';

/** A YAML text as a document, or what is wrong with it and where. */
export type ParsedYaml =
  | { readonly ok: true; readonly document: Document; readonly lineAt: (offset: number) => number }
  | { readonly ok: false; readonly line: number; readonly message: string; readonly fix: string };

/** Levels of lists and maps in one another that are read; a plan has four. */
const MAX_LEVELS = 50;

const tooDeep = {
  message: `more than ${MAX_LEVELS} levels of lists or maps in one another`,
  fix: 'Write it flat, as an export does.',
};

/**
 * Reads YAML in time that grows with its length: the parser's own check for keys given twice compares each with all before.
 * Aliases are refused, since they can unfold to far more than the text holds.
 */
export function parseYaml(text: string): ParsedYaml {
  const lines = new LineCounter();
  let document: Document;
  try {
    document = parseDocument(text, { lineCounter: lines, uniqueKeys: false });
  } catch (error) {
    // The parser goes down levels by recursion, and thousands of them are more than the stack holds.
    if (error instanceof RangeError) return { ok: false, line: 1, ...tooDeep };
    throw error;
  }
  const lineAt = (offset: number) => lines.linePos(offset).line;
  const [first] = document.errors;
  if (first !== undefined) {
    // It tells some of its own falls as faults of the text.
    if (first.message.startsWith('Maximum call stack')) return { ok: false, line: lineAt(first.pos[0]), ...tooDeep };
    const message = (first.message.split('\n')[0] ?? '').replace(/:$/, '');
    return { ok: false, line: lineAt(first.pos[0]), message, fix: 'Correct it there.' };
  }
  const open: [node: unknown, level: number][] = [[document.contents, 0]];
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    const [node, level] = next;
    if (level >= MAX_LEVELS && (isMap(node) || isSeq(node)))
      return { ok: false, line: lineAt(node.range?.[0] ?? 0), ...tooDeep };
    if (isNode(node) && !isScalar(node) && !isMap(node) && !isSeq(node))
      return {
        ok: false,
        line: lineAt(node.range?.[0] ?? 0),
        message: 'it uses aliases (*name)',
        fix: 'Write each value out.',
      };
    if (isPair(node)) {
      if (node.value !== null) open.push([node.value, level]);
      continue;
    }
    if (!isMap(node) && !isSeq(node)) continue;
    const keys = new Set<string>();
    for (const item of node.items) {
      open.push([item, level + 1]);
      if (!isPair(item)) continue;
      const key = isScalar(item.key) ? String(item.key.value) : String(item.key);
      if (keys.has(key)) {
        const at = isNode(item.key) ? (item.key.range?.[0] ?? 0) : 0;
        return { ok: false, line: lineAt(at), message: `the key "${key}" is given twice`, fix: 'Remove one of them.' };
      }
      keys.add(key);
    }
  }
  return { ok: true, document, lineAt };
}
