import { formatPrefix } from '../address/index.js';
import { formatHop } from '../plan/index.js';
import type { Loss, RouteRow } from '../road/index.js';
import { formatNumber } from '../working/index.js';
import { deviceName, nameIn } from './names.js';
import type { Names } from './names.js';

/** Where a row of a route table comes from. */
export function formatRowSource(names: Names, { from }: RouteRow): string {
  switch (from.is) {
    case 'held':
      return from.name;
    case 'per node':
      return `a prefix per node of ${nameIn(names.clusters, from.clusterId)}`;
    case 'own advertisement':
      return 'advertised by the network itself';
    case 'entered':
      return from.intent === '' ? 'entered' : from.intent;
    case 'learned':
      return `learned from ${nameIn(names.networks, from.networkId)} over ${nameIn(names.links, from.linkId)}`;
  }
}

/** Why a row lost to the one that decides. */
export function formatLoss(winner: RouteRow | undefined, loser: RouteRow, why: Loss): string {
  switch (why) {
    case 'shorter':
      return `/${winner?.prefix.length ?? 0} is longer than /${loser.prefix.length}`;
    case 'origin':
      return `${winner?.origin ?? ''} before ${loser.origin}`;
    case 'preference':
      return `a local preference of ${formatNumber(winner?.preference ?? 0)} before ${formatNumber(loser.preference)}`;
    case 'rank':
      return 'the provider prefers the other link';
    case 'same hop':
      return 'the same next hop';
    case 'equal':
      return 'as good: packets take either';
    case 'tie':
      return 'as good as the other: ambiguous';
  }
}

/** The next hop of a row. */
export function formatNextHop(names: Names, { hop }: RouteRow): string {
  switch (hop.kind) {
    case 'local':
      return 'here';
    case 'pods':
      return 'the node of each pod';
    case 'link': {
      const to = hop.toNetworkId === undefined ? '' : ` to ${nameIn(names.networks, hop.toNetworkId)}`;
      return `${hop.link.name}${to}`;
    }
    case 'nat':
    case 'firewall':
      return deviceName(names, hop.id);
    case 'internet':
      return 'the internet';
    case 'drop':
      return 'dropped';
    case 'gone':
      return formatHop(names, hop.route);
  }
}

/** A row with where it comes from. */
export function formatRow(names: Names, row: RouteRow): string {
  return `${formatPrefix(row.prefix)}, ${formatRowSource(names, row)}`;
}
