import type { Cluster, Connection, EntityOf, Kind, Member, Operation, Plan, ServiceExport } from '../src/plan/index.js';
import { add, applied, cluster, ground, testId } from './worlds.js';

/** What of a joined world is not as usual. */
interface Joined {
  readonly count?: number;
  readonly clusters?: readonly Partial<Omit<Cluster, 'id'>>[];
  /** Pod ranges, in the order of the clusters; 10.(100 + n).0.0/16 where none is said. */
  readonly pods?: readonly string[];
  readonly services?: readonly string[];
  readonly connection?: Partial<Connection>;
  readonly members?: readonly Partial<Member>[];
  readonly exports?: readonly Partial<ServiceExport>[];
  readonly more?: readonly Operation[];
}

/** Clusters c1, c2 and so on, each in a network of its own on one hub, joined by one connection; nodes in 10.n.0.0/24. */
export function joined({
  count = 2,
  clusters = [],
  pods = [],
  services = [],
  connection = {},
  members = [],
  exports = [],
  more = [],
}: Joined = {}): Plan {
  const numbers = Array.from({ length: count }, (_, i) => i + 1);
  return applied(ground(count), [
    ...add('links', { name: 'hub', kind: 'hub', networkIds: numbers.map((n) => testId('networks', n)) }),
    ...add(
      'clusters',
      ...numbers.map((n) => cluster(`c${n}`, { networkId: testId('networks', n), ...clusters[n - 1] })),
    ),
    ...add('allocations', ...numbers.flatMap((n) => rangesOf(n, pods[n - 1], services[n - 1]))),
    ...add('connections', { name: 'coast', method: 'tunnels', ...connection }),
    ...add(
      'members',
      ...numbers.map((n): Partial<Member> => ({
        connectionId: testId('connections', 1),
        clusterId: testId('clusters', n),
        memberId: `m${n}`,
        ...members[n - 1],
      })),
    ),
    ...add(
      'serviceExports',
      ...exports.map((each) => ({ memberId: testId('members', 1), createdOn: '2026-11-01', ...each })),
    ),
    ...more,
  ]);
}

function rangesOf(n: number, pod = `10.${100 + n}.0.0/16`, service = `10.${200 + n}.0.0/20`) {
  const of = (purpose: 'node' | 'pod' | 'service', prefix: string) => ({
    clusterId: testId('clusters', n),
    purpose,
    prefix,
  });
  return [of('node', `10.${n}.0.0/24`), of('pod', pod), of('service', service)];
}

/** A workload with a service of the same name in the nth cluster. */
export function served(n: number, name: string, fields: Partial<EntityOf['services']> = {}, at = n): Operation[] {
  const where = { clusterId: testId('clusters', n), namespace: 'shop' };
  const numbered = <K extends Kind>(kind: K, of: Partial<EntityOf[K]>) => add(kind, { ...of, id: testId(kind, at) });
  return [
    ...numbered('workloads', {
      ...where,
      name,
      labels: [`app=${name}`],
      ports: ['http tcp 8080'],
      replicasNow: 2,
      replicasHorizon: 4,
    }),
    ...numbered('services', { ...where, name, selector: [`app=${name}`], ports: ['web tcp 80 to http'], ...fields }),
  ];
}

/** Two clusters without a link: one goes out by a NAT device, the other has gateways with public addresses. */
export function behindNat(connection: Partial<Connection> = {}): Plan {
  const tables = (n: number, nextHop: 'internet' | 'nat'): Operation[] => [
    ...add('routeTables', {
      id: testId('routeTables', n),
      name: `t${n}`,
      networkId: testId('networks', n),
      isMain: true,
    }),
    ...add('routes', {
      id: testId('routes', n),
      routeTableId: testId('routeTables', n),
      prefix: '0.0.0.0/0',
      nextHop,
      ...(nextHop === 'nat' ? { natDeviceId: testId('natDevices', 1) } : {}),
    }),
  ];
  const edge: Operation[] = [
    ...add('routeTables', { id: testId('routeTables', 9), name: 'edge', networkId: testId('networks', 1) }),
    ...add('routes', {
      id: testId('routes', 9),
      routeTableId: testId('routeTables', 9),
      prefix: '0.0.0.0/0',
      nextHop: 'internet',
    }),
    ...add('subnets', {
      name: 'edge',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'other',
      prefix: '10.1.9.0/28',
      routeTableId: testId('routeTables', 9),
    }),
    ...add('natDevices', { name: 'nat', subnetId: testId('subnets', 1), publicAddresses: ['203.0.113.7'] }),
  ];
  const members: Partial<Member>[] = [{ dials: 'dials' }, { gatewayAddresses: ['198.51.100.9', '198.51.100.10'] }];
  return applied(joined({ members, connection }), [
    { op: 'remove', kind: 'links', id: testId('links', 1) },
    ...edge,
    ...tables(1, 'nat'),
    ...tables(2, 'internet'),
  ]);
}
