import { contains, formatAddress } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { isNeedOf, POD_PORT } from '../forwarding/index.js';
import { nameOf } from '../ingress/index.js';
import { closestZones, fullName, importsOf, urlOfImported } from '../naming/index.js';
import {
  byId,
  grouped,
  labelMap,
  labelsOfNamespace,
  listenersOf,
  meets,
  rangeOf,
  readContainerPort,
  readPolicyRule,
  readSelectorTerm,
  readServicePort,
  selectedBy,
  USUAL_BYTES,
  writeWish,
  zonesOfCluster,
} from '../plan/index.js';
import type { Cluster, ClusterService, NetworkPolicy, Plan, Workload } from '../plan/index.js';
import { isInScope } from './scope.js';
import type { Scope } from './scope.js';

/** What tests of the connection are about. */
export const suiteNames = [
  'within a node',
  'between nodes',
  'between zones',
  'between clusters',
  'exported services',
  'services',
  'NodePorts',
  'entry by name',
  'egress needs',
  'policies that block',
  'names',
  'packet size',
  'expectations',
] as const;

/** Every link that carries IPv6 carries packets of this size whole, in bytes: RFC 8200 5. */
const LEAST_MTU = 1280;

/** A suite of tests. */
export type SuiteName = (typeof suiteNames)[number];

/** Whether a prefix holds another one and more. */
function isInside(around: Prefix, own: Prefix): boolean {
  return around.length < own.length && contains(around, own);
}

/** One question with what must come of it. */
export interface ConnectionTest {
  readonly suite: SuiteName;
  /** The cluster whose matter it is; empty for none. */
  readonly clusterId: string;
  readonly from: string;
  readonly to: string;
  /** Size of the packets, headers included, with the do-not-fragment bit. */
  readonly bytes: number;
  readonly verdict: 'must pass' | 'must be refused';
  /** Who or what must answer; empty for any. */
  readonly answer: string;
}

type Asked = Pick<ConnectionTest, 'from' | 'to'> & Partial<Pick<ConnectionTest, 'bytes' | 'verdict' | 'answer'>>;

/** Tests of the connection, made from what the plan means: clusters by what they have, the plan’s needs, routes, policies and expectations. */
export class Suites {
  private readonly policies: ReadonlyMap<string, readonly NetworkPolicy[]>;
  private readonly workloads: ReadonlyMap<string, readonly Workload[]>;
  private readonly services: ReadonlyMap<string, readonly ClusterService[]>;

  constructor(private readonly plan: Plan) {
    this.policies = grouped(plan.networkPolicies, 'clusterId');
    this.workloads = grouped(plan.workloads, 'clusterId');
    this.services = grouped(plan.services, 'clusterId');
  }

  /** The tests of a scope, suite by suite; expectations belong to the whole plan. */
  of(scope: Scope): ConnectionTest[] {
    const clusters = this.plan.clusters.filter((cluster) => isInScope(scope, cluster));
    const each = (suite: SuiteName, asked: (cluster: Cluster) => Iterable<Asked>) =>
      clusters.flatMap((cluster) => [...asked(cluster)].map((one) => test(suite, cluster.id, one)));
    return [
      ...each('within a node', (cluster) => this.withinNodes(cluster)),
      ...each('between nodes', (cluster) => this.betweenNodes(cluster)),
      ...each('between zones', (cluster) => this.betweenZones(cluster)),
      ...each('between clusters', (cluster) => this.betweenClusters(cluster)),
      ...each('exported services', (cluster) => this.exported(cluster)),
      ...each('services', (cluster) => this.callsOfServices(cluster)),
      ...each('NodePorts', (cluster) => this.nodePorts(cluster)),
      ...each('entry by name', (cluster) => this.entries(cluster)),
      ...each('egress needs', (cluster) => this.needs(cluster)),
      ...each('policies that block', (cluster) => this.blocked(cluster)),
      ...each('names', (cluster) => this.names(cluster)),
      ...each('packet size', (cluster) => this.packetSizes(cluster)),
      ...(scope.kind === 'plan' ? [...recorded(this.plan)].map((one) => test('names', one.clusterId, one)) : []),
      ...(scope.kind === 'plan'
        ? this.plan.expectations
            .filter(({ during }) => during === '')
            .map((expectation) => test('expectations', '', expectation))
        : []),
    ];
  }

