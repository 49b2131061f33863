import { grouped } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { adds, addsFrom, demoId } from './adds.js';
import type { Fields } from './adds.js';

const cluster = {
  north: demoId('clusters', 1),
  south: demoId('clusters', 2),
  harbour: demoId('clusters', 3),
  tide: demoId('clusters', 4),
  weather: demoId('clusters', 5),
  shared: demoId('clusters', 6),
  kiosk: demoId('clusters', 8),
};
const connection = {
  booking: demoId('connections', 1),
  tides: demoId('connections', 2),
  piers: demoId('connections', 3),
  coaches: demoId('connections', 4),
};

/** Workloads and services that other clusters use. */
function workloads(): Operation[] {
  const south = { clusterId: cluster.south, namespace: 'shop' };
  const shared = { clusterId: cluster.shared, namespace: 'tills' };
  const http = ['http tcp 8080'];
  return [
    ...addsFrom('workloads', 12, [
      {
        ...south,
        name: 'basket',
        labels: ['app=basket'],
        serviceMs: 40,
        concurrency: 8,
        replicasNow: 12,
        replicasHorizon: 30,
        ports: http,
        cpuMillis: 1500,
        memoryMib: 3072,
      },
      {
        ...shared,
        name: 'prices',
        labels: ['app=prices'],
        serviceMs: 15,
        concurrency: 16,
        replicasNow: 6,
        replicasHorizon: 10,
        ports: http,
        cpuMillis: 1000,
        memoryMib: 2048,
      },
      {
        ...shared,
        name: 'ledger',
        objectKind: 'StatefulSet',
        labels: ['app=ledger'],
        serviceMs: 30,
        concurrency: 8,
        replicasNow: 3,
        replicasHorizon: 3,
        ports: ['sql tcp 5432'],
        cpuMillis: 2000,
        memoryMib: 8192,
      },
    ]),
    ...addsFrom('services', 15, [
      { ...south, name: 'basket', selector: ['app=basket'], ports: ['tcp 80 to http'] },
      { ...shared, name: 'prices', selector: ['app=prices'], ports: ['web tcp 80 to http'] },
      { ...shared, name: 'ledger', type: 'headless', selector: ['app=ledger'], ports: ['sql tcp 5432 to sql'] },
    ]),
  ];
}

/**
 * Clusters that work as one. Honest mistakes: the harbour has a single gateway, two kiosks have one cluster id, the ledger is exported by its
 * name alone though its clients ask for single pods, and the services of the first kiosk and of the tide models have one range.
 */
export function connectionOperations(plan: Plan): Operation[] {
  return [...workloads(), ...openings(plan), ...connections(), ...members(plan), ...exports()];
}

/** Pods of the south call those of the north: its filter and its network policies let them in. */
function openings(plan: Plan): Operation[] {
  const south = (grouped(plan.allocations, 'clusterId').get(cluster.south) ?? [])
    .filter(({ purpose }) => purpose === 'pod')
    .map(({ prefix }) => prefix);
  return [
    ...addsFrom('filterRules', 15, [
      {
        filterId: demoId('filters', 1),
        direction: 'in',
        position: 130,
        protocol: 'tcp',
        ports: ['8080', '9090'],
        peers: south,
        note: 'Pods of booking-south',
      },
    ]),
    ...addsFrom('networkPolicies', 4, [
      {
        clusterId: cluster.north,
        namespace: 'shop',
        name: 'from-south',
        selector: ['app in (basket, seat-search)'],
        allowIn: south.map((prefix) => `${prefix} on tcp 8080, tcp 9090`),
      },
    ]),
  ];
}

function connections(): Operation[] {
  return adds('connections', [
    { name: 'booking', method: 'flat', note: 'North and south sell the same seats' },
    {
      name: 'tides',
      method: 'tunnels',
      tunnel: 'wireguard',
      rendezvous: '10.43.255.6',
      keyReference: 'keys/connections/tides',
      probeSeconds: 10,
      probesLost: 3,
      takeoverSeconds: 15,
    },
    {
      name: 'piers',
      method: 'relays',
      shape: 'hub',
      keyReference: 'keys/connections/piers',
      probeSeconds: 5,
      probesLost: 4,
      takeoverSeconds: 10,
      note: 'Piers dial the hall over the radio ring',
    },
    {
      name: 'coaches',
      method: 'tunnels',
      tunnel: 'esp-gcm-nat',
      keyReference: 'keys/connections/coaches',
      isPlanned: true,
      note: 'When the coach company is joined',
    },
  ]);
}

