import { evaluate } from '@wide-lattice/core/evaluation';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import { ingress } from '@wide-lattice/core/ingress';
import type { IngressState } from '@wide-lattice/core/ingress';
import { byId, readCondition } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { Log } from './log.js';
import { vantageOf } from './vantages.js';
import type { Vantage } from './vantages.js';

/** What does not answer: pods by how many of each workload, members by fixed address. */
interface Stopped {
  readonly pods: ReadonlyMap<string, number>;
  readonly addresses: ReadonlySet<string>;
}

const NOTHING: Stopped = { pods: new Map(), addresses: new Set() };

/**
 * The plan that stand-ins answer from, as it is now: what health checks have found stopped is not ready in it, and everything else is asked of
 * the same engines as a question to the plan.
 */
export class World {
  readonly log = new Log();
  /** Grows with each change of what is answered. */
  version = 1;
  /** What does not answer, and what health checks have found of it. */
  private stopped = NOTHING;
  private found = NOTHING;
  private readonly checks = new Set<NodeJS.Timeout>();
  private evaluation: Evaluation;
  private vantages = new Map<string, Vantage | undefined>();
  private headers: ReadonlySet<string> | undefined;
  private readonly followers: (() => void)[] = [];

  /** Health checks find in so many milliseconds that something stopped, or answers again. */
  constructor(
    private given: Plan,
    private readonly healthMs = 0,
  ) {
    this.evaluation = evaluate(given);
  }

  /** The plan with what is stopped left out. */
  get plan(): Plan {
    return this.evaluation.plan;
  }

  get evaluated(): Evaluation {
    return this.evaluation;
  }

  get state(): IngressState {
    return this.evaluation.ask(ingress);
  }

  /** A vantage as the plan is now; undefined where nothing is planned there that could ask. */
  vantage(key: string): Vantage | undefined {
    if (!this.vantages.has(key)) this.vantages.set(key, vantageOf(this.state, this.plan, key));
    return this.vantages.get(key);
  }

  /** Called after each change. */
  onChange(run: () => void): void {
    this.followers.push(run);
  }

  /** Answers from a later state of the plan. */
  follow(plan: Plan): void {
    this.given = plan;
    this.renew();
  }

  /** How many pods of a workload are stopped; more than it has count as all of them. */
  stopPods(workloadId: string, count: number): void {
    this.stopped = { ...this.stopped, pods: new Map([...this.stopped.pods, [workloadId, count]]) };
    this.check();
  }

  /** Whether the member at a fixed address answers. */
  stopAddress(address: string, isStopped: boolean): void {
    const addresses = new Set(this.stopped.addresses);
    if (isStopped) addresses.add(address);
    else addresses.delete(address);
    this.stopped = { ...this.stopped, addresses };
    this.check();
  }

  /** Ends the health checks that are under way. */
  close(): void {
    for (const timer of this.checks) clearTimeout(timer);
  }

  stoppedPods(workloadId: string): number {
    return this.stopped.pods.get(workloadId) ?? 0;
  }

  /** Whether health checks know of a workload what is stopped of it. */
  isFound(workloadId: string): boolean {
    return (this.found.pods.get(workloadId) ?? 0) === this.stoppedPods(workloadId);
  }

  /**
   * Whether the pod at a place of a workload, from 0, answers. The first places are those of ready pods, of which the last are stopped first; the
   * last places are of pods that are not ready in the plan.
   */
  answers(workloadId: string, place: number): boolean {
    const { replicasNow, notReady } = byId(this.given.workloads, workloadId) ?? { replicasNow: 0, notReady: 0 };
    const ready = Math.max(0, replicasNow - notReady);
    return place >= ready || place < ready - this.stoppedPods(workloadId);
  }

  /** The members by fixed address, of load balancers and services. */
  get fixedAddresses(): string[] {
    const { backends, services } = this.given;
    const all = [...backends.flatMap(({ addresses }) => addresses), ...services.flatMap(({ endpoints }) => endpoints)];
    return [...new Set(all)];
  }

  isStopped(address: string): boolean {
    return this.stopped.addresses.has(address);
  }

  /** Headers by which some route tells requests apart, in small letters: of others no answer depends. */
  get headersRead(): ReadonlySet<string> {
    this.headers ??= new Set(
      this.plan.ingressRoutes.flatMap(({ headers }) =>
        headers.flatMap((text) => readCondition(text)?.name.toLowerCase() ?? []),
      ),
    );
    return this.headers;
  }

  /** Has health checks find what is stopped now. */
  private check(): void {
    const { stopped } = this;
    const find = () => {
      this.found = stopped;
      this.renew();
    };
    if (this.healthMs === 0) {
      find();
      return;
    }
    const timer = setTimeout(() => {
      this.checks.delete(timer);
      find();
    }, this.healthMs).unref();
    this.checks.add(timer);
  }

  private renew(): void {
    this.evaluation = evaluate(this.withoutFound(), this.evaluation);
    this.vantages = new Map();
    this.headers = undefined;
    this.version++;
    for (const run of this.followers) run();
  }

  /** Collections in which nothing was found stopped stay the same objects, so that what rests on them is not computed anew. */
  private withoutFound(): Plan {
    const { pods, addresses } = this.found;
    const { given } = this;
    const left = (all: readonly string[]) => all.filter((each) => !addresses.has(each));
    return {
      ...given,
      ...(pods.size === 0
        ? {}
        : {
            workloads: given.workloads.map((each) => {
              const stopped = pods.get(each.id) ?? 0;
              return stopped === 0 ? each : { ...each, notReady: Math.min(each.replicasNow, each.notReady + stopped) };
            }),
          }),
      ...(addresses.size === 0
        ? {}
        : {
            backends: given.backends.map((each) => ({ ...each, addresses: left(each.addresses) })),
            services: given.services.map((each) => ({ ...each, endpoints: left(each.endpoints) })),
          }),
    };
  }
}
