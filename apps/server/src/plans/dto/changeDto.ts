import { ApiProperty, ApiPropertyOptional, getSchemaPath } from '@nestjs/swagger';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  Min,
} from 'class-validator';
import { kinds, MAX_OPERATIONS } from '@wide-lattice/core/plan';
import type { Kind } from '@wide-lattice/core/plan';
import { MOST } from '../../http/known.js';
import { dtoOf } from './dtoOf.js';
import { IsLine } from './line.js';

const entitySchemas = Object.values(dtoOf).map((dto) => ({ $ref: getSchemaPath(dto) }));

/** One step of a change. */
export class OperationDto {
  @ApiProperty({ enum: ['add', 'set', 'remove'] })
  @IsIn(['add', 'set', 'remove'])
  op: 'add' | 'set' | 'remove';

  @ApiProperty({ enum: [...kinds, 'settings'] })
  @IsIn([...kinds, 'settings'])
  kind: Kind | 'settings';

  @ApiPropertyOptional({ description: 'The entity to set or remove.' })
  @IsOptional()
  @IsString()
  id?: string;

  @ApiPropertyOptional({ description: 'The whole entity to add.', oneOf: entitySchemas })
  @IsOptional()
  @IsObject()
  entity?: Record<string, unknown>;

  @ApiPropertyOptional({ description: 'The fields to set.', type: 'object', additionalProperties: true })
  @IsOptional()
  @IsObject()
  fields?: Record<string, unknown>;
}

/** A change: applied whole or not at all. */
export class ChangeDto {
  @ApiProperty({ description: 'The revision the author had seen.' })
  @IsInt()
  @Min(0)
  @Max(MOST)
  baseRevision: number;

  @ApiProperty({ description: 'What the change does, for the history.' })
  @IsLine(120)
  label: string;

  @ApiProperty({ description: 'Who makes it.' })
  @IsLine(80)
  author: string;

  @ApiProperty({ description: 'The browser or program it comes from.', format: 'uuid' })
  @IsUUID()
  clientId: string;

  @ApiPropertyOptional({ description: 'The revision that this change takes back.' })
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(MOST)
  reverts?: number;

  @ApiPropertyOptional({
    description:
      'Names the change, so that it is stored once however often it is sent: send it again with the same id when no answer came.',
    format: 'uuid',
  })
  @IsOptional()
  @IsUUID()
  changeId?: string;

  // Each is checked by its class in its turn, others being answered between them.
  @ApiProperty({ type: [OperationDto] })
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_OPERATIONS)
  operations: unknown[];
}
