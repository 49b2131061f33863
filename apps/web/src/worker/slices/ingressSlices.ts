import { formatPrefix } from '@wide-lattice/core/address';
import { groupsOf } from '@wide-lattice/core/load';
import type { LoadGroup } from '@wide-lattice/core/load';
import { readManifests, writeManifests } from '@wide-lattice/core/manifests';
import type { ReadManifests } from '@wide-lattice/core/manifests';
import { formatProblem } from '@wide-lattice/core/result';
import type { Result } from '@wide-lattice/core/result';
import { ask } from '@wide-lattice/core/request';
import {
  expose,
  exposeApi,
  freeAddressFor,
  heldBy,
  heldDifference,
  ingress,
  entryPoints,
  missing,
  placements,
  podsPerNodeOf,
} from '@wide-lattice/core/ingress';
import type { Answer, Via } from '@wide-lattice/core/request';
import type {
  EntryPoint,
  EntryPoints,
  EntryPointList,
  ExposeRequest,
  Exposure,
  HoldCase,
  NoRoom,
  PlacementCase,
} from '@wide-lattice/core/ingress';
import { answering, byId, grouped, rangeOf, readQuestion, selectedBy } from '@wide-lattice/core/plan';
import { demand, serviceBands } from '@wide-lattice/core/sizing';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { Plan } from '@wide-lattice/core/plan';
import type { SliceHost } from '../sliceHost';

/** One port of a service and who answers there, as it is shown. */
interface ShownEntryPoint {
  readonly port: string;
  readonly nodePort: string;
  readonly members: readonly {
    readonly workloadId: string;
    readonly name: string;
    readonly pods: number;
    /** Of each 100 calls, by pods; where nobody listens they are refused. */
    readonly share: number;
    readonly port: number | undefined;
  }[];
}

/** Who answers at a service. */
export interface ShownService {
  readonly name: string;
  readonly clusterName: string;
  readonly address: string;
  readonly entryPoints: readonly ShownEntryPoint[];
}

/** The workloads of a cluster on its nodes, case by case. */
export interface ShownRoom {
  readonly clusterId: string;
  readonly clusterName: string;
  /** Pods a node that the workloads come to at the horizon; undefined without any. */
  readonly podsPerNode: number | undefined;
  /** Pods a node by the estimate at Demand. */
  readonly estimate: number;
  readonly cases: readonly {
    readonly case: PlacementCase;
    readonly zone: string;
    readonly nodes: number;
    readonly missing: number;
    /** Shares of what the nodes have that is asked for, in percent; undefined where the machine shape is not known. */
    readonly cpu: number | undefined;
    readonly memory: number | undefined;
    readonly pods: number | undefined;
  }[];
  /** Workloads by the cases in which pods of theirs find no room. */
  readonly workloads: readonly {
    readonly id: string;
    readonly name: string;
    readonly pods: number;
    readonly short: readonly {
      readonly case: PlacementCase;
      readonly placed: number;
      readonly wanted: number;
      readonly lacks: NoRoom | undefined;
    }[];
  }[];
}

/** Entries of one list, shown at most: more are found by their names. */
const MAX_ENTRIES = 200;

/** The five lists of entry points, those that match a filter. */
export interface ShownEntryPoints {
  readonly entries: readonly EntryPoint[];
  readonly chains: readonly (readonly string[])[];
  /** Entries of each list that are not shown. */
  readonly more: Readonly<Partial<Record<EntryPointList, number>>>;
}

