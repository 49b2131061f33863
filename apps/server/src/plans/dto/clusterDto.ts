import type { Cluster } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** One container cluster and its demand. */
export class ClusterDto implements Cluster {
  @EntityId() id: string;
  @Field('clusters', 'name') name: string;
  @Field('clusters', 'templateId') templateId: string | null;
  @Field('clusters', 'siteId') siteId: string;
  @Field('clusters', 'networkId') networkId: string;
  @Field('clusters', 'podMode') podMode: Cluster['podMode'];
  @Field('clusters', 'encapsulation') encapsulation: Cluster['encapsulation'];
  @Field('clusters', 'encryption') encryption: Cluster['encryption'];
  @Field('clusters', 'shapeId') shapeId: string | null;
  @Field('clusters', 'podNeeds') podNeeds: Cluster['podNeeds'];
  @Field('clusters', 'podWishes') podWishes: Cluster['podWishes'];
  @Field('clusters', 'mtuFloor') mtuFloor: number;
  @Field('clusters', 'family') family: Cluster['family'];
  @Field('clusters', 'controlPlane') controlPlane: Cluster['controlPlane'];
  @Field('clusters', 'controlNodes') controlNodes: number;
  @Field('clusters', 'controlShapeId') controlShapeId: string | null;
  @Field('clusters', 'apiEndpoint') apiEndpoint: Cluster['apiEndpoint'];
  @Field('clusters', 'zoneCount') zoneCount: number | null;
  @Field('clusters', 'nodesNow') nodesNow: number;
  @Field('clusters', 'nodesHorizon') nodesHorizon: number;
  @Field('clusters', 'growth') growth: Cluster['growth'];
  @Field('clusters', 'growthPerYear') growthPerYear: number | null;
  @Field('clusters', 'growthSteps') growthSteps: readonly string[];
  @Field('clusters', 'podsPerNode') podsPerNode: number;
  @Field('clusters', 'services') services: number;
  @Field('clusters', 'nodePortServices') nodePortServices: number;
  @Field('clusters', 'balancerServices') balancerServices: number;
  @Field('clusters', 'headlessServices') headlessServices: number;
  @Field('clusters', 'hasPublicBalancers') hasPublicBalancers: boolean;
  @Field('clusters', 'natAddresses') natAddresses: number;
  @Field('clusters', 'snatPorts') snatPorts: number;
  @Field('clusters', 'zoneGb') zoneGb: number;
  @Field('clusters', 'outGb') outGb: number;
  @Field('clusters', 'surgePercent') surgePercent: number;
  @Field('clusters', 'entryAddresses') entryAddresses: number;
  @Field('clusters', 'hasEntrySubnets') hasEntrySubnets: boolean;
  @Field('clusters', 'perNodeLength') perNodeLength: number | null;
  @Field('clusters', 'isBuilt') isBuilt: boolean;
}
