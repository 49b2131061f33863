import type { Profile } from './entities.js';
import { name, prefixLength, integer, price } from './fieldRule.js';
import type { FieldsOf } from './fieldRule.js';

/** The rule of every field of a provider profile. */
export const profileFields: FieldsOf<Profile> = {
  name: name('What the set of provider rules is called.'),
  reservedFirst: integer('Reserved first', 'Addresses kept at the start of each IPv4 subnet.', 'addresses', 1, 16, 1),
  reservedLast: integer('Reserved last', 'Addresses kept at the end of each IPv4 subnet.', 'addresses', 1, 16, 1),
  subnetScope: {
    type: 'choice',
    label: 'Subnet scope',
    help: 'Whether a subnet lives in one zone or spans the region.',
    options: ['zone', 'region'],
  },
  routesPerTable: integer('Routes a table', 'Routes one route table may hold.', 'routes', 1, 100_000, 1000),
  smallestSubnet: prefixLength('Smallest subnet', 'IPv4 prefix length of the smallest subnet, such as 28.', 30),
  largestSubnet: prefixLength('Largest subnet', 'IPv4 prefix length of the largest subnet, such as 16.', 8),
  smallestBlock: prefixLength('Smallest block', 'IPv4 prefix length of a network’s smallest address block.', 30),
  largestBlock: prefixLength('Largest block', 'IPv4 prefix length of a network’s largest address block.', 8),
  blocksPerNetwork: integer('Blocks a network', 'Address blocks of a family in one network.', 'blocks', 1, 1000, 10),
  clustersPerSite: integer('Clusters a site', 'Clusters one site may hold.', 'clusters', 1, 10_000, 1000),
  nodesPerCluster: integer('Nodes a cluster', 'Nodes one cluster may have.', 'nodes', 1, 20_000, 5000),
  peeringsPerNetwork: integer('Peerings a network', 'Peerings one network may have.', 'peerings', 0, 1000, 100),
  leastSurge: integer('Least surge', 'Nodes an upgrade adds at least.', 'nodes', 0, 10, 0),
  nativeRule: {
    type: 'choice',
    label: 'Native pods',
    help: 'Whether pods take addresses from subnets: none, addresses one by one, or prefixes (/28) by slot.',
    options: ['none', 'addresses', 'prefixes'],
    fallback: 'addresses',
  },
  warmSpare: integer('Warm spare', 'Addresses each node keeps ready for native pods.', 'addresses', 0, 256, 0),
  membersPerBalancer: integer(
    'Members a balancer',
    'Members one load balancer can send to.',
    'members',
    1,
    100_000,
    1000,
  ),
  publicAddresses: integer('Public addresses', 'Public addresses one site may hold.', 'addresses', 0, 100_000, 100),
  priceControlPlane: price('Control plane price', 'For one hosted control plane and month'),
  priceBalancer: price('Balancer price', 'For one load balancer and month'),
  priceNat: price('NAT price', 'For one address translation device and month'),
  priceNatGb: price('NAT price a GB', 'For one gigabyte through address translation'),
  priceAddress: price('Address price', 'For one public address and month'),
  priceZoneGb: price('Zone price a GB', 'For one gigabyte between zones of a site'),
  priceOutGb: price('Out price a GB', 'For one gigabyte that leaves the site'),
};