function shownEntryPoints(known: EntryPoints, filter: string): ShownEntryPoints {
  const sought = filter.trim().toLowerCase();
  const byKey = new Map(known.entries.map((entry) => [entry.key, entry]));
  const isMatch = (key: string) => {
    const { label = '', about = '' } = byKey.get(key) ?? {};
    return label.toLowerCase().includes(sought) || about.toLowerCase().includes(sought);
  };
  const chains = sought === '' ? known.chains : known.chains.filter((chain) => chain.some(isMatch));
  const inChain = new Set(chains.flat());
  const counts: Partial<Record<EntryPointList, number>> = {};
  const entries = known.entries.filter(({ list, key }) => {
    if (!inChain.has(key)) return false;
    counts[list] = (counts[list] ?? 0) + 1;
    return counts[list] <= MAX_ENTRIES;
  });
  const shown = new Set(entries.map(({ key }) => key));
  const more = Object.fromEntries(
    Object.entries(counts).flatMap(([list, count]) => (count > MAX_ENTRIES ? [[list, count - MAX_ENTRIES]] : [])),
  );
  return { entries, chains: chains.filter((chain) => chain.some((key) => shown.has(key))), more };
}

/** What a load on a URL falls on, or why it falls on nothing. */
export type ShownTarget =
  | { readonly ok: false; readonly message: string }
  | {
      readonly ok: true;
      readonly groups: readonly LoadGroup[];
      readonly zones: readonly string[];
      /** The zones of each cluster that answers or stands by. */
      readonly clusters: Readonly<Record<string, readonly string[]>>;
      /** Nodes of each cluster that answers or stands by. */
      readonly nodes: Readonly<Record<string, number>>;
      readonly via: readonly Via[];
      /** What the load balancer may have of members, by its profile; undefined where none is passed. */
      readonly mostMembers: number | undefined;
      readonly limit: { readonly perMinute: number; readonly by: 'fixed window' | 'token bucket' } | undefined;
      /** Share of the requests that are not answered, 0 to 1. */
      readonly unanswered: number;
      /** How the plan says that it is called; what it does not say is left out. */
      readonly planned: {
        readonly method?: 'round robin' | 'random' | 'least connections' | 'hash of the client';
        readonly timeout?: string;
        readonly retries?: string;
      };
    };

function loadTarget({ plan, evaluation }: SliceHost, from: string, to: string): ShownTarget {
  const question = readQuestion(plan, from, to, 576);
  if (!question.ok) return { ok: false, message: formatProblem(question.problem) };
  const wish = question.value.to;
  // The limit is simulated, so that it must not end the question.
  const once = wish.kind === 'url' ? { ...question.value, to: { ...wish, perMinute: 0 } } : question.value;
  const state = evaluation.ask(ingress);
  const answer = ask(state, once);
  const [first] = answer.members;
  if (first === undefined)
    return {
      ok: false,
      message:
        answer.verdict === 'pass' && answer.status === undefined
          ? `${answer.sentence} How much these carry the plan does not say.`
          : answer.sentence,
    };
  const sizing = evaluation.ask(demand).of(first.workload.clusterId);
  const route = answer.stages.find(({ about }) => about === 'route')?.subject?.id ?? '';
  const { rateLimitPerMinute = null, rateLimitAlgorithm = 'token bucket' } = byId(plan.ingressRoutes, route) ?? {};
  const balancer = plan.balancers.find(({ name }) =>
    answer.via.some((via) => via.what === 'load balancer' && via.name === name),
  );
  const site = byId(plan.sites, byId(plan.subnets, balancer?.subnetId ?? '')?.siteId ?? '');
  const clusters = clusterZones(plan, answer, (id) => evaluation.ask(demand).of(id)?.zones ?? []);
  const areMany = Object.keys(clusters).length > 1;
  return {
    ok: true,
    groups: groupsOf(answer.members, answer.standby),
    zones: areMany ? [...new Set(Object.values(clusters).flat())] : (sizing?.zones ?? []),
    clusters,
    nodes: Object.fromEntries(
      [...answer.members, ...answer.standby].map(({ cluster, workload }) => {
        const groups = evaluation.ask(demand).of(workload.clusterId)?.groups ?? [];
        return [cluster, groups.reduce((sum, group) => sum + group.now, 0)];
      }),
    ),
    via: answer.via,
    mostMembers: byId(plan.profiles, site?.profileId ?? '')?.membersPerBalancer,
    limit: rateLimitPerMinute === null ? undefined : { perMinute: rateLimitPerMinute, by: rateLimitAlgorithm },
    unanswered: answer.unanswered.reduce((sum, { share }) => sum + share, 0),
    planned: plannedLoad(plan, answer),
  };
}

