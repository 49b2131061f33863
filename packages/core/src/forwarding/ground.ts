import { overlaps } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, grouped, rangeOf } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import { isSameList } from '../section/index.js';
import type { Forwarding } from './forwarding.js';
import type { NetworkSpace } from './networkSpace.js';

/** What decides about packets between two machines of one network, by identity. */
export interface Ground {
  /** The same object while such packets go the same way. */
  readonly mark: object;
  readonly of: readonly unknown[];
  /** Its tables and links as they were when it was seen what they lead elsewhere. */
  readonly routing: readonly unknown[];
  /** Destinations of its own that some route leads out of the network, or to a device. */
  readonly astray: readonly Prefix[];
}

/** What routes in a network: its space, and its tables and links as they are compiled. */
export interface Routing {
  readonly space: NetworkSpace;
  readonly compiled: readonly unknown[];
  readonly astray: () => readonly Prefix[];
}

const devices = ['bastions', 'endpoints', 'balancers'] as const;

/**
 * What decides about packets within a network: its space, who holds single addresses of its subnets, and their filters.
 * Routes have no part in it but where they lead its own destinations astray: what it holds is closer than any other one.
 */
export function groundOf(forwarding: Forwarding, networkId: string, last: Ground | undefined): Ground {
  const { parts } = forwarding;
  const { space, compiled, astray } = forwarding.routingOf(networkId);
  const inNetwork = ({ subnetId }: { readonly subnetId: string }) =>
    byId(parts.subnets, subnetId)?.networkId === networkId;
  const of = [
    byId(parts.networks, networkId),
    space,
    parts.sites,
    parts.profiles,
    ...(grouped(parts.routeTables, 'networkId').get(networkId) ?? []),
    ...devices.flatMap((kind): unknown[] => parts[kind].filter(inNetwork)),
    ...parts.runs.filter(({ clusterId }) => byId(parts.clusters, clusterId)?.networkId === networkId),
    ...parts.inUse.filter((each) => each.networkId === null),
    ...forwarding.filtersAt(...space.parts.subnets.map(({ id }) => id), ...space.sharing),
  ];
  const isSame = last !== undefined && isSameList(last.of, of);
  return {
    mark: isSame ? last.mark : {},
    of,
    routing: compiled,
    astray: isSame && isSameList(last.routing, compiled) ? last.astray : astray(),
  };
}

/** What decides about packets among a cluster’s own machines: its network, or the whole state where they are led astray. */
export function groundUnder(forwarding: Forwarding, { id, networkId }: Cluster): object {
  const { mark, astray } = forwarding.groundOf(networkId);
  const isAstray =
    astray.length > 0 &&
    forwarding.rangesOf(id).some((range) => astray.some((prefix) => overlaps(prefix, rangeOf(range))));
  return isAstray ? forwarding : mark;
}
