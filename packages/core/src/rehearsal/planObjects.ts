import { byId, idsIn, kindRules, kinds, referenceFields } from '../plan/index.js';
import type { Entity, Kind, Plan } from '../plan/index.js';
import type { ConditionType, Graph, ObjectKind } from './graph.js';

/** The kinds of entity that are built, each with what it is in a rehearsal. */
const objectKinds: Partial<Readonly<Record<Kind, ObjectKind>>> = {
  sites: 'account',
  networks: 'network',
  blocks: 'address block',
  links: 'link',
  routeTables: 'route table',
  subnets: 'subnet',
  natDevices: 'NAT device',
  firewalls: 'firewall',
  routes: 'route',
  attachments: 'attachment',
  bastions: 'bastion',
  endpoints: 'private endpoint',
  balancers: 'load balancer',
  filters: 'filter',
  filterRules: 'rule',
  firewallRules: 'rule',
  workloads: 'workload',
  services: 'service',
  backends: 'backend',
  listeners: 'listener',
  controllers: 'controller',
  gateways: 'gateway',
  ingressRoutes: 'ingress route',
  networkPolicies: 'network policy',
  referenceGrants: 'reference grant',
  zones: 'zone',
  records: 'record',
  recordControllers: 'record controller',
  resolvers: 'resolver',
  forwardingRules: 'forwarding rule',
  certificates: 'certificate',
  connections: 'connection',
  members: 'member',
  serviceExports: 'exported service',
};

/** The key of what an entity is in a rehearsal; a cluster is there when its API answers. */
export function keyOf(kind: Kind, id: string): string {
  return `${kind} ${id}`;
}

type Row = Entity & {
  readonly siteId?: string;
  readonly clusterId?: string | null;
  readonly networkId?: string;
  readonly isPlanned?: boolean;
};

/** References through which an entity finds its cluster and its site. */
const upwards = ['subnetId', 'balancerId', 'firewallId', 'routeTableId', 'memberId', 'linkId'] as const;
const kindAt: Readonly<Record<(typeof upwards)[number], Kind>> = {
  subnetId: 'subnets',
  balancerId: 'balancers',
  firewallId: 'firewalls',
  routeTableId: 'routeTables',
  memberId: 'members',
  linkId: 'links',
};

/** Where things of a plan stand. */
class Places {
  private readonly siteOfNetwork = new Map<string, string>();

  constructor(private readonly plan: Plan) {
    for (const { networkId, siteId } of [...plan.clusters, ...plan.subnets])
      if (!this.siteOfNetwork.has(networkId)) this.siteOfNetwork.set(networkId, siteId);
  }

  /** The cluster of an entity; empty for none. */
  clusterOf(row: Row): string {
    if (typeof row.clusterId === 'string') return row.clusterId;
    const member = 'memberId' in row ? byId(this.plan.members, row.memberId) : undefined;
    return member?.clusterId ?? '';
  }

  /** The site of an entity; empty for none. A network is where the first of what is in it is. */
  siteOf(row: Row): string {
    if (row.siteId !== undefined) return row.siteId;
    const clusterId = this.clusterOf(row);
    if (clusterId !== '') return byId(this.plan.clusters, clusterId)?.siteId ?? '';
    for (const field of upwards) {
      const id = (row as unknown as Readonly<Record<string, unknown>>)[field];
      const found = typeof id === 'string' ? byId<Entity>(this.plan[kindAt[field]], id) : undefined;
      if (found !== undefined) return this.siteOf(found as Row);
    }
    return this.siteOfNetwork.get(row.networkId ?? row.id) ?? '';
  }
}

/** Whether an entity is only planned, or hangs on one that is. */
function isOnlyPlanned(plan: Plan, kind: Kind, row: Row): boolean {
  if (row.isPlanned === true) return true;
  return referenceFields(kind).some(({ field, rule }) => {
    if (rule.to !== 'links' && rule.to !== 'connections' && rule.to !== 'members') return false;
    return idsIn(row, field).some((id) => {
      const other = byId<Entity>(plan[rule.to], id) as Row | undefined;
      return other !== undefined && isOnlyPlanned(plan, rule.to, other);
    });
  });
}

/** Adds every entity that is built. */
export function addEntities(graph: Graph, plan: Plan): void {
  const places = new Places(plan);
  for (const kind of kinds) {
    const as = objectKinds[kind];
    if (as === undefined) continue;
    for (const row of plan[kind] as readonly Row[]) {
      if (isOnlyPlanned(plan, kind, row)) continue;
      graph.add({
        kind: as,
        key: keyOf(kind, row.id),
        name: kindRules(kind).label(row, plan),
        entity: { kind, id: row.id },
        clusterId: places.clusterOf(row),
        siteId: kind === 'sites' ? row.id : places.siteOf(row),
      });
    }
  }
}

/** Which condition a reference holds up, where that is not the first; or which of the other it waits for, where not the last; or neither. */
interface Hold {
  readonly own?: ConditionType;
  readonly other?: ConditionType;
  readonly isNone?: boolean;
}

const none: Hold = { isNone: true };

/** Front first and members later; what is attached to something is there before it. */
const holds: Readonly<Record<string, Hold>> = {
  'attachments.acceptsFromIds': none,
  'filters.clusterIds': none,
  'filters.nodePoolIds': none,
  'filters.subnetIds': none,
  'filters.endpointIds': none,
  'filters.balancerIds': none,
  'backends.serviceId': { own: 'Healthy' },
  'listeners.backendId': { other: 'Programmed' },
  'controllers.serviceId': { own: 'Available' },
  'controllers.balancerId': { own: 'Available' },
  'ingressRoutes.gatewayId': { other: 'Accepted' },
  'certificates.clusterId': { own: 'Ready' },
  'members.connectionId': { other: 'Accepted' },
  'serviceExports.usedByIds': none,
};

/** Has every entity wait for what it refers to. */
export function waitForReferences(graph: Graph, plan: Plan): void {
  for (const kind of kinds) {
    if (objectKinds[kind] === undefined) continue;
    for (const { field, rule } of referenceFields(kind)) {
      const { own, other, isNone = false } = holds[`${kind}.${field}`] ?? {};
      if (isNone) continue;
      for (const row of plan[kind]) {
        const object = graph.object(keyOf(kind, row.id));
        if (object === undefined) continue;
        const task = own === undefined ? object.first : graph.taskOf(object.key, own);
        for (const id of idsIn(row, field)) graph.wait(task, graph.taskOf(keyOf(rule.to, id), other));
      }
    }
  }
}

/** Nothing is built at a site before its account was looked at. */
export function waitForAccounts(graph: Graph): void {
  for (const { siteId, first, kind } of graph.objects)
    if (siteId !== '' && kind !== 'account' && graph.tasks[first]?.needs.length === 0)
      graph.wait(first, graph.taskOf(keyOf('sites', siteId)));
}
