import type { Operation } from '../plan/index.js';
import { adds, demoId } from './adds.js';

const cluster = {
  booking: demoId('clusters', 1),
  harbour: demoId('clusters', 3),
  tide: demoId('clusters', 4),
  kiosk: demoId('clusters', 8),
};

/** The workloads and services of the demo, and the entry points to them. */
export function ingressOperations(): Operation[] {
  return [...workloads(), ...balancers(), ...routes(), ...policies(), ...grants()];
}

/**
 * Honest mistakes: the search for seats has no room when a zone is lost, the tide gate is asked on a port that its pods do not listen on,
 * and nothing answers for the archive.
 */
function workloads(): Operation[] {
  const shop = { clusterId: cluster.booking, namespace: 'shop' };
  const ops = { clusterId: cluster.harbour, namespace: 'ops' };
  const models = { clusterId: cluster.tide, namespace: 'models' };
  const edge = { clusterId: cluster.booking, namespace: 'edge' };
  const kiosk = { clusterId: cluster.kiosk, namespace: 'kiosk' };
  const http = ['http tcp 8080'];
  return [
    ...adds('workloads', [
      {
        ...shop,
        name: 'storefront',
        labels: ['app=storefront'],
        callsTo: ['pay.clearing.example', 'basket', 'tide.models.skerryline.example'],
        lookUps: 20,
        serviceMs: 18,
        concurrency: 16,
        replicasNow: 30,
        replicasHorizon: 80,
        ports: http,
        cpuMillis: 1000,
        memoryMib: 2048,
      },
      {
        ...shop,
        name: 'basket',
        labels: ['app=basket'],
        callsTo: ['pay.clearing.example.', 'seat-search'],
        lookUps: 12,
        dnsCache: '30 s',
        serviceMs: 40,
        concurrency: 8,
        replicasNow: 24,
        replicasHorizon: 60,
        ports: http,
        cpuMillis: 1500,
        memoryMib: 3072,
      },
      {
        ...shop,
        name: 'seat-search',
        labels: ['app=seat-search'],
        serviceMs: 120,
        concurrency: 4,
        replicasNow: 12,
        replicasHorizon: 36,
        ports: ['grpc tcp 9090'],
        nodePoolId: demoId('nodePools', 1),
        cpuMillis: 8000,
        memoryMib: 24_576,
      },
      {
        ...ops,
        name: 'berth-board',
        labels: ['app=berth-board'],
        replicasNow: 6,
        replicasHorizon: 9,
        ports: http,
        cpuMillis: 2000,
        memoryMib: 4096,
      },
      {
        ...ops,
        name: 'tide-gate',
        labels: ['app=tide-gate'],
        replicasNow: 3,
        replicasHorizon: 3,
        ports: ['control tcp 9443'],
        cpuMillis: 1000,
        memoryMib: 2048,
      },
      {
        ...models,
        name: 'tide-v1',
        callsTo: ['buoys.coastwatch.example', 'archive'],
        lookUps: 8,
        serviceMs: 250,
        concurrency: 4,
        labels: ['app=tide', 'version=1'],
        replicasNow: 18,
        replicasHorizon: 40,
        ports: http,
        cpuMillis: 4000,
        memoryMib: 12_288,
      },
      {
        ...models,
        name: 'tide-v2',
        serviceMs: 200,
        concurrency: 4,
        labels: ['app=tide', 'version=2'],
        replicasNow: 2,
        replicasHorizon: 8,
        ports: http,
        cpuMillis: 4000,
        memoryMib: 12_288,
      },
      {
        ...kiosk,
        name: 'tickets',
        labels: ['app=tickets'],
        serviceMs: 25,
        concurrency: 8,
        replicasNow: 2,
        replicasHorizon: 3,
        ports: http,
        cpuMillis: 500,
        memoryMib: 768,
      },
      {
        ...edge,
        name: 'edge',
        labels: ['app=edge'],
        replicasNow: 6,
        replicasHorizon: 9,
        ports: ['plain tcp 8080', 'secure tcp 8443'],
        cpuMillis: 1000,
        memoryMib: 1024,
        serviceMs: 2,
        concurrency: 256,
      },
      {
        ...models,
        name: 'edge',
        labels: ['app=edge'],
        replicasNow: 3,
        replicasHorizon: 3,
        ports: ['plain tcp 8080'],
        cpuMillis: 1000,
        memoryMib: 1024,
        serviceMs: 2,
        concurrency: 256,
      },
      {
        ...kiosk,
        name: 'inside',
        labels: ['app=inside'],
        replicasNow: 2,
        replicasHorizon: 2,
        ports: ['plain tcp 8080'],
        cpuMillis: 250,
        memoryMib: 256,
      },
    ]),
    ...adds('services', [
      {
        ...shop,
        name: 'storefront',
        type: 'LoadBalancer',
        selector: ['app=storefront'],
        ports: ['web tcp 80 to http'],
        externalPolicy: 'local',
      },
      { ...shop, name: 'basket', selector: ['app=basket'], ports: ['tcp 80 to 8080'] },
      { ...shop, name: 'seat-search', selector: ['app=seat-search'], ports: ['tcp 80 to grpc'] },
      {
        ...ops,
        name: 'berth-board',
        type: 'NodePort',
        selector: ['app=berth-board'],
        ports: ['tcp 80 to http node 30080'],
      },
      {
        ...ops,
        name: 'tide-gate',
        type: 'NodePort',
        selector: ['app=tide-gate'],
        ports: ['tcp 443 to 8443 node 30443'],
      },
      { ...models, name: 'tide', selector: ['app=tide'], ports: ['tcp 80 to http'], address: '100.112.0.12' },
      { ...models, name: 'archive', selector: ['app=archive'], ports: ['tcp 80 to http'] },
      { ...kiosk, name: 'tickets', selector: ['app=tickets'], ports: ['tcp 80 to http'], affinity: 'client address' },
      { ...kiosk, name: 'clearing', type: 'ExternalName', externalName: 'clearing.skerryline.example' },
      {
        ...edge,
        name: 'edge',
        type: 'NodePort',
        selector: ['app=edge'],
        ports: ['plain tcp 80 to plain node 30080', 'secure tcp 443 to secure node 30081'],
      },
      { ...models, name: 'tide-v1', selector: ['app=tide', 'version=1'], ports: ['tcp 80 to http'] },
      { ...models, name: 'tide-v2', selector: ['app=tide', 'version=2'], ports: ['tcp 80 to http'] },
      {
        ...models,
        name: 'edge',
        type: 'NodePort',
        selector: ['app=edge'],
        ports: ['plain tcp 80 to plain node 30082'],
        externalPolicy: 'local',
      },
      { ...kiosk, name: 'inside', selector: ['app=inside'], ports: ['plain tcp 80 to plain'], address: '100.112.0.12' },
    ]),
  ];
}

