import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Query,
  Req,
  Res,
  Sse,
} from '@nestjs/common';
import type { MessageEvent } from '@nestjs/common';
import {
  ApiBody,
  ApiConsumes,
  ApiOkResponse,
  ApiOperation,
  ApiProperty,
  ApiPropertyOptional,
  ApiTags,
} from '@nestjs/swagger';
import { IsOptional } from 'class-validator';
import type { Request, Response } from 'express';
import { planFileSchema } from '@wide-lattice/core/exchange';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { interval, map, merge } from 'rxjs';
import type { Observable } from 'rxjs';
import { KnownQuery, MOST, WholeNumber } from '../http/known.js';
import { ChangesService } from './changesService.js';
import { ChangeDto } from './dto/changeDto.js';
import { IsLine } from './dto/line.js';
import { SettingsDto } from './dto/settingsDto.js';
import { PlanBodies } from './planBody.js';
import { PlanLog } from './planLog.js';
import type { StoredPlan } from './planStore.js';
import { PlansService } from './plansService.js';
import { DAYS_KEPT, RemovedPlans } from './removedPlans.js';
import { StandInsService } from '../standins/standInsService.js';
import { VersionsService } from './versionsService.js';
import { RevisionFeed } from './revisionFeed.js';

const KEEPALIVE_MS = 25_000;

/** A name for a copy of a plan. */
class NameDto {
  @ApiProperty()
  @IsLine(80)
  name: string;
}

/** A name for the present revision. */
class VersionDto {
  @ApiProperty()
  @IsLine(80)
  name: string;

  @ApiProperty({ description: 'Who names it.' })
  @IsLine(80)
  author: string;
}

/** Who restores a plan. */
class AuthorDto {
  @ApiProperty()
  @IsLine(80)
  author: string;
}

/** Who removes a plan; the log says nobody when it is left out. */
class AuthorQuery {
  @ApiPropertyOptional()
  @IsOptional()
  @IsLine(80)
  author?: string;
}

@ApiTags('plans')
@Controller('api')
export class PlansController {
  constructor(
    private readonly plans: PlansService,
    private readonly changes: ChangesService,
    private readonly versions: VersionsService,
    private readonly feed: RevisionFeed,
    private readonly bodies: PlanBodies,
    private readonly removed: RemovedPlans,
    private readonly log: PlanLog,
    private readonly standIns: StandInsService,
  ) {}

  @ApiOperation({ summary: 'List plans, the one changed last first, 100 per page' })
  @KnownQuery('offset')
  @Get('plans')
  list(@Query('offset', new WholeNumber(0, 0)) offset: number) {
    return this.plans.list(offset, 100);
  }

  @ApiOperation({ summary: `List removed plans, which can be restored for ${DAYS_KEPT} days, 100 per page` })
  @KnownQuery('offset')
  @Get('plans/removed')
  listRemoved(@Query('offset', new WholeNumber(0, 0)) offset: number) {
    return this.removed.list(offset, 100);
  }

  @ApiOperation({ summary: 'What happened to plans as wholes, newest first, 100 lines per page; it outlasts them' })
  @KnownQuery('offset')
  @Get('plans/log')
  logOfPlans(@Query('offset', new WholeNumber(0, 0)) offset: number) {
    return this.log.lines(offset, 100);
  }

  @ApiOperation({ summary: 'Start an empty plan' })
  @Post('plans')
  async create(@Body() settings: SettingsDto) {
    return { id: await this.plans.create(settings) };
  }

  @ApiOperation({ summary: 'Start a plan from a plan file: the body is the file, JSON or YAML, plain or as gzip' })
  @ApiConsumes('application/json', 'application/yaml')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  @Post('plans/import')
  async importFile(@Req() request: Request) {
    return { id: await this.plans.importFile(request) };
  }

  @ApiOperation({ summary: 'Copy a plan as it is now under another name' })
  @Post('plans/:id/duplicate')
  async duplicate(@Param('id', ParseUUIDPipe) id: string, @Body() { name }: NameDto) {
    return { id: await this.plans.duplicate(id, name.trim()) };
  }

  @ApiOperation({ summary: `Remove a plan; it can be restored with its history and versions for ${DAYS_KEPT} days` })
  @KnownQuery('author')
  @HttpCode(204)
  @Delete('plans/:id')
  async remove(@Param('id', ParseUUIDPipe) id: string, @Query() { author = '' }: AuthorQuery) {
    await this.removed.remove(id, author);
    await this.standIns.stop(id);
  }

