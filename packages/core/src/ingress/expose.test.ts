import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { proposeNames } from '../naming/index.js';
import { demoPlan } from '../demo/index.js';
import { readQuestion, setOperation } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { ask } from '../request/index.js';
import { expose, exposeApi, freeAddressFor, IngressState } from './index.js';

const own = testId('clusters', 1);
const world = (...more: Operation[][]): Plan =>
  applied(ground(1), [
    ...add('clusters', cluster('c', { podMode: 'routed', nodesNow: 4, nodesHorizon: 4 })),
    ...add(
      'allocations',
      { clusterId: own, purpose: 'node', prefix: '10.9.0.0/24' },
      { clusterId: own, purpose: 'pod', prefix: '10.10.0.0/20' },
      { clusterId: own, purpose: 'service', prefix: '10.96.0.0/20' },
    ),
    ...add('workloads', {
      clusterId: own,
      namespace: 'shop',
      name: 'web',
      labels: ['app=web'],
      ports: ['http tcp 8080'],
      replicasNow: 2,
      replicasHorizon: 2,
    }),
    ...add('services', {
      clusterId: own,
      namespace: 'shop',
      name: 'web',
      selector: ['app=web'],
      ports: ['tcp 80 to http'],
    }),
    ...more.flat(),
  ]);
const entry = add('subnets', {
  name: 'entry',
  networkId: testId('networks', 1),
  siteId: testId('sites', 1),
  purpose: 'entry',
  prefix: '10.8.0.0/24',
});
const shut = (mode: 'allow-only' | 'ordered') => [
  ...add('filters', { name: 'nodes', clusterIds: [own], defaultOut: 'allow', mode }),
  ...add(
    'filterRules',
    {
      filterId: testId('filters', 1),
      direction: 'in',
      position: 10,
      action: 'allow',
      protocol: 'any',
      peers: ['10.9.0.0/24', '10.10.0.0/20'],
    },
    ...(mode === 'ordered'
      ? [
          {
            filterId: testId('filters', 1),
            direction: 'in' as const,
            position: 20,
            action: 'deny' as const,
            protocol: 'any' as const,
          },
        ]
      : []),
  ),
];
const answer = (plan: Plan, to: string) =>
  ask(IngressState.of(plan), expectGood(readQuestion(plan, 'the internet', to, 1400)));
const request = {
  serviceId: testId('services', 1),
  port: 80,
  host: 'web.example',
  path: '/',
  side: 'public' as const,
  isTls: false,
};

test.each([
  ['without filters', []],
  ['past a filter', shut('allow-only')],
  ['past a list in order', shut('ordered')],
] as const)('from nothing, %s, a service is answered by its name after one change', (_, more) => {
  const plan = world(entry, [...more]);
  const { operations, parts, openSteps } = expectGood(expose(plan, request));
  const after = applied(plan, operations);
  expect(answer(after, 'http://web.example/')).toMatchObject({
    verdict: 'pass',
    members: [{ workload: { name: 'web' }, share: 1 }],
  });
  expect(parts.join('; ')).toContain('load balancer c-front in entry');
  expect(parts.some((part) => part.startsWith('rule of the filter'))).toBe(more.length > 0);
  expect(openSteps[0]).toContain('web.example must answer');
});

test.each([
  ['public', true],
  ['internal', false],
] as const)(
  'where the network has no subnet for %s load balancers, one is cut from a pool, and no second the next time',
  (side, isPublic) => {
    const plan = world(add('pools', pool('all', '10.32.0.0/16')));
    const asked = { ...request, side };
    const { operations, parts } = expectGood(expose(plan, asked));
    const after = applied(plan, operations);
    // A /27 of the pool, in the network and at the site of the cluster.
    expect(after.subnets).toMatchObject([
      { name: 'n1-entry', purpose: 'entry', isPublic, prefix: '10.32.0.0/27', siteId: testId('sites', 1) },
    ]);
    expect(after.balancers[0]?.subnetId).toBe(after.subnets[0]?.id);
    expect(after.routes.map(({ prefix, nextHop }) => [prefix, nextHop])).toEqual(
      isPublic ? [['0.0.0.0/0', 'internet']] : [],
    );
    expect(parts[0]).toMatch(/^controller/);
    if (isPublic) expect(answer(after, 'http://web.example/').verdict).toBe('pass');
    else expect(after.balancers[0]?.address).toBe('10.32.0.2');
    expect(expectGood(expose(after, { ...asked, host: 'other.example' })).operations.map(({ kind }) => kind)).toEqual([
      'ingressRoutes',
    ]);
  },
);

