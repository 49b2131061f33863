import type { Kind } from '@wide-lattice/core';
import type { SheetField } from '../shared/EntitySheet';

interface GroundSheetOf<K extends Kind> {
  readonly kind: K;
  /** Short, for the row of sheets. */
  readonly tab: string;
  readonly title: string;
  readonly empty: string;
  readonly fields: readonly SheetField<K>[];
}

function sheet<K extends Kind>(of: GroundSheetOf<K>): GroundSheetOf<K> {
  return of;
}

const name = { field: 'name', width: 'minmax(8.5rem, 1.2fr)' } as const;
const prefix = { field: 'prefix', width: 'minmax(9.5rem, 1fr)' } as const;
const note = { field: 'note', width: 'minmax(8rem, 1.5fr)' } as const;
const network = { field: 'networkId', width: 'minmax(7rem, 1fr)' } as const;

const prices = (
  ['priceControlPlane', 'priceBalancer', 'priceNat', 'priceNatGb', 'priceAddress', 'priceZoneGb', 'priceOutGb'] as const
).map((field) => ({ field, width: '8.6rem', isExtra: true }));

/** The sheets of the ground in the order in which they are filled. */
export const groundSheets = [
  sheet({
    kind: 'networks',
    tab: 'Networks',
    title: 'Networks',
    empty: 'A network is one forwarding place: in it, an address means one thing. Add the first.',
    fields: [name, { field: 'mtu', width: '5rem' }, note],
  }),
  sheet({
    kind: 'blocks',
    tab: 'Blocks',
    title: 'Address blocks',
    empty: 'A network that has address blocks takes its subnets from them. Without any, subnets come from the pools.',
    fields: [network, prefix, note],
  }),
  sheet({
    kind: 'subnets',
    tab: 'Subnets',
    title: 'Subnets',
    empty: 'Subnets set parts of a network aside: for nodes, pods, entry, endpoints, storage, a bastion.',
    fields: [
      name,
      { ...network, width: 'minmax(5.5rem, 0.8fr)' },
      { field: 'siteId', width: 'minmax(7rem, 1fr)', isExtra: true },
      { field: 'zone', width: '4rem' },
      { field: 'purpose', width: '5.4rem' },
      { ...prefix, width: '9.6rem' },
      { field: 'delegatedTo', width: '5rem' },
      { field: 'isPublic', width: '4rem' },
      { field: 'wayOut', width: '5rem' },
      { field: 'routeTable', width: 'minmax(7rem, 0.8fr)', isExtra: true },
    ],
  }),
  sheet({
    kind: 'links',
    tab: 'Links',
    title: 'Links',
    empty: 'No links: no network reaches another. Add a peering, a transit hub, a tunnel or a private circuit.',
    fields: [
      { ...name, width: 'minmax(8rem, 0.8fr)' },
      { field: 'kind', width: '5.5rem' },
      { field: 'networkIds', width: 'minmax(12rem, 2fr)' },
      { field: 'mtu', width: '4.6rem' },
      { field: 'encapsulation', width: '6.6rem' },
      { field: 'isPlanned', width: '5.2rem' },
    ],
  }),
  sheet({
    kind: 'attachments',
    tab: 'Attachments',
    title: 'Attachments',
    empty: 'Without attachments, each network tells all its own ranges over its links, and learns all.',
    fields: [
      { field: 'networkId', width: 'minmax(6.5rem, 0.7fr)' },
      { field: 'linkId', width: 'minmax(8rem, 0.8fr)' },
      { field: 'advertises', width: 'minmax(12rem, 2fr)' },
      { field: 'learns', width: '5rem' },
      { field: 'learnsFromIds', width: 'minmax(7rem, 1fr)' },
    ],
  }),
  sheet({
    kind: 'inUse',
    tab: 'In use',
    title: 'Ranges in use elsewhere',
    empty: 'List what others already use, so that nothing is planned on top of it.',
    fields: [prefix, { field: 'owner', width: 'minmax(9rem, 1.4fr)' }, network, note],
  }),
  sheet({
    kind: 'sites',
    tab: 'Sites',
    title: 'Sites',
    empty: 'A site is where clusters stand. It needs a provider profile; add that first.',
    fields: [
      name,
      { field: 'kind', width: '6.6rem' },
      { field: 'profileId', width: 'minmax(6rem, 1fr)' },
      { field: 'zones', width: 'minmax(6rem, 1fr)' },
      { field: 'latitude', width: '6rem' },
      { field: 'longitude', width: '6.4rem' },
    ],
  }),
  sheet({
    kind: 'profiles',
    tab: 'Profiles',
    title: 'Provider profiles',
    empty: 'A profile holds a provider’s rules: reserved addresses, zonal or regional subnets, sizes, quotas.',
    fields: [
      { ...name, width: 'minmax(7rem, 1fr)' },
      { field: 'reservedFirst', width: '4.4rem', label: 'First' },
      { field: 'reservedLast', width: '4.2rem', label: 'Last' },
      { field: 'subnetScope', width: '5.2rem', label: 'Subnets' },
      { field: 'smallestSubnet', width: '6rem', label: 'Smallest' },
      { field: 'largestSubnet', width: '5.6rem', label: 'Largest' },
      { field: 'smallestBlock', width: '7rem', isExtra: true },
      { field: 'largestBlock', width: '7rem', isExtra: true },
      { field: 'blocksPerNetwork', width: '7.5rem', isExtra: true },
      { field: 'clustersPerSite', width: '7rem', isExtra: true },
      { field: 'nodesPerCluster', width: '7.6rem', label: 'Nodes/cluster' },
      { field: 'routesPerTable', width: '7rem', label: 'Routes/table' },
      { field: 'peeringsPerNetwork', width: '8.4rem', isExtra: true },
      { field: 'leastSurge', width: '6.4rem', isExtra: true },
      { field: 'nativeRule', width: '6.4rem' },
      { field: 'warmSpare', width: '6.6rem', isExtra: true },
      { field: 'membersPerBalancer', width: '9.4rem', isExtra: true },
      { field: 'publicAddresses', width: '8.6rem', isExtra: true },
      ...prices,
    ],
  }),
  sheet({
    kind: 'shapes',
    tab: 'Shapes',
    title: 'Machine shapes',
    empty: 'Machine shapes say what a node can hold: vCPU, memory, interfaces, pods, price.',
    fields: [
      name,
      { field: 'profileId', width: 'minmax(5.5rem, 0.7fr)' },
      { field: 'vcpus', width: '4.4rem' },
      { field: 'memoryGib', width: '5.6rem' },
      { field: 'interfaces', width: '6.2rem' },
      { field: 'slotsPerInterface', width: '4.4rem' },
      { field: 'podCap', width: '5.2rem' },
      { field: 'encapsulations', width: 'minmax(9rem, 1fr)', isExtra: true },
      { field: 'price', width: '7.2rem' },
    ],
  }),
] as const;

/** A kind that has a sheet in the ground. */
export type GroundKind = (typeof groundSheets)[number]['kind'];
