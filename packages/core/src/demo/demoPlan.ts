import { controlPlaneReservation, placeReservation, propose } from '../allocation/index.js';
import { addOperation, applyOperations, emptyPlan } from '../plan/index.js';
import type { Operation, Plan, Subnet } from '../plan/index.js';
import { adds, demoId } from './adds.js';
import type { Fields } from './adds.js';
import { ingressOperations } from './ingress.js';
import { edgeSubnets, egressOperations, routeTables } from './egress.js';
import { connectionOperations } from './connections.js';
import { namesOperations } from './names.js';
import { link, network, profile, site, template } from './places.js';

/**
 * The demo: Skerry Line, an invented ferry operator. Most ranges come from the allocator; a few were
 * typed by hand and hold honest mistakes for the findings to find. Ids are fixed, so links into the demo last.
 */
export function demoPlan(): Plan {
  const ground = apply(
    emptyPlan({
      name: 'Skerry Line',
      note: 'Invented island ferry operator: two clouds, a data centre and the piers.',
      horizonMonths: 36,
      expectsMergers: true,
      currency: 'crowns',
    }),
    [...groundOperations(), ...clusterOperations(), ...typedRanges()],
  );
  const settled = ground.clusters.filter((cluster) => !unallocated.has(cluster.name)).map((cluster) => cluster.id);
  let next = 0x100;
  const operations = propose(ground, { clusterIds: settled }).operations.map((operation) =>
    operation.op === 'add' && operation.kind === 'allocations'
      ? addOperation('allocations', { ...operation.entity, id: demoId('allocations', next++) })
      : operation,
  );
  const ranged = apply(ground, operations);
  return apply(ranged, [
    ...runOperations(ranged),
    ...egressOperations(ranged),
    ...ingressOperations(),
    ...namesOperations(),
    ...connectionOperations(ranged),
    ...adds('rebuilds', [
      {
        clusterId: demoId('clusters', 1),
        what: 'Pod network: overlay to native',
        reason: 'The fare engine has to see the source address of each booking office.',
        decidedOn: '2026-03-04',
        decidedBy: 'Platform network',
      },
    ]),
    ...adds('buildTimes', [
      { step: 'firewall', profileId: null, seconds: 1200, atOnce: 2, note: 'Measured in the last two builds.' },
      { step: 'hosted control plane', profileId: demoId('profiles', 1), seconds: 840, atOnce: 3 },
      { step: 'hosted control plane', profileId: demoId('profiles', 2), seconds: 480, atOnce: 4 },
      { step: 'node machine', profileId: demoId('profiles', 3), seconds: 300, atOnce: 6 },
    ]),
    ...adds(
      'confirmations',
      (['permissions', 'tools'] as const).map((what) => ({
        siteId: demoId('sites', 1),
        what,
        confirmedBy: 'Platform network',
        confirmedOn: '2026-11-20',
      })),
    ),
  ]);
}

function apply(plan: Plan, operations: readonly Operation[]): Plan {
  const applied = applyOperations(plan, operations);
  if (applied.ok) return applied.plan;
  throw new Error(`demo: ${applied.problems.map((p) => p.message).join(' ')}`);
}

const pierNames = [
  'Ardle',
  'Brae',
  'Corran',
  'Dunvo',
  'Eilan',
  'Fasgadh',
  'Grunay',
  'Hestan',
  'Inver',
  'Jura Sound',
  'Kyle',
  'Lunna',
  'Mousa',
  'Noss',
  'Oronsa',
  'Papa Reef',
  'Quoy',
  'Ronay',
  'Skea',
  'Tresta',
  'Unsta',
  'Vaila',
  'Wyre',
  'Yell Sound',
  'Aith',
  'Burra',
  'Calva',
  'Deer Holm',
  'Egil',
  'Flota',
  'Gairsay',
  'Hascosay',
  'Isay',
  'Kerrera',
  'Linga',
  'Muckle',
  'Oxna',
  'Pabay',
  'Rousay',
  'Stroma',
];

