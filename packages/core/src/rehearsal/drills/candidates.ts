import type { PreventionFact } from '../../english/index.js';
import type { Evaluation } from '../../evaluation/index.js';
import { propose } from '../../allocation/index.js';
import { fullName } from '../../naming/index.js';
import { addOperation, byId, grouped, newId, setOperation } from '../../plan/index.js';
import type { Operation, Plan } from '../../plan/index.js';
import type { DrillOutcome } from './planDrills.js';

/** A change that may prevent what drills broke, not tried yet. */
export interface Candidate {
  readonly fact: PreventionFact;
  readonly operations: readonly Operation[];
  /** The drills that asked for it. */
  readonly keys: readonly string[];
}

/** What may prevent what drills broke: each change once, with all drills that asked for it. */
export function candidatesFor({ plan }: Evaluation, outcomes: readonly DrillOutcome[]): Candidate[] {
  const found = new Map<string, Candidate>();
  const put = (key: string, fact: PreventionFact, operations: readonly Operation[]) => {
    if (operations.length === 0) return;
    const name = JSON.stringify(fact);
    const known = found.get(name);
    found.set(name, { fact, operations, keys: [...(known?.keys ?? []), key] });
  };
  for (const outcome of outcomes) {
    if (outcome.state === 'holds') continue;
    for (const { fact, operations } of ofOutcome(plan, outcome)) put(outcome.key, fact, operations);
  }
  return [...found.values()];
}

type Idea = Omit<Candidate, 'keys'>;

function ofOutcome(plan: Plan, outcome: DrillOutcome): Idea[] {
  const { drill } = outcome;
  switch (drill.kind) {
    case 'certificate expired': {
      const certificate = byId(plan.certificates, drill.certificateId);
      if (certificate === undefined) return [];
      const fields = { renewsItself: true };
      return [
        {
          fact: { offer: 'renew', certificate: certificate.name },
          operations: [setOperation('certificates', certificate.id, fields)],
        },
      ];
    }
    case 'load balancer replaced':
      return unheld(plan, outcome);
    case 'gateway lost':
      return drill.fault.kind === 'gateway' ? furtherGateway(plan, drill.fault.memberId) : [];
    case 'link cut':
      return secondLink(plan, drill.linkId);
    case 'zone lost':
      return [...spreadClusters(plan, drill.siteId), ...spreadBalancers(plan, drill.siteId)];
    case 'upgrade':
    case 'scale out':
    case 'range exhausted':
      return outcome.clusters.flatMap((name) => growRanges(plan, name));
    case 'node drained':
      return outcome.clusters.flatMap((name) => oneMoreNode(plan, name));
    case 'DNS halved':
      return outcome.clusters.flatMap((name) => moreDns(plan, name));
    default:
      return [];
  }
}

function clusterNamed(plan: Plan, name: string) {
  return plan.clusters.find((cluster) => cluster.name === name);
}

/** A second link between the same networks, with the same attachments. */
function secondLink(plan: Plan, linkId: string): Idea[] {
  const link = byId(plan.links, linkId);
  if (link === undefined) return [];
  const id = newId();
  return [
    {
      fact: { offer: 'second link', link: link.name },
      operations: [
        addOperation('links', { ...link, id, name: `${link.name} 2` }),
        ...(grouped(plan.attachments, 'linkId').get(linkId) ?? []).map((each) =>
          addOperation('attachments', { ...each, id: newId(), linkId: id }),
        ),
      ],
    },
  ];
}

function furtherGateway(plan: Plan, memberId: string): Idea[] {
  const member = byId(plan.members, memberId);
  if (member === undefined || member.gateways !== 1) return [];
  const cluster = byId(plan.clusters, member.clusterId)?.name ?? '';
  const connection = byId(plan.connections, member.connectionId)?.name ?? '';
  return [
    {
      fact: { offer: 'second gateway', cluster, connection },
      operations: [setOperation('members', memberId, { gateways: 2, gatewayZones: [], gatewayAddresses: [] })],
    },
  ];
}

/** Clusters of a site with several zones that stand in one of them, and are not built. */
function spreadClusters(plan: Plan, siteId: string): Idea[] {
  return (grouped(plan.clusters, 'siteId').get(siteId) ?? [])
    .filter(({ isBuilt, zoneCount }) => !isBuilt && zoneCount === 1)
    .map(({ id, name }) => ({
      fact: { offer: 'all zones', what: name },
      operations: [setOperation('clusters', id, { zoneCount: null })],
    }));
}

function spreadBalancers(plan: Plan, siteId: string): Idea[] {
  const zones = byId(plan.sites, siteId)?.zones ?? [];
  return plan.balancers
    .filter(({ subnetId, zones: own }) => {
      const subnet = byId(plan.subnets, subnetId);
      return subnet?.siteId === siteId && zones.length > 1 && own.length < zones.length;
    })
    .map(({ id, name }) => ({
      fact: { offer: 'all zones', what: name },
      operations: [setOperation('balancers', id, { zones })],
    }));
}

/** Ranges of a cluster that are smaller than it needs, grown where they are. */
function growRanges(plan: Plan, name: string): Idea[] {
  const own = grouped(plan.allocations, 'clusterId').get(clusterNamed(plan, name)?.id ?? '') ?? [];
  const grown = propose(plan, { grow: own.filter(({ isPinned }) => !isPinned).map(({ id }) => id) });
  return [{ fact: { offer: 'grow', cluster: name }, operations: grown.operations }];
}

function oneMoreNode(plan: Plan, name: string): Idea[] {
  const cluster = clusterNamed(plan, name);
  if (cluster === undefined) return [];
  const nodesNow = cluster.nodesNow + 1;
  const fields = { nodesNow, nodesHorizon: Math.max(nodesNow, cluster.nodesHorizon) };
  return [{ fact: { offer: 'node', cluster: name }, operations: [setOperation('clusters', cluster.id, fields)] }];
}

function moreDns(plan: Plan, name: string): Idea[] {
  const cluster = clusterNamed(plan, name);
  return cluster === undefined
    ? []
    : [
        {
          fact: { offer: 'DNS', cluster: name },
          operations: [setOperation('clusters', cluster.id, { dnsReplicas: 2 })],
        },
      ];
}

/** Records by hand that a record controller would keep, were they not in its way. */
function unheld(plan: Plan, { facts }: DrillOutcome): Idea[] {
  const names = facts.flatMap((fact) => (fact.fact === 'record by hand' ? [fact.name] : []));
  return plan.records.flatMap(({ id, zoneId, name }): Idea[] => {
    const full = fullName(name, byId(plan.zones, zoneId)?.apex ?? '');
    if (!names.includes(full)) return [];
    return [{ fact: { offer: 'record controller', name: full }, operations: [{ op: 'remove', kind: 'records', id }] }];
  });
}
