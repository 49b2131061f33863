import { compareAddresses, containsAddress, parseAddress } from '../address/index.js';
import { isPublicAddress } from '../forwarding/index.js';
import { compareNames, isWithin, readFullName, recordTypes } from '../zones/index.js';
import type { Rr } from '../zones/index.js';
import {
  clientOf,
  codeOf,
  holderOf,
  listensOn,
  networkAsker,
  resolve,
  rrOf,
  selfRunNames,
  typeTo,
  wantedHosts,
  zonesOfKeeper,
} from '../naming/index.js';
import type { NameState } from '../naming/index.js';
import { byId, grouped, hostPrefix, rangeOf, stretchOf } from '../plan/index.js';
import type { Cluster, DnsRecord, Keeper, Plan, Zone } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';
import { targetFindings } from './targetFindings.js';

interface Needed {
  readonly naming: NameState;
}
type Parts = Pick<Plan, 'links' | 'runs' | 'allocations'>;

/** Aliases one after the other from which on resolvers begin to give up: common practice. */
const LONG_CHAIN = 8;
/** Of a link’s networks, the share from which on the ones that are not attached look forgotten. */
const MOSTLY = 2 / 3;

/** Names that are not answered where they are asked, and zones and records that are wrong in themselves. */
export function nameFindings(parts: Parts, { naming }: Needed): readonly Finding[] {
  if (naming.parts.zones.length === 0) return [];
  return [
    ...naming.parts.zones.flatMap((zone) => zoneFindings(naming, zone)),
    ...naming.parts.zones.flatMap((zone) => targetFindings(naming, zone)),
    ...naming.parts.zones.flatMap((zone) => attachment(naming, zone, parts.links)),
    ...naming.parts.zones.flatMap((zone) => hidden(naming, zone)),
    ...naming.parts.records.flatMap((record) => recordFindings(naming, record, parts)),
    ...overlapping(naming, parts.links),
    ...keepers(naming),
    ...unanswered(naming),
    ...naming.parts.clusters.flatMap((cluster) => selfRun(naming, cluster)),
  ];
}

// Hosts.

function unanswered(state: NameState): Finding[] {
  return wantedHosts(state).flatMap((wanted): Finding[] => {
    const { host, cluster, subject, balancer } = wanted;
    const asker = clientOf(state, wanted);
    if (host.startsWith('*.') || asker === undefined || parseAddress(host).ok) return [];
    const { outcome, say, records } = resolve(state, asker, `${host}.`, typeTo(balancer));
    const subjects = [subject, { kind: 'clusters', id: cluster.id }] as const;
    const part = `${cluster.id} ${host}`;
    if (outcome !== 'answer')
      return [
        finding('name.unanswered', 'error', subjects, {
          title: `${host} is not answered for ${asker.label}: ${codeOf[outcome]}`,
          detail: [
            `${say} Its clients find nobody.`,
            `Add a record${balancer === undefined ? '' : ` for ${balancer.name}`}, or let a record keeper of ${cluster.name} keep it.`,
          ].join(' '),
          part,
        }),
      ];
    const address = records.at(-1)?.value ?? '';
    if (balancer?.address != null && !records.some(({ value }) => value === balancer.address))
      return [
        finding('name.elsewhere', 'error', subjects, {
          title: `${host} answers ${address}, not its load balancer`,
          detail: `Its calls are taken by ${balancer.name} at ${balancer.address}. Change the record, or the load balancer of its route.`,
          part,
        }),
      ];
    return [];
  });
}

function selfRun(state: NameState, cluster: Cluster): Finding[] {
  const names = selfRunNames(cluster);
  if (names === undefined) return [];
  // Counted where it is mended: at the zone that is to hold the name.
  const zone = state.zoneAround(cluster.baseDomain);
  const subjects = [
    ...(zone === undefined ? [] : [{ kind: 'zones' as const, id: zone.id }]),
    { kind: 'clusters' as const, id: cluster.id },
  ];
  return [names.api, names.apps.replace('*', 'any')].flatMap((name): Finding[] => {
    const shown = name.startsWith('any.') ? names.apps : name;
    const read = readFullName(name);
    if (!read.ok)
      return [
        finding('name.too-long', 'error', subjects, {
          title: `${cluster.name}: ${shown.slice(0, 60)} is no name`,
          detail: `${read.problem.message} ${read.problem.mend} Shorten the cluster’s name or its base domain.`,
          part: `${cluster.id} ${shown}`,
        }),
      ];
    const { outcome, say } = resolve(
      state,
      networkAsker(state, cluster.networkId),
      `${name}.`,
      cluster.family === 'ipv6' ? 'AAAA' : 'A',
    );
    if (outcome === 'answer') return [];
    return [
      finding('name.self-run', 'error', subjects, {
        title: `${cluster.name}: ${shown} is not answered in its own network (${codeOf[outcome]})`,
        detail: `${say} A cluster that runs its own control plane asks for this name while it is installed: add the record before.`,
        part: `${cluster.id} ${shown}`,
      }),
    ];
  });
}