  /** A pod that no policy selects, where the cluster has policies and such a workload; else any. */
  private podIn(cluster: Cluster, zone = ''): string {
    const place = `${podOf(cluster)}${zone === '' ? '' : `, zone ${zone}`}`;
    const policies = this.policies.get(cluster.id) ?? [];
    if (policies.length === 0) return place;
    const free = (this.workloads.get(cluster.id) ?? []).find(
      (workload) => !policies.some((policy) => selects(policy, workload)),
    );
    return free === undefined ? place : `${place}, workload ${nameOf(free)}`;
  }

  private zonesOf(cluster: Cluster): readonly string[] {
    return zonesOfCluster(cluster, byId(this.plan.sites, cluster.siteId));
  }

  private *withinNodes(cluster: Cluster): Generator<Asked> {
    for (const zone of this.zonesOf(cluster))
      yield { from: this.podIn(cluster, zone), to: `${this.podIn(cluster)}, same node tcp ${POD_PORT}` };
  }

  private *betweenNodes(cluster: Cluster): Generator<Asked> {
    for (const zone of this.zonesOf(cluster)) yield this.podToPod(cluster, zone, zone);
  }

  /** Each zone to the next, and back again: what differs between zones differs there. */
  private *betweenZones(cluster: Cluster): Generator<Asked> {
    const zones = this.zonesOf(cluster);
    if (zones.length < 2) return;
    for (const [i, zone] of zones.entries()) {
      const next = zones[(i + 1) % zones.length] ?? '';
      yield this.podToPod(cluster, zone, next);
      if (zones.length > 2) yield this.podToPod(cluster, next, zone);
    }
  }

  /** Packets of the size that its pods must be able to send whole, and at least the least of IPv6 (RFC 8200 5), from zone to zone. */
  private *packetSizes(cluster: Cluster): Generator<Asked> {
    const zones = this.zonesOf(cluster);
    const bytes = Math.max(LEAST_MTU, cluster.mtuFloor);
    yield { ...this.podToPod(cluster, zones[0] ?? '', zones.at(-1) ?? ''), bytes };
  }

  private podToPod(cluster: Cluster, from: string, to: string): Asked {
    return { from: this.podIn(cluster, from), to: `${this.podIn(cluster, to)} tcp ${POD_PORT}` };
  }

  /** Members of tunnels and of flat connections reach one another’s pods; relays pass on single services only, which names test. */
  private *betweenClusters(cluster: Cluster): Generator<Asked> {
    const { plan } = this;
    for (const { connectionId } of grouped(plan.members, 'clusterId').get(cluster.id) ?? []) {
      const connection = byId(plan.connections, connectionId);
      if (connection === undefined || connection.isPlanned || connection.method === 'relays') continue;
      const others = grouped(plan.members, 'connectionId').get(connectionId) ?? [];
      const isHub = connection.shape === 'hub' && connection.method !== 'flat';
      const own = others.find(({ clusterId }) => clusterId === cluster.id);
      for (const { clusterId, isHub: isTheHub } of others) {
        const other = byId(plan.clusters, clusterId);
        if (other === undefined || clusterId === cluster.id || (isHub && !isTheHub && own?.isHub !== true)) continue;
        yield { from: this.podIn(cluster), to: `${this.podIn(other)} tcp ${POD_PORT}` };
      }
    }
  }

  /** Services of other members that this cluster may use, by their name in the set. */
  private *exported(cluster: Cluster): Generator<Asked> {
    const { plan } = this;
    for (const member of grouped(plan.members, 'clusterId').get(cluster.id) ?? []) {
      const connection = byId(plan.connections, member.connectionId);
      if (connection === undefined || connection.isPlanned) continue;
      for (const imported of importsOf(plan, connection, cluster.id))
        if (imported.exporters.some((each) => each.member.id !== member.id))
          yield { from: this.podIn(cluster), to: urlOfImported(imported) };
    }
  }

  /** Every service, from a pod that its policies let in; and from the workloads that say they call it. */
  private *callsOfServices(cluster: Cluster): Generator<Asked> {
    const services = this.services.get(cluster.id) ?? [];
    for (const service of services) {
      const to = this.wishOf(service);
      const from = to === '' ? undefined : this.callerOf(cluster, service);
      if (from !== undefined) yield { from, to };
    }
    for (const workload of this.workloads.get(cluster.id) ?? [])
      for (const called of workload.callsTo) {
        const service = calledIn(services, workload, called);
        const to = service === undefined ? '' : this.wishOf(service);
        if (to !== '') yield { from: `${podOf(cluster)}, workload ${nameOf(workload)}`, to };
      }
  }

