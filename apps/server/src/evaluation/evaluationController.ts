import { Controller, Get, Header, Param, ParseUUIDPipe, Query, Res } from '@nestjs/common';
import type { Response } from 'express';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { PlansService } from '../plans/plansService.js';
import { KnownQuery, WholeNumber } from '../http/known.js';
import { WorkPool } from '../work/workPool.js';

const PAGE = 500;

@ApiTags('evaluation')
@Controller('api/plans/:id')
export class EvaluationController {
  constructor(
    private readonly plans: PlansService,
    private readonly workers: WorkPool,
  ) {}

  @ApiOperation({ summary: 'Findings, errors first, 500 per page' })
  @KnownQuery('offset')
  @Get('findings')
  async findings(@Param('id', ParseUUIDPipe) id: string, @Query('offset', new WholeNumber(0, 0)) offset: number) {
    const { revision, plan } = await this.plans.read(id);
    const findings = await this.workers.run('findings', plan);
    return { revision, total: findings.length, findings: findings.slice(offset, offset + PAGE) };
  }

  @ApiOperation({ summary: 'The plan file as JSON' })
  @Get('export/plan.json')
  @Header('content-type', 'application/json; charset=utf-8')
  @Header('content-disposition', 'attachment; filename="plan.json"')
  async json(@Param('id', ParseUUIDPipe) id: string) {
    return writePlanFile((await this.plans.read(id)).plan, 'json');
  }

  @ApiOperation({ summary: 'The plan file as YAML' })
  @Get('export/plan.yaml')
  @Header('content-type', 'application/yaml; charset=utf-8')
  @Header('content-disposition', 'attachment; filename="plan.yaml"')
  async yaml(@Param('id', ParseUUIDPipe) id: string) {
    return writePlanFile((await this.plans.read(id)).plan, 'yaml');
  }

  @ApiOperation({ summary: 'The allocation table as CSV (RFC 4180)' })
  @Get('export/allocations.csv')
  @Header('content-type', 'text/csv; charset=utf-8')
  @Header('content-disposition', 'attachment; filename="allocations.csv"')
  async csv(@Param('id', ParseUUIDPipe) id: string) {
    return this.workers.run('allocationTable', (await this.plans.read(id)).plan);
  }

  @ApiOperation({ summary: 'The address plan to print, as PDF' })
  @Get('export/address-plan.pdf')
  async pdf(@Param('id', ParseUUIDPipe) id: string, @Res() response: Response) {
    const pdf = await this.workers.run('addressPlanPdf', (await this.plans.read(id)).plan);
    response.type('application/pdf').attachment('address-plan.pdf').send(Buffer.from(pdf));
  }
}
