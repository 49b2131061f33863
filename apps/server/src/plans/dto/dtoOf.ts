import type { Kind } from '@wide-lattice/core';
import { AllocationDto } from './allocationDto.js';
import { ClusterDto } from './clusterDto.js';
import { InUseRangeDto } from './inUseRangeDto.js';
import { LinkDto } from './linkDto.js';
import { NetworkDto } from './networkDto.js';
import { PoolDto } from './poolDto.js';
import { ProfileDto } from './profileDto.js';
import { SiteDto } from './siteDto.js';
import { SettingsDto } from './settingsDto.js';

/** The class that validates each kind. */
export const dtoOf: { readonly [K in Kind | 'settings']: new () => object } = {
  profiles: ProfileDto,
  sites: SiteDto,
  networks: NetworkDto,
  links: LinkDto,
  pools: PoolDto,
  inUse: InUseRangeDto,
  clusters: ClusterDto,
  allocations: AllocationDto,
  settings: SettingsDto,
};
