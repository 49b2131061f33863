import { address, choice, flag, name, prefix, reference, text, zone } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A part of a network set aside for one purpose; endpoint and other subnets hold no cluster's ranges. */
export const subnets = defineKind({
  kind: 'subnets',
  code: 'subnet',
  one: 'subnet',
  about: 'A part of a network set aside for one purpose.',
  since: 2,
  unique: { by: ['name'] },
  fields: {
    name: name('What the subnet is called.'),
    networkId: reference({
      label: 'Network',
      help: 'The network it is part of.',
      to: 'networks',
      onRemoval: 'cascade',
    }),
    siteId: reference({ label: 'Site', help: 'Where it is.', to: 'sites' }),
    zone: zone('The zone it is in; empty when it spans the site.'),
    purpose: choice({
      label: 'Purpose',
      formerly: ['For'],
      help: 'What it is set aside for.',
      options: ['node', 'pod', 'entry', 'endpoint', 'other'],
    }),
    prefix: prefix('Its addresses.'),
    delegatedTo: text({
      label: 'Delegated to',
      help: 'The service it is delegated to, such as storage or bastion; empty for none.',
      min: 0,
      max: 60,
      fallback: '',
    }),
    isPublic: flag({ label: 'Public', help: 'Machines in it may have public addresses.', fallback: false }),
    internetEgress: choice({
      label: 'Internet egress',
      help: 'Where traffic leaves for the internet: none, through nat, over the hub, or direct.',
      options: ['none', 'nat', 'hub', 'direct'],
      fallback: 'nat',
    }),
    routeTableId: reference({
      label: 'Route table',
      help: 'Its route table; empty for the main table of its network and zone.',
      empty: 'main',
      to: 'routeTables',
      isOptional: true,
      onRemoval: 'drop',
      since: 5,
    }),
    gateway: address({
      label: 'Gateway',
      help: 'The address of its gateway; empty for the first usable one.',
      empty: 'first usable',
      isOptional: true,
      since: 5,
    }),
  },
});

/** A part of a network set aside for one purpose. */
export type Subnet = EntityOfFields<(typeof subnets)['fields']>;

/** What a subnet is for. */
export type SubnetPurpose = Subnet['purpose'];

/** Where traffic leaves a subnet for the internet: not at all, through address translation, by the hub, or directly. */
export type InternetEgress = Subnet['internetEgress'];
