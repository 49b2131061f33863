import type { Kind } from '@wide-lattice/core';
import { AllocationDto } from './allocationDto.js';
import { AttachmentDto } from './attachmentDto.js';
import { BlockDto } from './blockDto.js';
import { ClusterDto } from './clusterDto.js';
import { InUseRangeDto } from './inUseRangeDto.js';
import { LinkDto } from './linkDto.js';
import { NetworkDto } from './networkDto.js';
import { NodePoolDto } from './nodePoolDto.js';
import { PoolDto } from './poolDto.js';
import { ProfileDto } from './profileDto.js';
import { RebuildDto } from './rebuildDto.js';
import { RunDto } from './runDto.js';
import { ShapeDto } from './shapeDto.js';
import { SiteDto } from './siteDto.js';
import { SettingsDto } from './settingsDto.js';
import { SubnetDto } from './subnetDto.js';
import { TemplateDto } from './templateDto.js';

/** The class that validates each kind. */
export const dtoOf: { readonly [K in Kind | 'settings']: new () => object } = {
  profiles: ProfileDto,
  shapes: ShapeDto,
  sites: SiteDto,
  networks: NetworkDto,
  blocks: BlockDto,
  subnets: SubnetDto,
  links: LinkDto,
  attachments: AttachmentDto,
  pools: PoolDto,
  inUse: InUseRangeDto,
  templates: TemplateDto,
  clusters: ClusterDto,
  nodePools: NodePoolDto,
  allocations: AllocationDto,
  runs: RunDto,
  rebuilds: RebuildDto,
  settings: SettingsDto,
};
