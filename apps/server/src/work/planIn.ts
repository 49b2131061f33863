import { gunzipSync } from 'node:zlib';
import { kinds, SharedValues } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';

/** The plan that a compressed body holds, its equal values once. */
export function planIn(gzipped: Uint8Array): Plan {
  const { plan } = JSON.parse(gunzipSync(gzipped).toString()) as { readonly plan: Plan };
  const shared = new SharedValues();
  // Nobody else has its rows yet.
  for (const kind of kinds) for (const row of plan[kind]) shared.share(kind, row);
  return plan;
}
