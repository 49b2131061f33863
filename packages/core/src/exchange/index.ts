export { allocationTableCsv } from './allocationTable.js';
export type { ImportPreview, RowProblem } from './importRows.js';
export { importableKinds, importRows } from './importRows.js';
export type { PlanFileProblem, PlanFileResult } from './planFile.js';
export { readPlanFile, writePlanFile } from './planFile.js';
export { fieldSchema, MAX_ENTITIES, planFileSchema } from './planFileSchema.js';
export type { RowSyntax } from './readRows.js';
export { guessSyntax, MAX_IMPORT_ROWS } from './readRows.js';
export { rowsAsCsv } from './rowsAsCsv.js';
