import { wantedHosts } from '@wide-lattice/core/naming';
import { byId, USUAL_BYTES } from '@wide-lattice/core/plan';
import type { Balancer, Listener, Plan } from '@wide-lattice/core/plan';
import { ask } from '@wide-lattice/core/request';
import { formatNumber } from '@wide-lattice/core/working';
import { Authority } from './entry/authority.js';
import { Door } from './entry/door.js';
import { Pods } from './entry/pods.js';
import { Access } from './kube/access.js';
import { ClusterApi } from './kube/api.js';
import { kubeconfig } from './kube/kubeconfig.js';
import { LIMITS, LOOPBACK, USUAL_FIRST_PORT, USUAL_HEALTH_SECONDS, USUAL_MINUTES } from './limits.js';
import type { LogLine } from './log.js';
import { NameServer } from './names/nameServer.js';
import { vantageNames } from './vantages.js';
import type { Vantage } from './vantages.js';
import { World } from './world.js';

/** Which stand-ins to start. */
export interface StandInWish {
  /** Keys of vantages: "internet", ids of networks and clusters. */
  readonly vantages: readonly string[];
  /** Ids of clusters whose API is to answer. */
  readonly clusters: readonly string[];
  /** The first of the ports, the others follow it: 1,024 to 65,535. */
  readonly firstPort?: number | undefined;
  /** Minutes until they end by themselves: 1 to 1,440. */
  readonly minutes?: number | undefined;
  /** Seconds until health checks find that a member stopped, or answers again: 0 to 300. */
  readonly healthSeconds?: number | undefined;
}

/** Why stand-ins cannot be started, with what helps. */
export class StandInProblem extends Error {
  constructor(
    message: string,
    readonly fix: string,
    /** A port that is in use may be free in another run of ports. */
    readonly code: 'port in use' | 'wish' = 'wish',
  ) {
    super(message);
  }
}

/** A listener of a load balancer for those at a vantage. */
export interface DoorReport {
  readonly vantage: string;
  readonly balancer: string;
  readonly protocol: string;
  /** Address and port in the plan. */
  readonly address: string;
  readonly port: number;
  /** The port of loopback; null where nobody gets there from the vantage. */
  readonly localPort: number | null;
  /** Why nobody does; empty where it is open. */
  readonly why: string;
  /** A host that leads there for who asks; empty where none of the plan does. */
  readonly host: string;
}

/** What runs, and where. */
export interface StandInReport {
  /** Milliseconds since 1970. */
  readonly startedAt: number;
  readonly endsAt: number;
  /** Seconds until health checks find that a member stopped. */
  readonly healthSeconds: number;
  readonly address: string;
  readonly names: readonly { readonly vantage: string; readonly port: number }[];
  readonly doors: readonly DoorReport[];
  readonly apis: readonly { readonly clusterId: string; readonly cluster: string; readonly port: number }[];
  readonly workloads: readonly {
    readonly id: string;
    readonly cluster: string;
    readonly name: string;
    readonly replicas: number;
    readonly ready: number;
    readonly stopped: number;
    /** Whether health checks know how many are stopped: until then they are called as before. */
    readonly isFound: boolean;
  }[];
  /** How many there are; the first of them are told. */
  readonly workloadCount: number;
  readonly addresses: readonly { readonly address: string; readonly isStopped: boolean }[];
  /** Whether the plan has other listeners or vantages by now than those that were opened. */
  readonly isOutdated: boolean;
  readonly log: readonly LogLine[];
  /** How often anything was asked. */
  readonly asked: number;
}

interface Planned {
  readonly vantage: Vantage;
  readonly balancer: Balancer;
  readonly listener: Listener;
  readonly address: string;
  readonly why: string;
}

/** Lines of the log that go with a report. */
const SHOWN_LINES = 100;
/** Workloads that a report tells. */
const SHOWN_WORKLOADS = 500;
/** Hosts that are asked for, to find one that leads to each load balancer. */
const TRIED_HOSTS = 300;

