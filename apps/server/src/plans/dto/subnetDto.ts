import type { Subnet } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A part of a network set aside for one purpose. */
export class SubnetDto implements Subnet {
  @EntityId() id: string;
  @Field('subnets', 'name') name: string;
  @Field('subnets', 'networkId') networkId: string;
  @Field('subnets', 'siteId') siteId: string;
  @Field('subnets', 'zone') zone: string;
  @Field('subnets', 'purpose') purpose: Subnet['purpose'];
  @Field('subnets', 'prefix') prefix: string;
  @Field('subnets', 'delegatedTo') delegatedTo: string;
  @Field('subnets', 'isPublic') isPublic: boolean;
  @Field('subnets', 'wayOut') wayOut: Subnet['wayOut'];
  @Field('subnets', 'routeTable') routeTable: string;
}
