import { propose } from '@wide-lattice/core/allocation';
import { addOperation, applyOperations, emptyPlan, kinds, withFallbacks } from '@wide-lattice/core/plan';
import { seeded } from './measure.mjs';

const hex = (n, digits) => n.toString(16).padStart(digits, '0');
const id = (kind, n) => `019c0000-${hex(kinds.indexOf(kind), 4)}-7000-8000-${hex(n, 12)}`;
const add = (kind, n, fields) => addOperation(kind, withFallbacks(kind, { id: id(kind, n), ...fields }));

/** Zones of each site: six node subnets, a pod and a service range make eight ranges a cluster. */
const ZONES = ['a', 'b', 'c', 'd', 'e', 'f'];

/** A made-up organisation: sites on one hub, clusters of all modes with their ranges, some of them overlapping what others use. */
export function organisation(clusterCount, siteCount = 60, inUseCount = clusterCount / 10) {
  const ranged = withRanges(bareOrganisation(clusterCount, siteCount));
  const random = seeded(4);
  const octet = () => Math.floor(random() * 256);
  const bases = ['10', '172.16', '192.168', '10'];
  return apply(
    ranged,
    Array.from({ length: inUseCount }, (_, i) => {
      const base = bases[Math.floor(random() * bases.length)];
      return add('inUse', i, {
        prefix: `${`${base}.${octet()}.${octet()}`.split('.').slice(0, 3).join('.')}.0/24`,
        owner: `owner ${i}`,
        networkId: id('networks', Math.floor(random() * siteCount)),
      });
    }),
  );
}

/** The same before anything is allocated. */
export function bareOrganisation(clusterCount, siteCount = 60) {
  const random = seeded(3);
  const pick = (list) => list[Math.floor(random() * list.length)];
  const pool = (n, name, prefix, purposes, isShared) => add('pools', n, { name, prefix, purposes, isShared });
  return apply(emptyPlan({ name: 'organisation' }), [
    add('profiles', 1, { name: 'plain', reservedFirst: 2, reservedLast: 2, subnetScope: 'zone', routesPerTable: 500 }),
    ...Array.from({ length: siteCount }, (_, i) => [
      add('sites', i, { name: `site ${i}`, kind: 'region', profileId: id('profiles', 1), zones: ZONES }),
      add('networks', i, { name: `network ${i}` }),
    ]).flat(),
    add('links', 1, {
      name: 'hub',
      kind: 'hub',
      networkIds: Array.from({ length: siteCount - 5 }, (_, i) => id('networks', i)),
    }),
    pool(1, 'routable', '10.0.0.0/8', ['node', 'pod'], false),
    pool(2, 'overlay', '100.64.0.0/11', ['pod'], true),
    pool(3, 'services', '100.96.0.0/11', ['service'], true),
    ...Array.from({ length: clusterCount }, (_, i) => {
      const site = Math.floor(random() * siteCount);
      const nodesNow = 2 + Math.floor(random() * 10);
      return add('clusters', i, {
        name: `cluster ${i}`,
        siteId: id('sites', site),
        networkId: id('networks', site),
        podMode: i % 10 === 0 ? 'routed' : 'overlay',
        nodesNow,
        nodesHorizon: nodesNow * 2,
        podsPerNode: pick([30, 60, 110]),
        services: pick([50, 100, 400]),
        entryAddresses: 4,
      });
    }),
  ]);
}

function withRanges(plan) {
  return apply(plan, propose(plan).operations);
}

/** Applies a change that must be good. */
export function apply(plan, operations) {
  const applied = applyOperations(plan, operations);
  if (!applied.ok) throw new Error(JSON.stringify(applied.problems[0]));
  return applied.plan;
}
