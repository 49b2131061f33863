import {
  BadRequestException,
  Controller,
  Get,
  NotFoundException,
  Param,
  ParseUUIDPipe,
  Query,
  Res,
} from '@nestjs/common';
import type { Response } from 'express';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger';
import type { Scope } from '@wide-lattice/core/rehearsal';
import { isUUID } from 'class-validator';
import { bytesInParts } from '../http/bytesInParts.js';
import { PlanBodies } from '../plans/planBody.js';
import type { PlanBody } from '../plans/planBody.js';
import { PlansService } from '../plans/plansService.js';
import { KnownQuery, WholeNumber } from '../http/known.js';
import { WorkPool } from '../work/workPool.js';

const PAGE = 500;

/** What is computed of a plan: in worker threads, which are handed it as it goes out. */
@ApiTags('evaluation')
@Controller('api/plans/:id')
export class EvaluationController {
  constructor(
    private readonly plans: PlansService,
    private readonly bodies: PlanBodies,
    private readonly workers: WorkPool,
  ) {}

  @ApiOperation({ summary: 'Findings, errors first, 500 per page' })
  @KnownQuery('offset')
  @Get('findings')
  async findings(@Param('id', ParseUUIDPipe) id: string, @Query('offset', new WholeNumber(0, 0)) offset: number) {
    const stored = await this.plans.read(id);
    const page = await this.workers.ofPlan('findings', await this.bodies.of(id, stored), { offset, limit: PAGE });
    return { revision: stored.revision, ...page };
  }

  @ApiOperation({ summary: 'The plan file as JSON' })
  @Get('export/plan.json')
  async json(@Param('id', ParseUUIDPipe) id: string, @Res() response: Response) {
    const file = await this.workers.ofPlan('planFile', await this.bodyOf(id), 'json');
    await send(response, 'application/json; charset=utf-8', 'plan.json', file);
  }

  @ApiOperation({ summary: 'The plan file as YAML' })
  @Get('export/plan.yaml')
  async yaml(@Param('id', ParseUUIDPipe) id: string, @Res() response: Response) {
    const file = await this.workers.ofPlan('planFile', await this.bodyOf(id), 'yaml');
    await send(response, 'application/yaml; charset=utf-8', 'plan.yaml', file);
  }

  @ApiOperation({ summary: 'The allocation table as CSV (RFC 4180)' })
  @Get('export/allocations.csv')
  async csv(@Param('id', ParseUUIDPipe) id: string, @Res() response: Response) {
    const file = await this.workers.ofPlan('allocationTable', await this.bodyOf(id), undefined);
    await send(response, 'text/csv; charset=utf-8', 'allocations.csv', file);
  }

  @ApiOperation({ summary: 'The address plan to print, as PDF' })
  @Get('export/address-plan.pdf')
  async pdf(@Param('id', ParseUUIDPipe) id: string, @Res() response: Response) {
    const file = await this.workers.ofPlan('addressPlanPdf', await this.bodyOf(id), undefined);
    await send(response, 'application/pdf', 'address-plan.pdf', file);
  }

  @ApiOperation({
    summary: 'Everything that builders need, as one zip: of the whole plan, or of one cluster, site or template',
  })
  @ApiQuery({ name: 'cluster', required: false, description: 'Id of a cluster.' })
  @ApiQuery({ name: 'site', required: false, description: 'Id of a site.' })
  @ApiQuery({ name: 'template', required: false, description: 'Id of a template.' })
  @KnownQuery('cluster', 'site', 'template')
  @Get('export/handover.zip')
  async handover(
    @Param('id', ParseUUIDPipe) id: string,
    @Query() query: Readonly<Record<string, unknown>>,
    @Res() response: Response,
  ) {
    const scope = scopeOf(query);
    const file = await this.workers.ofPlan('handover', await this.bodyOf(id), scope);
    if (file.length === 0)
      throw new NotFoundException(
        `The plan has no cluster of that ${scope.kind}. Choose another one, or the whole plan.`,
      );
    await send(response, 'application/zip', 'handover.zip', file);
  }

  private async bodyOf(planId: string): Promise<PlanBody> {
    return this.bodies.of(planId, await this.plans.read(planId));
  }
}

/** The scope that a bundle is asked for. Errors: several at once, or a value that is not an id. */
function scopeOf(query: Readonly<Record<string, unknown>>): Scope {
  const [given, ...more] = Object.entries(query);
  if (given === undefined) return { kind: 'plan' };
  const [kind, id] = given as [Exclude<Scope['kind'], 'plan'>, unknown];
  if (more.length > 0) throw new BadRequestException('Give one of cluster, site and template, not several.');
  if (!isUUID(id)) throw new BadRequestException(`${kind}: give its id, which the plan says.`);
  return { kind, id: id as string };
}

async function send(response: Response, type: string, name: string, file: Uint8Array): Promise<void> {
  response.setHeader('content-type', type);
  response.setHeader('content-disposition', `attachment; filename="${name}"`);
  await pipeline(Readable.from(bytesInParts(file)), response);
}