/** Name servers, load balancers, pods and APIs of a plan that answer at ports of loopback. */
export class StandIns {
  private readonly names: { readonly vantage: Vantage; readonly port: number; readonly server: NameServer }[] = [];
  private readonly doors: (DoorReport & { readonly door: Door | undefined })[] = [];
  private readonly apis: { readonly clusterId: string; readonly port: number; readonly api: ClusterApi }[] = [];
  private readonly access = new Access();
  private readonly pods: Pods;
  private readonly startedAt = Date.now();
  private timer: NodeJS.Timeout | undefined;
  private opened = '';
  private lookedAt = 1;
  private hasOthers = false;
  private isStopped = false;
  private onEnd: (() => void) | undefined;

  private constructor(
    private readonly world: World,
    private readonly authority: Authority,
    private readonly wish: StandInWish,
  ) {
    this.pods = new Pods(world);
  }

  /** Starts them all or none. Errors: StandInProblem for too many ports, one that is in use, a vantage that is not there. */
  static async start(plan: Plan, wish: StandInWish): Promise<StandIns> {
    const healthMs = (wish.healthSeconds ?? USUAL_HEALTH_SECONDS) * 1000;
    const made = new StandIns(new World(plan, healthMs), await Authority.make(), wish);
    try {
      await made.open();
    } catch (error) {
      await made.stop();
      throw error;
    }
    return made;
  }

  /** Answers from a later state of the plan; ports stay as they are. */
  follow(plan: Plan): void {
    this.world.follow(plan);
  }

  /** Stops pods of a workload, or lets them answer again: as many as are to be stopped. Until health checks find it they are called as before. */
  stopPods(workloadId: string, count: number): void {
    this.world.stopPods(workloadId, count);
  }

  /** The same of the member at a fixed address. */
  stopAddress(address: string, isStopped: boolean): void {
    this.world.stopAddress(address, isStopped);
  }

  /** Called once when they end, by themselves or not. */
  onceEnded(run: () => void): void {
    this.onEnd = run;
  }

  get authorityPem(): string {
    return this.authority.pem;
  }

  /** How to reach the API of a cluster, reading everything or one namespace; undefined where it was not started. */
  kubeconfigOf(clusterId: string, namespace: string): string | undefined {
    const api = this.apis.find((each) => each.clusterId === clusterId);
    const cluster = byId(this.world.plan.clusters, clusterId);
    if (api === undefined || cluster === undefined) return undefined;
    const token = this.access.tokenFor({ namespace }, clusterId);
    return kubeconfig({ name: cluster.name, port: api.port }, { namespace }, token, this.authority.pem);
  }

  report(): StandInReport {
    const { plan, log } = this.world;
    return {
      startedAt: this.startedAt,
      healthSeconds: this.healthSeconds,
      endsAt: this.startedAt + this.minutes * 60_000,
      address: LOOPBACK,
      names: this.names.map(({ vantage, port }) => ({ vantage: vantage.label, port })),
      doors: this.doors.map(({ door: _, ...each }) => each),
      apis: this.apis.map(({ clusterId, port }) => ({
        clusterId,
        cluster: byId(plan.clusters, clusterId)?.name ?? '',
        port,
      })),
      workloads: plan.workloads.slice(0, SHOWN_WORKLOADS).map((each) => ({
        id: each.id,
        cluster: byId(plan.clusters, each.clusterId)?.name ?? '',
        name: `${each.namespace}/${each.name}`,
        replicas: each.replicasNow,
        ...this.pods.countsOf(each),
      })),
      workloadCount: plan.workloads.length,
      addresses: this.world.fixedAddresses.map((address) => ({ address, isStopped: this.world.isStopped(address) })),
      isOutdated: this.isOutdated,
      log: log.latest(SHOWN_LINES),
      asked: log.total,
    };
  }

