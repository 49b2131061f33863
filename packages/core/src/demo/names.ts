import type { Operation } from '../plan/index.js';
import { adds, demoId } from './adds.js';
import type { Fields } from './adds.js';
import { network } from './places.js';

const cluster = { booking: demoId('clusters', 1), harbour: demoId('clusters', 3), tide: demoId('clusters', 4) };
const zone = Object.fromEntries(
  ['public', 'inside', 'models', 'harbour', 'pier', 'depot', 'coaches', 'reverse'].map((key, i) => [
    key,
    demoId('zones', i + 1),
  ]),
) as Readonly<Record<'public' | 'inside' | 'models' | 'harbour' | 'pier' | 'depot' | 'coaches' | 'reverse', string>>;

/**
 * The names of the demo: skerryline.example and its private twin, bases of clusters, zones of the coach company. Honest mistakes: the twin is
 * not attached to the hub, an alias leads to a load balancer that is gone, two record controllers share one mark, a certificate misses a host,
 * and the tickets may be remembered for a day though they are to move within ten minutes.
 */
export function namesOperations(): Operation[] {
  return [...zones(), ...records(), ...paths(), ...certificates()];
}

function zones(): Operation[] {
  const inside: Fields<'zones'> = { side: 'private', nameServers: ['ns1.skerryline.example'], minimum: 60 };
  return adds('zones', [
    {
      name: 'skerryline.example',
      apex: 'skerryline.example',
      side: 'public',
      nameServers: ['ns1.skerryline.example', 'ns2.skerryline.example'],
      serial: 2_026_112,
      cutOverTarget: 600,
      minimum: 300,
    },
    {
      ...inside,
      name: 'skerryline.example inside',
      apex: 'skerryline.example',
      networkIds: [network.booking, network.models, network.basalt, network.piers, network.office],
    },
    {
      ...inside,
      name: 'models.skerryline.example',
      apex: 'models.skerryline.example',
      networkIds: [network.booking, network.models, network.basalt, network.office],
      ttl: 300,
    },
    {
      ...inside,
      name: 'harbour.skerryline.example',
      apex: 'harbour.skerryline.example',
      networkIds: [network.basalt],
      ttl: 300,
    },
    {
      ...inside,
      name: 'pier.example',
      apex: 'pier.example',
      networkIds: [network.piers],
      nameServers: ['ns.pier.example'],
      ttl: 300,
    },
    {
      ...inside,
      name: 'depot.example',
      apex: 'depot.example',
      networkIds: [network.basalt],
      nameServers: ['ns.depot.example'],
    },
    {
      ...inside,
      name: 'depot.example of the coaches',
      apex: 'depot.example',
      networkIds: [network.coaches],
      nameServers: ['ns.depot.example'],
      note: 'From the coach company, for its own depots',
    },
    {
      ...inside,
      name: '10.43.255 reverse',
      apex: '255.43.10.in-addr.arpa',
      networkIds: [network.basalt, network.office],
    },
  ]);
}

function records(): Operation[] {
  const a = (zoneId: string, name: string, value: string, more: Fields<'records'> = {}): Fields<'records'> => ({
    zoneId,
    name,
    type: 'A',
    value,
    ...more,
  });
  return adds('records', [
    a(zone.public, 'ns1', '203.0.113.5', { target: 'elsewhere' }),
    a(zone.public, 'ns2', '203.0.113.133', { target: 'elsewhere' }),
    a(zone.public, 'tickets', '203.0.113.80', { ttl: 86_400, note: 'Moves to the new front in December' }),
    { zoneId: zone.public, name: '@', type: 'MX', value: '10 mail.post.example' },
    { zoneId: zone.public, name: '@', type: 'TXT', value: 'v=spf1 include:post.example -all' },
    { zoneId: zone.public, name: '@', type: 'CAA', value: '0 issue "ca.harbourtrust.example"' },
    {
      zoneId: zone.public,
      name: 'summer',
      type: 'CNAME',
      value: 'front-41.lb.halden.example',
      ttl: 300,
      note: 'Summer fares of 2025',
    },
    a(zone.inside, 'ns1', '10.43.255.6'),
    a(zone.inside, 'tickets', '203.0.113.80', { ttl: 60 }),
    a(zone.models, 'tide', '10.28.255.40', { ttl: 120 }),
    a(zone.harbour, 'board', '10.43.255.20'),
    a(zone.harbour, 'gate', '10.43.255.20'),
    a(zone.pier, 'ns', '10.43.255.6'),
    a(zone.pier, 'tickets', '100.112.0.12', { note: 'The same address in each kiosk' }),
    a(zone.depot, 'ns', '10.43.255.6'),
    a(zone.depot, 'fuel', '10.43.255.20'),
    a(zone.coaches, 'ns', '192.168.0.10', { target: 'elsewhere' }),
    a(zone.coaches, 'fuel', '192.168.4.20', { target: 'elsewhere' }),
    { zoneId: zone.reverse, name: '20', type: 'PTR', value: 'board.harbour.skerryline.example' },
  ]);
}

function paths(): Operation[] {
  return [
    ...adds('recordControllers', [
      {
        name: 'booking-names',
        clusterId: cluster.booking,
        ownerMark: 'skerry',
        zoneIds: [zone.public, zone.inside],
        ttl: 300,
      },
      {
        name: 'harbour-names',
        clusterId: cluster.harbour,
        ownerMark: 'skerry',
        zoneIds: [zone.inside, zone.harbour],
        ttl: 120,
      },
    ]),
    ...adds('resolvers', [
      {
        name: 'hall-dns',
        networkId: network.basalt,
        addresses: ['10.43.255.6'],
        role: 'both',
        note: 'Two machines behind one address',
      },
      { name: 'models-out', networkId: network.models, addresses: ['10.28.255.41'], role: 'outbound' },
      { name: 'booking-out', networkId: network.booking, addresses: ['10.31.0.70'], role: 'outbound' },
    ]),
    ...adds('forwardingRules', [
      {
        name: 'models to the hall',
        domain: 'harbour.skerryline.example',
        networkIds: [network.models],
        targets: ['10.43.255.6'],
        throughId: demoId('resolvers', 2),
      },
      {
        name: 'booking to the hall',
        domain: 'harbour.skerryline.example',
        networkIds: [network.booking],
        targets: ['10.43.255.6'],
        throughId: demoId('resolvers', 3),
      },
    ]),
  ];
}

function certificates(): Operation[] {
  return adds('certificates', [
    {
      name: 'tickets-cert',
      clusterId: cluster.booking,
      namespace: 'shop',
      names: ['tickets.skerryline.example'],
      issuerKind: 'public by DNS',
      issuerDomain: 'ca.harbourtrust.example',
      validFrom: monthsAgo(1),
      validDays: 90,
      renewDays: 30,
    },
    {
      name: 'gate-cert',
      names: ['gate.harbour.skerryline.example'],
      issuerKind: 'private',
      issuerDomain: 'ca.skerryline.example',
      validFrom: monthsAgo(9),
      validDays: 365,
      renewDays: 45,
      renewsItself: false,
    },
  ]);
}

/** The first day of a month before this one, so that the certificates of the demo are never out of date. */
function monthsAgo(months: number): string {
  const now = new Date();
  return new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth() - months, 1)).toISOString().slice(0, 10);
}
