import { compareNames, isWithin, parentOf } from '../zones/index.js';
import type { ZoneTree } from '../zones/index.js';
import { namesCalled, naming } from '../naming/index.js';
import type { NamesCalled, NameState } from '../naming/index.js';
import { byId, grouped } from '../plan/index.js';
import type { Plan, Zone } from '../plan/index.js';
import { bySubject } from '../section/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Of a link’s networks, the share from which on the ones that are not attached look forgotten. */
const MOSTLY = 2 / 3;

/** Zones that are wrong in themselves, that hide one another, or that are missing where they are asked for. */
export const zoneFindings = bySubject({
  name: 'findings by zone',
  reads: ['links'],
  needs: { naming, calls: namesCalled },
  subjects: (_, needed) => needed.naming.parts.zones,
  dependsOn: (zone, { links }, needed) => {
    const state = needed.naming;
    const { zones, forwardingRules, networks } = state.parts;
    const others = [parentZone(state, zone), publicTwin(state, zone)].map((each) => each && state.treeOf(each));
    return [zones, forwardingRules, networks, links, needed.calls, state.treeOf(zone), ...others];
  },
  look: (zone, { links }, { naming: state, calls }) => [
    ...inItself(state, zone),
    ...attachment(state, zone, links, calls),
    ...hidden(state, zone),
  ],
});

/** The closest zone of the same side above one. */
function parentZone(state: NameState, { apex, side }: Zone): Zone | undefined {
  const byApex = grouped(state.parts.zones, 'apex');
  for (let at = parentOf(apex); at !== undefined; at = parentOf(at)) {
    const found = byApex.get(at)?.find((each) => each.side === side);
    if (found !== undefined) return found;
  }
  return undefined;
}

/** The public zone of the same name. */
function publicTwin(state: NameState, { apex }: Zone): Zone | undefined {
  return grouped(state.parts.zones, 'apex')
    .get(apex)
    ?.find(({ side }) => side === 'public');
}

function inItself(state: NameState, zone: Zone): Finding[] {
  const tree = state.treeOf(zone);
  const subjects = [{ kind: 'zones', id: zone.id }] as const;
  const parent = parentZone(state, zone);
  // Private zones are chosen by the longest name where they are attached; only public ones are found by their parent.
  const found = parent !== undefined && zone.side === 'public' ? atParent(state, zone, parent) : [];
  const homeless = zone.nameServers
    .map((each) => each.toLowerCase())
    .filter(
      (server) =>
        isWithin(server, zone.apex) && tree.setAt(server, 'A').length === 0 && tree.setAt(server, 'AAAA').length === 0,
    );
  if (homeless.length > 0)
    found.push(finding('zone.glue:own', 'error', subjects, { zone: zone.name, servers: homeless }));
  found.push(...wildcards(zone, tree));
  return found;
}

/** What the parent of a public zone says of it: its servers, and the addresses of those below it. */
function atParent(state: NameState, zone: Zone, parent: Zone): Finding[] {
  const found: Finding[] = [];
  const told = new Set(
    state
      .treeOf(parent)
      .setAt(zone.apex, 'NS')
      .map(({ value }) => value),
  );
  const own = new Set(
    state
      .treeOf(zone)
      .setAt(zone.apex, 'NS')
      .map(({ value }) => value),
  );
  const differs = [...own, ...told].filter((each) => !own.has(each) || !told.has(each));
  const at = [zone, parent].map(({ id }) => ({ kind: 'zones', id }) as const);
  if (told.size === 0)
    found.push(finding('zone.delegation', 'error', at, { parent: parent.name, apex: zone.apex, servers: [...own] }));
  else if (differs.length > 0)
    found.push(
      finding('zone.delegation:differs', 'warning', at, {
        parent: parent.name,
        zone: zone.name,
        apex: zone.apex,
        servers: differs,
      }),
    );
  const unglued = [...told].filter(
    (server) =>
      isWithin(server, zone.apex) &&
      state.treeOf(parent).setAt(server, 'A').length === 0 &&
      state.treeOf(parent).setAt(server, 'AAAA').length === 0,
  );
  if (unglued.length > 0)
    found.push(finding('zone.glue', 'error', at, { zone: parent.name, apex: zone.apex, servers: unglued }));
  return found;
}

/** Names below a wildcard that exist without its type: it does not answer for them (RFC 4592 2.2.1). */
function wildcards(zone: Zone, tree: ZoneTree): Finding[] {
  const stars = tree.wildcards();
  const all = stars.length === 0 ? [] : tree.records();
  return stars.flatMap((star): Finding[] => {
    const above = star.slice(2);
    const types = new Set(all.filter(({ name }) => name === star).map(({ type }) => type));
    const own = new Map<string, Set<string>>();
    for (const { name, type } of all) {
      if (name === above || name === star || !isWithin(name, above)) continue;
      const first =
        name
          .slice(0, -above.length - 1)
          .split('.')
          .at(-1) ?? '';
      const at = `${first}.${above}`;
      const known = own.get(at) ?? new Set<string>();
      own.set(at, known);
      if (at === name) known.add(type);
    }
    const hidden = [...own]
      .filter(([, has]) => !has.has('CNAME') && [...types].some((type) => !has.has(type)) && !has.has('NS'))
      .map(([name]) => name)
      .sort(compareNames);
    if (hidden.length === 0) return [];
    return [
      finding(
        'record.wildcard',
        'note',
        [{ kind: 'zones', id: zone.id }],
        { wildcard: star, hidden, types: [...types] },
        { part: `${zone.id} ${star}` },
      ),
    ];
  });
}

