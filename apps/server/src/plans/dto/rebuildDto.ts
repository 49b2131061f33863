import type { Rebuild } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A decision of a built cluster that is taken anew, with its reason. */
export class RebuildDto implements Rebuild {
  @EntityId() id: string;
  @Field('rebuilds', 'clusterId') clusterId: string;
  @Field('rebuilds', 'what') what: string;
  @Field('rebuilds', 'reason') reason: string;
  @Field('rebuilds', 'decidedOn') decidedOn: string;
  @Field('rebuilds', 'decidedBy') decidedBy: string;
}
