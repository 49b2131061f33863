import { byId, zonesOfCluster } from '../plan/index.js';
import type { Subnet } from '../plan/index.js';
import type { Failure } from '../road/index.js';
import type { ForwardingState } from './forwardingState.js';
import { isThere } from './host.js';
import type { Host } from './machine.js';

/** Zones of a site, one of which it stands in or all of which it spans, as far as the plan says. */
interface Ground {
  readonly siteId: string;
  readonly zones: readonly string[];
  /** Whether it spans them, and goes on while one is left. */
  readonly isSpread: boolean;
}

/**
 * Why a packet finds nobody at a place while zones are lost: what stands there is lost, or may be, since the plan does not
 * say in which of several zones it is. Undefined where it goes on.
 */
export function goneAt(
  forwarding: ForwardingState,
  { siteId, zones, isSpread }: Ground,
  at: string,
  networkId: string,
): (Failure & { readonly code: 'zone-lost' | 'zone-unsaid' }) | undefined {
  const left = zones.filter((zone) => isThere(forwarding, siteId, zone));
  if (left.length === zones.length) return undefined;
  if (left.length === 0) return { code: 'zone-lost', networkId, at, zone: zones.length === 1 ? (zones[0] ?? '') : '' };
  return isSpread ? undefined : { code: 'zone-unsaid', networkId, at };
}

/**
 * Where what is in a subnet stands. In a subnet without a zone it is in one that the plan does not say; the devices of a
 * provider whose subnets span a region span it, too (common practice).
 */
export function groundOf({ parts }: ForwardingState, { siteId, zone }: Subnet): Ground {
  if (zone !== '') return { siteId, zones: [zone], isSpread: false };
  const site = byId(parts.sites, siteId);
  const isSpread = site?.kind === 'region' && byId(parts.profiles, site.profileId)?.subnetScope === 'region';
  return { siteId, zones: site?.zones ?? [], isSpread };
}

/** Whether all nodes of a pool, or of a cluster where no pool is named, are in zones that are lost. */
export function areNodesGone(forwarding: ForwardingState, clusterId: string, nodePoolId: string | null): boolean {
  const { parts, faults } = forwarding;
  if (faults.zones.size === 0) return false;
  const cluster = byId(parts.clusters, clusterId);
  const pool = byId(parts.nodePools, nodePoolId ?? '')?.zones ?? [];
  const zones = pool.length > 0 ? pool : zonesOfCluster(cluster, byId(parts.sites, cluster?.siteId ?? ''));
  return zones.length > 0 && zones.every((zone) => !isThere(forwarding, cluster?.siteId ?? '', zone));
}

/** Where a machine stands; undefined for what is on the internet, or of which the plan knows no site. */
export function groundOfHost(
  forwarding: ForwardingState,
  { cluster, zone, isAnyZone = false, zones, subnet }: Host,
): Ground | undefined {
  if (cluster !== undefined) {
    const { siteId } = cluster;
    if (zone !== '' && !isAnyZone) return { siteId, zones: [zone], isSpread: false };
    return { siteId, zones: zonesOfCluster(cluster, byId(forwarding.parts.sites, siteId)), isSpread: false };
  }
  if (subnet === undefined) return undefined;
  if (zones === undefined || zones.length === 0) return groundOf(forwarding, subnet);
  return { siteId: subnet.siteId, zones, isSpread: true };
}
