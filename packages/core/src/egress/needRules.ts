import { Forwarding, needsOf, trace } from '../forwarding/index.js';
import type { Trace } from '../forwarding/index.js';
import { addTo, byId, grouped, positionAtEnd, positionInFront, USUAL_BYTES } from '../plan/index.js';
import type { Cluster, Need, Plan } from '../plan/index.js';
import type { ProposalMaker } from './proposal.js';
import { formatProposed } from '../english/index.js';

/** Rules for needs that a firewall or the filter of a private endpoint refuses. */
export function proposeNeedRules(maker: ProposalMaker): void {
  for (const need of maker.plan.needs) {
    const refused = refusalsOf(maker.plan, need);
    for (const [id, clusters] of refused.firewalls) {
      const name = byId(maker.plan.firewalls, id)?.name ?? '';
      maker.group(formatProposed('egress.need', { need: need.name, device: 'firewall', name }), () =>
        firewallRule(maker, id, need, clusters),
      );
    }
    for (const [id, clusters] of refused.filters) {
      const name = byId(maker.plan.filters, id)?.name ?? '';
      maker.group(formatProposed('egress.need', { need: need.name, device: 'filter', name }), () =>
        filterRule(maker, id, need, clusters),
      );
    }
  }
}

/** Which firewalls and filters refuse a need to which clusters. */
function refusalsOf(plan: Plan, need: Need) {
  const forwarding = Forwarding.of(plan);
  const firewalls = new Map<string, Cluster[]>();
  const filters = new Map<string, Cluster[]>();
  const note = (map: Map<string, Cluster[]>, id: string, cluster: Cluster) => addTo(map, id, cluster);
  for (const cluster of plan.clusters) {
    if (!needsOf(plan, cluster).includes(need)) continue;
    const failure = failureOf(forwarding, cluster, need);
    if (failure?.code === 'firewall') note(firewalls, failure.firewallId, cluster);
    if (failure?.code === 'filter' && failure.direction === 'in') note(filters, failure.filterIds[0] ?? '', cluster);
  }
  return { firewalls, filters };
}

function failureOf(forwarding: Forwarding, cluster: Cluster, need: Need) {
  const ask = (kind: 'node' | 'pod'): Trace =>
    trace(forwarding, {
      from: { kind, clusterId: cluster.id, nodePoolId: null, zone: '' },
      to: { kind: 'need', needId: need.id },
      bytes: USUAL_BYTES,
    });
  return ask('node').flows[0]?.failed?.failure ?? ask('pod').flows[0]?.failed?.failure;
}

/** The ranges that packets of clusters come from when they leave: node ranges, and pod ranges that can be routed. */
function sourcesOf(plan: Plan, clusters: readonly Cluster[]): string[] {
  return clusters.flatMap(({ id, podMode }) =>
    (grouped(plan.allocations, 'clusterId').get(id) ?? [])
      .filter(
        ({ purpose, prefix }) =>
          !prefix.includes(':') && (purpose === 'node' || (purpose === 'pod' && podMode !== 'overlay')),
      )
      .map(({ prefix }) => prefix),
  );
}

/** Prefixes in one rule at most. */
const MAX_PREFIXES = 200;

function firewallRule(maker: ProposalMaker, firewallId: string, need: Need, clusters: readonly Cluster[]): void {
  const intent = `${need.name} from clusters`;
  const rules = grouped(maker.plan.firewallRules, 'firewallId').get(firewallId) ?? [];
  const own = rules.find((each) => each.intent === intent);
  const sources = [...new Set([...(own?.sources ?? []), ...sourcesOf(maker.plan, clusters)])].slice(0, MAX_PREFIXES);
  const position = own?.position ?? positionInFront(rules) ?? positionAtEnd(rules);
  if (position === undefined) return;
  maker.want(
    'firewallRules',
    { firewallId, position, protocol: need.protocol, ports: need.ports, sources, destinations: need.prefixes, intent },
    (each) => each.firewallId === firewallId && each.intent === intent,
  );
}

function filterRule(maker: ProposalMaker, filterId: string, need: Need, clusters: readonly Cluster[]): void {
  const intent = `${need.name} from clusters`;
  const rules = (grouped(maker.plan.filterRules, 'filterId').get(filterId) ?? []).filter(
    ({ direction }) => direction === 'in',
  );
  const own = rules.find((each) => each.intent === intent);
  const peers = [...new Set([...(own?.peers ?? []), ...sourcesOf(maker.plan, clusters)])].slice(0, MAX_PREFIXES);
  const position = own?.position ?? positionInFront(rules) ?? positionAtEnd(rules);
  if (position === undefined) return;
  maker.want(
    'filterRules',
    { filterId, direction: 'in', position, protocol: need.protocol, ports: need.ports, peers, intent },
    (each) => each.filterId === filterId && each.intent === intent,
  );
}
