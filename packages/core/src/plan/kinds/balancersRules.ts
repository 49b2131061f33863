import { byId } from '../collection.js';
import { hostPrefix } from '../rangeOf.js';
import { addressOutside } from './addressInSubnet.js';
import type { Balancer } from './balancers.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

const runner = { provider: 'the provider', appliance: 'an appliance', cluster: 'the cluster' } as const;

export const balancersRules: KindRules<Balancer> = {
  label: ({ name }) => name,
  about: ({ layer, side, runBy }) => `${side} load balancer of layer ${layer}, run by ${runner[runBy]}`,
  holds: {
    // A public address is of the provider's space, not of the plan's networks.
    prefixes: ({ address, side }) => (address === null || side === 'public' ? [] : [hostPrefix(address)]),
    called: ({ name }) => `load balancer ${name}`,
  },
  betweenFields: ({ runBy, clusterId }) => {
    if ((runBy === 'cluster') === (clusterId !== null)) return [];
    return [
      clusterId === null
        ? wrong('clusterId', 'balancer.no-cluster', 'A cluster runs it, and none is named.', 'Name the cluster.')
        : wrong(
            'clusterId',
            'balancer.cluster',
            `It is run by ${runner[runBy]}, and a cluster is named.`,
            'Leave the cluster empty, or let the cluster run it.',
          ),
    ];
  },
  betweenEntities: (plan, { subnetId, address, side }) =>
    address === null || side === 'public' || byId(plan.subnets, subnetId) === undefined
      ? []
      : addressOutside(plan, { address, subnetId }),
};
