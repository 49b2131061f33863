import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  NotFoundException,
  Param,
  ParseUUIDPipe,
  Post,
  Query,
  Res,
} from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsIP,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import type { Response } from 'express';
import { LIMITS } from '@wide-lattice/standins';
import { KnownQuery } from '../http/known.js';
import { PlansService } from '../plans/plansService.js';
import { StandInsService } from './standInsService.js';

/** Which stand-ins to start. */
class StandInWishDto {
  @ApiProperty({
    description: '"internet", ids of networks, clusters and workloads: from where names and requests are asked.',
  })
  @IsArray()
  @ArrayMaxSize(LIMITS.ports)
  @IsString({ each: true })
  @MaxLength(36, { each: true })
  vantages: string[];

  @ApiProperty({ description: 'Ids of clusters whose API answers.' })
  @IsArray()
  @ArrayMaxSize(LIMITS.ports)
  @IsUUID(undefined, { each: true })
  clusters: string[];

  @ApiPropertyOptional({
    description: 'The first of the ports, which must all be free; else free ones are looked for.',
  })
  @IsOptional()
  @IsInt()
  @Min(1024)
  @Max(65_535)
  firstPort?: number;

  @ApiPropertyOptional({ description: 'Minutes until they end by themselves.' })
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(LIMITS.minutes)
  minutes?: number;

  @ApiPropertyOptional({ description: 'Seconds until health checks find that a member stopped, or answers again.' })
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(LIMITS.healthSeconds)
  healthSeconds?: number;
}

/** How many pods of a workload do not answer. */
class StoppedPodsDto {
  @ApiProperty()
  @IsUUID()
  workloadId: string;

  @ApiProperty()
  @IsInt()
  @Min(0)
  @Max(100_000)
  count: number;
}

/** Whether the member at a fixed address answers. */
class StoppedAddressDto {
  @ApiProperty()
  @IsIP()
  address: string;

  @ApiProperty()
  @IsBoolean()
  isStopped: boolean;
}

/** What answers at ports of loopback as the plan would. */
@ApiTags('stand-ins')
@Controller('api/plans/:id/stand-ins')
export class StandInsController {
  constructor(
    private readonly standIns: StandInsService,
    private readonly plans: PlansService,
  ) {}

  @ApiOperation({ summary: 'What runs, where it answers, and what was asked last' })
  @Get()
  async report(@Param('id', ParseUUIDPipe) id: string) {
    await this.plans.read(id);
    return { running: (await this.standIns.report(id)) ?? null };
  }

  @ApiOperation({ summary: 'Start name servers, load balancers and cluster APIs at ports of loopback' })
  @Post()
  start(@Param('id', ParseUUIDPipe) id: string, @Body() wish: StandInWishDto) {
    return this.standIns.start(id, wish);
  }

  @ApiOperation({ summary: 'Stop them all' })
  @HttpCode(204)
  @Delete()
  stop(@Param('id', ParseUUIDPipe) id: string) {
    return this.standIns.stop(id);
  }

  @ApiOperation({ summary: 'Stop pods of a workload, or let them answer again' })
  @HttpCode(204)
  @Post('pods')
  stopPods(@Param('id', ParseUUIDPipe) id: string, @Body() { workloadId, count }: StoppedPodsDto) {
    return this.standIns.ask(id, 'stopPods', { workloadId, count });
  }

  @ApiOperation({ summary: 'Stop the member at a fixed address, or let it answer again' })
  @HttpCode(204)
  @Post('addresses')
  stopAddress(@Param('id', ParseUUIDPipe) id: string, @Body() { address, isStopped }: StoppedAddressDto) {
    return this.standIns.ask(id, 'stopAddress', { address, isStopped });
  }

  @ApiOperation({ summary: 'The certificate of the authority of this start, for clients to trust' })
  @Header('content-type', 'application/x-pem-file')
  @Header('content-disposition', 'attachment; filename="stand-ins.pem"')
  @Get('authority.pem')
  authority(@Param('id', ParseUUIDPipe) id: string) {
    return this.standIns.ask(id, 'authority', undefined);
  }

  @ApiOperation({ summary: 'A kubeconfig for one cluster, reading everything or one namespace' })
  @KnownQuery('namespace')
  @Get('kubeconfig/:cluster')
  async kubeconfig(
    @Param('id', ParseUUIDPipe) id: string,
    @Param('cluster', ParseUUIDPipe) clusterId: string,
    @Query('namespace') namespace: string | undefined,
    @Res() response: Response,
  ) {
    const text = await this.standIns.ask(id, 'kubeconfig', { clusterId, namespace: namespace ?? '' });
    if (text === undefined)
      throw new NotFoundException('The API of this cluster was not started. Start the stand-ins again with it.');
    response.setHeader('content-disposition', 'attachment; filename="kubeconfig.yaml"');
    response.type('application/yaml').send(text);
  }
}
