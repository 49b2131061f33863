import { allocations } from './allocations.js';
import { attachments } from './attachments.js';
import { blocks } from './blocks.js';
import { clusters } from './clusters.js';
import { inUse } from './inUse.js';
import { links } from './links.js';
import { networks } from './networks.js';
import { nodePools } from './nodePools.js';
import { pools } from './pools.js';
import { profiles } from './profiles.js';
import { rebuilds } from './rebuilds.js';
import { runs } from './runs.js';
import { shapes } from './shapes.js';
import { sites } from './sites.js';
import { subnets } from './subnets.js';
import { templates } from './templates.js';

/** Every kind, each after those it may refer to. All that needs a list of kinds is derived from this one. */
export const kindList = [
  profiles,
  shapes,
  sites,
  networks,
  blocks,
  subnets,
  links,
  attachments,
  pools,
  inUse,
  templates,
  clusters,
  nodePools,
  allocations,
  runs,
  rebuilds,
] as const;
