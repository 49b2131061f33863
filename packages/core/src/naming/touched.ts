import { isWithin, parentOf } from '../zones/index.js';
import type { Rr, ZoneTree } from '../zones/index.js';
import { byId } from '../plan/index.js';
import type { Zone } from '../plan/index.js';

/** Records that an edit took away or brought, by zone. */
export type RecordEdits = ReadonlyMap<string, { readonly gone: readonly Rr[]; readonly come: readonly Rr[] }>;

/** A name that an edit can change, and the domain below which it can change any. */
export interface Touched {
  readonly at: string;
  readonly below: string;
}

interface Zoned {
  readonly parts: { readonly zones: readonly Zone[] };
  treeOf(zone: Zone): ZoneTree;
}

/** What the edits of records between two states can change. */
export function touchedBy(before: Zoned, after: Zoned, edits: RecordEdits): readonly Touched[] {
  return [...edits].flatMap(([zoneId, { gone, come }]) =>
    [...gone, ...come].map((record) => touchedBelow(before, after, zoneId, record)),
  );
}

/** Whether edits can change a name. */
export function isTouched(touching: readonly Touched[], name: string): boolean {
  return touching.some(({ below, at }) => name === at || isWithin(name, below));
}

/**
 * What the edit of a record can change: its own name and all below (delegations, wildcards); and where names above it come or go with it, all
 * below the highest of those, since wildcards above no longer or again answer there (RFC 4592 2.2.2).
 */
function touchedBelow(before: Zoned, after: Zoned, zoneId: string, { name }: Rr): Touched {
  const zone = byId(after.parts.zones, zoneId);
  if (zone === undefined) return { at: name, below: '' };
  let below = reachOf(name);
  const [had, has] = [before.treeOf(zone), after.treeOf(zone)];
  for (
    let above = parentOf(name);
    above !== undefined && above !== zone.apex && isWithin(above, zone.apex);
    above = parentOf(above)
  )
    if (had.exists(above) !== has.exists(above)) below = reachOf(above);
  return { at: name, below };
}

/** The name at and below which it counts whether a name exists: of a wildcard, also an empty one, all beside it. */
function reachOf(name: string): string {
  return name.startsWith('*.') ? name.slice(2) : name;
}
