import fc from 'fast-check';
import { formatPrefix } from '../src/address/index.js';
import { addOperation, applyOperations, emptyPlan, kinds, withFallbacks } from '../src/plan/index.js';
import type { Cluster, EntityOf, Kind, Operation, Plan, Pool, Subnet } from '../src/plan/index.js';
import { crowdedPrefix } from './arbitraries.js';

/** The nth id of a kind in tests. */
export function testId(kind: Kind, n: number): string {
  const place = kinds.indexOf(kind).toString(16).padStart(4, '0');
  return `018f0000-${place}-7000-8000-${n.toString(16).padStart(12, '0')}`;
}

/** Applies a change that must be good. */
export function applied(plan: Plan, operations: readonly Operation[]): Plan {
  const result = applyOperations(plan, operations);
  if (result.ok) return result.plan;
  throw new Error(result.problems.map((p) => `${p.field}: ${p.message} ${p.fix}`).join('; '));
}

/** Adds entities with ids from 1 on; fields that are left out have their usual values. */
export function add<K extends Kind>(kind: K, ...all: Partial<EntityOf[K]>[]): Operation[] {
  return all.map((fields, i) => addOperation(kind, withFallbacks(kind, { id: testId(kind, i + 1), ...fields })));
}

/** A cluster with usual values. */
export function cluster(name: string, fields: Partial<Omit<Cluster, 'id'>> = {}): Omit<Cluster, 'id'> {
  const { id: _, ...usual } = withFallbacks('clusters', {
    id: '',
    name,
    siteId: testId('sites', 1),
    networkId: testId('networks', 1),
    nodesNow: 3,
    nodesHorizon: 10,
    services: 100,
    surgePercent: 0,
    entryAddresses: 0,
    ...fields,
  });
  return usual;
}

/** Node, pod and service range of the first cluster: a subnet, per-node prefixes for 16 nodes of 110 pods, 1,022 services. */
export function ownRanges(): Operation[] {
  return add(
    'allocations',
    ...(['node', 'pod', 'service'] as const).map((purpose, i) => ({
      clusterId: testId('clusters', 1),
      purpose,
      zone: '',
      prefix: ['10.0.0.0/24', '10.244.0.0/20', '10.96.0.0/22'][i] as string,
      isPinned: false,
    })),
  );
}

/** A pool for every purpose. */
export function pool(name: string, prefix: string, fields: Partial<Omit<Pool, 'id'>> = {}): Omit<Pool, 'id'> {
  return { name, prefix, purposes: ['node', 'pod', 'service'], siteId: null, isShared: false, ...fields };
}

/** One profile, one site with one zone, and `networks` networks named n1, n2 and so on. */
export function ground(networks = 1): Plan {
  return applied(emptyPlan({ name: 'test', expectsMergers: false }), [
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

/** Applies each operation that the plan takes and leaves out the others. */
function appliedWherePossible(plan: Plan, operations: readonly Operation[]): Plan {
  return operations.reduce((before, operation) => {
    const result = applyOperations(before, [operation]);
    return result.ok ? result.plan : before;
  }, plan);
}

const anyNetwork = fc.integer({ min: 1, max: NETWORKS });

/** Small random worlds: networks with blocks and subnets, links with what they advertise, clusters of each mode and ranges in a crowded space. */
export const anyWorld: fc.Arbitrary<Plan> = fc
  .record({
    links: fc.array(
      fc.record({
        members: fc.uniqueArray(anyNetwork, { minLength: 2, maxLength: 3 }),
        isPlanned: fc.boolean(),
      }),
      { maxLength: 4 },
    ),
    attachments: fc.array(
      fc.record({
        link: fc.integer({ min: 1, max: 4 }),
        network: anyNetwork,
        advertises: fc.uniqueArray(crowdedPrefix(4).map(formatPrefix), { maxLength: 2 }),
        accepts: fc.constantFrom<'all' | 'none' | 'listed'>('all', 'all', 'none', 'listed'),
        from: anyNetwork,
        isPlanned: fc.nat({ max: 3 }).map((n) => n === 0),
      }),
      { maxLength: 4 },
    ),
    blocks: fc.array(fc.record({ network: anyNetwork, prefix: crowdedPrefix(4) }), { maxLength: 2 }),
    subnets: fc.array(
      fc.record({
        network: anyNetwork,
        purpose: fc.constantFrom<Subnet['purpose']>('node', 'pod', 'endpoint'),
        prefix: crowdedPrefix(4),
      }),
      { maxLength: 3 },
    ),
    clusters: fc.array(
      fc.record({
        network: anyNetwork,
        podMode: fc.constantFrom<Cluster['podMode']>('overlay', 'routed', 'native'),
        node: crowdedPrefix(4),
        pod: crowdedPrefix(4),
        service: crowdedPrefix(4),
      }),
      { maxLength: 4 },
    ),
    inUse: fc.array(fc.record({ prefix: crowdedPrefix(4), network: fc.option(anyNetwork) }), { maxLength: 5 }),
  })
  .map(({ links, attachments, blocks, subnets, clusters, inUse }) => {
    const names = clusters.map((each, i) =>
      cluster(`c${i}`, { networkId: testId('networks', each.network), podMode: each.podMode }),
    );
    const ranges = clusters.flatMap((each, i) =>
      (['node', 'pod', 'service'] as const).map((purpose) => ({
        clusterId: testId('clusters', i + 1),
        purpose,
        zone: '',
        prefix: formatPrefix(each[purpose]),
        isPinned: false,
      })),
    );
    const whole = applied(ground(NETWORKS), [
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
    // Not every subnet lies in its network's blocks, nor is every network on the link.
    return appliedWherePossible(whole, [
      ...add(
        'attachments',
        ...attachments.map(({ link, network, advertises, accepts, from, isPlanned }) => ({
          linkId: testId('links', link),
          networkId: testId('networks', network),
          advertises,
          accepts,
          isPlanned,
          acceptsFromIds: accepts === 'listed' ? [testId('networks', from)] : [],
        })),
      ),
      ...add(
        'subnets',
        ...subnets.map(({ network, purpose, prefix }, i) => ({
          name: `s${i}`,
          networkId: testId('networks', network),
          siteId: testId('sites', 1),
          purpose,
          prefix: formatPrefix(prefix),
        })),
      ),
      ...add(
        'blocks',
        ...blocks.map(({ network, prefix }) => ({
          networkId: testId('networks', network),
          prefix: formatPrefix(prefix),
        })),
      ),
    ]);
  });