// Zones.

function zoneFindings(state: NameState, zone: Zone): Finding[] {
  const tree = state.treeOf(zone);
  const subjects = [{ kind: 'zones', id: zone.id }] as const;
  const found: Finding[] = [];
  const parent = state.parts.zones
    .filter(
      (each) =>
        each.id !== zone.id && each.apex !== zone.apex && each.side === zone.side && isWithin(zone.apex, each.apex),
    )
    .sort((a, b) => b.apex.length - a.apex.length)[0];
  // Private zones are chosen by the longest name where they are attached; only public ones are found by their parent.
  if (parent !== undefined && zone.side === 'public') {
    const told = new Set(
      state
        .treeOf(parent)
        .setAt(zone.apex, 'NS')
        .map(({ value }) => value),
    );
    const own = new Set(tree.setAt(zone.apex, 'NS').map(({ value }) => value));
    const differs = [...own, ...told].filter((each) => !own.has(each) || !told.has(each));
    const at = [...subjects, { kind: 'zones', id: parent.id }] as const;
    if (told.size === 0)
      found.push(
        finding('zone.delegation', 'error', at, {
          title: `${parent.name} does not delegate ${zone.apex}`,
          detail: `The parent answers for its names itself, that they do not exist. Add NS records for ${zone.apex} with ${[...own].join(', ')} to it.`,
        }),
      );
    else if (differs.length > 0)
      found.push(
        finding('zone.delegation', 'warning', at, {
          title: `${parent.name} and ${zone.name} name different servers of ${zone.apex}`,
          detail: `${differs.join(', ')} stand${differs.length === 1 ? 's' : ''} on only one side. Make both sets the same.`,
        }),
      );
    const unglued = [...told].filter(
      (server) =>
        isWithin(server, zone.apex) &&
        state.treeOf(parent).setAt(server, 'A').length === 0 &&
        state.treeOf(parent).setAt(server, 'AAAA').length === 0,
    );
    if (unglued.length > 0)
      found.push(
        finding('zone.glue', 'error', at, {
          title: `${parent.name} has no address for ${unglued.join(', ')}`,
          detail: [
            `The server is below ${zone.apex} itself, so nobody can find it without its address beside the delegation.`,
            'Add A or AAAA records there (RFC 1034 4.2.1).',
          ].join(' '),
        }),
      );
  }
  const homeless = zone.nameServers
    .map((each) => each.toLowerCase())
    .filter(
      (server) =>
        isWithin(server, zone.apex) && tree.setAt(server, 'A').length === 0 && tree.setAt(server, 'AAAA').length === 0,
    );
  if (homeless.length > 0)
    found.push(
      finding('zone.glue', 'error', subjects, {
        title: `${zone.name} has no address for its own server ${homeless.join(', ')}`,
        detail: 'Name servers refuse to load such a zone. Add A or AAAA records for it, or name a server elsewhere.',
      }),
    );
  found.push(...wildcards(zone, tree.records()));
  return found;
}

/** Names below a wildcard that exist without its type: it does not answer for them (RFC 4592 2.2.1). */
function wildcards(zone: Zone, all: readonly Rr[]): Finding[] {
  const stars = [...new Set(all.filter(({ name }) => name.startsWith('*.')).map(({ name }) => name))];
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
      finding('record.wildcard', 'note', [{ kind: 'zones', id: zone.id }], {
        title: `${star} does not answer for ${hidden.slice(0, 3).join(', ')}${hidden.length > 3 ? ` and ${hidden.length - 3} others` : ''}`,
        detail: [
          'These names exist, by other records or by names below them,',
          `so the wildcard of type ${[...types].join(', ')} is not used for them (RFC 4592 2.2.1).`,
          'Add the records to them where they are meant to have them.',
        ].join(' '),
        part: `${zone.id} ${star}`,
      }),
    ];
  });
}

