import { letsMessagesIn } from '../forwarding/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { largestPacket } from '../wire/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/**
 * A way that gets narrower where a filter without state drops the messages that say so: large packets then vanish and connections
 * hang (RFC 2923 2.1, RFC 4821 1). A stateful filter lets such messages of its own connections in.
 */
export function mtuFiltered(
  { filters, clusters, networks }: Pick<Plan, 'filters' | 'clusters' | 'networks'>,
  { forwarding }: { readonly forwarding: Forwarding },
): readonly Finding[] {
  return filters.flatMap((filter) => {
    if (letsMessagesIn(forwarding.compiled(filter))) return [];
    return filter.clusterIds.flatMap((id): Finding[] => {
      const cluster = byId(clusters, id);
      const network = byId(networks, cluster?.networkId ?? '');
      if (cluster === undefined || network === undefined) return [];
      const narrow = forwarding
        .linksOf(network.id)
        .map((link) => ({
          link,
          room: largestPacket(link.mtu, link.encapsulation === 'none' ? [] : [link.encapsulation]).value,
        }))
        .find(({ room }) => room < network.mtu);
      if (narrow === undefined) return [];
      return [
        finding(
          'mtu.filtered',
          'error',
          [
            { kind: 'filters', id: filter.id },
            { kind: 'links', id: narrow.link.id },
          ],
          { cluster: cluster.name, filter: filter.name, link: narrow.link.name, room: narrow.room, mtu: network.mtu },
        ),
      ];
    });
  });
}
