import type { NodePool } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** Nodes of one cluster that are alike, or pods without nodes. */
export class NodePoolDto implements NodePool {
  @EntityId() id: string;
  @Field('nodePools', 'clusterId') clusterId: string;
  @Field('nodePools', 'name') name: string;
  @Field('nodePools', 'kind') kind: NodePool['kind'];
  @Field('nodePools', 'shapeId') shapeId: string | null;
  @Field('nodePools', 'zones') zones: readonly string[];
  @Field('nodePools', 'nodesNow') nodesNow: number;
  @Field('nodePools', 'nodesMin') nodesMin: number;
  @Field('nodePools', 'nodesMax') nodesMax: number;
  @Field('nodePools', 'nodesHorizon') nodesHorizon: number;
  @Field('nodePools', 'surgePercent') surgePercent: number;
  @Field('nodePools', 'podsPerNode') podsPerNode: number | null;
  @Field('nodePools', 'isPublic') isPublic: boolean;
  @Field('nodePools', 'labels') labels: readonly string[];
  @Field('nodePools', 'taints') taints: readonly string[];
  @Field('nodePools', 'attachmentSubnetIds') attachmentSubnetIds: readonly string[];
}
