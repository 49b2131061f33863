export { ChangeRow } from './changeRow.js';
export type { KindRow } from './kindRows.js';
export { kindRows, rowOf } from './kindRows.js';
export type { PlanEvent } from './planEventRow.js';
export { PlanEventRow } from './planEventRow.js';
export { PlanRow } from './planRow.js';
export { rangeValues } from './rangeColumns.js';
export { VersionRow } from './versionRow.js';
