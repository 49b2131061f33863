// Writes the published JSON Schemas of the plan file and of the keyed values of a cluster. Build first.
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { planFileSchema } from '@wide-lattice/core/exchange';
import { keyedValuesSchema } from '@wide-lattice/core/handover';

for (const [name, schema] of [
  ['plan-file', planFileSchema()],
  ['cluster-values', keyedValuesSchema()],
]) {
  const file = fileURLToPath(new URL(`../docs/${name}.schema.json`, import.meta.url));
  writeFileSync(file, `${JSON.stringify(schema, null, 2)}\n`);
}
