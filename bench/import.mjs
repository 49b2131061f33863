// 10,000 rows in use read as a difference, against reading the same text into cells with the library alone.
import { importRows } from '@wide-lattice/core/exchange';
import { applyOperations } from '@wide-lattice/core/plan';
import { createRequire } from 'node:module';
import { median, row, scaled, seeded } from './measure.mjs';
import { organisation } from './organisation.mjs';

const Papa = createRequire(new URL('../packages/core/package.json', import.meta.url))('papaparse');
const plan = organisation(200, 60, 500);
const random = seeded(9);
const octet = () => Math.floor(random() * 256);
const rows = Array.from(
  { length: scaled(10_000, 300) },
  (_, i) => `10.${octet()}.${octet()}.0/24,owner ${i},network ${i % 60},`,
);
const text = `prefix,owner,network,note\n${rows.join('\n')}\n`;
const cells = median(() => Papa.parse(text), 5);
const preview = importRows(plan, 'inUse', text);
const own = median(() => importRows(plan, 'inUse', text), 5);
const stored = median(() => applyOperations(plan, preview.operations), 5);
console.log(
  `${preview.operations.length} of ${preview.rowsRead} rows would be taken, ${preview.problems.length} problems`,
);
row('10,000 rows read as a difference', own, 'reading the cells', cells);
row('10,000 rows applied to the plan', stored, 'reading the cells', cells);