  /** A pod that may call a service: any where no policy selects its pods, else of a workload that each of their policies may name. */
  private callerOf(cluster: Cluster, service: ClusterService): string | undefined {
    const all = this.workloads.get(cluster.id) ?? [];
    const targets = selectedBy(service, all);
    const policies = (this.policies.get(cluster.id) ?? []).filter((policy) =>
      targets.some((target) => isolates(policy, target)),
    );
    if (policies.length === 0) return this.podIn(cluster);
    const caller = all.find(
      (each) => !targets.includes(each) && policies.some((policy) => isNamed(policy, cluster, each) === 'yes'),
    );
    return caller === undefined ? undefined : `${podOf(cluster)}, workload ${nameOf(caller)}`;
  }

  /** A service by its cluster address and first port; empty where it has neither. */
  private wishOf(service: ClusterService): string {
    const [text = ''] = service.ports;
    const port = readServicePort(text)?.port;
    if (port === undefined || service.type === 'ExternalName' || service.type === 'headless') return '';
    return writeWish(this.plan, { kind: 'service', serviceId: service.id, port });
  }

  /** Each NodePort on a node of each zone; and the first of them at an address that no node has, where nothing may answer. */
  private *nodePorts(cluster: Cluster): Generator<Asked> {
    const from = `node of ${cluster.name}`;
    let atNoNode = this.addressOfNoNode(cluster);
    for (const { ports } of this.services.get(cluster.id) ?? [])
      for (const text of ports) {
        const read = readServicePort(text);
        if (read?.nodePort === undefined) continue;
        const { protocol, nodePort } = read;
        if (atNoNode !== undefined)
          yield { from, to: `${atNoNode} ${protocol} ${nodePort}`, verdict: 'must be refused' };
        atNoNode = undefined;
        for (const zone of this.zonesOf(cluster)) yield { from, to: `${from}, zone ${zone} ${protocol} ${nodePort}` };
      }
  }

  /** The first address of a subnet of the nodes: the subnet’s own, where the range is all of it (RFC 1122 3.2.1.3). */
  private addressOfNoNode({ id, networkId }: Cluster): string | undefined {
    const subnets = grouped(this.plan.subnets, 'networkId').get(networkId) ?? [];
    const range = (grouped(this.plan.allocations, 'clusterId').get(id) ?? [])
      .filter(({ purpose }) => purpose === 'node')
      .map(rangeOf)
      .find((own) => own.family === 4 && own.length <= 30 && !subnets.some((subnet) => isInside(rangeOf(subnet), own)));
    return range === undefined ? undefined : formatAddress(range);
  }

  /** Every host of a route by name, with TLS where it has a certificate: from the internet where a public zone holds it, else from a pod. */
  private *entries(cluster: Cluster): Generator<Asked> {
    const { plan } = this;
    const asked = new Set<string>();
    for (const { hosts, path, pathType, certificate, gatewayId, headers, query, method } of grouped(
      plan.ingressRoutes,
      'clusterId',
    ).get(cluster.id) ?? []) {
      if (pathType === 'RegularExpression' || headers.length + query.length > 0) continue;
      const gateway = byId(plan.gateways, gatewayId ?? '');
      const isTls =
        certificate !== '' ||
        (gateway !== undefined && listenersOf(gateway).some((listener) => listener.certificate !== ''));
      for (const host of hosts) {
        const url = `${method === 'any' ? '' : `${method} `}${isTls ? 'https' : 'http'}://${host}${path === '' ? '/' : path}`;
        if (host.includes('*') || asked.has(url)) continue;
        asked.add(url);
        yield { from: this.isPublic(host) ? 'the internet' : this.podIn(cluster), to: url };
      }
    }
  }

  private isPublic(host: string): boolean {
    return closestZones(this.plan.zones, host).some(({ side }) => side === 'public');
  }

  private *needs(cluster: Cluster): Generator<Asked> {
    for (const need of this.plan.needs)
      if (isNeedOf(need, cluster)) yield { from: this.podIn(cluster), to: `need ${need.name}` };
  }