  @ApiOperation({ summary: 'Put a removed plan back as it was' })
  @HttpCode(204)
  @Post('plans/:id/restore')
  restore(@Param('id', ParseUUIDPipe) id: string, @Body() { author }: AuthorDto) {
    return this.removed.restore(id, author);
  }

  @ApiOperation({ summary: 'Read a plan at its present revision' })
  @ApiOkResponse({ description: 'The revision and the plan; compressed when the client takes gzip.' })
  @Get('plans/:id')
  async read(@Param('id', ParseUUIDPipe) id: string, @Req() request: Request, @Res() response: Response) {
    await this.sendPlan(id, await this.plans.read(id), request, response);
  }

  @ApiOperation({ summary: 'Apply a change whole or not at all' })
  @HttpCode(200)
  @Post('plans/:id/changes')
  apply(@Param('id', ParseUUIDPipe) id: string, @Body() change: ChangeDto) {
    return this.changes.apply(id, change);
  }

  @ApiOperation({ summary: 'Changes after a revision, oldest first, 200 per page' })
  @KnownQuery('after')
  @Get('plans/:id/changes')
  async changesAfter(
    @Param('id', ParseUUIDPipe) id: string,
    @Query('after', new WholeNumber(-1)) after: number,
    @Res() response: Response,
  ) {
    const parts = await this.changes.after(id, after);
    response.type('json');
    await pipeline(Readable.from(parts), response);
  }

  @ApiOperation({ summary: 'The history before a revision, newest first' })
  @KnownQuery('before', 'limit')
  @Get('plans/:id/history')
  history(
    @Param('id', ParseUUIDPipe) id: string,
    @Query('before', new WholeNumber(0, MOST)) before: number,
    @Query('limit', new WholeNumber(1, 50, 200)) limit: number,
  ) {
    return this.changes.before(id, before, limit);
  }

  @ApiOperation({ summary: 'Named versions, newest first' })
  @Get('plans/:id/versions')
  listVersions(@Param('id', ParseUUIDPipe) id: string) {
    return this.versions.list(id);
  }

  @ApiOperation({ summary: 'Name the present revision' })
  @Post('plans/:id/versions')
  nameVersion(@Param('id', ParseUUIDPipe) id: string, @Body() { name, author }: VersionDto) {
    return this.versions.name(id, name, author);
  }

  @ApiOperation({ summary: 'The plan as it was at a revision' })
  @Get('plans/:id/at/:revision')
  async at(
    @Param('id', ParseUUIDPipe) id: string,
    @Param('revision', new WholeNumber(0)) revision: number,
    @Req() request: Request,
    @Res() response: Response,
  ) {
    await this.sendPlan(id, await this.versions.at(id, revision), request, response);
  }

  @ApiOperation({ summary: 'Server-sent events: each new revision of the plan' })
  @Sse('plans/:id/events')
  async events(@Param('id', ParseUUIDPipe) id: string): Promise<Observable<MessageEvent>> {
    // A stream of nothing would be waited on for ever.
    await this.plans.read(id);
    const revisions = this.feed
      .watch(id)
      .pipe(map((revision): MessageEvent => ({ type: 'revision', data: { revision } })));
    // An idle connection is closed by some devices on the way.
    const alive = interval(KEEPALIVE_MS).pipe(map((): MessageEvent => ({ type: 'alive', data: {} })));
    return merge(revisions, alive);
  }

  /** A revision never changes, so a client that has this one needs nothing sent. */
  private async sendPlan(planId: string, stored: StoredPlan, request: Request, response: Response): Promise<void> {
    const tag = this.bodies.tagOf(planId, stored);
    response.setHeader('etag', tag);
    response.setHeader('vary', 'accept-encoding');
    if (request.headers['if-none-match'] === tag) {
      response.status(304).end();
      return;
    }
    const { gzipped } = await this.bodies.of(planId, stored);
    response.type('json');
    if (request.acceptsEncodings('gzip') === 'gzip') {
      response.setHeader('content-encoding', 'gzip');
      response.end(gzipped);
      return;
    }
    await pipeline(Readable.from([gzipped]), createGunzip(), response);
  }

  @ApiOperation({ summary: 'The JSON Schema of plan files' })
  @Get('plan-file.schema.json')
  @Header('content-type', 'application/schema+json')
  schema() {
    return planFileSchema();
  }
}