test('what is there is used: a second service gets a route alone', () => {
  const plan = world(entry);
  const first = applied(plan, expectGood(expose(plan, request)).operations);
  const { operations } = expectGood(expose(first, { ...request, host: 'other.example' }));
  expect(operations.map((each) => each.kind)).toEqual(['ingressRoutes']);
  expect(answer(applied(first, operations), 'http://other.example/').verdict).toBe('pass');
});

test('an internal load balancer takes the first address of its subnet that nobody holds', () => {
  const plan = world(entry, add('bastions', { name: 'b', subnetId: testId('subnets', 1), address: '10.8.0.2' }));
  const free = (of: Plan) => freeAddressFor(of, { subnetId: testId('subnets', 1), side: 'internal' });
  // Of a /24 the provider keeps the first, the gateway has 10.8.0.1 and the bastion 10.8.0.2.
  expect(free(plan)).toBe('10.8.0.3');
  const run = add('reservations', { name: 'kept', clusterId: own, first: '10.8.0.3', count: 10 });
  expect(free(applied(plan, run))).toBe('10.8.0.13');
  expect(freeAddressFor(plan, { subnetId: testId('subnets', 1), side: 'public' })).toBeUndefined();
  const { operations, openSteps } = expectGood(expose(plan, { ...request, side: 'internal' }));
  expect(operations.find((each) => each.kind === 'balancers')).toMatchObject({ entity: { address: free(plan) } });
  expect(openSteps[0]).toContain(free(plan) ?? 'none');
});

test('with TLS the certificate is an open step, and whether the entry point opens is unknown until its names are entered', () => {
  const plan = world(entry);
  const { operations, openSteps } = expectGood(expose(plan, { ...request, isTls: true }));
  const after = applied(plan, operations);
  expect(openSteps.join(' ')).toContain('web.example-cert');
  expect(answer(after, 'https://web.example/')).toMatchObject({ verdict: 'unknown' });
  const issued = applied(after, [
    {
      op: 'set',
      kind: 'ingressRoutes',
      id: after.ingressRoutes[0]?.id ?? '',
      fields: { certificateHosts: ['web.example'] },
    },
  ]);
  expect(answer(issued, 'https://web.example/').verdict).toBe('pass');
});

test('in the demo a service of the tide models attaches to its gateway', () => {
  const plan = demoPlan();
  const tide = plan.services.find(({ namespace, name }) => namespace === 'models' && name === 'tide')?.id ?? '';
  const { operations } = expectGood(
    expose(plan, { ...request, serviceId: tide, host: 'all.models.skerryline.example', side: 'internal' }),
  );
  expect(operations).toMatchObject([
    { kind: 'ingressRoutes', entity: { objectKind: 'HTTPRoute', gatewayId: plan.gateways[0]?.id } },
  ]);
  const asked = readQuestion(plan, 'pod of shared-services', 'http://all.models.skerryline.example/', 1400);
  const opened = applied(plan, operations);
  expect(ask(IngressState.of(opened), expectGood(asked)).sentence).toContain('NXDOMAIN');
  const proposed = proposeNames(opened, {
    withReverse: false,
    withCertificates: false,
    today: '2026-11-26',
  }).parts.flatMap((part) => part.operations);
  expect(ask(IngressState.of(applied(opened, proposed)), expectGood(asked)).verdict).toBe('pass');
});

test('the API of a self-run cluster is put behind a load balancer whose members are its control plane', () => {
  const plan = demoPlan();
  const harbour = plan.clusters.find(({ name }) => name === 'harbour-ops');
  const { operations } = expectGood(exposeApi(plan, harbour?.id ?? ''));
  const backend = operations.find((each) => each.kind === 'backends');
  // Addresses kept for the control plane begin after the gateway, 10.43.240.129; common practice: port 6443.
  expect(backend).toMatchObject({ entity: { members: 'addresses', port: 6443 } });
  const { addresses } = (backend as unknown as { entity: { addresses: string[] } }).entity;
  expect([addresses[0], addresses.length]).toEqual(['10.43.240.130', harbour?.controlNodes]);
  expect(applied(plan, operations).balancers.at(-1)?.name).toBe('harbour-ops-api');
});

test('what is exposed already is not proposed a second time', () => {
  const plan = world(entry);
  const after = applied(plan, expectGood(expose(plan, request)).operations);
  const again = expose(after, request);
  expect(again.ok ? '' : again.problem.message).toBe('The route shop/web sends web.example/ there already.');
  expect(expose(after, { ...request, path: '/pay' }).ok).toBe(true);
  // A port whose number only begins alike is another.
  const eighth = applied(after, [
    setOperation('services', testId('services', 1), { ports: ['tcp 80 to http', 'low tcp 8 to http'] }),
  ]);
  expect(expose(eighth, { ...request, port: 8 })).toMatchObject({ problem: { code: 'expose.taken' } });
  expect(expose(eighth, { ...request, port: 8, host: 'low.example' }).ok).toBe(true);
});

