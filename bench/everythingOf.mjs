// What runs on every cluster of an organisation, and what stands in front of it.
import { addOperation, kinds, withFallbacks } from '@wide-lattice/core/plan';
import { apply } from './organisation.mjs';

const id = (kind, n) =>
  `019e0000-${kinds.indexOf(kind).toString(16).padStart(4, '0')}-7000-8000-${n.toString(16).padStart(12, '0')}`;
export const add = (kind, n, fields) => addOperation(kind, withFallbacks(kind, { id: id(kind, n), ...fields }));
export const each = (count, make) => Array.from({ length: count }, (_, n) => make(n));

/** What a cluster runs and what stands in front of it: 8 workloads and services, 6 routes, 4 records, a filter of 6 rules, a policy. */
function secondHalf({ id: clusterId, name }, c) {
  const host = `${name.replace(' ', '-')}.fleet.example`;
  const where = { clusterId, namespace: 'shop' };
  return [
    ...each(8, (n) =>
      add('workloads', 8 * c + n, {
        ...where,
        name: `app-${n}`,
        labels: [`app=app-${n}`],
        replicasNow: 2,
        replicasHorizon: 3,
        ports: ['http tcp 8080'],
      }),
    ),
    ...each(8, (n) =>
      add('services', 8 * c + n, {
        ...where,
        name: `app-${n}`,
        type: n === 0 ? 'NodePort' : 'ClusterIP',
        selector: [`app=app-${n}`],
        ports: [n === 0 ? `tcp 80 to http node ${30000 + n}` : 'tcp 80 to http'],
      }),
    ),
    add('controllers', c, { clusterId, name: `front ${c}`, classes: ['front'], serviceId: id('services', 8 * c) }),
    ...each(6, (n) =>
      add('ingressRoutes', 6 * c + n, {
        ...where,
        name: `route-${n}`,
        className: 'front',
        hosts: [host],
        path: `/a${n}`,
        pathType: 'Prefix',
        backends: [`app-${n + 1} 80`],
      }),
    ),
    ...each(4, (n) =>
      add('records', 4 * c + n, {
        zoneId: id('zones', 0),
        name: `r${n}.${name.replace(' ', '-')}`,
        type: 'A',
        value: `192.0.2.${(c + n) % 250}`,
        target: 'elsewhere',
      }),
    ),
    add('filters', c, { name: `filter ${c}`, clusterIds: [clusterId], defaultOut: 'allow' }),
    ...each(6, (n) =>
      add('filterRules', 6 * c + n, {
        filterId: id('filters', c),
        direction: 'in',
        position: 10 * (n + 1),
        action: 'allow',
        protocol: n === 0 ? 'icmp' : 'tcp',
        ports: n === 0 ? [] : [String(8000 + n)],
        peers: ['10.0.0.0/8'],
      }),
    ),
    add('networkPolicies', c, {
      ...where,
      name: 'only-http',
      selector: ['app=app-1'],
      directions: ['ingress'],
      allowIn: ['10.0.0.0/8 on tcp 8080'],
    }),
  ];
}

/** A plan with all of that. */
export const withEverything = (bare) =>
  apply(
    apply(bare, [add('zones', 0, { name: 'out', apex: 'fleet.example', side: 'public', isDelegated: true })]),
    bare.clusters.flatMap(secondHalf),
  );
