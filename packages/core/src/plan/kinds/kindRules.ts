import type { EntityOf, Kind } from '../entities.js';
import { allocationsRules } from './allocationsRules.js';
import { attachmentsRules } from './attachmentsRules.js';
import { backendsRules } from './backendsRules.js';
import { balancersRules } from './balancersRules.js';
import { bastionsRules } from './bastionsRules.js';
import { blocksRules } from './blocksRules.js';
import { clustersRules } from './clustersRules.js';
import { confirmationsRules } from './confirmationsRules.js';
import { connectionsRules } from './connectionsRules.js';
import { controllersRules } from './controllersRules.js';
import { endpointsRules } from './endpointsRules.js';
import { expectationsRules } from './expectationsRules.js';
import { filterRulesRules } from './filterRulesRules.js';
import { filtersRules } from './filtersRules.js';
import { firewallRulesRules } from './firewallRulesRules.js';
import { firewallsRules } from './firewallsRules.js';
import { gatewaysRules } from './gatewaysRules.js';
import { ingressRoutesRules } from './ingressRoutesRules.js';
import { inUseRules } from './inUseRules.js';
import { linksRules } from './linksRules.js';
import { listenersRules } from './listenersRules.js';
import { membersRules } from './membersRules.js';
import { natDevicesRules } from './natDevicesRules.js';
import { needsRules } from './needsRules.js';
import { networkPoliciesRules } from './networkPoliciesRules.js';
import { networksRules } from './networksRules.js';
import { nodePoolsRules } from './nodePoolsRules.js';
import { zonesRules } from './zonesRules.js';
import { recordsRules } from './recordsRules.js';
import { recordControllersRules } from './recordControllersRules.js';
import { referenceGrantsRules } from './referenceGrantsRules.js';
import { resolversRules } from './resolversRules.js';
import { forwardingRulesRules } from './forwardingRulesRules.js';
import { buildTimesRules } from './buildTimesRules.js';
import { certificatesRules } from './certificatesRules.js';
import { poolsRules } from './poolsRules.js';
import { prefixSetsRules } from './prefixSetsRules.js';
import { profilesRules } from './profilesRules.js';
import { rebuildsRules } from './rebuildsRules.js';
import { routesRules } from './routesRules.js';
import { routeTablesRules } from './routeTablesRules.js';
import type { KindRules } from './rules.js';
import { reservationsRules } from './reservationsRules.js';
import { serviceExportsRules } from './serviceExportsRules.js';
import { servicesRules } from './servicesRules.js';
import { shapesRules } from './shapesRules.js';
import { sitesRules } from './sitesRules.js';
import { subnetsRules } from './subnetsRules.js';
import { templatesRules } from './templatesRules.js';
import { workloadsRules } from './workloadsRules.js';

const all: { readonly [K in Kind]: KindRules<EntityOf[K]> } = {
  profiles: profilesRules,
  shapes: shapesRules,
  sites: sitesRules,
  networks: networksRules,
  blocks: blocksRules,
  prefixSets: prefixSetsRules,
  links: linksRules,
  routeTables: routeTablesRules,
  subnets: subnetsRules,
  natDevices: natDevicesRules,
  firewalls: firewallsRules,
  routes: routesRules,
  attachments: attachmentsRules,
  bastions: bastionsRules,
  pools: poolsRules,
  inUse: inUseRules,
  templates: templatesRules,
  clusters: clustersRules,
  nodePools: nodePoolsRules,
  allocations: allocationsRules,
  reservations: reservationsRules,
  endpoints: endpointsRules,
  balancers: balancersRules,
  filters: filtersRules,
  filterRules: filterRulesRules,
  firewallRules: firewallRulesRules,
  needs: needsRules,
  expectations: expectationsRules,
  workloads: workloadsRules,
  services: servicesRules,
  backends: backendsRules,
  listeners: listenersRules,
  controllers: controllersRules,
  gateways: gatewaysRules,
  ingressRoutes: ingressRoutesRules,
  networkPolicies: networkPoliciesRules,
  referenceGrants: referenceGrantsRules,
  zones: zonesRules,
  records: recordsRules,
  recordControllers: recordControllersRules,
  resolvers: resolversRules,
  forwardingRules: forwardingRulesRules,
  certificates: certificatesRules,
  connections: connectionsRules,
  members: membersRules,
  serviceExports: serviceExportsRules,
  rebuilds: rebuildsRules,
  buildTimes: buildTimesRules,
  confirmations: confirmationsRules,
};

/** The rules of a kind, for any of its entities. */
export function kindRules(kind: Kind): KindRules<EntityOf[Kind]> {
  // The rules of a kind are only ever asked about entities of that kind.
  return all[kind] as KindRules<never> as KindRules<EntityOf[Kind]>;
}