/** Balancing, time-out and retries by which the plan has its pods called: of the backend where no controller is between, and of the route. */
function plannedLoad(plan: Plan, { stages, members, via }: Answer): (ShownTarget & { readonly ok: true })['planned'] {
  const idOf = (about: string) => stages.find((each) => each.about === about)?.subject?.id ?? '';
  const route = byId(plan.ingressRoutes, idOf('route'));
  const backend = byId(plan.backends, byId(plan.listeners, idOf('listener'))?.backendId ?? '');
  const isDirect = !via.some(({ what }) => what === 'controller');
  const isKept =
    members.some(({ service }) => service.affinity === 'client address') ||
    (isDirect && backend !== undefined && backend.sticky !== 'none');
  const method = isKept ? ('hash of the client' as const) : isDirect ? backend?.method : undefined;
  return {
    ...(method === undefined ? {} : { method }),
    ...(route?.timeoutMs == null ? {} : { timeout: String(route.timeoutMs) }),
    ...(route === undefined ? {} : { retries: String(route.retries) }),
  };
}

/** The zones of each cluster that answers or stands by, each with its site, since sites may call theirs alike. */
function clusterZones(
  plan: Plan,
  { members, standby }: Pick<Answer, 'members' | 'standby'>,
  zonesOf: (clusterId: string) => readonly string[],
): Readonly<Record<string, readonly string[]>> {
  const siteOf = (clusterId: string) => byId(plan.sites, byId(plan.clusters, clusterId)?.siteId ?? '')?.name ?? '';
  return Object.fromEntries(
    [...members, ...standby].map(({ cluster, workload: { clusterId } }) => [
      cluster,
      zonesOf(clusterId).map((zone) => `${zone} of ${siteOf(clusterId)}`),
    ]),
  );
}

