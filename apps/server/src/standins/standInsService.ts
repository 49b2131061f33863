import { ConflictException, Injectable, Logger, NotFoundException } from '@nestjs/common';
import type { OnModuleDestroy } from '@nestjs/common';
import { LIMITS, USUAL_FIRST_PORT } from '@wide-lattice/standins';
import type { StandInReport, StandInWish } from '@wide-lattice/standins';
import { PlanBodies } from '../plans/planBody.js';
import { PlansService } from '../plans/plansService.js';
import { RevisionFeed } from '../plans/revisionFeed.js';
import { StandInHost, StandInsRefused } from './standInHost.js';
import type { StandInWork } from './standIns.worker.js';

/** Plans that have stand-ins at once. */
const MAX_PLANS = 3;
/** Runs of ports that are tried where no first port was given. */
const TRIED = 10;

interface Running {
  readonly host: StandInHost;
  readonly stopFollowing: () => void;
}

/** Starts and stops the stand-ins of plans; they answer from the plan’s latest revision, and end with the server. */
@Injectable()
export class StandInsService implements OnModuleDestroy {
  private readonly running = new Map<string, Running>();
  private readonly starting = new Set<string>();
  private readonly log = new Logger('StandIns');

  constructor(
    private readonly plans: PlansService,
    private readonly bodies: PlanBodies,
    private readonly feed: RevisionFeed,
  ) {}

  /** What runs for a plan; undefined where nothing does. */
  async report(planId: string): Promise<StandInReport | undefined> {
    return this.running.get(planId)?.host.ask('report', undefined);
  }

  /** Starts the stand-ins of a plan. Errors: 409 where they run already or too many others do, 422 with what is wrong. */
  async start(planId: string, wish: StandInWish): Promise<StandInReport> {
    if (this.running.has(planId) || this.starting.has(planId))
      throw new ConflictException('The stand-ins of this plan run already. Stop them first.');
    if (this.running.size + this.starting.size >= MAX_PLANS)
      throw new ConflictException(`Stand-ins of ${MAX_PLANS} plans run, the most at once. Stop those of another plan.`);
    this.starting.add(planId);
    try {
      const stored = await this.plans.read(planId);
      const { gzipped } = await this.bodies.of(planId, stored);
      const host = await this.atPorts(gzipped, wish);
      const stopFollowing = this.follow(planId, host, stored.revision);
      host.onceEnded(() => {
        stopFollowing();
        if (this.running.get(planId)?.host === host) this.running.delete(planId);
      });
      this.running.set(planId, { host, stopFollowing });
      return await host.ask('report', undefined);
    } finally {
      this.starting.delete(planId);
    }
  }

  /** Has running stand-ins do something. Errors: 404 where none run. */
  ask<W extends keyof StandInWork>(
    planId: string,
    work: W,
    asked: StandInWork[W]['asks'],
  ): Promise<StandInWork[W]['gives']> {
    const found = this.running.get(planId);
    if (found === undefined) throw new NotFoundException('No stand-ins of this plan run. Start them first.');
    return found.host.ask(work, asked);
  }

  async stop(planId: string): Promise<void> {
    const found = this.running.get(planId);
    this.running.delete(planId);
    found?.stopFollowing();
    await found?.host.end();
  }

  async onModuleDestroy(): Promise<void> {
    await Promise.all([...this.running.keys()].map((planId) => this.stop(planId)));
  }

  /** At the ports that were asked for; else at the first run of ports that is free. */
  private async atPorts(gzipped: Uint8Array, wish: StandInWish): Promise<StandInHost> {
    if (wish.firstPort !== undefined) return StandInHost.start({ gzipped, wish });
    for (let tries = 0; ; tries++)
      try {
        const firstPort = USUAL_FIRST_PORT + tries * LIMITS.ports;
        return await StandInHost.start({ gzipped, wish: { ...wish, firstPort } });
      } catch (error) {
        if (tries + 1 === TRIED || !(error instanceof StandInsRefused && error.code === 'port in use')) throw error;
      }
  }

  private follow(planId: string, host: StandInHost, revision: number): () => void {
    let seen = revision;
    let last = Promise.resolve();
    const handOn = async (latest: number) => {
      if (latest <= seen) return;
      const stored = await this.plans.read(planId);
      seen = stored.revision;
      const { gzipped } = await this.bodies.of(planId, stored);
      await host.ask('follow', gzipped);
    };
    const subscription = this.feed.watch(planId).subscribe((latest) => {
      last = last
        .then(() => handOn(latest))
        .catch((error: unknown) => {
          // A plan that was removed has no stand-ins; what else stands in the way is told, and the next revision tried.
          if (error instanceof NotFoundException) void this.stop(planId);
          else this.log.warn(error instanceof Error ? error.message : String(error));
        });
    });
    return () => {
      subscription.unsubscribe();
    };
  }
}