const service = {
  board: demoId('services', 4),
  gate: demoId('services', 5),
  bookingEdge: demoId('services', 10),
  tideEdge: demoId('services', 13),
  kioskInside: demoId('services', 14),
};
const balancer = { booking: demoId('balancers', 1), berth: demoId('balancers', 2), tide: demoId('balancers', 3) };

/**
 * Booking stands behind two tiers, harbour operations behind an appliance in their own hall, the tide models behind a gateway. Honest
 * mistakes: a health check whose port no filter opens, a listener without a certificate, a backend on a port that its service does not have.
 */
function balancers(): Operation[] {
  return [
    ...adds('balancers', [
      {
        name: 'booking-front',
        subnetId: demoId('subnets', 4),
        layer: '4',
        side: 'public',
        address: '203.0.113.80',
        zones: ['n1', 'n2', 'n3'],
      },
      {
        name: 'berth-front',
        subnetId: demoId('subnets', 14),
        layer: '7',
        runBy: 'appliance',
        side: 'internal',
        address: '10.43.255.20',
      },
      {
        name: 'models-front',
        subnetId: demoId('subnets', 1),
        layer: '4',
        side: 'internal',
        address: '10.28.255.40',
        client: 'kept',
      },
    ]),
    ...adds('backends', [
      {
        name: 'edge-plain',
        balancerId: balancer.booking,
        members: 'nodes',
        serviceId: service.bookingEdge,
        port: 80,
        healthPort: 10_256,
      },
      {
        name: 'edge-secure',
        balancerId: balancer.booking,
        members: 'nodes',
        serviceId: service.bookingEdge,
        port: 443,
      },
      {
        name: 'berth-nodes',
        balancerId: balancer.berth,
        protocol: 'http',
        members: 'nodes',
        serviceId: service.board,
        port: 80,
        healthPath: '/ready',
        method: 'least connections',
      },
      {
        name: 'gate-nodes',
        balancerId: balancer.berth,
        protocol: 'https',
        members: 'nodes',
        serviceId: service.gate,
        port: 80,
      },
      { name: 'tide-nodes', balancerId: balancer.tide, members: 'nodes', serviceId: service.tideEdge, port: 80 },
    ]),
    ...adds('listeners', [
      { name: 'plain', balancerId: balancer.booking, protocol: 'tcp', port: 80, backendId: demoId('backends', 1) },
      { name: 'secure', balancerId: balancer.booking, protocol: 'tcp', port: 443, backendId: demoId('backends', 2) },
      { name: 'boards', balancerId: balancer.berth, protocol: 'http', port: 80, backendId: demoId('backends', 3) },
      { name: 'secure', balancerId: balancer.berth, protocol: 'https', port: 443, backendId: demoId('backends', 3) },
      {
        name: 'gate',
        balancerId: balancer.berth,
        protocol: 'https',
        port: 8443,
        certificate: 'gate-cert',
        certificateHosts: ['gate.harbour.skerryline.example'],
        backendId: demoId('backends', 4),
      },
      { name: 'plain', balancerId: balancer.tide, protocol: 'tcp', port: 80, backendId: demoId('backends', 5) },
    ]),
    ...adds('controllers', [
      {
        name: 'booking-edge',
        clusterId: cluster.booking,
        classes: ['booking-edge'],
        serviceId: service.bookingEdge,
        balancerId: balancer.booking,
      },
      {
        name: 'model-edge',
        clusterId: cluster.tide,
        classes: ['model-edge'],
        serviceId: service.tideEdge,
        balancerId: balancer.tide,
      },
      { name: 'inside', clusterId: cluster.kiosk, classes: ['inside'], serviceId: service.kioskInside },
    ]),
  ];
}