function attachment(state: NameState, zone: Zone, links: Plan['links'], calls: NamesCalled): Finding[] {
  if (zone.side !== 'private') return [];
  const subjects = [{ kind: 'zones', id: zone.id }] as const;
  if (zone.networkIds.length === 0) return [finding('zone.not-attached', 'warning', subjects, { zone: zone.name })];
  const missing = new Set<string>();
  for (const { networkIds, isPlanned } of links) {
    const attached = networkIds.filter((id) => zone.networkIds.includes(id));
    if (isPlanned || attached.length < 2 || attached.length / networkIds.length <= MOSTLY) continue;
    for (const id of networkIds)
      if (!zone.networkIds.includes(id) && state.forwardFor(id, zone.apex) === undefined) missing.add(id);
  }
  for (const id of callersOf(state, zone, calls)) missing.add(id);
  const twin = publicTwin(state, zone);
  return [...missing].map((id) => {
    return finding('zone.not-attached:network', 'warning', [...subjects, { kind: 'networks', id }], {
      zone: zone.name,
      apex: zone.apex,
      network: byId(state.parts.networks, id)?.name ?? '',
      twin: twin?.name,
    });
  });
}

/** Public names that a private zone of the same name hides where it is attached: it answers for all below, also that they do not exist. */
function hidden(state: NameState, zone: Zone): Finding[] {
  const twin = publicTwin(state, zone);
  if (zone.side !== 'private' || twin === undefined || zone.networkIds.length === 0) return [];
  const own = state.treeOf(zone);
  const outside = [
    ...new Set(
      state
        .treeOf(twin)
        .records()
        .filter(({ type, name }) => (type === 'A' || type === 'AAAA' || type === 'CNAME') && !name.startsWith('*.'))
        .map(({ name }) => name),
    ),
  ].sort(compareNames);
  const gone = outside.filter((name) => own.lookUp(name, 'A').outcome === 'no name');
  const covered = outside.flatMap((name) => {
    const { wildcard, outcome } = own.lookUp(name, 'A');
    return wildcard !== undefined && outcome !== 'no name' ? [{ name, wildcard }] : [];
  });
  const subjects = [zone, twin].map(({ id }) => ({ kind: 'zones' as const, id }));
  const both = { zone: zone.name, twin: twin.name };
  return [
    ...(gone.length === 0 ? [] : [finding('zone.hides', 'note', subjects, { ...both, names: gone })]),
    ...(covered.length === 0 ? [] : [finding('record.wildcard-hides', 'warning', subjects, { ...both, covered })]),
  ];
}

/** Networks whose workloads call names of a private zone that is not attached there, and for which no closer zone and no rule is there. */
function callersOf(state: NameState, zone: Zone, calls: NamesCalled): string[] {
  return calls
    .filter(({ networkId, name }) => {
      if (zone.networkIds.includes(networkId) || !isWithin(name, zone.apex)) return false;
      const closer = state.viewOf(networkId).zones.closest(name);
      return (
        state.forwardFor(networkId, name) === undefined &&
        (closer === undefined || closer.apex.length < zone.apex.length)
      );
    })
    .map(({ networkId }) => networkId);
}

/** Two zones of one name that a link is to bring together. */
export function overlappingZones(parts: Pick<Plan, 'zones' | 'networks' | 'links'>): readonly Finding[] {
  const { links } = parts;
  const found: Finding[] = [];
  const byApex = grouped(parts.zones, 'apex');
  for (const apex of new Set(parts.zones.map((zone) => zone.apex))) {
    const zones = byApex.get(apex) ?? [];
    const [first, second] = zones.filter(({ side }) => side === 'public');
    if (first !== undefined && second !== undefined)
      found.push(
        finding(
          'zone.overlap:public',
          'error',
          [first, second].map(({ id }) => ({ kind: 'zones' as const, id })),
          { one: first.name, other: second.name, apex: first.apex },
        ),
      );
    const own = zones.filter(({ side }) => side === 'private');
    own.forEach((one, at) => {
      for (const other of own.slice(at + 1)) {
        const link = links.find(
          ({ networkIds }) =>
            networkIds.some((id) => one.networkIds.includes(id) && !other.networkIds.includes(id)) &&
            networkIds.some((id) => other.networkIds.includes(id) && !one.networkIds.includes(id)),
        );
        const shared = one.networkIds.find((id) => other.networkIds.includes(id));
        const subjects = [one, other].map(({ id }) => ({ kind: 'zones' as const, id }));
        if (shared !== undefined)
          found.push(
            finding('zone.overlap:network', 'error', subjects, {
              one: one.name,
              other: other.name,
              apex: one.apex,
              network: byId(parts.networks, shared)?.name ?? '',
            }),
          );
        else if (link !== undefined)
          found.push(
            finding('zone.overlap:link', link.isPlanned ? 'warning' : 'note', subjects, {
              one: one.name,
              other: other.name,
              apex: one.apex,
              link: link.name,
              isPlanned: link.isPlanned,
            }),
          );
      }
    });
  }
  return found;
}
