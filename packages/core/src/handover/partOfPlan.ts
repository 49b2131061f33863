import { isNeedOf } from '../forwarding/index.js';
import { idsIn, kinds, referenceFields } from '../plan/index.js';
import type { Cluster, Entity, EntityOf, Kind, Plan } from '../plan/index.js';
import { isInScope } from '../rehearsal/index.js';
import type { Scope } from '../rehearsal/index.js';

/** The entities of each kind that a part of a plan is made of. */
export type PartOfPlan = { readonly [K in Kind]: readonly EntityOf[K][] };

/** What belongs to a thing of these kinds that refers to one: a route to its table, a record to its zone. */
const owners: ReadonlySet<Kind> = new Set<Kind>([
  'clusters',
  'networks',
  'nodePools',
  'subnets',
  'routeTables',
  'firewalls',
  'filters',
  'balancers',
  'zones',
  'resolvers',
  'connections',
  'members',
]);

/** Kinds that only the bundle of the whole plan has. */
const ofWhole: ReadonlySet<Kind> = new Set<Kind>(['pools', 'prefixSets', 'expectations', 'buildTimes']);

/** Kinds that come along where something of the part refers to them. */
const alongside: ReadonlySet<Kind> = new Set<Kind>(['profiles', 'shapes', 'sites', 'templates', 'networks']);

/**
 * What those who build a scope need of the plan: its clusters with all that is theirs, their networks with what is in them, and what leads to
 * them. Of a connection all members come along, of a zone all records.
 */
export function partOfPlan(plan: Plan, scope: Scope): PartOfPlan {
  if (scope.kind === 'plan') return plan;
  return new Picker(
    plan,
    plan.clusters.filter((cluster) => isInScope(scope, cluster)),
  ).pick();
}

class Picker {
  private readonly picked = new Set<string>();
  private readonly clusterIds: ReadonlySet<string>;
  private zonesHere: ReadonlySet<string> | undefined;

  constructor(
    private readonly plan: Plan,
    private readonly clusters: readonly Cluster[],
  ) {
    this.clusterIds = new Set(clusters.map(({ id }) => id));
    for (const cluster of clusters) {
      this.picked.add(cluster.id);
      for (const { to, id } of referencesOf('clusters', cluster)) if (alongside.has(to)) this.picked.add(id);
    }
    for (const pool of plan.nodePools)
      if (this.clusterIds.has(pool.clusterId))
        for (const { to, id } of referencesOf('nodePools', pool)) if (to === 'shapes') this.picked.add(id);
    for (const { id, profileId } of plan.sites) if (this.picked.has(id)) this.picked.add(profileId);
    for (const { connectionId, clusterId } of plan.members)
      if (this.clusterIds.has(clusterId)) this.picked.add(connectionId);
  }

  pick(): PartOfPlan {
    // Each kind comes after those that it refers to.
    const part = new Map<Kind, Entity[]>();
    for (const kind of kinds) {
      const own = (this.plan[kind] as readonly Entity[]).filter((entity) => this.belongs(kind, entity));
      for (const { id } of own) this.picked.add(id);
      part.set(kind, own);
    }
    // Every kind was picked of its own collection.
    return Object.fromEntries(part) as unknown as PartOfPlan;
  }

  private belongs(kind: Kind, entity: Entity): boolean {
    if (this.picked.has(entity.id)) return true;
    if (ofWhole.has(kind) || alongside.has(kind) || kind === 'clusters' || kind === 'connections') return false;
    if (kind === 'needs') return this.clusters.some((cluster) => isNeedOf(entity as EntityOf['needs'], cluster));
    if (kind === 'confirmations') return this.picked.has((entity as EntityOf['confirmations']).siteId);
    if (kind === 'zones' && this.leading.has(entity.id)) return true;
    if (kind === 'certificates' && this.isShown(entity as EntityOf['certificates'])) return true;
    return referencesOf(kind, entity).some(({ to, id }) => owners.has(to) && this.picked.has(id) && isOwn(kind, to));
  }

  /** Whether a load balancer of the part shows a certificate that is of no cluster. */
  private isShown({ clusterId, name }: EntityOf['certificates']): boolean {
    return (
      clusterId === null &&
      this.plan.listeners.some(({ id, certificate }) => certificate === name && this.picked.has(id))
    );
  }

  /** Zones of which a record leads to a load balancer of the part; asked for once the load balancers were picked. */
  private get leading(): ReadonlySet<string> {
    if (this.zonesHere === undefined) {
      const addresses = new Set(
        this.plan.balancers.flatMap(({ id, address }) => (this.picked.has(id) && address !== null ? [address] : [])),
      );
      this.zonesHere = new Set(
        this.plan.records.flatMap(({ zoneId, value }) => (addresses.has(value) ? [zoneId] : [])),
      );
    }
    return this.zonesHere;
  }
}

/** Whether a kind belongs to what it refers to by this kind of reference: a cluster’s load balancer is that of its subnet, a route that of its table. */
function isOwn(kind: Kind, to: Kind): boolean {
  if (kind === 'routes') return to === 'routeTables';
  if (kind === 'members') return to === 'connections';
  if (kind === 'records') return to === 'zones';
  return true;
}

/** Every reference of an entity, with the kind that it is to. */
function referencesOf(kind: Kind, entity: Entity): { readonly to: Kind; readonly id: string }[] {
  return referenceFields(kind).flatMap(({ field, rule: { to } }) => idsIn(entity, field).map((id) => ({ to, id })));
}
