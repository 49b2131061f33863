import { attachedTo } from '../forwarding/index.js';
import { addTo, grouped } from '../plan/index.js';
import type { Filter, Plan } from '../plan/index.js';
import { countsAtHorizon, countsRunning, isFromSubnet } from '../sizing/index.js';
import type { ClusterResult, LimitCode } from '../sizing/index.js';
import { plannedReplicas, sizeNow } from '../naming/index.js';
import type { Finding } from '../findings/index.js';
import type { ConditionType, Graph } from './graph.js';
import { keyOf } from './planObjects.js';

/** Nodes of a rehearsal: those that run today, or those of the horizon. */
export type NodesAt = 'today' | 'horizon';

/** The keys of the parts of a cluster. */
export const partKey = {
  address: (id: string) => `${id} virtual address`,
  control: (id: string, number: number) => `${id} control node ${number}`,
  podNetwork: (id: string) => `${id} pod network`,
  secondPodNetwork: (id: string) => `${id} second pod network`,
  dns: (id: string) => `${id} cluster DNS`,
  node: (id: string, number: number) => `${id} node ${number}`,
};

/** One node as it is to come up. */
export interface PlannedNode {
  /** From 1, over all groups. */
  readonly number: number;
  readonly poolId: string | null;
  readonly zone: string;
}

/** The nodes of a cluster in the order in which they are asked for: groups grow side by side, zones take turns. */
export function plannedNodes({ sizing }: ClusterResult, at: NodesAt): PlannedNode[] {
  const counts = at === 'today' ? countsRunning(sizing) : countsAtHorizon(sizing);
  const all = sizing.groups.flatMap(({ poolId, zones }, group) => {
    const count = counts.nodes[group] ?? 0;
    return Array.from({ length: count }, (_, i) => ({
      poolId,
      zone: zones[i % Math.max(1, zones.length)] ?? '',
      share: (i + 0.5) / count,
    }));
  });
  return all.sort((a, b) => a.share - b.share).map(({ poolId, zone }, i) => ({ number: i + 1, poolId, zone }));
}

/** Where nodes beyond a limit of their cluster stop. Limits that stop pods or services, not nodes, are not among them. */
const limitStops: Partial<Readonly<Record<LimitCode, ConditionType>>> = {
  'node-subnets': 'Provisioned',
  'nodes-per-cluster': 'Provisioned',
  'public-addresses': 'Provisioned',
  'pod-subnets': 'Registered',
  'pod-range': 'Registered',
  'routes-per-table': 'Registered',
  'snat-ports': 'Ready',
};

/** Limits that stop nodes. */
export const nodeLimits: ReadonlySet<LimitCode> = new Set(Object.keys(limitStops) as LimitCode[]);

/** Findings that say that a limit is too low for the nodes, by its code; others say so by the limit before the horizon. */
const findingOfLimit: Partial<Readonly<Record<LimitCode, readonly string[]>>> = {
  'node-subnets': ['range.too-small'],
  'pod-subnets': ['range.too-small'],
  'pod-range': ['range.too-small'],
  'nodes-per-cluster': ['nodes.over-quota'],
  'routes-per-table': ['routes.over-limit'],
};

/** Adds what comes to be of each cluster, and what it waits for. */
export class ClusterParts {
  private readonly filtersOf = new Map<string, Filter[]>();

  constructor(
    private readonly graph: Graph,
    private readonly plan: Plan,
    private readonly findingsOf: (kind: 'clusters', id: string) => readonly Finding[],
  ) {
    for (const filter of plan.filters) for (const id of attachedTo(filter)) addTo(this.filtersOf, id, filter);
  }

  /** Adds control plane, pod network, nodes and DNS of a cluster, and the subnets that are its own. */
  add(result: ClusterResult, nodes: readonly PlannedNode[]): void {
    const { graph } = this;
    const { cluster, sizing, network } = result;
    const { id, siteId, name } = cluster;
    const part = { clusterId: id, siteId, name };
    for (const { id: rangeId, purpose, prefix, zone } of result.allocations) {
      if (!isFromSubnet(cluster, purpose)) continue;
      const shared = graph.object(`${network.id} ${prefix}`);
      if (shared !== undefined) graph.alias(keyOf('allocations', rangeId), shared);
      else {
        const entity = { kind: 'allocations', id: rangeId } as const;
        const label = `${[purpose, zone].filter(Boolean).join(' ')} ${prefix}`;
        graph.add({ ...part, kind: 'subnet', key: keyOf('allocations', rangeId), name: `${name} ${label}`, entity });
      }
    }
    const entity = { kind: 'clusters', id } as const;
    if (sizing.control.nodes > 0) graph.add({ ...part, kind: 'virtual address', key: partKey.address(id), entity });
    for (let number = 1; number <= sizing.control.nodes; number++)
      graph.add({
        ...part,
        kind: 'control node',
        key: partKey.control(id, number),
        name: `${name} control ${number}`,
        entity: undefined,
      });
    graph.add({
      ...part,
      kind: sizing.control.nodes > 0 ? 'API server' : 'control plane',
      key: keyOf('clusters', id),
      entity,
    });
    graph.add({ ...part, kind: 'pod network', key: partKey.podNetwork(id), entity });
    for (const { number, poolId, zone } of nodes)
      graph.add({
        ...part,
        kind: 'node',
        key: partKey.node(id, number),
        name: `${name} ${number}${zone === '' ? '' : ` in ${zone}`}`,
        entity: poolId === null ? undefined : { kind: 'nodePools', id: poolId },
      });
    graph.add({ ...part, kind: 'cluster DNS', key: partKey.dns(id), entity });
  }

