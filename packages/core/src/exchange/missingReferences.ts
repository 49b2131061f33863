import { addOperation, idNamed, newId, rulesOf, withFallbacks } from '../plan/index.js';
import type { EntityOf, Kind, Operation, Plan } from '../plan/index.js';
import type { RawRow } from './readRows.js';

/** The kinds that can be made from a name: a network needs nothing else, and a site a provider profile. */
type MakeableKind = 'sites' | 'networks';

/** A name that rows refer to and nothing in the plan has. */
export interface MissingReference {
  readonly kind: MakeableKind;
  readonly name: string;
  /** How many rows name it. */
  readonly rows: number;
}

function isMakeable(kind: Kind): kind is MakeableKind {
  return kind === 'sites' || kind === 'networks';
}

/** Sites and networks that rows name and the plan does not have, in the order they are first named. */
export function missingReferences(
  plan: Plan,
  kind: Kind,
  rows: readonly RawRow[],
  fieldOf: (heading: string) => string | undefined,
): MissingReference[] {
  const found = new Map<string, { kind: MakeableKind; name: string; rows: number }>();
  const rules = rulesOf(kind);
  for (const { cells } of rows) {
    for (const [heading, cell] of Object.entries(cells)) {
      const rule = rules[fieldOf(heading) ?? ''];
      if (rule?.type !== 'reference' || !isMakeable(rule.to) || typeof cell !== 'string') continue;
      const name = cell.trim();
      if (name === '' || idNamed(plan, rule.to, name).ok) continue;
      const key = `${rule.to} ${name.toLowerCase()}`;
      const known = found.get(key);
      if (known === undefined) found.set(key, { kind: rule.to, name, rows: 1 });
      else known.rows++;
    }
  }
  return [...found.values()];
}

/**
 * The change that makes them: networks with their usual values, sites under the profile that is given, with its kind of zones
 * (those of a site that has it already, else a, b and c where its subnets lie in zones, else one). Sites are left out without a profile.
 */
export function makeMissing(
  plan: Plan,
  missing: readonly MissingReference[],
  profileId: string | undefined,
): Operation[] {
  const profile = plan.profiles.find(({ id }) => id === profileId);
  const like = plan.sites.find((site) => site.profileId === profileId);
  return missing.flatMap(({ kind, name }): Operation[] => {
    if (kind === 'networks') return [addOperation('networks', withFallbacks('networks', { id: newId(), name }))];
    if (profile === undefined) return [];
    const site: Partial<EntityOf['sites']> = {
      id: newId(),
      name,
      kind:
        like?.kind ?? (profile.nativeRule === 'none' && profile.subnetScope === 'region' ? 'data centre' : 'region'),
      profileId: profile.id,
      zones: like?.zones ?? (profile.subnetScope === 'zone' ? ['a', 'b', 'c'] : ['a']),
    };
    return [addOperation('sites', withFallbacks('sites', site))];
  });
}