function members(plan: Plan): Operation[] {
  const kiosks = plan.clusters.filter(({ name }) => name.startsWith('kiosk-'));
  const podsOf = (id: string) =>
    (grouped(plan.allocations, 'clusterId').get(id) ?? []).find(
      ({ purpose, prefix }) => purpose === 'pod' && !prefix.includes(':'),
    )?.prefix;
  // The pods of the first kiosk and of the harbour have one range, as overlays may; each is shown in one of its own.
  const shown = (id: string, as: string) => {
    const prefix = podsOf(id);
    return prefix === undefined ? [] : [`${prefix} as ${as}/${prefix.split('/')[1] ?? ''}`];
  };
  return adds('members', [
    { connectionId: connection.booking, clusterId: cluster.north, memberId: 'booking-north' },
    { connectionId: connection.booking, clusterId: cluster.south, memberId: 'booking-south' },
    {
      connectionId: connection.tides,
      clusterId: cluster.harbour,
      memberId: 'harbour',
      gateways: 1,
      gatewayMbps: 2000,
      plannedMbps: 600,
      translated: shown(cluster.harbour, '172.22.0.0'),
      note: 'A second rack is on order',
    },
    {
      connectionId: connection.tides,
      clusterId: cluster.tide,
      memberId: 'tide',
      dials: 'dials',
      gateways: 2,
      gatewayZones: ['e1', 'e2'],
      gatewayMbps: 1500,
      plannedMbps: 900,
    },
    {
      connectionId: connection.tides,
      clusterId: cluster.weather,
      memberId: 'weather',
      dials: 'dials',
      gateways: 2,
      gatewayMbps: 1500,
      plannedMbps: 300,
    },
    {
      connectionId: connection.tides,
      clusterId: cluster.kiosk,
      memberId: 'kiosk-ardle',
      gateways: 2,
      gatewayMbps: 50,
      plannedMbps: 2,
      translated: shown(cluster.kiosk, '172.23.0.0'),
    },
    {
      connectionId: connection.piers,
      clusterId: cluster.shared,
      memberId: 'shared',
      isHub: true,
      dials: 'is dialled',
      gateways: 3,
      gatewayMbps: 1000,
      plannedMbps: 400,
    },
    ...kiosks.map(({ id, name }): Fields<'members'> => ({
      connectionId: connection.piers,
      clusterId: id,
      memberId: name === 'kiosk-dunvo' ? 'kiosk-corran' : name,
      dials: 'dials',
      gateways: 2,
      gatewayMbps: 50,
      plannedMbps: 8,
    })),
    {
      connectionId: connection.coaches,
      clusterId: cluster.harbour,
      memberId: 'harbour',
      gateways: 2,
      gatewayMbps: 2000,
    },
    {
      connectionId: connection.coaches,
      clusterId: plan.clusters.find(({ name }) => name === 'coach-depots')?.id ?? '',
      memberId: 'coach-depots',
      dials: 'dials',
      gateways: 2,
      gatewayMbps: 500,
    },
  ]);
}

function exports(): Operation[] {
  const north = demoId('members', 1);
  const south = demoId('members', 2);
  const harbour = demoId('members', 3);
  const tide = demoId('members', 4);
  const shared = demoId('members', 7);
  return adds('serviceExports', [
    { memberId: north, namespace: 'shop', name: 'basket', weight: 3, createdOn: '2026-02-01' },
    { memberId: south, namespace: 'shop', name: 'basket', weight: 1, createdOn: '2026-05-12' },
    { memberId: north, namespace: 'shop', name: 'seat-search', maxRoundTripMs: 20, createdOn: '2026-02-01' },
    { memberId: tide, namespace: 'models', name: 'tide', maxRoundTripMs: 30, createdOn: '2026-06-03' },
    { memberId: harbour, namespace: 'ops', name: 'tide-gate', usedByIds: [cluster.tide], createdOn: '2026-06-03' },
    { memberId: harbour, namespace: 'ops', name: 'berth-board', createdOn: '2026-06-03' },
    { memberId: shared, namespace: 'tills', name: 'prices', createdOn: '2026-04-20' },
    { memberId: shared, namespace: 'tills', name: 'ledger', mirrorsPods: false, createdOn: '2026-04-20' },
  ]);
}