function attachment(state: NameState, zone: Zone, links: Plan['links']): Finding[] {
  if (zone.side !== 'private') return [];
  const subjects = [{ kind: 'zones', id: zone.id }] as const;
  if (zone.networkIds.length === 0)
    return [
      finding('zone.not-attached', 'warning', subjects, {
        title: `${zone.name} is attached to no network`,
        detail: 'Nobody gets its answers. Attach it to the networks that ask for its names.',
      }),
    ];
  const missing = new Set<string>();
  for (const { networkIds, isPlanned } of links) {
    const attached = networkIds.filter((id) => zone.networkIds.includes(id));
    if (isPlanned || attached.length < 2 || attached.length / networkIds.length <= MOSTLY) continue;
    for (const id of networkIds)
      if (!zone.networkIds.includes(id) && state.forwardFor(id, zone.apex) === undefined) missing.add(id);
  }
  for (const id of callersOf(state, zone)) missing.add(id);
  const twin = state.parts.zones.find((each) => each.side === 'public' && each.apex === zone.apex);
  return [...missing].map((id) => {
    const name = byId(state.parts.networks, id)?.name ?? '';
    return finding('zone.not-attached', 'warning', [...subjects, { kind: 'networks', id }], {
      title: `${zone.name} is not attached to ${name}`,
      detail: [
        `Its names are asked for there, or most networks that ${name} is joined with get its answers;`,
        `in ${name} ${twin === undefined ? 'its names do not exist' : `the public zone ${twin.name} answers instead, with other addresses or none`}.`,
        `Attach it, or forward ${zone.apex} to a resolver that has it.`,
      ].join(' '),
    });
  });
}

/** Public names that a private zone of the same name hides where it is attached: it answers for all below, also that they do not exist. */
function hidden(state: NameState, zone: Zone): Finding[] {
  const twin = state.parts.zones.find(({ side, apex }) => side === 'public' && apex === zone.apex);
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
    return wildcard !== undefined && outcome !== 'no name' ? [`${name} (by ${wildcard})`] : [];
  });
  const say = (code: string, severity: 'note' | 'warning', title: string, detail: string) =>
    finding(
      code,
      severity,
      [zone, twin].map(({ id }) => ({ kind: 'zones' as const, id })),
      { title: `${zone.name} ${title}`, detail },
    );
  const some = (all: readonly string[]) =>
    `${all.slice(0, 3).join(', ')}${all.length > 3 ? ` and ${all.length - 3} others` : ''}`;
  return [
    ...(gone.length === 0
      ? []
      : [
          say(
            'zone.hides',
            'note',
            `hides ${some(gone)}`,
            [
              `These names are only in the public zone ${twin.name}: in the networks of the private one they do not exist.`,
              'Add them there where they are asked for inside.',
            ].join(' '),
          ),
        ]),
    ...(covered.length === 0
      ? []
      : [
          say(
            'record.wildcard-hides',
            'warning',
            `answers by its wildcard for ${some(covered)}`,
            `The public zone ${twin.name} has records of their own for them, which nobody inside gets. Add them to the private zone, or narrow the wildcard.`,
          ),
        ]),
  ];
}

/** Networks whose workloads call names of a private zone that is not attached there, and for which no closer zone and no rule is there. */
function callersOf(state: NameState, zone: Zone): string[] {
  return state.parts.workloads.flatMap(({ clusterId, callsTo }) => {
    const cluster = byId(state.parts.clusters, clusterId);
    if (cluster === undefined || zone.networkIds.includes(cluster.networkId)) return [];
    const isAsked = callsTo.some((text) => {
      const name = text.toLowerCase().replace(/\.$/, '');
      const closer = state.viewOf(cluster.networkId).zones.closest(name);
      return (
        isWithin(name, zone.apex) &&
        state.forwardFor(cluster.networkId, name) === undefined &&
        (closer === undefined || closer.apex.length < zone.apex.length)
      );
    });
    return isAsked ? [cluster.networkId] : [];
  });
}

