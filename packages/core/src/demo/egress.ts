import { setOperation } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { adds, demoId } from './adds.js';
import type { Fields } from './adds.js';
import { link, network, site, template } from './places.js';

const table = {
  modelsPublic: demoId('routeTables', 1),
  bookingPublic: demoId('routeTables', 2),
  modelsMain: demoId('routeTables', 3),
  hubMain: demoId('routeTables', 4),
  hubWall: demoId('routeTables', 5),
  basaltMain: demoId('routeTables', 6),
  basaltEdge: demoId('routeTables', 7),
  piersMain: demoId('routeTables', 8),
};
const zones = ['n1', 'n2', 'n3', 's1', 's2'] as const;
const zoneTable = (at: number) => demoId('routeTables', 9 + at);
const natOf = (at: number) => demoId('natDevices', 1 + at);
// Of the first demo there were five subnets.
const edgeOf = (at: number) => demoId('subnets', 6 + at);
const subnet = { wall: demoId('subnets', 11), shared: demoId('subnets', 12), basaltEdge: demoId('subnets', 13) };
const wall = { hub: demoId('firewalls', 1), basalt: demoId('firewalls', 2) };
const filter = {
  booking: demoId('filters', 1),
  timetable: demoId('filters', 2),
  registry: demoId('filters', 3),
  tide: demoId('filters', 4),
};
const endpoint = { registry: demoId('endpoints', 1), tideApi: demoId('endpoints', 2) };

/** The route tables of the demo. */
export function routeTables(): Fields<'routeTables'>[] {
  return [
    { name: 'models-public', networkId: network.models },
    { name: 'booking-public', networkId: network.booking },
    { name: 'models-main', networkId: network.models, isMain: true },
    { name: 'hub-main', networkId: network.hub, isMain: true },
    { name: 'hub-behind-wall', networkId: network.hub },
    { name: 'basalt-main', networkId: network.basalt, isMain: true },
    { name: 'basalt-behind-edge', networkId: network.basalt },
    { name: 'piers-main', networkId: network.piers, isMain: true },
    ...zones.map((zone) => ({ name: `booking-${zone}`, networkId: network.booking, isMain: true, zone })),
  ];
}

/** Subnets at the edges: one for the NAT device of each zone, those of the hub, and that of the hall’s own firewall. */
export function edgeSubnets(): Fields<'subnets'>[] {
  return [
    ...zones.map((zone, at): Fields<'subnets'> => ({
      name: `booking-edge-${zone}`,
      networkId: network.booking,
      siteId: zone.startsWith('n') ? site.haldenNorth : site.haldenSouth,
      zone,
      purpose: 'other',
      prefix: `10.31.1.${at * 16}/28`,
      delegatedTo: 'nat',
      isPublic: true,
      internetEgress: 'direct',
      routeTableId: table.bookingPublic,
    })),
    {
      name: 'hub-wall',
      networkId: network.hub,
      siteId: site.orreryEast,
      purpose: 'other',
      prefix: '10.31.255.0/27',
      delegatedTo: 'firewall',
      isPublic: true,
      internetEgress: 'direct',
      routeTableId: table.hubWall,
    },
    {
      name: 'hub-shared',
      networkId: network.hub,
      siteId: site.orreryEast,
      purpose: 'endpoint',
      prefix: '10.31.255.32/27',
      internetEgress: 'none',
    },
    {
      name: 'basalt-edge',
      networkId: network.basalt,
      siteId: site.basalt,
      purpose: 'other',
      prefix: '10.43.255.0/28',
      delegatedTo: 'firewall',
      isPublic: true,
      internetEgress: 'direct',
      routeTableId: table.basaltEdge,
    },
    {
      name: 'basalt-front',
      networkId: network.basalt,
      siteId: site.basalt,
      purpose: 'entry',
      prefix: '10.43.255.16/28',
    },
  ];
}

/** How packets leave, what may pass, what is needed and expected; each mistake of a kind that happens at work. */
export function egressOperations(plan: Plan): Operation[] {
  return [
    ...devices(),
    ...routes(),
    ...adds('bastions', [{ name: 'models-gate', subnetId: demoId('subnets', 3), address: '10.28.255.70' }]),
    ...clusters(),
    ...rules(plan),
    ...wants(),
  ];
}

