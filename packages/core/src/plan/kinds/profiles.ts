import { choice, choices, decimal, flag, integer, name } from './field.js';
import type { FileVersion } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { domain } from './zones.js';

const prefixLength = (label: string, help: string, fallback: number) =>
  integer({ label, help, unit: 'bits', min: 4, max: 31, fallback, since: 2 });

const quota = (of: { label: string; help: string; unit: string; max: number; fallback: number; since?: FileVersion }) =>
  integer({ min: 1, since: 2, group: 'Quotas', ...of });

const price = (label: string, what: string) =>
  decimal({
    label,
    help: `${what}, in the currency of the plan; empty when it is not known.`,
    empty: 'not known',
    group: 'Prices',
    unit: 'per month',
    min: 0,
    max: 1_000_000,
    decimals: 4,
    isOptional: true,
    since: 3,
  });

/** A set of provider rules. */
export const profiles = defineKind({
  kind: 'profiles',
  code: 'profile',
  one: 'provider profile',
  about: 'A set of provider rules.',
  since: 1,
  unique: { by: ['name'] },
  fields: {
    name: name('What the set of provider rules is called.'),
    reservedFirst: integer({
      label: 'Reserved first',
      help: 'Addresses the provider keeps at the start of each IPv4 subnet.',
      unit: 'addresses',
      min: 1,
      max: 16,
      fallback: 1,
    }),
    reservedLast: integer({
      label: 'Reserved last',
      help: 'Addresses the provider keeps at the end of each IPv4 subnet.',
      unit: 'addresses',
      min: 1,
      max: 16,
      fallback: 1,
    }),
    subnetScope: choice({
      label: 'Subnet scope',
      help: 'Whether a subnet lives in one zone or spans the region.',
      options: ['zone', 'region'],
    }),
    routesPerTable: integer({
      label: 'Routes per table',
      help: 'Routes one route table may hold; routed pods take one per node.',
      unit: 'routes',
      min: 1,
      max: 100_000,
      fallback: 1000,
    }),
    smallestSubnet: prefixLength('Smallest subnet', 'IPv4 prefix length of the smallest subnet, such as 28.', 30),
    largestSubnet: prefixLength('Largest subnet', 'IPv4 prefix length of the largest subnet, such as 16.', 8),
    smallestBlock: prefixLength('Smallest block', 'IPv4 prefix length of a network’s smallest address block.', 30),
    largestBlock: prefixLength('Largest block', 'IPv4 prefix length of a network’s largest address block.', 8),
    sharesSubnets: flag({
      label: 'Shared subnets',
      help: 'Whether several clusters may live in one subnet.',
      fallback: true,
      since: 10,
    }),
    blocksPerNetwork: quota({
      label: 'Blocks per network',
      help: 'Address blocks of one family in one network.',
      unit: 'blocks',
      max: 1000,
      fallback: 10,
    }),
    clustersPerSite: quota({
      label: 'Clusters per site',
      help: 'Clusters one site may hold.',
      unit: 'clusters',
      max: 10_000,
      fallback: 1000,
    }),
    nodesPerCluster: quota({
      label: 'Nodes per cluster',
      help: 'Nodes one cluster may have.',
      unit: 'nodes',
      max: 20_000,
      fallback: 5000,
    }),
    peeringsPerNetwork: integer({
      label: 'Peerings per network',
      group: 'Quotas',
      help: 'Peerings one network may have.',
      unit: 'peerings',
      min: 0,
      max: 1000,
      fallback: 100,
      since: 2,
    }),
    leastSurge: integer({
      label: 'Least surge',
      help: 'Nodes an upgrade adds at least, however small the surge in percent.',
      unit: 'nodes',
      min: 0,
      max: 10,
      fallback: 0,
      since: 2,
    }),
    nativeRule: choice({
      label: 'Native pods',
      help: 'Whether pods take addresses from subnets: none, addresses one by one, or prefixes (/28) by slot.',
      options: ['none', 'addresses', 'prefixes'],
      fallback: 'addresses',
      since: 2,
    }),
    warmSpare: integer({
      label: 'Warm spare',
      help: 'Addresses each node keeps ready for native pods beyond those that run.',
      unit: 'addresses',
      min: 0,
      max: 256,
      fallback: 0,
      since: 3,
    }),
    membersPerBalancer: quota({
      label: 'Members per load balancer',
      help: 'Members one load balancer can send to.',
      unit: 'members',
      max: 100_000,
      fallback: 1000,
      since: 3,
    }),
    listenersPerBalancer: quota({
      label: 'Listeners per load balancer',
      help: 'Listeners one load balancer can have.',
      unit: 'listeners',
      max: 1000,
      fallback: 50,
      since: 7,
    }),
    balancerPlacement: choices({
      label: 'Appliance placement',
      help: 'What a load balancer that an appliance runs must share with its members.',
      options: ['region', 'network', 'subnet', 'filter'],
      min: 0,
      fallback: [],
      since: 7,
    }),
    balancerDomain: domain({
      label: 'Load balancer domain',
      help: 'The domain below which the provider names load balancers; a name that is free again may be given to anyone.',
      min: 0,
      since: 8,
    }),
    publicAddresses: integer({
      label: 'Public addresses',
      group: 'Quotas',
      help: 'Public addresses one site may hold.',
      unit: 'addresses',
      min: 0,
      max: 100_000,
      fallback: 100,
      since: 3,
    }),
    routePreference: choices({
      label: 'Route preference',
      help: 'Of routes learned for one prefix, which link wins: the kinds of links, best first.',
      options: ['peering', 'hub', 'circuit', 'tunnel'],
      min: 1,
      fallback: ['peering', 'hub', 'circuit', 'tunnel'],
      since: 5,
    }),
    priceControlPlane: price('Control plane price', 'For one hosted control plane and month'),
    priceBalancer: price('Load balancer price', 'For one load balancer and month'),
    priceNat: price('NAT price', 'For one NAT device and month'),
    priceNatGb: price('NAT price per GB', 'For one gigabyte through NAT'),
    priceAddress: price('Address price', 'For one public address and month'),
    priceZoneGb: price('Zone price per GB', 'For one gigabyte between zones of a site'),
    priceEgressGb: price('Egress price per GB', 'For one gigabyte that leaves the site'),
  },
});

/** A set of provider rules. */
export type Profile = EntityOfFields<(typeof profiles)['fields']>;
