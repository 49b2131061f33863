import { allocations } from './allocations.js';
import { attachments } from './attachments.js';
import { backends } from './backends.js';
import { balancers } from './balancers.js';
import { bastions } from './bastions.js';
import { blocks } from './blocks.js';
import { buildTimes } from './buildTimes.js';
import { certificates } from './certificates.js';
import { clusters } from './clusters.js';
import { confirmations } from './confirmations.js';
import { connections } from './connections.js';
import { controllers } from './controllers.js';
import { endpoints } from './endpoints.js';
import { expectations } from './expectations.js';
import { filterRules } from './filterRules.js';
import { filters } from './filters.js';
import { firewallRules } from './firewallRules.js';
import { firewalls } from './firewalls.js';
import { forwardingRules } from './forwardingRules.js';
import { gateways } from './gateways.js';
import { ingressRoutes } from './ingressRoutes.js';
import { inUse } from './inUse.js';
import { recordControllers } from './recordControllers.js';
import { links } from './links.js';
import { listeners } from './listeners.js';
import { members } from './members.js';
import { natDevices } from './natDevices.js';
import { needs } from './needs.js';
import { networkPolicies } from './networkPolicies.js';
import { networks } from './networks.js';
import { nodePools } from './nodePools.js';
import { pools } from './pools.js';
import { prefixSets } from './prefixSets.js';
import { profiles } from './profiles.js';
import { rebuilds } from './rebuilds.js';
import { records } from './records.js';
import { referenceGrants } from './referenceGrants.js';
import { resolvers } from './resolvers.js';
import { routes } from './routes.js';
import { routeTables } from './routeTables.js';
import { reservations } from './reservations.js';
import { serviceExports } from './serviceExports.js';
import { services } from './services.js';
import { shapes } from './shapes.js';
import { sites } from './sites.js';
import { subnets } from './subnets.js';
import { templates } from './templates.js';
import { workloads } from './workloads.js';
import { zones } from './zones.js';

/** Every kind, each after those it may refer to. All that needs a list of kinds is derived from this one. */
export const kindList = [
  profiles,
  shapes,
  sites,
  networks,
  blocks,
  prefixSets,
  links,
  routeTables,
  subnets,
  natDevices,
  firewalls,
  routes,
  attachments,
  bastions,
  pools,
  inUse,
  templates,
  clusters,
  nodePools,
  allocations,
  reservations,
  endpoints,
  balancers,
  filters,
  filterRules,
  firewallRules,
  needs,
  expectations,
  workloads,
  services,
  backends,
  listeners,
  controllers,
  gateways,
  ingressRoutes,
  networkPolicies,
  referenceGrants,
  zones,
  records,
  recordControllers,
  resolvers,
  forwardingRules,
  certificates,
  connections,
  members,
  serviceExports,
  rebuilds,
  buildTimes,
  confirmations,
] as const;
