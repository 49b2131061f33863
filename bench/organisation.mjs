import { addOperation, applyOperations, emptyPlan, propose } from '@wide-lattice/core';
import { seeded } from './measure.mjs';

const id = (kind, n) => `019c0000-000${kind}-7000-8000-${n.toString(16).padStart(12, '0')}`;

/** A made-up organisation: sites on one hub, clusters of all modes with their ranges, some of them overlapping what others use. */
export function organisation(clusterCount, siteCount = 60, inUseCount = clusterCount / 10) {
  const random = seeded(3);
  const pick = (list) => list[Math.floor(random() * list.length)];
  const operations = [
    addOperation('profiles', {
      id: id(1, 1),
      name: 'plain',
      reservedFirst: 2,
      reservedLast: 2,
      subnetScope: 'region',
      routesPerTable: 500,
    }),
    ...Array.from({ length: siteCount }, (_, i) => [
      addOperation('sites', {
        id: id(2, i),
        name: `site ${i}`,
        kind: 'region',
        profileId: id(1, 1),
        zones: ['a', 'b'],
      }),
      addOperation('networks', { id: id(3, i), name: `network ${i}`, note: '' }),
    ]).flat(),
    addOperation('links', {
      id: id(4, 1),
      name: 'hub',
      kind: 'hub',
      networkIds: Array.from({ length: siteCount - 5 }, (_, i) => id(3, i)),
      isPlanned: false,
    }),
    addOperation('pools', {
      id: id(5, 1),
      name: 'routable',
      prefix: '10.0.0.0/8',
      purposes: ['node', 'pod'],
      siteId: null,
      isShared: false,
    }),
    addOperation('pools', {
      id: id(5, 2),
      name: 'overlay',
      prefix: '100.64.0.0/11',
      purposes: ['pod'],
      siteId: null,
      isShared: true,
    }),
    addOperation('pools', {
      id: id(5, 3),
      name: 'services',
      prefix: '100.96.0.0/11',
      purposes: ['service'],
      siteId: null,
      isShared: true,
    }),
    ...Array.from({ length: clusterCount }, (_, i) => {
      const site = Math.floor(random() * siteCount);
      const nodesNow = 2 + Math.floor(random() * 10);
      return addOperation('clusters', {
        id: id(7, i),
        name: `cluster ${i}`,
        siteId: id(2, site),
        networkId: id(3, site),
        podMode: i % 10 === 0 ? 'routed' : 'overlay',
        family: 'ipv4',
        nodesNow,
        nodesHorizon: nodesNow * 2,
        podsPerNode: pick([30, 60, 110]),
        services: pick([50, 100, 400]),
        surgePercent: 10,
        entryAddresses: 4,
        perNodeLength: null,
        isBuilt: false,
      });
    }),
  ];
  const bare = apply(emptyPlan({ name: 'organisation' }), operations);
  const ranged = apply(bare, propose(bare).operations);
  const octet = () => Math.floor(random() * 256);
  return apply(
    ranged,
    Array.from({ length: inUseCount }, (_, i) =>
      addOperation('inUse', {
        id: id(6, i),
        prefix:
          `${pick(['10', '172.16', '192.168', '10'])}.${octet()}.${octet()}.0`.split('.').slice(0, 3).join('.') +
          '.0/24',
        owner: `owner ${i}`,
        networkId: id(3, Math.floor(random() * siteCount)),
        note: '',
      }),
    ),
  );
}

/** Applies a change that must be good. */
export function apply(plan, operations) {
  const applied = applyOperations(plan, operations);
  if (!applied.ok) throw new Error(JSON.stringify(applied.problems[0]));
  return applied.plan;
}