  async stop(): Promise<void> {
    if (this.isStopped) return;
    this.isStopped = true;
    clearTimeout(this.timer);
    this.world.close();
    await Promise.all([
      ...this.names.map(({ server }) => server.stop()),
      ...this.doors.map(({ door }) => door?.stop()),
      ...this.apis.map(({ api }) => api.stop()),
    ]);
    this.onEnd?.();
  }

  private get minutes(): number {
    return this.wish.minutes ?? USUAL_MINUTES;
  }

  private get healthSeconds(): number {
    return this.wish.healthSeconds ?? USUAL_HEALTH_SECONDS;
  }

  private async open(): Promise<void> {
    const { world, wish, authority } = this;
    const vantages = this.vantages();
    const planned = this.planned();
    const open = planned.filter(({ why }) => why === '');
    const needed = vantages.length + open.length + wish.clusters.length;
    const first = wish.firstPort ?? USUAL_FIRST_PORT;
    this.checked(needed, first);
    let taken = 0;
    /** Opens something at the next port, and tells what it was for where that is in use. */
    const atNext = async <T>(what: string, openAt: (port: number) => Promise<T>) => {
      const port = first + taken++;
      return {
        port,
        made: await openAt(port).catch((error: unknown) => {
          throw inUse(error, port, what, needed);
        }),
      };
    };
    for (const vantage of vantages) {
      const what = `names as ${vantage.label} asks for them`;
      const { port, made } = await atNext(what, (at) => NameServer.at(at, world, vantage.key));
      this.names.push({ vantage, port, server: made });
    }
    const hosts = new Map(vantages.map((vantage) => [vantage.key, this.hostsFor(vantage, open)]));
    for (const { vantage, balancer, listener, address, why } of planned) {
      const { protocol, port } = listener;
      const host = hosts.get(vantage.key)?.get(address) ?? '';
      const report = { vantage: vantage.label, balancer: balancer.name, protocol, address, port, why, host };
      if (why !== '') {
        this.doors.push({ ...report, localPort: null, door: undefined });
        continue;
      }
      const place = { vantage: vantage.key, address, port };
      const what = `${balancer.name} ${port}`;
      const opened = await atNext(what, (at) => Door.at(at, world, this.pods, place, authority));
      this.doors.push({ ...report, localPort: opened.port, door: opened.made });
    }
    for (const clusterId of wish.clusters) {
      const what = `the API of ${byId(world.plan.clusters, clusterId)?.name ?? ''}`;
      const { port, made } = await atNext(what, (at) => ClusterApi.at(at, world, clusterId, this.access, authority));
      this.apis.push({ clusterId, port, api: made });
    }
    this.opened = keyOf(planned);
    this.timer = setTimeout(() => void this.stop(), this.minutes * 60_000).unref();
  }

  /** Whether the plan has other listeners or ways to them by now; looked at once for a state of it. */
  private get isOutdated(): boolean {
    if (this.lookedAt !== this.world.version) {
      this.lookedAt = this.world.version;
      this.hasOthers = keyOf(this.planned()) !== this.opened;
    }
    return this.hasOthers;
  }