/** Clusters whose ranges are still to be proposed. */
const unallocated = new Set(['kiosk-vaila', 'kiosk-wyre', 'kiosk-yell-sound', 'weather-models', 'coach-depots']);

function shape(
  name: string,
  profileId: string,
  [vcpus, memoryGib, interfaces, slotsPerInterface, podCap]: readonly [number, number, number, number, number],
  price: number,
): Fields<'shapes'> {
  return { name, profileId, vcpus, memoryGib, interfaces, slotsPerInterface, podCap, price };
}

function subnet(
  name: string,
  networkId: string,
  siteId: string,
  purpose: Subnet['purpose'],
  prefix: string,
): Fields<'subnets'> {
  return { name, networkId, siteId, purpose, prefix };
}

function groundOperations(): Operation[] {
  return [
    ...adds('profiles', [
      {
        name: 'Halden',
        reservedFirst: 4,
        reservedLast: 1,
        subnetScope: 'zone',
        routesPerTable: 200,
        smallestSubnet: 28,
        largestSubnet: 16,
        smallestBlock: 28,
        largestBlock: 16,
        blocksPerNetwork: 5,
        clustersPerSite: 100,
        nodesPerCluster: 450,
        peeringsPerNetwork: 50,
        leastSurge: 1,
        nativeRule: 'prefixes',
        warmSpare: 2,
        membersPerBalancer: 500,
        balancerDomain: 'lb.halden.example',
        publicAddresses: 40,
        priceControlPlane: 72,
        priceBalancer: 18.5,
        priceNat: 32,
        priceNatGb: 0.04,
        priceAddress: 3.6,
        priceZoneGb: 0.01,
        priceEgressGb: 0.08,
      },
      {
        name: 'Orrery',
        reservedFirst: 2,
        reservedLast: 2,
        subnetScope: 'region',
        routesPerTable: 250,
        smallestSubnet: 29,
        largestSubnet: 12,
        smallestBlock: 29,
        largestBlock: 12,
        blocksPerNetwork: 20,
        clustersPerSite: 50,
        nodesPerCluster: 1000,
        peeringsPerNetwork: 25,
        leastSurge: 1,
        nativeRule: 'none',
        publicAddresses: 60,
        priceControlPlane: 65,
        priceBalancer: 21,
        priceNat: 29,
        priceNatGb: 0.05,
        priceAddress: 2.9,
        priceZoneGb: 0.01,
        priceEgressGb: 0.11,
      },
      {
        name: 'Basalt',
        reservedFirst: 1,
        reservedLast: 1,
        subnetScope: 'region',
        routesPerTable: 4000,
        leastSurge: 1,
        balancerPlacement: ['region', 'network'],
        nativeRule: 'none',
      },
      {
        name: 'Pier site',
        reservedFirst: 1,
        reservedLast: 1,
        subnetScope: 'region',
        routesPerTable: 100,
        clustersPerSite: 4,
        nodesPerCluster: 50,
        nativeRule: 'none',
        priceControlPlane: 0,
      },
    ]),
    ...adds('shapes', [
      shape('halden-plain-4', profile.halden, [4, 16, 4, 15, 110], 118.4),
      shape('halden-plain-8', profile.halden, [8, 32, 4, 15, 110], 236.8),
      shape('halden-wide-32', profile.halden, [32, 128, 8, 30, 250], 947.2),
      shape('halden-thin-4', profile.halden, [4, 16, 3, 10, 110], 109.9),
      shape('orrery-m4', profile.orrery, [4, 16, 1, 1, 110], 104),
      shape('orrery-m16', profile.orrery, [16, 64, 1, 1, 256], 416),
      shape('basalt-rack-48', profile.basalt, [48, 256, 2, 1, 250], 610),
      shape('pier-box-4', profile.pier, [4, 8, 2, 1, 60], 41.5),
    ]),
    ...adds('sites', [
      {
        name: 'Halden north',
        kind: 'region',
        profileId: profile.halden,
        zones: ['n1', 'n2', 'n3'],
        latitude: 59.91,
        longitude: 10.75,
      },
      {
        name: 'Halden south',
        kind: 'region',
        profileId: profile.halden,
        zones: ['s1', 's2'],
        latitude: 53.35,
        longitude: -6.26,
      },
      {
        name: 'Orrery east',
        kind: 'region',
        profileId: profile.orrery,
        zones: ['e1', 'e2', 'e3'],
        latitude: 52.37,
        longitude: 4.9,
      },
      {
        name: 'Basalt hall',
        kind: 'data centre',
        profileId: profile.basalt,
        zones: ['hall'],
        latitude: 57.48,
        longitude: -4.22,
      },
      ...pierNames.map((name, i) => ({
        name: `${name} pier`,
        kind: 'edge' as const,
        profileId: profile.pier,
        zones: ['pier'],
        latitude: 56 + (i % 8) * 0.45,
        longitude: -7 + Math.floor(i / 8) * 0.75,
      })),
      {
        name: 'Coach yard',
        kind: 'data centre',
        profileId: profile.basalt,
        zones: ['yard'],
        latitude: 55.86,
        longitude: -4.25,
      },
    ]),
    ...adds('networks', [
      { name: 'booking', note: 'Booking on Halden, north and south', internetEgress: 'nat per zone' },
      { name: 'models', note: 'Tide and weather models on Orrery', internetEgress: 'hub' },
      {
        name: 'basalt-lan',
        note: 'Data centre, with a firewall of its own',
        internetEgress: 'hub',
        timeServers: ['10.40.0.23'],
      },
      { name: 'piers', note: 'All piers, over the radio ring', internetEgress: 'hub' },
      { name: 'head-office', note: 'Head office', internetEgress: 'hub' },
      { name: 'coaches', note: 'Acquired coach company, not joined yet' },
      { name: 'tide-lab', note: 'University lab that reads the tide models' },
      { name: 'coast-radar', note: 'Radar posts of the coast guard' },
      { name: 'clearing', note: 'Clearing house for ticket payments' },
      { name: 'hub', note: 'Firewall and shared services for the networks on the transit hub', internetEgress: 'hub' },
    ]),
    ...adds('blocks', [
      { networkId: network.models, prefix: '10.28.0.0/16', note: 'Cut from the backbone' },
      { networkId: network.models, prefix: 'fd4b:5ce7:1a1c::/48', note: '' },
    ]),
    ...adds('routeTables', routeTables()),
    ...adds('subnets', [
      subnet('models-endpoints', network.models, site.orreryEast, 'endpoint', '10.28.255.0/26'),
      { ...subnet('models-files', network.models, site.orreryEast, 'other', '10.28.254.0/24'), delegatedTo: 'storage' },
      {
        ...subnet('models-bastion', network.models, site.orreryEast, 'other', '10.28.255.64/27'),
        delegatedTo: 'bastion',
        isPublic: true,
        internetEgress: 'direct',
        routeTableId: demoId('routeTables', 1),
      },
      {
        ...subnet('booking-entry-n1', network.booking, site.haldenNorth, 'entry', '10.31.0.0/26'),
        zone: 'n1',
        isPublic: true,
        internetEgress: 'direct',
        routeTableId: demoId('routeTables', 2),
      },
      { ...subnet('booking-endpoints', network.booking, site.haldenNorth, 'endpoint', '10.31.0.64/26'), zone: 'n2' },
      ...edgeSubnets(),
    ]),
    ...adds('links', [
      {
        name: 'skerry-hub',
        kind: 'hub',
        networkIds: [network.booking, network.models, network.basalt, network.piers, network.office, network.hub],
        isPlanned: false,
      },
      { name: 'models-lab', kind: 'peering', networkIds: [network.models, network.lab], isPlanned: false },
      { name: 'coach-join', kind: 'peering', networkIds: [network.basalt, network.coaches], isPlanned: true },
      {
        name: 'radar-tunnel',
        kind: 'tunnel',
        networkIds: [network.basalt, network.radar],
        encapsulation: 'esp-gcm-nat',
      },
      { name: 'clearing-circuit', kind: 'circuit', networkIds: [network.office, network.clearing], mtu: 1400 },
    ]),
    ...adds('attachments', [
      // What the hall tells the hub: its own space, ferry control, and the radar posts behind the tunnel.
      { linkId: link.hub, networkId: network.basalt, advertises: ['10.40.0.0/14', '10.90.0.0/24', '10.100.0.0/16'] },
      { linkId: link.radar, networkId: network.radar, advertises: ['10.90.0.0/24'] },
      {
        linkId: link.clearing,
        networkId: network.clearing,
        // The default is a slip: it draws the head office's traffic past the hub's firewall.
        advertises: ['172.28.4.0/22', '0.0.0.0/0'],
        accepts: 'listed',
        acceptsFromIds: [network.office],
      },
      { linkId: link.hub, networkId: network.hub, advertises: ['10.31.255.0/24', '0.0.0.0/0'] },
      {
        linkId: link.hub,
        networkId: network.office,
        accepts: 'listed',
        acceptsFromIds: [network.booking, network.models, network.basalt, network.piers],
      },
    ]),
    ...adds('pools', [
      { name: 'Backbone', prefix: '10.16.0.0/12', purposes: ['node', 'pod'], siteId: null, isShared: false },
      { name: 'Overlay pods', prefix: '100.80.0.0/12', purposes: ['pod'], siteId: null, isShared: true },
      { name: 'Service space', prefix: '100.112.0.0/14', purposes: ['service'], siteId: null, isShared: true },
      { name: 'Basalt racks', prefix: '10.40.0.0/14', purposes: ['node', 'pod'], siteId: site.basalt, isShared: false },
      { name: 'Backbone v6', prefix: 'fd4b:5ce7:1a00::/40', purposes: ['node', 'pod'], siteId: null, isShared: false },
      { name: 'Service v6', prefix: 'fd4b:5ce7:1b00::/96', purposes: ['service'], siteId: null, isShared: true },
      {
        name: 'Old branch space',
        prefix: '10.30.0.0/16',
        purposes: ['node'],
        siteId: site.haldenSouth,
        isShared: false,
      },
    ]),
    ...adds('inUse', [
      { prefix: '10.20.0.0/16', owner: 'Head office desks', networkId: network.office, note: '' },
      { prefix: '10.100.0.0/16', owner: 'Ferry control', networkId: network.basalt, note: 'Cannot be renumbered' },
      { prefix: '10.40.0.0/20', owner: 'Basalt management', networkId: network.basalt, note: '' },
      { prefix: '10.23.64.0/18', owner: 'Pier radios', networkId: network.piers, note: '' },
      { prefix: '10.41.0.0/16', owner: 'Coach depots', networkId: network.coaches, note: 'From their spreadsheet' },
      { prefix: '192.168.0.0/16', owner: 'Coach offices', networkId: network.coaches, note: '' },
      { prefix: '172.20.0.0/16', owner: 'Tide lab', networkId: network.lab, note: '' },
      { prefix: '10.90.0.0/24', owner: 'Coast radar', networkId: network.radar, note: 'Reached by the tunnel' },
      { prefix: '172.28.4.0/22', owner: 'Clearing house', networkId: network.clearing, note: '' },
      {
        prefix: '10.31.240.0/20',
        owner: 'Retired ticket system',
        networkId: null,
        note: 'Switched off; routes may linger',
      },
    ]),
  ];
}