  /** Workloads that policies isolate, from each workload that none of their rules names; rules for addresses are left to expectations. */
  private *blocked(cluster: Cluster): Generator<Asked> {
    const all = this.workloads.get(cluster.id) ?? [];
    for (const target of all) {
      const policies = (this.policies.get(cluster.id) ?? []).filter((policy) => isolates(policy, target));
      if (policies.length === 0) continue;
      const port = target.ports.flatMap((text) => readContainerPort(text) ?? [])[0]?.port ?? POD_PORT;
      for (const caller of all) {
        if (caller === target || policies.some((policy) => isNamed(policy, cluster, caller) !== 'no')) continue;
        const [from, to] = [caller, target].map((each) => `${podOf(cluster)}, workload ${nameOf(each)}`);
        yield { from: from ?? '', to: `${to ?? ''} tcp ${port}`, verdict: 'must be refused' };
      }
    }
  }

  /** The names that workloads look up, and that of the API service, which every cluster has. */
  private *names(cluster: Cluster): Generator<Asked> {
    yield { from: this.podIn(cluster), to: 'name kubernetes.default type A' };
    for (const workload of this.workloads.get(cluster.id) ?? [])
      for (const name of workload.callsTo)
        yield { from: `${podOf(cluster)}, workload ${nameOf(workload)}`, to: `name ${name} type A` };
  }
}

function test(suite: SuiteName, clusterId: string, asked: Asked): ConnectionTest {
  const { from, to, bytes = USUAL_BYTES, verdict = 'must pass', answer = '' } = asked;
  return { suite, clusterId, from, to, bytes, verdict, answer };
}

function podOf({ name }: Cluster): string {
  return `pod of ${name}`;
}

/** The service of the same cluster that a workload calls: "basket", "basket.shop", or its full name. */
function calledIn(
  services: readonly ClusterService[],
  { namespace }: Workload,
  called: string,
): ClusterService | undefined {
  const [name = '', own = namespace, ...rest] = called.split('.');
  if (rest.length > 0 && rest[0] !== 'svc') return undefined;
  return services.find((service) => service.name === name && service.namespace === own);
}

/** Every recorded name where it must be answered: a public one from the internet, a private one in each network that its zone is attached to. */
function* recorded(plan: Plan): Generator<Asked & { readonly clusterId: string }> {
  const asked = new Set<string>();
  for (const { zoneId, name, type } of plan.records) {
    const zone = byId(plan.zones, zoneId);
    if (zone === undefined || name.includes('*') || !['A', 'AAAA', 'CNAME'].includes(type)) continue;
    const to = `name ${fullName(name, zone.apex)} type ${type === 'AAAA' ? 'AAAA' : 'A'}`;
    const inside = zone.networkIds.flatMap((id) => grouped(plan.clusters, 'networkId').get(id)?.[0] ?? []);
    const froms =
      zone.side === 'public'
        ? [{ from: 'the internet', clusterId: '' }]
        : inside.map((cluster) => ({ from: `node of ${cluster.name}`, clusterId: cluster.id }));
    for (const each of froms) {
      if (asked.has(`${each.from} ${to}`)) continue;
      asked.add(`${each.from} ${to}`);
      yield { ...each, to };
    }
  }
}

/** Whether a policy selects the pods of a workload for anything. */
function selects({ namespace, selector }: NetworkPolicy, workload: Workload): boolean {
  if (namespace !== workload.namespace) return false;
  return meets(
    labelMap(workload.labels),
    selector.flatMap((text) => readSelectorTerm(text) ?? []),
  );
}

/** Whether a policy isolates the pods of a workload for what comes in, and says so by pods and namespaces only. */
function isolates(policy: NetworkPolicy, workload: Workload): boolean {
  return (policy.directions.length === 0 || policy.directions.includes('ingress')) && selects(policy, workload);
}

/** Whether a rule of a policy names the pods of a workload; what rules for addresses come to is not told here. */
function isNamed({ allowIn, namespace }: NetworkPolicy, cluster: Cluster, caller: Workload): 'yes' | 'perhaps' | 'no' {
  const rules = allowIn.map((text) => readPolicyRule(text));
  const isByPods = rules.some(
    (rule) =>
      rule !== undefined &&
      (rule.peers.length === 0 ||
        rule.peers.some(
          (peer) =>
            peer.kind === 'pods' &&
            (peer.namespaces === undefined
              ? caller.namespace === namespace
              : meets(labelsOfNamespace(cluster, caller.namespace), peer.namespaces)) &&
            meets(labelMap(caller.labels), peer.pods),
        )),
  );
  if (isByPods) return 'yes';
  return rules.some((rule) => rule === undefined || rule.peers.some(({ kind }) => kind !== 'pods')) ? 'perhaps' : 'no';
}