function devices(): Operation[] {
  return [
    ...adds(
      'natDevices',
      zones.map((zone, at) => ({
        name: `booking-nat-${zone}`,
        subnetId: edgeOf(at),
        publicAddresses: [`203.0.113.${10 + at}`],
      })),
    ),
    ...adds('firewalls', [
      { name: 'hub-wall', subnetId: subnet.wall, publicAddresses: ['203.0.113.40', '203.0.113.41'] },
      { name: 'basalt-edge', subnetId: subnet.basaltEdge, publicAddresses: ['203.0.113.60'] },
    ]),
  ];
}

function routes(): Operation[] {
  const everywhere = { prefix: '0.0.0.0/0' };
  const leads = (routeTableId: string, nextHop: 'internet') => ({ ...everywhere, routeTableId, nextHop });
  return adds('routes', [
    leads(table.modelsPublic, 'internet'),
    leads(table.bookingPublic, 'internet'),
    leads(table.hubWall, 'internet'),
    leads(table.basaltEdge, 'internet'),
    { ...everywhere, routeTableId: table.modelsMain, nextHop: 'link', linkId: link.hub },
    { ...everywhere, routeTableId: table.piersMain, nextHop: 'link', linkId: link.hub },
    { ...everywhere, routeTableId: table.hubMain, nextHop: 'firewall', firewallId: wall.hub },
    { ...everywhere, routeTableId: table.basaltMain, nextHop: 'firewall', firewallId: wall.basalt },
    ...zones.map((zone, at): Fields<'routes'> => ({
      ...everywhere,
      routeTableId: zoneTable(at),
      nextHop: 'nat',
      // Copied from the first zone and never changed: n3 leaves through another zone's device.
      natDeviceId: natOf(zone === 'n3' ? 0 : at),
      note: zone === 'n3' ? 'Copied from booking-n1' : '',
    })),
  ]);
}

function clusters(): Operation[] {
  return [
    setOperation('clusters', demoId('clusters', 4), { apiEndpoint: 'private', bastionId: demoId('bastions', 1) }),
    ...adds('endpoints', [
      { name: 'registry', subnetId: subnet.shared, address: '10.31.255.40', serves: 'registry' },
      {
        name: 'tide-api',
        subnetId: demoId('subnets', 1),
        address: '10.28.255.10',
        serves: 'cluster API',
        clusterId: demoId('clusters', 4),
      },
    ]),
  ];
}

