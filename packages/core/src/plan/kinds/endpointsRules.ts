import { byId } from '../collection.js';
import { hostPrefix } from '../rangeOf.js';
import { addressOutside } from './addressInSubnet.js';
import type { Endpoint } from './endpoints.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const endpointsRules: KindRules<Endpoint> = {
  label: ({ name }) => name,
  about: ({ address, serves, clusterId }, plan) =>
    `private endpoint ${address} for ${serves === 'cluster API' ? `the API of ${byId(plan.clusters, clusterId ?? '')?.name ?? ''}` : `a ${serves}`}`,
  holds: { prefixes: ({ address }) => [hostPrefix(address)], called: ({ name }) => `private endpoint ${name}` },
  betweenFields: ({ serves, clusterId }) => {
    if ((serves === 'cluster API') === (clusterId !== null)) return [];
    return [
      clusterId === null
        ? wrong('clusterId', 'endpoint.no-cluster', 'It serves the API of a cluster, and none is named.', 'Name it.')
        : wrong(
            'clusterId',
            'endpoint.cluster',
            `It serves a ${serves}, and a cluster is named.`,
            'Leave the cluster empty, or let it serve the cluster’s API.',
          ),
    ];
  },
  betweenEntities: addressOutside,
};
