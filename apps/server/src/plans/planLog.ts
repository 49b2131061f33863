import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { newId } from '@wide-lattice/core/plan';
import { DataSource } from 'typeorm';
import type { EntityManager } from 'typeorm';
import { PlanEventRow } from '../db/rows/index.js';
import type { PlanEvent, PlanRow } from '../db/rows/index.js';

/** What happened to plans as wholes: kept outside of them, so that it stays when they are gone. */
@Injectable()
export class PlanLog {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** Writes a line, in the transaction of what it tells of. */
  async note(
    manager: EntityManager,
    plan: Pick<PlanRow, 'id' | 'name' | 'revision'>,
    event: PlanEvent,
    author: string,
  ): Promise<void> {
    const { id: planId, name: planName, revision } = plan;
    await manager.insert(PlanEventRow, { id: newId(), planId, planName, event, revision, author, at: new Date() });
  }

  /** A page of lines, newest first. */
  lines(offset: number, limit: number): Promise<PlanEventRow[]> {
    return this.database.manager.find(PlanEventRow, { order: { at: 'DESC', id: 'DESC' }, skip: offset, take: limit });
  }
}