function clusterOperations(): Operation[] {
  const common = { family: 'ipv4', surgePercent: 10, entryAddresses: 8, apiEndpoint: 'public' } as const;
  const named: Fields<'clusters'>[] = [
    {
      ...common,
      name: 'booking-north',
      siteId: site.haldenNorth,
      networkId: network.booking,
      podMode: 'native',
      nodesNow: 42,
      nodesHorizon: 120,
      podsPerNode: 58,
      services: 400,
      shapeId: demoId('shapes', 1),
      podNeeds: ['reachable', 'source kept'],
      podPreferences: ['network policy'],
      isBuilt: true,
      growth: 'compound',
      nodePortServices: 20,
      balancerServices: 12,
      headlessServices: 30,
      hasPublicBalancers: true,
      natAddresses: 3,
      zoneGb: 40,
      egressGb: 25,
    },
    {
      ...common,
      name: 'booking-south',
      siteId: site.haldenSouth,
      networkId: network.booking,
      podMode: 'native',
      nodesNow: 24,
      nodesHorizon: 80,
      podsPerNode: 58,
      services: 400,
      shapeId: demoId('shapes', 1),
      balancerServices: 8,
      natAddresses: 1,
      zoneGb: 40,
      egressGb: 25,
    },
    {
      ...common,
      name: 'harbour-ops',
      siteId: site.basalt,
      networkId: network.basalt,
      podMode: 'overlay',
      nodesNow: 18,
      nodesHorizon: 40,
      podsPerNode: 110,
      services: 900,
      shapeId: demoId('shapes', 7),
      podNeeds: ['encryption'],
      mtuFloor: 1420,
      controlPlane: 'self-run',
      controlNodes: 3,
      baseDomain: 'harbour.skerryline.example',
      controlShapeId: demoId('shapes', 7),
    },
    {
      ...common,
      name: 'tide-models',
      siteId: site.orreryEast,
      networkId: network.models,
      podMode: 'routed',
      nodesNow: 60,
      nodesHorizon: 180,
      podsPerNode: 64,
      shapeId: demoId('shapes', 6),
      podNeeds: ['reachable', 'network policy'],
      services: 120,
      surgePercent: 20,
      growth: 'steps',
      growthSteps: ['6=90', '18=140'],
      natAddresses: 2,
      egressGb: 60,
    },
    {
      ...common,
      name: 'weather-models',
      siteId: site.orreryEast,
      networkId: network.models,
      podMode: 'routed',
      family: 'dual',
      nodesNow: 12,
      nodesHorizon: 90,
      podsPerNode: 110,
      services: 80,
    },
    {
      ...common,
      name: 'shared-services',
      siteId: site.basalt,
      networkId: network.basalt,
      podMode: 'routed',
      nodesNow: 30,
      nodesHorizon: 64,
      podsPerNode: 110,
      services: 600,
    },
    {
      ...common,
      name: 'timetable',
      siteId: site.haldenNorth,
      networkId: network.booking,
      podMode: 'overlay',
      encapsulation: 'geneve',
      nodesNow: 9,
      nodesHorizon: 30,
      podsPerNode: 110,
      services: 150,
      perNodeLength: 25,
    },
  ];
  const kiosks = pierNames.map((pier, i): Fields<'clusters'> => ({
    ...common,
    name: `kiosk-${pier.toLowerCase().replace(' ', '-')}`,
    siteId: demoId('sites', 5 + i),
    networkId: network.piers,
    podMode: 'overlay',
    nodesNow: 3,
    nodesHorizon: 6,
    podsPerNode: 30,
    services: 40,
    surgePercent: 20,
    entryAddresses: 2,
    templateId: template.kiosk,
    shapeId: demoId('shapes', 8),
    // One pier that went its own way.
    ...(pier === 'Quoy' ? { services: 60 } : {}),
  }));
  const coach: Fields<'clusters'> = {
    ...common,
    name: 'coach-depots',
    siteId: demoId('sites', 5 + pierNames.length),
    networkId: network.coaches,
    podMode: 'overlay',
    nodesNow: 6,
    nodesHorizon: 8,
    podsPerNode: 110,
    services: 60,
    entryAddresses: 2,
    isBuilt: true,
  };
  return [
    ...adds('templates', [
      {
        name: 'pier site',
        namePattern: '{site}',
        networkId: network.piers,
        shapeId: demoId('shapes', 8),
        sets: ['podMode=overlay', 'family=ipv4', 'surgePercent=20', 'podsPerNode=30'],
      },
      {
        name: 'ticket kiosk',
        basedOnId: demoId('templates', 1),
        namePattern: 'kiosk-{site}',
        sets: ['nodesNow=3', 'nodesHorizon=6', 'services=40', 'entryAddresses=2'],
        poolIds: [],
      },
    ]),
    ...adds('clusters', [...named, ...kiosks, coach]),
    ...adds('nodePools', [
      {
        clusterId: demoId('clusters', 1),
        name: 'seat-search',
        shapeId: demoId('shapes', 3),
        zones: ['n1', 'n2'],
        nodesNow: 4,
        nodesMin: 2,
        nodesMax: 8,
        nodesHorizon: 12,
        labels: ['tier=memory'],
        taints: ['dedicated=seat-search:NoSchedule'],
      },
      {
        clusterId: demoId('clusters', 1),
        name: 'night-jobs',
        kind: 'pods',
        nodesNow: 20,
        nodesMin: 0,
        nodesMax: 60,
        nodesHorizon: 120,
      },
    ]),
  ];
}

