import { Injectable } from '@nestjs/common';
import type { OnModuleDestroy } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Observable, Subject } from 'rxjs';
import { DataSource, In } from 'typeorm';
import { PlanRow } from '../db/rows/index.js';

const POLL_MS = 700;

/** Tells open browsers when a plan has a new revision, also when another server process made it: revisions are read from the database. */
@Injectable()
export class RevisionFeed implements OnModuleDestroy {
  private readonly listeners = new Map<string, { seen: number; listeners: number; revisions: Subject<number> }>();
  private timer: NodeJS.Timeout | undefined;

  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** The plan's revisions from now on, the present one first. */
  watch(planId: string): Observable<number> {
    return new Observable((subscriber) => {
      const entry = this.listeners.get(planId) ?? { seen: -1, listeners: 0, revisions: new Subject<number>() };
      this.listeners.set(planId, entry);
      entry.listeners++;
      if (entry.seen >= 0) subscriber.next(entry.seen);
      const subscription = entry.revisions.subscribe(subscriber);
      this.timer ??= setInterval(() => void this.poll(), POLL_MS);
      void this.poll();
      return () => {
        subscription.unsubscribe();
        entry.listeners--;
        if (entry.listeners === 0) this.listeners.delete(planId);
        if (this.listeners.size === 0) this.stop();
      };
    });
  }

  /** A change made by this process: told at once. */
  announce(planId: string, revision: number): void {
    const entry = this.listeners.get(planId);
    if (entry === undefined || revision <= entry.seen) return;
    entry.seen = revision;
    entry.revisions.next(revision);
  }

  onModuleDestroy(): void {
    this.stop();
    for (const { revisions } of this.listeners.values()) revisions.complete();
  }

  private async poll(): Promise<void> {
    try {
      const rows = await this.database.manager.find(PlanRow, {
        select: { id: true, revision: true },
        where: { id: In([...this.listeners.keys()]) },
      });
      for (const { id, revision } of rows) this.announce(id, revision);
    } catch {
      // The database is away for the moment; the next poll asks again.
    }
  }

  private stop(): void {
    clearInterval(this.timer);
    this.timer = undefined;
  }
}