  /** Has the parts of a cluster wait for its ground, and for one another. */
  wait(result: ClusterResult, nodes: readonly PlannedNode[]): void {
    const { graph } = this;
    const { cluster, network, sizing } = result;
    const { id } = cluster;
    const api = graph.taskOf(keyOf('clusters', id));
    const ground = this.groundOf(result);
    for (const { id: rangeId } of result.allocations)
      graph.wait(
        graph.object(keyOf('allocations', rangeId))?.first,
        graph.taskOf(keyOf('networks', network.id)),
        ...result.blocks.map((block) => graph.taskOf(keyOf('blocks', block.id))),
      );
    if (sizing.control.nodes === 0) graph.wait(api, ...ground);
    else this.waitForControlNodes(result, ground, api);
    const podNetwork = graph.taskOf(partKey.podNetwork(id));
    graph.wait(podNetwork, api);
    for (const node of nodes) this.waitOfNode(result, node, api, podNetwork);
    const replicas = Math.min(plannedReplicas(cluster, sizeNow(sizing)), nodes.length);
    graph.wait(
      graph.taskOf(partKey.dns(id)),
      podNetwork,
      ...nodes.slice(0, Math.max(1, replicas)).map(({ number }) => graph.taskOf(partKey.node(id, number))),
    );
    this.refuseBeyondLimits(result, nodes);
  }

  /** What filters what is attached to: with their rules, since a filter without them lets nothing through. */
  rulesOf(...ids: readonly string[]): number[] {
    const rules = grouped(this.plan.filterRules, 'filterId');
    return ids
      .flatMap((id) => this.filtersOf.get(id) ?? [])
      .flatMap(({ id }) => [
        keyOf('filters', id),
        ...(rules.get(id) ?? []).map((rule) => keyOf('filterRules', rule.id)),
      ])
      .flatMap((key) => this.graph.taskOf(key) ?? []);
  }

  /** The control plane's ground: account, network, subnets, the tables that lead out of them, filters. */
  private groundOf({ cluster, network, allocations, site, sizing }: ClusterResult): (number | undefined)[] {
    const { graph, plan } = this;
    const routes = grouped(plan.routes, 'routeTableId');
    const tables = (grouped(plan.routeTables, 'networkId').get(network.id) ?? []).filter(
      ({ isMain, zone }) => isMain && (zone === '' || sizing.zones.includes(zone)),
    );
    return [
      graph.taskOf(keyOf('sites', site.id)),
      graph.taskOf(keyOf('networks', network.id)),
      graph.taskOf(keyOf('bastions', cluster.bastionId ?? '')),
      ...allocations.map(({ id }) => graph.taskOf(keyOf('allocations', id))),
      ...tables.flatMap(({ id }) => [
        graph.taskOf(keyOf('routeTables', id)),
        ...(routes.get(id) ?? []).map((route) => graph.taskOf(keyOf('routes', route.id))),
      ]),
      ...this.rulesOf(cluster.id),
    ];
  }

  /** Control nodes come one by one; the first needs the address of the API. */
  private waitForControlNodes(
    { cluster: { id }, sizing }: ClusterResult,
    ground: readonly (number | undefined)[],
    api: number | undefined,
  ): void {
    const { graph } = this;
    const address = graph.taskOf(partKey.address(id));
    graph.wait(address, ...ground);
    graph.wait(graph.taskOf(partKey.control(id, 1)), address);
    for (let number = 2; number <= sizing.control.nodes; number++)
      graph.wait(graph.taskOf(partKey.control(id, number)), graph.taskOf(partKey.control(id, number - 1)));
    graph.wait(api, graph.taskOf(partKey.control(id, 1)));
  }

  private waitOfNode(
    { cluster: { id }, allocations }: ClusterResult,
    { number, poolId, zone }: PlannedNode,
    api: number | undefined,
    podNetwork: number | undefined,
  ): void {
    const { graph } = this;
    const key = partKey.node(id, number);
    const subnets = allocations.filter(({ purpose, zone: at }) => purpose === 'node' && (at === '' || at === zone));
    graph.wait(
      graph.taskOf(key, 'Provisioned'),
      api,
      ...subnets.map((range) => graph.taskOf(keyOf('allocations', range.id))),
      ...this.rulesOf(...(poolId === null ? [] : [poolId])),
    );
    graph.wait(graph.taskOf(key, 'Ready'), podNetwork);
  }

  /** Nodes beyond what a limit holds never come up. An upgrade takes more than nodes that come up: that limit is its drill’s. */
  private refuseBeyondLimits({ cluster: { id }, figures }: ClusterResult, nodes: readonly PlannedNode[]): void {
    const { graph } = this;
    for (const { code, name, nodes: most } of figures.limitsAtRestBelow(nodeLimits, nodes.length)) {
      const condition = limitStops[code];
      if (condition === undefined) continue;
      const codes = findingOfLimit[code] ?? ['limit.before-horizon'];
      const found = this.findingsOf('clusters', id).find((each) => codes.includes(each.code));
      for (const { number } of nodes.slice(most.value))
        graph.refuse(graph.taskOf(partKey.node(id, number), condition), {
          why: 'limit',
          limit: code,
          name,
          holds: most.value,
          key: found?.key ?? '',
        });
    }
  }
}