/** Addresses kept for the control plane of the harbour's own cluster: three nodes, the API's address, one for upgrades. */
function runOperations(plan: Plan): Operation[] {
  const [clusterId] = plan.clusters.flatMap(({ id, name }) => (name === 'harbour-ops' ? [id] : []));
  if (clusterId === undefined) return [];
  const place = placeReservation(plan, clusterId, controlPlaneReservation(3).value);
  if (!place.ok) throw new Error(`demo: ${place.reason}`);
  return adds('reservations', [
    { name: 'harbour-ops control plane', clusterId, first: place.first, count: controlPlaneReservation(3).value },
  ]);
}

/** Ranges typed by hand before there was a plan, each mistake of a kind that happens at work. */
function typedRanges(): Operation[] {
  const [bookingNorth, , harbour, tide, , shared] = [1, 2, 3, 4, 5, 6].map((n) => demoId('clusters', n)) as [
    string,
    string,
    string,
    string,
    string,
    string,
  ];
  return adds('allocations', [
    // Lies in what the pier radios use, and the hub joins the two.
    { clusterId: bookingNorth, purpose: 'node', zone: 'n1', prefix: '10.23.96.0/25', isPinned: true },
    // A default that nobody questioned: it hides ferry control from the cluster that steers the harbour.
    { clusterId: harbour, purpose: 'service', zone: '', prefix: '10.96.0.0/12', isPinned: false },
    // Enough for today's 60 nodes, not for 180.
    { clusterId: tide, purpose: 'pod', zone: '', prefix: '10.28.0.0/19', isPinned: false },
    // Clear until the coach company is joined.
    { clusterId: shared, purpose: 'pod', zone: '', prefix: '10.41.128.0/17', isPinned: false },
    // From the coach company: the usual defaults, one of which the harbour took too.
    {
      clusterId: demoId('clusters', 8 + pierNames.length),
      purpose: 'node',
      zone: '',
      prefix: '172.21.4.0/26',
      isPinned: true,
    },
    {
      clusterId: demoId('clusters', 8 + pierNames.length),
      purpose: 'pod',
      zone: '',
      prefix: '10.244.0.0/20',
      isPinned: true,
    },
    {
      clusterId: demoId('clusters', 8 + pierNames.length),
      purpose: 'service',
      zone: '',
      prefix: '10.96.0.0/20',
      isPinned: true,
    },
  ]);
}