/** Honest mistakes: a class that nobody serves, a route that another one covers. */
function routes(): Operation[] {
  const shop = { clusterId: cluster.booking, namespace: 'shop', className: 'booking-edge' };
  const cert = {
    certificate: 'shop/tickets-cert',
    certificateHosts: ['tickets.skerryline.example', 'seats.skerryline.example'],
  };
  const models = {
    clusterId: cluster.tide,
    namespace: 'models',
    objectKind: 'HTTPRoute' as const,
    gatewayId: demoId('gateways', 1),
    hosts: ['tide.models.skerryline.example'],
  };
  const weighted = ['tide-v1 80 weight 90', 'tide-v2 80 weight 10'];
  return [
    ...adds('gateways', [
      {
        clusterId: cluster.tide,
        namespace: 'models',
        name: 'models',
        className: 'model-edge',
        listeners: ['plain http 80 *.models.skerryline.example'],
      },
    ]),
    ...adds('ingressRoutes', [
      {
        ...shop,
        ...cert,
        name: 'tickets',
        age: 1,
        rule: 1,
        hosts: ['tickets.skerryline.example'],
        path: '/',
        backends: ['storefront 80'],
      },
      {
        ...shop,
        ...cert,
        name: 'tickets',
        age: 1,
        rule: 2,
        hosts: ['tickets.skerryline.example'],
        path: '/basket',
        backends: ['basket 80'],
        rateLimitPerMinute: 120,
      },
      {
        ...shop,
        ...cert,
        name: 'seats',
        age: 2,
        hosts: ['seats.skerryline.example'],
        path: '/',
        backends: ['seat-search 80'],
      },
      {
        ...shop,
        ...cert,
        name: 'basket-old',
        age: 4,
        hosts: ['tickets.skerryline.example'],
        path: '/basket',
        backends: ['basket 80'],
        note: 'From before the move',
      },
      {
        ...shop,
        className: 'edge-old',
        name: 'offers',
        hosts: ['offers.skerryline.example'],
        backends: ['storefront 80'],
      },
      { ...models, name: 'tide', rule: 1, path: '/', backends: weighted },
      { ...models, name: 'tide', rule: 2, path: '/v2', headers: ['x-preview=yes'], backends: ['tide-v2 80'] },
      {
        clusterId: cluster.kiosk,
        namespace: 'kiosk',
        name: 'tickets',
        className: 'inside',
        hosts: ['tickets.pier.example'],
        backends: ['tickets 80'],
      },
    ]),
  ];
}

/** Routes of the edge may send to the shop front, once a gateway stands there. */
function grants(): Operation[] {
  return adds('referenceGrants', [
    {
      clusterId: cluster.booking,
      namespace: 'shop',
      name: 'from-edge',
      from: ['HTTPRoute in edge'],
      to: ['Service storefront'],
    },
  ]);
}

/** Honest mistake: the search for seats may call nobody but the basket, and so finds no names any more. */
function policies(): Operation[] {
  const shop = { clusterId: cluster.booking, namespace: 'shop' };
  const edge = 'namespaces kubernetes.io/metadata.name=edge';
  return adds('networkPolicies', [
    { ...shop, name: 'from-edge', allowIn: [`${edge} on tcp 8080, tcp 9090`] },
    {
      ...shop,
      name: 'basket',
      selector: ['app=basket'],
      allowIn: ['pods app in (storefront, seat-search) on tcp http'],
    },
    {
      ...shop,
      name: 'seat-search',
      selector: ['app=seat-search'],
      directions: ['egress'],
      allowOut: ['pods app=basket on tcp 8080'],
    },
  ]);
}
