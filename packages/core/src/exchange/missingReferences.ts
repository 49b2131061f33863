import { addOperation, applyOperations, idNamed, newId, rulesOf, withFallbacks } from '../plan/index.js';
import type { EntityOf, Kind, Operation, Plan, Profile } from '../plan/index.js';
import { starterOperations, starters } from '../starter/index.js';
import type { StarterName } from '../starter/index.js';
import { rangeTexts } from './clusterRanges.js';
import type { RawRow } from './readRows.js';

/** The kinds that can be made from a name: a network needs nothing else, and a site a provider profile. */
type MakeableKind = 'sites' | 'networks';

/** A name that rows refer to and nothing in the plan has. */
export interface MissingReference {
  readonly kind: MakeableKind;
  readonly name: string;
  /** How many rows name it. */
  readonly rows: number;
  /** The profile that a site is most likely under. */
  readonly profileId?: string | undefined;
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
  const nodesOf = new Map<string, number>();
  for (const { cells } of rows) {
    const of = (wanted: string) => Object.entries(cells).find(([heading]) => fieldOf(heading) === wanted)?.[1];
    const [site, nodes] = [of('siteId'), of('+node')];
    const count = nodes === undefined || nodes === null ? 0 : rangeTexts(nodes).length;
    if (typeof site !== 'string' || count === 0) continue;
    const name = site.trim().toLowerCase();
    nodesOf.set(name, Math.max(nodesOf.get(name) ?? 0, count));
  }
  return [...found.values()].map((each) =>
    each.kind === 'sites'
      ? { ...each, profileId: guessProfile(plan.profiles, each.name, nodesOf.get(each.name.toLowerCase())) }
      : each,
  );
}

/**
 * The change that makes them: networks with their usual values, sites under the profile that is guessed, or `profileOf` says, of the
 * kind and with the zones of a site that has it already, else of a data centre with one zone where no more than network and broadcast
 * address are reserved, else of a region with zones a, b and c. A usual profile that the plan has not is made, once.
 */
export function makeMissing(
  plan: Plan,
  missing: readonly MissingReference[],
  profileOf: Readonly<Record<string, string>> = {},
): Operation[] {
  let wider = plan;
  const operations: Operation[] = [];
  const take = (made: readonly Operation[]) => {
    const applied = applyOperations(wider, made);
    if (applied.ok) wider = applied.plan;
    operations.push(...made);
  };
  const begun = new Map<string, string>();
  for (const { kind, name, profileId: guessed } of missing) {
    if (kind === 'networks') {
      take([addOperation('networks', withFallbacks('networks', { id: newId(), name }))]);
      continue;
    }
    const chosen = profileOf[name.toLowerCase()] ?? guessed ?? '';
    const starter = starterNamed(chosen);
    if (starter !== undefined && !begun.has(chosen)) {
      const made = starterOperations(wider, starter);
      take(made.operations);
      begun.set(chosen, made.profileId);
    }
    const wanted = begun.get(chosen) ?? chosen;
    const profile = wider.profiles.find(({ id }) => id === wanted);
    const like = plan.sites.find((site) => site.profileId === wanted) ?? siteUnder(profile);
    if (profile === undefined || like === undefined) continue;
    const { kind: siteKind, zones } = like;
    take([
      addOperation(
        'sites',
        withFallbacks('sites', { id: newId(), name, kind: siteKind, profileId: profile.id, zones }),
      ),
    ]);
  }
  return operations;
}

const STARTER = 'starter ';

/** The usual kind of provider that a choice names, whose profile comes with the site. */
function starterNamed(choice: string): StarterName | undefined {
  return starterNames.find((name) => choice === STARTER + name);
}

const starterNames = Object.keys(starters) as StarterName[];

/** The profiles that a new site can be put under: those of the plan, and usual ones that would come with it. */
export function profileChoices(
  profiles: readonly Profile[],
): readonly { readonly id: string; readonly label: string }[] {
  const has = new Set(profiles.map(({ name }) => name.toLowerCase()));
  const usual = starterNames.filter((name) => !has.has(starters[name].profile.name.toLowerCase()));
  return [
    ...profiles.map(({ id, name }) => ({ id, label: name })),
    ...usual.map((name) => ({ id: STARTER + name, label: `${starters[name].profile.name}, new` })),
  ];
}

/** Words by which lists call places of one's own, whole or as part of a name. */
const ownPlaces =
  /(?:^|[^a-z])(?:dc\d*|data ?cent(?:er|re)s?|halls?|offices?|on-?prem(?:ise)?s?|colo(?:cation)?|campus|plants?|factory|warehouses?|stores?|branch(?:es)?|edge|labs?|basement|racks?|hq|shops?|depots?|cellar)(?:$|[^a-z])/i;

/**
 * The profile that a new site is most likely under: one of a plain LAN where its name says that it is a place of one's own, else one of a
 * cloud, whose subnets span the region where clusters there list one node range and lie in zones where they list several. Where the
 * plan has none like that, a usual one comes with the site. A guess to be looked at.
 */
function guessProfile(profiles: readonly Profile[], siteName: string, nodeRanges: number | undefined): string {
  const isOwn = ({ subnetScope, reservedFirst, reservedLast }: Profile) =>
    subnetScope === 'region' && reservedFirst + reservedLast <= 2;
  if (ownPlaces.test(siteName)) return profiles.find(isOwn)?.id ?? `${STARTER}lan`;
  const clouds = profiles.filter((profile) => !isOwn(profile));
  const [any] = clouds.length > 0 ? clouds : profiles;
  // Without addresses nothing tells how its subnets lie.
  if (nodeRanges === undefined && any !== undefined) return any.id;
  const scope = nodeRanges !== undefined && nodeRanges > 1 ? 'zone' : 'region';
  return (
    clouds.find(({ subnetScope }) => subnetScope === scope)?.id ??
    `${STARTER}${scope === 'zone' ? 'zonal' : 'regional'}`
  );
}

/** What a site is like under a profile that no site has yet. */
function siteUnder(profile: Profile | undefined): Pick<EntityOf['sites'], 'kind' | 'zones'> | undefined {
  if (profile === undefined) return undefined;
  const isOwn = profile.subnetScope === 'region' && profile.reservedFirst + profile.reservedLast <= 2;
  return isOwn ? { kind: 'data centre', zones: ['a'] } : { kind: 'region', zones: ['a', 'b', 'c'] };
}
