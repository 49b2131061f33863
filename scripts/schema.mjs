// Writes the published JSON Schema of the plan file from the core's field rules. Build first.
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { planFileSchema } from '@wide-lattice/core/exchange';

const file = fileURLToPath(new URL('../docs/plan-file.schema.json', import.meta.url));
writeFileSync(file, `${JSON.stringify(planFileSchema(), null, 2)}\n`);