/** Workloads, services and who answers at them. */
export const ingressSlices = {
  /** What a load balancer holds today, what differs in another case, and what differs from another state of the plan. */
  held: (host: SliceHost, balancerId: string, when: HoldCase, before: Plan | undefined) => {
    const of = (evaluation: Evaluation, at: HoldCase) => {
      const balancer = byId(evaluation.plan.balancers, balancerId);
      return balancer === undefined
        ? []
        : heldBy(evaluation.ask(ingress), balancer, (id) => evaluation.ask(demand).of(id), at);
    };
    const now = of(host.evaluation, 'now');
    const other = before === undefined ? now : of(host.at(before), 'now');
    return {
      now,
      ...(before === undefined ? heldDifference(now, of(host.evaluation, when)) : heldDifference(other, now)),
    };
  },
  /** A free address for a load balancer that has none yet. */
  freeAddress: ({ plan }: SliceHost, balancerId: string): string | undefined => {
    const balancer = byId(plan.balancers, balancerId);
    return balancer?.address === null ? freeAddressFor(plan, balancer) : undefined;
  },
  exposure: ({ plan }: SliceHost, request: ExposeRequest): Result<Exposure> => expose(plan, request),
  apiExposure: ({ plan }: SliceHost, clusterId: string): Result<Exposure> => exposeApi(plan, clusterId),
  manifests: ({ plan }: SliceHost, clusterId: string, text: string): ReadManifests =>
    readManifests(plan, clusterId, text, new Date().toISOString().slice(0, 10)),
  manifestText: ({ plan }: SliceHost, clusterId: string): string => writeManifests(plan, clusterId),
  loadTarget: (host: SliceHost, from: string, to: string): ShownTarget => loadTarget(host, from, to),
  entryPoints: ({ evaluation }: SliceHost, filter: string): ShownEntryPoints =>
    shownEntryPoints(evaluation.ask(entryPoints), filter),
  serviceDoors: ({ plan }: SliceHost, id: string): ShownService | undefined => {
    const service = byId(plan.services, id);
    const cluster = byId(plan.clusters, service?.clusterId ?? '');
    if (service === undefined || cluster === undefined) return undefined;
    const ranges = (grouped(plan.allocations, 'clusterId').get(cluster.id) ?? []).filter(
      ({ purpose }) => purpose === 'service',
    );
    return {
      name: `${service.namespace}/${service.name}`,
      clusterName: cluster.name,
      address: addressOf(service, ranges.map(rangeOf)),
      entryPoints: answering(service, plan.workloads).map(({ port, members }): ShownEntryPoint => {
        const pods = members.reduce((sum, { workload }) => sum + workload.replicasNow, 0);
        return {
          port: `${port.protocol} ${port.port}`,
          nodePort: nodePortOf(service.type, port.nodePort),
          members: members.map(({ workload, port: open }) => ({
            workloadId: workload.id,
            name: workload.name,
            pods: workload.replicasNow,
            share: pods === 0 ? 0 : (100 * workload.replicasNow) / pods,
            port: open,
          })),
        };
      }),
    };
  },
  /** The services that select a workload, by id and name. */
  selecting: ({ plan }: SliceHost, workloadId: string) =>
    plan.services.flatMap((service) =>
      selectedBy(service, plan.workloads).some(({ id }) => id === workloadId)
        ? [{ id: service.id, name: `${service.namespace}/${service.name}`, type: service.type }]
        : [],
    ),
  roomOnNodes: ({ plan, evaluation }: SliceHost, clusterId: string): ShownRoom | undefined => {
    const sizing = evaluation.ask(demand).of(clusterId);
    const workloads = grouped(plan.workloads, 'clusterId').get(clusterId) ?? [];
    if (sizing === undefined || workloads.length === 0) return undefined;
    const all = placements(sizing, workloads, plan.nodePools);
    const share = (asked: number, held: number) => (held === 0 ? undefined : (100 * asked) / held);
    return {
      clusterId,
      clusterName: sizing.cluster.name,
      podsPerNode: podsPerNodeOf(sizing, workloads),
      estimate: sizing.cluster.podsPerNode,
      cases: all.map((placement) => ({
        case: placement.case,
        zone: placement.zone,
        nodes: placement.nodes,
        missing: missing(placement),
        cpu: share(placement.asked.cpu, placement.held.cpu),
        memory: share(placement.asked.memory, placement.held.memory),
        pods: share(placement.asked.pods, placement.held.pods),
      })),
      workloads: workloads.map(({ id, namespace, name, replicasNow }) => ({
        id,
        name: `${namespace}/${name}`,
        pods: replicasNow,
        short: all.flatMap((placement) =>
          placement.workloads.flatMap(({ workload, placed, wanted, lacks }) =>
            workload.id === id && placed < wanted ? [{ case: placement.case, placed, wanted, lacks }] : [],
          ),
        ),
      })),
    };
  },
};

function addressOf(
  {
    type,
    address,
    externalName,
  }: { readonly type: string; readonly address: string | null; readonly externalName: string },
  ranges: readonly ReturnType<typeof rangeOf>[],
): string {
  if (type === 'ExternalName') return `stands for ${externalName}`;
  if (type === 'headless') return 'none: its name gives the addresses of its pods';
  const [range] = ranges;
  if (range === undefined) return address ?? 'given once the cluster has a service range';
  const bands = serviceBands(range);
  return address === null
    ? `given by the cluster from ${formatPrefix(range)}, above ${bands?.staticLast ?? ''}`
    : `${address}, fixed, of ${formatPrefix(range)}`;
}

function nodePortOf(type: string, nodePort: number | undefined): string {
  if (nodePort !== undefined) return String(nodePort);
  return type === 'NodePort' || type === 'LoadBalancer' ? 'given' : '';
}
