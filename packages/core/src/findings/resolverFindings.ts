import { isWithin, labelsOf } from '../zones/index.js';
import { naming as compiled, searchListOf } from '../naming/index.js';
import type { NameState } from '../naming/index.js';
import type { Host } from '../forwarding/index.js';
import { byId, grouped, readStubZone } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import { bySubject, ownersIn, together } from '../section/index.js';
import { finding } from './finding.js';
import type { Finding, Subject } from './finding.js';
import type { Asking } from '../english/index.js';

interface Needed {
  readonly naming: NameState;
}

/** Queries for one look-up from which on the search list is worth a word: three suffixes and the name itself, each for A and AAAA. */
const MANY_QUERIES = 8;

/** Resolvers that cannot be reached or answer nothing, and rules that form a loop. */
export function resolverFindings(_: unknown, { naming }: Needed): readonly Finding[] {
  return [...targets(naming), ...loops(naming), ...twice(naming)];
}

/** Search lists that cost. */
export const searchFindings = bySubject({
  name: 'searches by cluster',
  reads: [],
  needs: { naming: compiled },
  subjects: (_, { naming }) => naming.parts.clusters,
  dependsOn: (cluster, _, { naming }) => {
    const workloads = grouped(naming.parts.workloads, 'clusterId').get(cluster.id) ?? [];
    if (workloads.every(({ callsTo }) => callsTo.length === 0)) return [];
    return [cluster, ...workloads, ...(grouped(naming.parts.services, 'clusterId').get(cluster.id) ?? [])];
  },
  near: ({ needed: { naming: was } }, { needed: { naming: is } }) =>
    together(
      ownersIn(was.parts, is.parts, ['clusters'], 'id'),
      ownersIn(was.parts, is.parts, ['workloads', 'services']),
    ),
  look: (cluster, _, { naming }) => searches(naming, cluster),
});

/** Everything that is asked at an address, and from where. */
function targets(state: NameState): Finding[] {
  const { parts } = state;
  const found: Finding[] = [];
  const try_ = (subjects: readonly Subject[], asking: Asking, from: Host | undefined, address: string) => {
    const resolver = state.resolverAt(address);
    const part = `${subjects[0]?.id ?? ''} ${address} ${from?.networkId ?? ''}`;
    if (resolver?.role === 'outbound') {
      found.push(finding('resolver.silent', 'error', subjects, { asking, resolver: resolver.name, address }, { part }));
      return;
    }
    const flow = from === undefined ? undefined : state.leg(from, address);
    if (flow === undefined || flow.verdict === 'pass' || flow.verdict === 'unknown') return;
    found.push(finding('resolver.unreached', 'error', subjects, { asking, address, failed: flow.failed }, { part }));
  };
  for (const forward of parts.forwardingRules)
    for (const networkId of forward.networkIds) {
      const from = state.senderOf(forward, networkId);
      const asking: Asking = {
        is: 'rule',
        rule: forward.name,
        network: byId(parts.networks, networkId)?.name ?? '',
      };
      for (const address of forward.targets) try_([{ kind: 'forwardingRules', id: forward.id }], asking, from, address);
    }
  for (const cluster of parts.clusters) {
    const addresses = [
      ...cluster.dnsUpstream,
      ...cluster.stubZones.flatMap((text) => readStubZone(text)?.targets ?? []),
    ];
    if (addresses.length === 0) continue;
    const from = state.machineOf(cluster);
    for (const address of new Set(addresses))
      try_([{ kind: 'clusters', id: cluster.id }], { is: 'cluster', cluster: cluster.name }, from, address);
  }
  return found;
}

/** Forwarding rules by which a question comes back to a network that it was in. */
function loops(state: NameState): Finding[] {
  const told = new Set<string>();
  return state.parts.forwardingRules.flatMap((forward): Finding[] =>
    forward.networkIds.flatMap((networkId): Finding[] => {
      const way = [networkId];
      for (let at = networkId; ;) {
        const rule = state.forwardFor(at, forward.domain);
        const zone = state.viewOf(at).zones.closest(forward.domain);
        if (rule === undefined || (zone !== undefined && zone.apex.length > rule.domain.length)) return [];
        const next = rule.targets.flatMap((address) => state.resolverAt(address) ?? [])[0]?.networkId;
        if (next === undefined) return [];
        if (way.includes(next)) {
          const circle = [...way.slice(way.indexOf(next)), next];
          const key = [...circle.slice(1)].sort().join(' ') + forward.domain;
          if (told.has(key)) return [];
          told.add(key);
          return [
            finding(
              'forward.loop',
              'error',
              [{ kind: 'forwardingRules', id: forward.id }],
              {
                rule: forward.name,
                domain: forward.domain,
                networks: circle.map((id) => byId(state.parts.networks, id)?.name ?? ''),
              },
              { part: key },
            ),
          ];
        }
        way.push(next);
        at = next;
      }
    }),
  );
}

/** Resolvers with one address, and rules for one domain in one network: only the first is met. */
function twice({ parts }: NameState): Finding[] {
  const found: Finding[] = [];
  parts.resolvers.forEach((one, at) => {
    for (const other of parts.resolvers.slice(at + 1)) {
      const shared = one.addresses.find((each) => other.addresses.includes(each));
      if (shared !== undefined)
        found.push(
          finding(
            'resolver.twice',
            'error',
            [one, other].map(({ id }) => ({ kind: 'resolvers' as const, id })),
            { one: one.name, other: other.name, address: shared },
          ),
        );
    }
  });
  parts.forwardingRules.forEach((one, at) => {
    for (const other of parts.forwardingRules.slice(at + 1)) {
      const shared =
        one.domain === other.domain ? one.networkIds.find((id) => other.networkIds.includes(id)) : undefined;
      if (shared !== undefined)
        found.push(
          finding(
            'forward.twice',
            'error',
            [one, other].map(({ id }) => ({ kind: 'forwardingRules' as const, id })),
            { one: one.name, other: other.name, domain: one.domain, network: byId(parts.networks, shared)?.name ?? '' },
          ),
        );
    }
  });
  return found;
}

/** Names outside the cluster that pods ask for with every suffix first. */
function searches(state: NameState, cluster: Cluster): Finding[] {
  const queries = (searchListOf(cluster, 'default').length + 1) * 2;
  if (queries < MANY_QUERIES) return [];
  const names = (grouped(state.parts.workloads, 'clusterId').get(cluster.id) ?? [])
    .flatMap(({ callsTo }) => callsTo)
    .filter((name) => isOutside(state, cluster, name) && labelsOf(name).length - 1 < cluster.ndots);
  if (names.length === 0) return [];
  return [
    finding('search.many', 'note', [{ kind: 'clusters', id: cluster.id }], {
      cluster: cluster.name,
      names: [...new Set(names)],
      queries,
      ndots: cluster.ndots,
    }),
  ];
}

function isOutside(state: NameState, cluster: Cluster, name: string): boolean {
  if (name.endsWith('.') || !name.includes('.')) return false;
  const suffixes = searchListOf(cluster, 'default');
  if (suffixes.some((suffix) => isWithin(name, suffix))) return false;
  const [service = '', namespace = ''] = name.split('.');
  return !(grouped(state.parts.services, 'clusterId').get(cluster.id) ?? []).some(
    (each) => each.name === service && each.namespace === namespace,
  );
}