function rules(plan: Plan): Operation[] {
  const rangesOf = (n: number, ...purposes: string[]) =>
    plan.allocations
      .filter(({ clusterId, purpose }) => clusterId === demoId('clusters', n) && purposes.includes(purpose))
      .map(({ prefix }) => prefix);
  const [booking, timetable, tide] = [rangesOf(1, 'node', 'pod'), rangesOf(7, 'node'), rangesOf(4, 'node', 'pod')];
  return [
    ...adds('prefixSets', [{ name: 'spokes', prefixes: ['10.16.0.0/12'], note: 'Everything cut from the backbone' }]),
    ...adds('filters', [
      { name: 'booking-nodes', clusterIds: [demoId('clusters', 1)], defaultOut: 'allow' },
      { name: 'timetable-nodes', clusterIds: [demoId('clusters', 7)], defaultOut: 'allow' },
      { name: 'registry-door', endpointIds: [endpoint.registry], defaultOut: 'allow' },
      { name: 'tide-nodes', clusterIds: [demoId('clusters', 4)], defaultOut: 'allow' },
    ]),
    ...adds('filterRules', [
      rule(filter.booking, 100, 'any', [], booking, 'Nodes and pods among themselves'),
      rule(filter.booking, 110, 'tcp', ['30000-32767'], ['10.20.0.0/16'], 'NodePorts for the head office'),
      // The encapsulation was changed to Geneve, UDP 6081; nobody told the filter.
      rule(filter.timetable, 100, 'udp', ['4789'], timetable, 'Overlay'),
      rule(filter.timetable, 110, 'tcp', ['10250'], timetable, 'Kubelet'),
      // The build hall that pushed images has moved since.
      rule(filter.registry, 100, 'tcp', ['443'], ['10.99.0.0/16'], 'Build hall'),
      rule(filter.tide, 100, 'any', [], tide, 'Nodes and pods among themselves'),
      rule(filter.tide, 110, 'tcp', ['22'], ['10.28.255.64/27'], 'Administration from the bastion'),
      rule(filter.booking, 120, 'tcp', ['30080-30081'], ['10.31.0.0/26'], 'The load balancer calls nodes'),
      rule(
        filter.tide,
        130,
        'tcp',
        ['30082'],
        ['10.28.255.0/26', '10.16.0.0/12', '10.40.0.0/14'],
        'The load balancer calls nodes and leaves the client’s address',
      ),
      rule(filter.tide, 120, 'tcp', ['8080'], ['172.20.0.0/16'], 'Tide lab reads the models'),
    ]),
    ...adds('firewallRules', [
      {
        firewallId: wall.hub,
        position: 100,
        ports: ['443'],
        sourceSetIds: [demoId('prefixSets', 1)],
        destinations: ['198.51.100.0/24'],
        note: 'Images and packages',
      },
      {
        firewallId: wall.hub,
        position: 110,
        protocol: 'udp',
        ports: ['123'],
        sourceSetIds: [demoId('prefixSets', 1)],
        destinations: ['203.0.113.123/32'],
        note: 'Time',
      },
      {
        firewallId: wall.hub,
        position: 200,
        ports: ['443'],
        sources: ['10.28.0.0/16'],
        destinations: ['198.51.100.0/25'],
        note: 'Images for the models: rule 100 allows it already',
      },
      {
        firewallId: wall.hub,
        position: 120,
        ports: ['443'],
        sourceSetIds: [demoId('prefixSets', 1)],
        destinations: ['192.0.2.0/26'],
        note: 'APIs of hosted control planes',
      },
      {
        firewallId: wall.basalt,
        position: 120,
        ports: ['443'],
        sources: ['10.40.0.0/14'],
        destinations: ['192.0.2.0/26'],
        note: 'APIs of hosted control planes',
      },
      {
        firewallId: wall.basalt,
        position: 100,
        ports: ['443'],
        sources: ['10.40.0.0/14'],
        destinations: ['198.51.100.0/24'],
        note: 'Images and packages',
      },
      {
        firewallId: wall.basalt,
        position: 110,
        protocol: 'udp',
        ports: ['123'],
        sources: ['10.40.0.0/14'],
        destinations: ['203.0.113.123/32'],
        note: 'Time',
      },
    ]),
  ];
}

function rule(
  filterId: string,
  position: number,
  protocol: 'any' | 'tcp' | 'udp',
  ports: readonly string[],
  peers: readonly string[],
  note: string,
): Fields<'filterRules'> {
  return { filterId, direction: 'in', position, protocol, ports, peers, note };
}

function wants(): Operation[] {
  return [
    ...adds('needs', [
      { name: 'image registry', hosts: ['images.skerryline.example'], prefixes: ['198.51.100.0/25'], ports: ['443'] },
      {
        name: 'package mirror',
        hosts: ['packages.skerryline.example'],
        prefixes: ['198.51.100.128/26'],
        ports: ['443'],
      },
      {
        name: 'time',
        hosts: ['time.skerryline.example'],
        prefixes: ['203.0.113.123/32'],
        protocol: 'udp',
        ports: ['123'],
      },
      {
        name: 'own registry',
        hosts: ['registry.skerryline.example'],
        ports: ['443'],
        access: 'private endpoint',
        endpointIds: [endpoint.registry],
        templateIds: [template.kiosk],
      },
      {
        name: 'ferry control',
        prefixes: ['10.100.0.0/16'],
        ports: ['8443'],
        clusterIds: [demoId('clusters', 1), demoId('clusters', 3)],
      },
    ]),
    ...adds('expectations', [
      {
        name: 'kiosks stay out of booking',
        from: 'pod of kiosk-ardle',
        to: 'pod of booking-north tcp 8080',
        verdict: 'must be refused',
      },
      { name: 'head office leaves through the hub', from: '10.20.0.9 in head-office', to: '198.51.100.20 tcp 443' },
      { name: 'harbour API stays inside', from: 'the internet', to: 'api of harbour-ops', verdict: 'must be refused' },
      { name: 'tide lab reads the models', from: 'range Tide lab', to: 'pod of tide-models tcp 8080' },
      { name: 'models are administered from the gate', from: 'bastion models-gate', to: 'node of tide-models tcp 22' },
    ]),
  ];
}
