import fc from 'fast-check';
import { formatPrefix } from '../src/address/index.js';
import { addOperation, applyOperations, emptyPlan } from '../src/plan/index.js';
import type { Cluster, EntityOf, Kind, Operation, Plan, Pool } from '../src/plan/index.js';
import { crowdedPrefix } from './arbitraries.js';

/** The nth id of a kind in tests. */
export function testId(kind: Kind, n: number): string {
  const digit =
    ['profiles', 'sites', 'networks', 'links', 'pools', 'inUse', 'clusters', 'allocations'].indexOf(kind) + 1;
  return `018f0000-000${digit}-7000-8000-${n.toString(16).padStart(12, '0')}`;
}

/** Applies a change that must be good. */
export function applied(plan: Plan, operations: readonly Operation[]): Plan {
  const result = applyOperations(plan, operations);
  if (result.ok) return result.plan;
  throw new Error(result.problems.map((p) => `${p.field}: ${p.message} ${p.mend}`).join('; '));
}

/** Adds entities with ids from 1 on. */
export function add<K extends Kind>(kind: K, ...all: Omit<EntityOf[K], 'id'>[]): Operation[] {
  return all.map((fields, i) => addOperation(kind, { id: testId(kind, i + 1), ...fields } as unknown as EntityOf[K]));
}

/** A cluster with usual values. */
export function cluster(name: string, fields: Partial<Omit<Cluster, 'id'>> = {}): Omit<Cluster, 'id'> {
  return {
    name,
    siteId: testId('sites', 1),
    networkId: testId('networks', 1),
    podMode: 'overlay',
    family: 'ipv4',
    nodesNow: 3,
    nodesHorizon: 10,
    podsPerNode: 110,
    services: 100,
    surgePercent: 0,
    entryAddresses: 0,
    perNodeLength: null,
    isBuilt: false,
    ...fields,
  };
}

/** A pool for every purpose. */
export function pool(name: string, prefix: string, fields: Partial<Omit<Pool, 'id'>> = {}): Omit<Pool, 'id'> {
  return { name, prefix, purposes: ['node', 'pod', 'service'], siteId: null, isShared: false, ...fields };
}

/** One profile, one site with one zone, and `networks` networks named n1, n2 and so on. */
export function ground(networks = 1): Plan {
  return applied(emptyPlan({ name: 'test', expectsJoins: false }), [
    ...add('profiles', {
      name: 'plain',
      reservedFirst: 1,
      reservedLast: 1,
      subnetScope: 'region',
      routesPerTable: 1000,
    }),
    ...add('sites', { name: 'here', kind: 'region', profileId: testId('profiles', 1), zones: ['a'] }),
    ...add('networks', ...Array.from({ length: networks }, (_, i) => ({ name: `n${i + 1}`, note: '' }))),
  ]);
}

const NETWORKS = 5;

/** Small random worlds: networks, peerings, hubs, clusters of each mode and ranges in a crowded space. */
export const anyWorld: fc.Arbitrary<Plan> = fc
  .record({
    links: fc.array(
      fc.record({
        members: fc.uniqueArray(fc.integer({ min: 1, max: NETWORKS }), { minLength: 2, maxLength: 3 }),
        isPlanned: fc.boolean(),
      }),
      { maxLength: 4 },
    ),
    clusters: fc.array(
      fc.record({
        network: fc.integer({ min: 1, max: NETWORKS }),
        podMode: fc.constantFrom<Cluster['podMode']>('overlay', 'routed', 'native'),
        node: crowdedPrefix(4),
        pod: crowdedPrefix(4),
        service: crowdedPrefix(4),
      }),
      { maxLength: 4 },
    ),
    inUse: fc.array(
      fc.record({ prefix: crowdedPrefix(4), network: fc.option(fc.integer({ min: 1, max: NETWORKS })) }),
      { maxLength: 5 },
    ),
  })
  .map(({ links, clusters, inUse }) => {
    const names = clusters.map((each, i) =>
      cluster(`c${i}`, { networkId: testId('networks', each.network), podMode: each.podMode }),
    );
    const ranges = clusters.flatMap((each, i) =>
      (['node', 'pod', 'service'] as const).map((purpose) => ({
        clusterId: testId('clusters', i + 1),
        purpose,
        zone: '',
        prefix: formatPrefix(each[purpose]),
        isFixed: false,
      })),
    );
    return applied(ground(NETWORKS), [
      ...add(
        'links',
        ...links.map(({ members, isPlanned }, i) => ({
          name: `l${i}`,
          kind: members.length === 2 ? ('peering' as const) : ('hub' as const),
          networkIds: members.map((n) => testId('networks', n)),
          isPlanned,
        })),
      ),
      ...add('clusters', ...names),
      ...add('allocations', ...ranges),
      ...add(
        'inUse',
        ...inUse.map(({ prefix, network }, i) => ({
          prefix: formatPrefix(prefix),
          owner: `o${i}`,
          networkId: network === null ? null : testId('networks', network),
          note: '',
        })),
      ),
    ]);
  });
