import { addOperation, idNamed, newId, rulesOf, withFallbacks } from '../plan/index.js';
import type { EntityOf, Kind, Operation, Plan, Profile } from '../plan/index.js';
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
 * The change that makes them: networks with their usual values, sites under the profile that is given, of the kind and with
 * the zones of a site that has it already, else of a data centre with one zone where no more than network and broadcast
 * address are reserved, else of a region with zones a, b and c. Sites are left out without a profile.
 */
export function makeMissing(
  plan: Plan,
  missing: readonly MissingReference[],
  profileId: string | undefined,
): Operation[] {
  const profile = plan.profiles.find(({ id }) => id === profileId);
  const like = plan.sites.find((site) => site.profileId === profileId) ?? siteUnder(profile);
  return missing.flatMap(({ kind, name }): Operation[] => {
    if (kind === 'networks') return [addOperation('networks', withFallbacks('networks', { id: newId(), name }))];
    if (profile === undefined || like === undefined) return [];
    const { kind: siteKind, zones } = like;
    return [addOperation('sites', withFallbacks('sites', { id: newId(), name, kind: siteKind, profileId: profile.id, zones }))]; // prettier-ignore
  });
}

/** What a site is like under a profile that no site has yet. */
function siteUnder(profile: Profile | undefined): Pick<EntityOf['sites'], 'kind' | 'zones'> | undefined {
  if (profile === undefined) return undefined;
  const isOwn = profile.subnetScope === 'region' && profile.reservedFirst + profile.reservedLast <= 2;
  return isOwn ? { kind: 'data centre', zones: ['a'] } : { kind: 'region', zones: ['a', 'b', 'c'] };
}