/** Two zones of one name that a link is to bring together. */
function overlapping({ parts }: NameState, links: Plan['links']): Finding[] {
  const found: Finding[] = [];
  for (const zones of grouped(parts.zones, 'apex').values()) {
    const [first, second] = zones.filter(({ side }) => side === 'public');
    if (first !== undefined && second !== undefined)
      found.push(
        finding(
          'zone.overlap',
          'error',
          [first, second].map(({ id }) => ({ kind: 'zones' as const, id })),
          {
            title: `${first.name} and ${second.name} are both public and begin at ${first.apex}`,
            detail: 'The parent delegates a name once: only one of them is found. Bring their records together.',
          },
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
            finding('zone.overlap', 'error', subjects, {
              title: `${one.name} and ${other.name} are both attached to ${byId(parts.networks, shared)?.name ?? ''}`,
              detail: `Both begin at ${one.apex}: only one of them can answer there. Detach one, or bring their records together.`,
            }),
          );
        else if (link !== undefined)
          found.push(
            finding('zone.overlap', link.isPlanned ? 'warning' : 'note', subjects, {
              title: `${one.name} and ${other.name} have one name, and ${link.name} ${link.isPlanned ? 'is to join' : 'joins'} their networks`,
              detail: [
                `A name below ${one.apex} is then answered in two ways, by where it is asked.`,
                'Rename one, or bring their records together before the join.',
              ].join(' '),
            }),
          );
      }
    });
  }
  return found;
}

// Records.

function recordFindings(state: NameState, record: DnsRecord, parts: Parts): Finding[] {
  const zone = byId(state.parts.zones, record.zoneId);
  const rr = zone === undefined ? undefined : rrOf(record, zone);
  if (zone === undefined || rr === undefined) return [];
  const subjects = [
    { kind: 'records', id: record.id },
    { kind: 'zones', id: zone.id },
  ] as const;
  const say = (code: string, severity: 'error' | 'warning', title: string, detail: string) =>
    finding(code, severity, subjects, { title: `${zone.name}: ${title}`, detail, part: record.id });
  const found: Finding[] = [];
  const tree = state.treeOf(zone);
  if (rr.type === 'CNAME') {
    if (rr.name === zone.apex)
      found.push(
        say(
          'record.alias-apex',
          'error',
          `${rr.name} is an alias at the apex`,
          'The apex has a SOA and NS records, and an alias may stand beside nothing (RFC 1034 3.6.2). Use A and AAAA records there.',
        ),
      );
    else if (
      recordTypes.some((type) => type !== 'CNAME' && tree.setAt(rr.name, type).length > 0) ||
      tree.setAt(rr.name, 'CNAME').length > 1
    )
      found.push(
        say(
          'record.alias-beside',
          'error',
          `${rr.name} is an alias beside other records`,
          'A name that is an alias has no other data (RFC 1034 3.6.2, RFC 2181 10.1): name servers refuse the zone. Keep the alias or the others.',
        ),
      );
    else found.push(...chain(state, zone, rr, say));
  }
  const isMoving = rr.type === 'A' || rr.type === 'AAAA' || rr.type === 'CNAME';
  const isServer = zone.nameServers.some((each) => each.toLowerCase() === rr.name);
  if (isMoving && !isServer && zone.cutOverAim !== null && rr.ttl > zone.cutOverAim)
    found.push(
      say(
        'record.ttl',
        'warning',
        `${rr.name} may be cached for ${rr.ttl.toLocaleString('en-US')} s`,
        [
          `Names of the zone are to move within ${zone.cutOverAim.toLocaleString('en-US')} s.`,
          `Lower the TTL at least ${rr.ttl.toLocaleString('en-US')} s before the move.`,
        ].join(' '),
      ),
    );
  if (record.target === 'in this plan') found.push(...aimless(state, zone, rr, parts, say));
  return found;
}

type Say = (code: string, severity: 'error' | 'warning', title: string, detail: string) => Finding;

function chain(state: NameState, zone: Zone, rr: Rr, say: Say): Finding[] {
  const seen = [rr.name];
  for (let at = rr.target ?? ''; ;) {
    if (seen.includes(at))
      return [
        say(
          'record.chain',
          'error',
          `the alias ${rr.name} loops`,
          `${[...seen, at].join(' → ')}. Resolvers answer SERVFAIL. Let it end at an address.`,
        ),
      ];
    seen.push(at);
    const next = state.parts.zones
      .filter(({ side, apex }) => side === zone.side && isWithin(at, apex))
      .map((each) => state.treeOf(each).setAt(at, 'CNAME')[0])
      .find((each) => each !== undefined);
    if (next === undefined) break;
    at = next.target ?? '';
  }
  if (seen.length <= LONG_CHAIN) return [];
  return [
    say(
      'record.chain',
      'error',
      `${rr.name} is ${seen.length - 1} aliases away from its address`,
      `${seen.join(' → ')}. Resolvers give up after 8 to 16. Let it lead straight to the last name.`,
    ),
  ];
}

