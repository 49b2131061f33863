import type { Entity, EntityOf, Kind } from '@wide-lattice/core';
import type { EntityTarget } from 'typeorm';
import {
  AllocationRow,
  AttachmentRow,
  BlockRow,
  ClusterRow,
  InUseRow,
  LinkRow,
  NetworkRow,
  NodePoolRow,
  PoolRow,
  ProfileRow,
  rangeColumns,
  RebuildRow,
  RunRow,
  ShapeRow,
  SiteRow,
  SubnetRow,
  TemplateRow,
} from '../db/rows/index.js';

/** The table of each kind. */
export const rowClassOf: { readonly [K in Kind]: EntityTarget<{ planId: string; id: string }> } = {
  profiles: ProfileRow,
  shapes: ShapeRow,
  sites: SiteRow,
  networks: NetworkRow,
  blocks: BlockRow,
  subnets: SubnetRow,
  links: LinkRow,
  attachments: AttachmentRow,
  pools: PoolRow,
  inUse: InUseRow,
  templates: TemplateRow,
  clusters: ClusterRow,
  nodePools: NodePoolRow,
  allocations: AllocationRow,
  runs: RunRow,
  rebuilds: RebuildRow,
};

/** An entity as a row of its kind's table. A link's networks are rows of their own. */
export function toRow(planId: string, entity: Entity): Record<string, unknown> & { planId: string; id: string } {
  const range = 'prefix' in entity ? rangeColumns(entity.prefix) : {};
  const { networkIds: _members, ...own } = { networkIds: undefined, ...entity };
  return { planId, ...own, ...range };
}

const rangeOnly = new Set(['planId', 'family', 'firstAddress', 'lastAddress', 'prefixLength']);
// A cluster's family is a field of its own, not a range column.
const planOnly = new Set(['planId']);

/** A row as the entity it was made from; a link takes its networks in their order. */
export function toEntity<K extends Kind>(kind: K, row: object, networkIds?: readonly string[]): EntityOf[K] {
  const left = 'prefix' in row ? rangeOnly : planOnly;
  const fields = Object.entries(row).filter(([field]) => !left.has(field));
  // The row was written by toRow from an entity of this kind.
  return Object.fromEntries(
    kind === 'links' ? [...fields, ['networkIds', networkIds ?? []]] : fields,
  ) as unknown as EntityOf[K];
}
