import type { Site } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A place where clusters stand. */
export class SiteDto implements Site {
  @EntityId() id: string;
  @Field('sites', 'name') name: string;
  @Field('sites', 'kind') kind: Site['kind'];
  @Field('sites', 'profileId') profileId: string;
  @Field('sites', 'zones') zones: string[];
  @Field('sites', 'latitude') latitude: number | null;
  @Field('sites', 'longitude') longitude: number | null;
}