  private checked(needed: number, first: number): void {
    const { clusters } = this.wish;
    if (needed === 0)
      throw new StandInProblem('Nothing was chosen that could answer.', 'Choose a vantage or a cluster.');
    const strange = clusters.find((id) => byId(this.world.plan.clusters, id) === undefined);
    if (strange !== undefined)
      throw new StandInProblem('A chosen cluster is no longer in the plan.', 'Choose the clusters again.');
    if (needed > LIMITS.ports)
      throw new StandInProblem(
        `This takes ${formatNumber(needed)} ports; stand-ins of one plan have at most ${formatNumber(LIMITS.ports)}.`,
        'Choose fewer vantages or clusters.',
      );
    if (first < 1024 || first + needed - 1 > 65_535)
      throw new StandInProblem(
        `${formatNumber(needed)} ports from ${first} on reach beyond 1,024 to 65,535.`,
        `Give a first port from 1,024 to ${formatNumber(65_536 - needed)}.`,
      );
    if (this.minutes < 1 || this.minutes > LIMITS.minutes)
      throw new StandInProblem(
        `Stand-ins cannot run ${formatNumber(this.minutes)} minutes.`,
        `Give 1 to ${formatNumber(LIMITS.minutes)} minutes.`,
      );
    if (this.healthSeconds < 0 || this.healthSeconds > LIMITS.healthSeconds)
      throw new StandInProblem(
        `Health checks cannot take ${formatNumber(this.healthSeconds)} seconds.`,
        `Give 0 to ${formatNumber(LIMITS.healthSeconds)} seconds.`,
      );
  }

  private vantages(): Vantage[] {
    return this.wish.vantages.map((key) => {
      const found = this.world.vantage(key);
      if (found !== undefined) return found;
      const label = vantageNames(this.world.plan).find((each) => each.key === key)?.label;
      throw label === undefined
        ? new StandInProblem('A chosen vantage is no longer in the plan.', 'Choose the vantages again.')
        : new StandInProblem(`No ${label} can ask: none has an address yet.`, 'Give its clusters node ranges first.');
    });
  }

  /** Each listener that the plan has, for each vantage, with whether who stands there gets to it. */
  private planned(): Planned[] {
    const { state, plan } = this.world;
    const vantages = this.wish.vantages.flatMap((key) => this.world.vantage(key) ?? []);
    return vantages.flatMap((vantage) =>
      plan.balancers.flatMap((balancer) => {
        const { address } = balancer;
        if (address === null) return [];
        const listeners = new Map(
          state
            .listenersOf(balancer)
            .filter(({ protocol }) => protocol !== 'udp')
            .map((listener) => [listener.port, listener]),
        );
        return [...listeners.values()].map((listener): Planned => {
          const answer = ask(state, {
            from: vantage.place,
            to: { kind: 'address', address, service: { protocol: 'tcp', port: listener.port } },
            bytes: USUAL_BYTES,
          });
          return { vantage, balancer, listener, address, why: answer.verdict === 'pass' ? '' : answer.sentence };
        });
      }),
    );
  }

  /** For the addresses that are open to a vantage, a host that leads there. */
  private hostsFor(vantage: Vantage, open: readonly Planned[]): ReadonlyMap<string, string> {
    const { state } = this.world;
    const wanted = new Set(open.flatMap((each) => (each.vantage === vantage ? [each.address] : [])));
    const found = new Map<string, string>();
    const hosts = [...new Set(wantedHosts(state.names).map(({ host }) => host))].filter(
      (host) => !host.startsWith('*.'),
    );
    for (const host of hosts.slice(0, TRIED_HOSTS)) {
      if (found.size === wanted.size) break;
      const { resolution } = ask(state, {
        from: vantage.place,
        to: { kind: 'name', name: `${host}.`, type: 'A' },
        bytes: USUAL_BYTES,
      });
      for (const { value } of resolution?.records ?? [])
        if (wanted.has(value) && !found.has(value)) found.set(value, host);
    }
    return found;
  }
}

/** Stands for the listeners that a plan has for its vantages, and whether they are reached. */
function keyOf(planned: readonly Planned[]): string {
  return planned
    .map(({ vantage, address, listener, why }) => `${vantage.key} ${address} ${listener.port} ${String(why === '')}`)
    .join('\n');
}

function inUse(error: unknown, port: number, what: string, needed: number): unknown {
  if ((error as { readonly code?: unknown } | null)?.code !== 'EADDRINUSE') return error;
  return new StandInProblem(
    `Port ${port} of ${LOOPBACK}, which was for ${what}, is in use.`,
    `Give another first port: ${needed} ports from there on must be free.`,
    'port in use',
  );
}
