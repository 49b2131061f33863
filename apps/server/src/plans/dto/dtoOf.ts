import { ApiSchema } from '@nestjs/swagger';
import { byKind } from '@wide-lattice/core/plan';
import type { Kind, PlanKind } from '@wide-lattice/core/plan';
import { nameClass } from '../../nameClass.js';
import { describeFields } from './describeFields.js';
import { EntityId } from './field.js';
import { SettingsDto } from './settingsDto.js';

/** The class that validates and documents each kind, made from its descriptor. */
export const dtoOf: { readonly [K in Kind | 'settings']: new () => object } = {
  ...byKind(dtoClass),
  settings: SettingsDto,
};

function dtoClass({ kind, code, about }: PlanKind): new () => object {
  class Dto {
    declare readonly id: string;
  }
  nameClass(Dto, code, 'Dto');
  ApiSchema({ description: about })(Dto);
  EntityId()(Dto.prototype, 'id');
  describeFields(kind, Dto);
  return Dto;
}
