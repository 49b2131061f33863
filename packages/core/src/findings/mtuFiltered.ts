import { forwarding as compiled, letsMessagesIn, nameFilters } from '../forwarding/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { byId } from '../plan/index.js';
import type { Filter, Link, Network } from '../plan/index.js';
import { bySubject, ownersIn, together, unless } from '../section/index.js';
import { largestPacket } from '../wire/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/**
 * A way that gets narrower where a filter without state drops the messages that say so: large packets then vanish and connections
 * hang (RFC 2923 2.1, RFC 4821 1). A stateful filter lets such messages of its own connections in.
 */
export const mtuFiltered = bySubject({
  name: 'filtered messages',
  reads: ['filters', 'clusters', 'networks'],
  needs: { forwarding: compiled },
  subjects: ({ filters }) => filters,
  dependsOn: (filter, { clusters, networks }, { forwarding }) => {
    if (filter.isStateful) return [];
    const own = filter.clusterIds.flatMap((id) => byId(clusters, id) ?? []);
    return [
      forwarding.lists.compiled(filter),
      ...own,
      ...own.flatMap(({ networkId }) => [byId(networks, networkId), ...forwarding.links.of(networkId)]),
    ];
  },
  near: (was, is) => {
    const [before, after] = [was.needed.forwarding, is.needed.forwarding];
    const { filterRules } = after.parts;
    const owners = ownersIn(was.parts, is.parts, ['clusters'], 'id');
    return together(
      unless(
        [was.parts.networks, is.parts.networks],
        ...(['links', 'attachments', 'prefixSets'] as const).map((part): [unknown, unknown] => [
          before.parts[part],
          after.parts[part],
        ]),
        [nameFilters(filterRules), false],
      ),
      ownersIn(was.parts, is.parts, ['filters'], 'id'),
      ownersIn(before.parts, after.parts, ['filterRules'], 'filterId'),
      owners && new Set([...owners].flatMap((id) => after.lists.at(id)).map(({ filter }) => filter.id)),
    );
  },
  look: (filter, { clusters, networks }, { forwarding }): readonly Finding[] => {
    if (filter.isStateful || letsMessagesIn(forwarding.lists.compiled(filter))) return [];
    return filter.clusterIds.flatMap((id): Finding[] => {
      const cluster = byId(clusters, id);
      const network = byId(networks, cluster?.networkId ?? '');
      const narrow = network === undefined ? undefined : narrowLinkOf(network, forwarding);
      if (cluster === undefined || network === undefined || narrow === undefined) return [];
      return [filtered(filter, narrow, cluster.name, network.mtu)];
    });
  },
});

interface Narrow {
  readonly link: Link;
  /** What passes whole, in bytes. */
  readonly room: number;
}

/** A link that carries less than a network on it sends. */
function narrowLinkOf({ id, mtu }: Network, forwarding: Forwarding): Narrow | undefined {
  return forwarding.links
    .of(id)
    .map((link) => ({
      link,
      room: largestPacket(link.mtu, link.encapsulation === 'none' ? [] : [link.encapsulation]).value,
    }))
    .find(({ room }) => room < mtu);
}

function filtered({ id, name }: Filter, { link, room }: Narrow, cluster: string, mtu: number): Finding {
  const subjects = [
    { kind: 'filters', id },
    { kind: 'links', id: link.id },
  ] as const;
  return finding('mtu.filtered', 'error', subjects, { cluster, filter: name, link: link.name, room, mtu });
}
