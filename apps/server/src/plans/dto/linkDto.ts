import type { Link } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A peering or a transit hub. */
export class LinkDto implements Link {
  @EntityId() id: string;
  @Field('links', 'name') name: string;
  @Field('links', 'kind') kind: Link['kind'];
  @Field('links', 'networkIds') networkIds: string[];
  @Field('links', 'mtu') mtu: number;
  @Field('links', 'encapsulation') encapsulation: Link['encapsulation'];
  @Field('links', 'isPlanned') isPlanned: boolean;
}