/** Addresses that nobody has, and names that nobody answers. */
function aimless(state: NameState, zone: Zone, rr: Rr, { runs, allocations }: Parts, say: Say): Finding[] {
  if (rr.type === 'A' || rr.type === 'AAAA') {
    const parsed = parseAddress(rr.value);
    if (!parsed.ok) return [];
    const balancer = state.parts.balancers.find(({ address }) => address === rr.value);
    if (balancer !== undefined)
      return listensOn(state, balancer) > 0
        ? []
        : [
            say(
              'name.nobody',
              'error',
              `${rr.name} answers ${balancer.name}, which has no listener`,
              'Calls are refused. Add a listener, or remove the record.',
            ),
          ];
    if (holderOf(state, rr.value) !== undefined) return [];
    const inRun = runs.some((run) => {
      const { first, last } = stretchOf(run);
      return compareAddresses(first, parsed.value) <= 0 && compareAddresses(parsed.value, last) <= 0;
    });
    const machines = [
      ...state.parts.inUse.map(({ prefix }) => prefix),
      ...allocations.filter(({ purpose }) => purpose === 'node').map(({ prefix }) => prefix),
    ];
    if (inRun || machines.some((prefix) => isIn(prefix, rr.value))) return [];
    return isPublicAddress(parsed.value)
      ? [
          say(
            'record.dangling',
            'error',
            `${rr.name} answers ${rr.value}, which nothing in the plan holds`,
            'Whoever is given that address next answers under your name. Remove the record, or say that its target is elsewhere.',
          ),
        ]
      : [
          say(
            'name.nobody',
            'error',
            `${rr.name} answers ${rr.value}, where nobody listens`,
            'No load balancer, device or machine of the plan has that address. Correct it, or say that its target is elsewhere.',
          ),
        ];
  }
  const { target } = rr;
  if (target === undefined || target === '' || rr.type === 'PTR') return [];
  if (state.balancerNamed(target) !== undefined) return [];
  if (state.isProviderName(target))
    return [
      say(
        'record.dangling',
        'error',
        `${rr.name} leads to ${target}, which no load balancer has`,
        'The provider may give that name to anyone, who then answers under yours. Remove the record, or name a load balancer that is there.',
      ),
    ];
  const around = state.parts.zones.filter(
    ({ apex, side }) => isWithin(target, apex) && (zone.side === 'private' || side === 'public'),
  );
  const closest = around.filter(({ apex }) => apex.length === Math.max(...around.map((each) => each.apex.length)));
  if (closest.length === 0 || rr.type === 'NS') return [];
  const isThere = closest.some((each) => {
    const said = state.treeOf(each).lookUp(target, 'A').outcome;
    return said !== 'no name';
  });
  return isThere
    ? []
    : [
        say(
          'record.dangling',
          'error',
          `${rr.name} leads to ${target}, which does not exist`,
          `The zone ${closest[0]?.name ?? ''} has no such name. Add it, or correct the record.`,
        ),
      ];
}

function isIn(prefix: string, address: string): boolean {
  const [range, at] = [rangeOf({ prefix }), hostPrefix(address)];
  return range.family === at.family && containsAddress(range, at);
}

// Record keepers.

function keepers(state: NameState): Finding[] {
  const { keepers: all } = state.parts;
  const found: Finding[] = [];
  all.forEach((one, at) => {
    for (const other of all.slice(at + 1)) {
      const shared = zonesOfKeeper(state.parts, one).filter((zone) =>
        zonesOfKeeper(state.parts, other).some(({ id }) => id === zone.id),
      );
      if (shared.length === 0) continue;
      const where = shared.map(({ name }) => name).join(', ');
      const subjects = [one, other].map(({ id }) => ({ kind: 'keepers' as const, id }));
      const removing = [one, other].filter(removes).map(({ name }) => name);
      const then =
        removing.length === 0
          ? 'Each takes the records of the other for its own.'
          : `${removing.join(' and ')} remove${removing.length === 1 ? 's' : ''} the records of the other as its own that nothing asks for.`;
      if (one.ownerMark === '' || other.ownerMark === '')
        found.push(
          finding('keeper.no-mark', 'error', subjects, {
            title: `${one.name} and ${other.name} both touch ${where}, and not both have an owner mark`,
            detail: `${then} Give each a mark of its own.`,
          }),
        );
      else if (one.ownerMark === other.ownerMark)
        found.push(
          finding('keeper.one-mark', 'error', subjects, {
            title: `${one.name} and ${other.name} share the owner mark ${one.ownerMark} in ${where}`,
            detail: `${then} Give each a mark of its own, or zones of its own.`,
          }),
        );
    }
  });
  return found;
}

function removes({ policy }: Keeper): boolean {
  return policy === 'create and remove';
}
