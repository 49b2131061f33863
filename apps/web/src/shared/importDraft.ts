import { sheetAsCsv } from '@wide-lattice/core/exchange';
import type { SheetCell, ImportedRow, ImportPreview } from '@wide-lattice/core/exchange';
import { kindNames, removalOfAll } from '@wide-lattice/core/plan';
import type { Kind, Operation, Plan } from '@wide-lattice/core/plan';

/** The largest file that an import takes, in bytes. */
export const MAX_FILE_BYTES = 10_000_000;

/** A file's text, or why it cannot be read. */
export type FileText =
  | { readonly text: string; /** Which sheet of a workbook it is. */ readonly sheet?: string }
  | { readonly refused: string };

/** Reads a file that was chosen for an import. */
export async function textOfFile(file: Pick<File, 'name' | 'size' | 'arrayBuffer'>): Promise<FileText> {
  if (file.size > MAX_FILE_BYTES) {
    return { refused: `${file.name} has ${Math.ceil(file.size / 1_000_000)} MB; an import takes 10 MB. Split it.` };
  }
  if (/\.xls[xm]?$/i.test(file.name)) return textOfWorkbook(file);
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(await file.arrayBuffer()) };
  } catch {
    return { refused: `${file.name} is not UTF-8 text. Save it as UTF-8 and choose it again.` };
  }
}

/** The first sheet of a workbook that holds rows, as CSV. */
async function textOfWorkbook(file: Pick<File, 'name' | 'arrayBuffer'>): Promise<FileText> {
  const { name } = file;
  if (/\.xls$/i.test(name))
    return { refused: `${name} is in the format of before 2007. Save it as .xlsx or CSV and choose it again.` };
  try {
    const { default: readSheets } = await import('read-excel-file/universal');
    const sheets = await readSheets(await file.arrayBuffer());
    const found = sheets.find(({ data }) => data.length > 1);
    if (found === undefined) return { refused: `${name} has no sheet with rows. Choose another file.` };
    return { text: sheetAsCsv(found.data as unknown as readonly (readonly SheetCell[])[]), sheet: found.sheet };
  } catch {
    return { refused: `${name} cannot be read as a workbook. Save it as .xlsx or CSV and choose it again.` };
  }
}

/** What an import would do, counted. */
export interface ImportCounts extends Readonly<Record<ImportedRow['what'], number>> {
  /** Lines with at least one problem. */
  readonly badLines: number;
}

/** Counts the rows of a preview by what they do. */
export function countsOf(preview: ImportPreview): ImportCounts {
  const counts = { added: 0, changed: 0, unchanged: 0 };
  for (const { what } of preview.rows) counts[what]++;
  return { ...counts, badLines: new Set(preview.problems.map(({ line }) => line)).size };
}

/** An import as one change, and what its button says. */
export interface ImportChange {
  readonly label: string;
  readonly button: string;
  readonly operations: readonly Operation[];
}

/** The change that takes the valid rows and, when wanted, removes what the text does not name; undefined when it does nothing. */
export function importChange(plan: Plan, preview: ImportPreview, isRemoving: boolean): ImportChange | undefined {
  const { added, changed } = countsOf(preview);
  const taken = added + changed;
  const absent = isRemoving ? preview.absent : [];
  if (taken + absent.length === 0) return undefined;
  const kind: Kind = preview.kind;
  return {
    label: `Import ${taken + absent.length} × ${kindNames[kind]}`,
    button: `Import ${taken} valid ${taken === 1 ? 'row' : 'rows'}${absent.length > 0 ? `, remove ${absent.length}` : ''}`,
    operations: [
      ...preview.operations,
      ...removalOfAll(
        plan,
        kind,
        absent.map(({ id }) => id),
      ),
    ],
  };
}