test.each([
  ['no subnet for entry and no room for one', world(), request, 'no block or pool has room for one'],
  ['a port that it does not have', world(entry), { ...request, port: 81 }, 'no port 81'],
  ['a service that is gone', world(entry), { ...request, serviceId: testId('services', 9) }, 'not in the plan'],
])('%s is refused', (_, plan, of, message) => {
  const made = expose(plan, of);
  expect(made.ok ? '' : made.problem.message).toContain(message);
});
test('a hosted API and one without kept addresses are refused', () => {
  const problem = (plan: Plan) => {
    const made = exposeApi(plan, own);
    return made.ok ? '' : made.problem.message;
  };
  expect(problem(world(entry))).toContain('The provider of c runs its API');
  expect(
    problem(applied(world(entry), [{ op: 'set', kind: 'clusters', id: own, fields: { controlPlane: 'self-run' } }])),
  ).toContain('no addresses kept');
});

describe('what an entry point would take over, and what its gateway can take', () => {
  const pay = add(
    'services',
    {},
    { clusterId: own, namespace: 'shop', name: 'pay', selector: ['app=web'], ports: ['tcp 80 to http'] },
  ).slice(1);
  const other = { ...request, serviceId: testId('services', 2) };

  test('a host and path of another service is refused; a part of its calls is told', () => {
    const plan = world(entry, pay);
    const first = applied(plan, expectGood(expose(plan, request)).operations);
    expect(expose(first, other)).toMatchObject({
      ok: false,
      problem: {
        code: 'expose.taken',
        message: 'The route shop/web sends web.example/ to web 80 already.',
      },
    });
    expect(expose(first, { ...other, host: 'WEB.example' }).ok).toBe(false);
    const { operations, openSteps } = expectGood(expose(first, { ...other, path: '/pay' }));
    expect(openSteps[0]).toBe('Takes over: web.example/pay goes to web 80 by the route shop/web until now.');
    const after = applied(first, operations);
    // The longest path that matches wins, by whole elements (Ingress v1, Prefix).
    expect(answer(after, 'http://web.example/pay/1')).toMatchObject({ members: [{ service: { name: 'pay' } }] });
    expect(answer(after, 'http://web.example/payment')).toMatchObject({ members: [{ service: { name: 'web' } }] });
  });

  test('a wildcard that answers the host today is told, and another host of it is not refused', () => {
    const plan = world(entry, pay);
    const first = applied(plan, expectGood(expose(plan, { ...request, host: '*.example' })).operations);
    const { openSteps } = expectGood(expose(first, { ...other, host: 'pay.example' }));
    expect(openSteps[0]).toBe('Takes over: pay.example/ goes to web 80 by the route shop/web until now.');
  });

  test('an address is no host name', () => {
    for (const host of ['10.1.2.3', 'fd00::1'])
      expect(expose(world(entry), { ...request, host })).toMatchObject({ problem: { code: 'expose.host' } });
  });

  test.each([
    // Gateway API: allowedRoutes, the listener's host, and its protocol decide what attaches.
    ['all namespaces', 'web http 80', false, 'HTTPRoute'],
    ['its namespace', 'web http 80', false, 'Ingress'],
    ['all namespaces', 'web http 80 other.example', false, 'Ingress'],
    ['all namespaces', 'web http 80 *.example', false, 'HTTPRoute'],
    ['all namespaces', 'web http 80', true, 'Ingress'],
  ] as const)('a gateway that takes %s by "%s", with TLS %s: %s', (allowedRoutes, listener, isTls, objectKind) => {
    const first = world(entry);
    const open = applied(first, expectGood(expose(first, request)).operations);
    const plan = applied(
      open,
      add('gateways', {
        clusterId: own,
        name: 'gate',
        namespace: 'infra',
        className: open.controllers[0]?.classes[0] ?? '',
        allowedRoutes,
        listeners: [listener],
      }),
    );
    const { operations, openSteps } = expectGood(expose(plan, { ...request, host: 'new.example', isTls }));
    expect(operations.find(({ kind }) => kind === 'ingressRoutes')).toMatchObject({ entity: { objectKind } });
    expect(openSteps.some((step) => step.startsWith('The gateway infra/gate takes no route of shop'))).toBe(
      objectKind === 'Ingress',
    );
  });
});
