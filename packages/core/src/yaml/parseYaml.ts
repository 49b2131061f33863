import { Composer, CST, isAlias, isMap, isNode, isPair, isScalar, isSeq, LineCounter, Parser } from 'yaml';
import type { Document, Node } from 'yaml';

/** A YAML text as a document, or what is wrong with it and where. */
type ParsedYaml =
  | { readonly ok: true; readonly document: Document; readonly lineAt: (offset: number) => number }
  | { readonly ok: false; readonly line: number; readonly message: string; readonly fix: string };

/** Levels of lists and maps in one another that are read; a plan has four, an object of a cluster with a schema in it some forty. */
const MAX_LEVELS = 100;

/** How often anchors may be used in one document where they may be at all, each use counted with all that it unfolds to. */
const MAX_ALIASES = 100;

const tooDeep = {
  message: `more than ${MAX_LEVELS} levels of lists or maps in one another`,
  fix: 'Write it flat, as an export does.',
};

/** Something that is refused, at a place of the text. */
class Refused extends Error {
  constructor(
    readonly at: number,
    message: string,
    readonly fix: string,
  ) {
    super(message);
  }
}

/**
 * Reads YAML in time that grows with its length: the parser's own checks, of keys given twice and of how far aliases unfold, take far more.
 * Aliases are refused, since they can unfold to far more than the text holds, or taken up to a number of copies.
 */
export function parseYaml(text: string, aliases: 'refused' | 'counted' = 'refused'): ParsedYaml {
  const lines = new LineCounter();
  const lineAt = (offset: number) => lines.linePos(offset).line;
  try {
    const document = composed([...new Parser(lines.addNewLine).parse(text)], text.length);
    const copies = new Walk(aliases).of(document.contents);
    if (copies > MAX_ALIASES)
      throw new Refused(0, `its anchors unfold to more than ${MAX_ALIASES} copies`, 'Write out what they stand for.');
    return { ok: true, document, lineAt };
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    const { at, message, fix } = error;
    return { ok: false, line: lineAt(at), message, fix };
  }
}

/** The one document of a text. Levels are counted first: they are composed by recursion, and thousands of them end the whole program. */
function composed(tokens: readonly CST.Token[], length: number): Document {
  refuseDeep(tokens);
  const composer = new Composer({ uniqueKeys: false });
  const [document, other] = composer.compose(tokens, true, length);
  const [error] = [...(document?.errors ?? []), ...(other?.errors ?? [])];
  if (error !== undefined) throw new Refused(error.pos[0], error.message, 'Correct it there.');
  if (document === undefined || other !== undefined)
    throw new Refused(other?.range[0] ?? 0, 'it holds several documents', 'Read them one by one.');
  return document;
}

function refuseDeep(tokens: readonly CST.Token[]): void {
  const open = tokens.map((token): [token: CST.Token | null | undefined, level: number] => [token, 0]);
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    const [token, level] = next;
    if (token?.type === 'document') open.push([token.value, level]);
    if (!CST.isCollection(token)) continue;
    if (level >= MAX_LEVELS) throw new Refused(token.offset, tooDeep.message, tooDeep.fix);
    for (const { key, value } of token.items) open.push([key, level + 1], [value, level + 1]);
  }
}

/** Looks at each node once. */
class Walk {
  /** The copies that each anchor unfolds to; undefined while it is open, as one that names itself. */
  private readonly copiesOf = new Map<string, number | undefined>();

  constructor(private readonly aliases: 'refused' | 'counted') {}

  /** How many copies the aliases below a node unfold to. */
  of(node: unknown): number {
    if (!isNode(node)) return 0;
    if (isAlias(node)) return this.alias(node);
    if (!isMap(node) && !isSeq(node)) {
      if (isScalar(node) && node.anchor !== undefined) this.copiesOf.set(node.anchor, 0);
      return 0;
    }
    if (node.anchor !== undefined) this.copiesOf.set(node.anchor, undefined);
    let copies = 0;
    const keys = new Set<string>();
    for (const item of node.items) {
      if (isPair(item)) {
        noteKey(keys, item.key);
        copies += this.of(item.key) + this.of(item.value);
      } else copies += this.of(item);
    }
    if (node.anchor !== undefined) this.copiesOf.set(node.anchor, copies);
    return copies;
  }

  private alias(node: Node & { readonly source: string }): number {
    if (this.aliases === 'refused')
      throw new Refused(startOf(node), 'it uses aliases (*name)', 'Write each value out.');
    const copies = this.copiesOf.get(node.source);
    if (copies === undefined)
      throw new Refused(
        startOf(node),
        `*${node.source} stands for nothing that is written before it`,
        'Write out what it stands for.',
      );
    // Beyond what is taken it need not be told exactly.
    return Math.min(copies + 1, MAX_ALIASES + 1);
  }
}

function noteKey(keys: Set<string>, key: unknown): void {
  const name = isScalar(key) ? String(key.value) : String(key);
  if (keys.has(name))
    throw new Refused(isNode(key) ? startOf(key) : 0, `the key "${name}" is given twice`, 'Remove one of them.');
  keys.add(name);
}

function startOf(node: Node): number {
  return node.range?.[0] ?? 0;
}
