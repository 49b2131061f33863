import type { Operation } from '../plan/index.js';
import { adds, demoId } from './adds.js';

const cluster = {
  booking: demoId('clusters', 1),
  harbour: demoId('clusters', 3),
  tide: demoId('clusters', 4),
  kiosk: demoId('clusters', 8),
};

/**
 * Workloads and services of the demo. Honest mistakes: the search for seats has no room when a zone is lost, the tide gate is asked on a
 * port that its pods do not listen on, and nothing answers for the archive.
 */
export function ingressOperations(): Operation[] {
  const shop = { clusterId: cluster.booking, namespace: 'shop' };
  const ops = { clusterId: cluster.harbour, namespace: 'ops' };
  const models = { clusterId: cluster.tide, namespace: 'models' };
  const kiosk = { clusterId: cluster.kiosk, namespace: 'kiosk' };
  const http = ['http tcp 8080'];
  return [
    ...adds('workloads', [
      { ...shop, name: 'storefront', labels: ['app=storefront'], replicasNow: 30, replicasHorizon: 80, ports: http, cpuMillis: 1000, memoryMib: 2048 },
      { ...shop, name: 'basket', labels: ['app=basket'], replicasNow: 24, replicasHorizon: 60, ports: http, cpuMillis: 1500, memoryMib: 3072 },
      { ...shop, name: 'seat-search', labels: ['app=seat-search'], replicasNow: 12, replicasHorizon: 36, ports: ['grpc tcp 9090'], nodePoolId: demoId('nodePools', 1), cpuMillis: 8000, memoryMib: 24_576 },
      { ...ops, name: 'berth-board', labels: ['app=berth-board'], replicasNow: 6, replicasHorizon: 9, ports: http, cpuMillis: 2000, memoryMib: 4096 },
      { ...ops, name: 'tide-gate', labels: ['app=tide-gate'], replicasNow: 3, replicasHorizon: 3, ports: ['control tcp 9443'], cpuMillis: 1000, memoryMib: 2048 },
      { ...models, name: 'tide-v1', labels: ['app=tide', 'version=1'], replicasNow: 18, replicasHorizon: 40, ports: http, cpuMillis: 4000, memoryMib: 12_288 },
      { ...models, name: 'tide-v2', labels: ['app=tide', 'version=2'], replicasNow: 2, replicasHorizon: 8, ports: http, cpuMillis: 4000, memoryMib: 12_288 },
      { ...kiosk, name: 'tickets', labels: ['app=tickets'], replicasNow: 2, replicasHorizon: 3, ports: http, cpuMillis: 500, memoryMib: 768 },
    ]),
    ...adds('services', [
      { ...shop, name: 'storefront', type: 'LoadBalancer', selector: ['app=storefront'], ports: ['web tcp 80 to http'], externalPolicy: 'local' },
      { ...shop, name: 'basket', selector: ['app=basket'], ports: ['tcp 80 to 8080'] },
      { ...shop, name: 'seat-search', selector: ['app=seat-search'], ports: ['tcp 80 to grpc'] },
      { ...ops, name: 'berth-board', type: 'NodePort', selector: ['app=berth-board'], ports: ['tcp 80 to http node 30080'] },
      { ...ops, name: 'tide-gate', type: 'NodePort', selector: ['app=tide-gate'], ports: ['tcp 443 to 8443 node 30443'] },
      { ...models, name: 'tide', selector: ['app=tide'], ports: ['tcp 80 to http'], address: '100.112.0.12' },
      { ...models, name: 'archive', selector: ['app=archive'], ports: ['tcp 80 to http'] },
      { ...kiosk, name: 'tickets', selector: ['app=tickets'], ports: ['tcp 80 to http'], affinity: 'client address' },
      { ...kiosk, name: 'clearing', type: 'ExternalName', externalName: 'clearing.skerryline.example' },
    ]),
  ]; // prettier-ignore
}
