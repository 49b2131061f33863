import type { Network } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A network: one forwarding place. */
export class NetworkDto implements Network {
  @EntityId() id: string;
  @Field('networks', 'name') name: string;
  @Field('networks', 'mtu') mtu: number;
  @Field('networks', 'note') note: string;
}
