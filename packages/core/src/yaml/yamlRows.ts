import { stringify } from 'yaml';

/** A field of a row: a scalar or a list of texts. */
type Row = Readonly<Record<string, unknown>>;

/** Longest text that is written without the library looking at its whole row: longer ones may be folded into lines. */
const SHORT = 40;

/** Texts whose form is kept while a list is written. */
const MAX_KEPT = 20_000;

/** What a short scalar looks like as a value, kept from one row to the next; the library decides what needs quotes. */
class Scalars {
  private readonly known = new Map<unknown, string>();

  text(value: unknown): string {
    const known = this.known.get(value);
    if (known !== undefined) return known;
    // Written as a field, which has the same form as an element of a list.
    const text = asYaml({ a: value }).slice(3, -1);
    if (this.known.size < MAX_KEPT) this.known.set(value, text);
    return text;
  }
}

const asYaml = (content: object) => stringify(content, { aliasDuplicateObjects: false });

/** Identifiers and prefixes are never taken for anything else than texts. */
const PLAIN = /^(?:[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}|(?:\d{1,3}\.){3}\d{1,3}\/\d{1,2})$/;

/**
 * A list of rows under a name, as the YAML library writes it: a hundred thousand rows in a tenth of its time. A row that
 * holds anything but scalars and lists of them, or a long text, is left to the library.
 */
export function yamlRows(name: string, rows: readonly Row[]): string {
  if (rows.length === 0) return asYaml({ [name]: [] });
  const scalars = new Scalars();
  const written = rows.map((row) => rowText(row, scalars) ?? asYaml({ [name]: [row] }).slice(name.length + 2));
  return `${name}:\n${written.join('')}`;
}

function rowText(row: Row, scalars: Scalars): string | undefined {
  let text = '';
  for (const [field, value] of Object.entries(row)) {
    const start = text === '' ? '  - ' : '    ';
    if (Array.isArray(value)) {
      if (value.length === 0) text += `${start}${field}: []\n`;
      else {
        text += `${start}${field}:\n`;
        for (const each of value as unknown[]) {
          if (!isShort(each)) return undefined;
          text += `      - ${scalarText(each, scalars)}\n`;
        }
      }
    } else if (isShort(value)) text += `${start}${field}: ${scalarText(value, scalars)}\n`;
    else return undefined;
  }
  return text === '' ? undefined : text;
}

function scalarText(value: unknown, scalars: Scalars): string {
  return typeof value === 'string' && PLAIN.test(value) ? value : scalars.text(value);
}

function isShort(value: unknown): boolean {
  if (typeof value === 'string') return value.length <= SHORT && !/[\n\r]/.test(value);
  return typeof value === 'number' || typeof value === 'boolean' || value === null;
}
