import type { Cluster } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** One container cluster and its demand. */
export class ClusterDto implements Cluster {
  @EntityId() id: string;
  @Field('clusters', 'name') name: string;
  @Field('clusters', 'siteId') siteId: string;
  @Field('clusters', 'networkId') networkId: string;
  @Field('clusters', 'podMode') podMode: Cluster['podMode'];
  @Field('clusters', 'encapsulation') encapsulation: Cluster['encapsulation'];
  @Field('clusters', 'shapeId') shapeId: string | null;
  @Field('clusters', 'podNeeds') podNeeds: Cluster['podNeeds'];
  @Field('clusters', 'mtuFloor') mtuFloor: number;
  @Field('clusters', 'family') family: Cluster['family'];
  @Field('clusters', 'nodesNow') nodesNow: number;
  @Field('clusters', 'nodesHorizon') nodesHorizon: number;
  @Field('clusters', 'podsPerNode') podsPerNode: number;
  @Field('clusters', 'services') services: number;
  @Field('clusters', 'surgePercent') surgePercent: number;
  @Field('clusters', 'entryAddresses') entryAddresses: number;
  @Field('clusters', 'hasEntrySubnets') hasEntrySubnets: boolean;
  @Field('clusters', 'perNodeLength') perNodeLength: number | null;
  @Field('clusters', 'isBuilt') isBuilt: boolean;
}
