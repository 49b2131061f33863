import { front } from '../../test/front.js';
import { add, applied, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { readQuestion, readUrl, setOperation, writeUrl } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { formatEntryPointLack } from '../english/index.js';
import { expectGood } from '../result.js';
import { ask } from './index.js';
import { entryPointsOf, ingress, IngressState, limited } from '../ingress/index.js';

const answer = (plan: Plan, from: string, to: string) =>
  ask(IngressState.of(plan), expectGood(readQuestion(plan, from, to, 1400)));
const own = testId('clusters', 1);
const inCluster = <F extends object>(fields: F) => ({ clusterId: own, namespace: 'web', ...fields });

/** A cluster with routed pods of three workloads, behind a public load balancer of layer 4 and its controller. */
const world = (...more: Operation[][]): Plan =>
  applied(ground(1), [
    ...front(),
    ...add(
      'gateways',
      inCluster({
        name: 'g',
        className: 'edge',
        listeners: ['web http 80', 'tls https 443 *.a.example'],
        certificate: 'cert',
        certificateHosts: ['*.a.example'],
      }),
    ),
    ...add(
      'ingressRoutes',
      inCluster({
        name: 'r',
        className: 'edge',
        hosts: ['www.example'],
        path: '/',
        backends: ['old 80'],
        certificate: 'c',
        certificateHosts: ['www.example'],
      }),
      inCluster({
        name: 'split',
        objectKind: 'HTTPRoute' as const,
        gatewayId: testId('gateways', 1),
        hosts: ['x.a.example'],
        backends: ['old 80 weight 3', 'new 80 weight 1'],
      }),
      inCluster({
        name: 'moved',
        objectKind: 'HTTPRoute' as const,
        gatewayId: testId('gateways', 1),
        hosts: ['x.a.example'],
        path: '/gone',
        redirect: 'https://x.a.example/',
        redirectStatus: '301' as const,
      }),
    ),
    ...more.flat(),
  ]);
const set = (
  kind: 'balancers' | 'listeners' | 'backends' | 'services' | 'workloads' | 'ingressRoutes' | 'controllers',
  n: number,
  fields: object,
) => [setOperation(kind, testId(kind, n), fields)];

describe('words of a request', () => {
  test.each([
    'https://a.example/',
    'POST https://a.example:8443/x?y=1',
    'http://a.example/ with version: 2, agent: old at 40 per minute',
    'http://[2001:db8::1]/',
  ])('%p reads back', (words) => {
    expect(writeUrl(expectGood(readUrl(words)))).toBe(words);
  });
  test.each([
    ['ftp://a.example/', 'not a supported scheme'],
    ['FETCH https://a.example/', 'not an HTTP method'],
    [`https://${'a'.repeat(300)}.example/`, 'has 308 characters'],
    [`https://${'a'.repeat(64)}.example/`, 'label'],
    ['https://a.example/ with nonsense', 'not a header'],
    ['https://', 'no URL'],
    ['https://a.example/ at 99,000,000 per minute', 'beyond'],
  ])('%p is refused: %s', (words, message) => {
    const read = readUrl(words);
    expect(read.ok ? '' : read.problem.message).toContain(message);
  });
});

describe('a request', () => {
  test('is followed through listener, node, controller and route to the pods, in their shares', () => {
    const found = answer(world(), 'the internet', 'https://x.a.example/');
    // Weights 3 and 1 of the rule: 75 % and 25 %.
    expect(found.members.map(({ workload, share }) => [workload.name, share])).toEqual([
      ['old', 0.75],
      ['new', 0.25],
    ]);
    expect(found.verdict).toBe('pass');
    expect(found.stages.map(({ about, outcome }) => `${about} ${outcome}`)).toEqual([
      'name ok',
      'listener ok',
      'members ok',
      'service ok',
      'certificate ok',
      'route ok',
      'service ok',
      'service ok',
    ]);
    expect(found.flows[0]?.forth.filter(({ event }) => event === 'chosen')).toHaveLength(3);
    expect(found.flows[0]?.back.at(-1)?.event).toBe('delivered');
  });
  test('to a service behind routes on a layer 7 load balancer goes to nodes by NodePort, also where pods are in an overlay', () => {
    const onIt = [
      ...set('balancers', 1, { layer: '7' }),
      ...set('listeners', 1, { protocol: 'http', backendId: null }),
      ...set('controllers', 1, { tier: 'on a load balancer', serviceId: null }),
    ];
    const atNodes = [...onIt, ...set('services', 2, { type: 'NodePort', ports: ['tcp 80 to http node 30090'] })];
    const overlay = [setOperation('clusters', own, { podMode: 'overlay' })];
    const calls = (plan: Plan) => {
      const found = answer(plan, 'the internet', 'http://www.example/');
      return [found.verdict, [...new Set(found.flows.flatMap(({ forth }) => forth.map(({ packet }) => packet.port)))]];
    };
    // The NodePort at the node, then the container port of the pod behind it.
    expect(calls(world(atNodes))).toEqual(['pass', expect.arrayContaining([30090, 8080])]);
    expect(calls(world([...atNodes, ...overlay]))).toEqual(['pass', expect.arrayContaining([30090, 8080])]);
    // Without a NodePort routed pods are called themselves, and overlay pods cannot be.
    expect(calls(world(onIt))).toEqual(['pass', expect.not.arrayContaining([30090])]);
    const closed = answer(world([...onIt, ...overlay]), 'the internet', 'http://www.example/');
    expect([closed.verdict, closed.status]).toEqual(['broken', 503]);
    expect(closed.sentence).toContain('Make it a NodePort service');
    // A backend of the load balancer for the same service decides.
    const toNodes = [
      ...add(
        'backends',
        {},
        {},
        {
          name: 'own',
          balancerId: testId('balancers', 1),
          members: 'nodes' as const,
          serviceId: testId('services', 2),
          port: 80,
        },
      ).slice(2),
    ];
    expect(calls(world([...atNodes, ...overlay, ...toNodes]))).toEqual(['pass', expect.arrayContaining([30090])]);
  });
  test('gets 404 with the nearest route where none takes it', () => {
    const found = answer(world(set('ingressRoutes', 1, { path: '/shop' })), 'the internet', 'http://www.example/pay');
    expect([found.verdict, found.status]).toEqual(['broken', 404]);
    expect(found.sentence).toContain('the path does not begin with /shop');
  });
  test('is redirected', () => {
    expect(answer(world(), 'the internet', 'https://x.a.example/gone/x')).toMatchObject({
      verdict: 'pass',
      status: 301,
    });
  });
  test.each([
    [
      'a host that nothing is for',
      [],
      'https://other.test/',
      'broken',
      undefined,
      'Nothing in the plan is for the host',
    ],
    [
      'a port that nobody listens on',
      [],
      'https://x.a.example:8443/',
      'broken',
      undefined,
      'does not listen on tcp 8443',
    ],
    [
      'a name on no certificate',
      set('ingressRoutes', 1, { certificateHosts: ['other.example'] }),
      'https://www.example/',
      'refused',
      undefined,
      'is not on the certificate',
    ],
    [
      'a listener without a backend',
      set('listeners', 2, { backendId: null }),
      'https://x.a.example/',
      'broken',
      503,
      'forwards to no backend',
    ],
    [
      'a service without pods',
      set('workloads', 2, { replicasNow: 0 }),
      'http://www.example/',
      'broken',
      503,
      'has no pods',
    ],
    [
      'a service that does not exist',
      set('ingressRoutes', 1, { backends: ['gone 80'] }),
      'http://www.example/',
      'broken',
      503,
      'does not exist',
    ],
    [
      'the same in the Gateway API',
      set('ingressRoutes', 2, { backends: ['gone 80'] }),
      'https://x.a.example/',
      'broken',
      500,
      'does not exist',
    ],
    [
      'a port that its container does not listen on',
      set('workloads', 2, { ports: ['http tcp 9999'], replicasNow: 1 }),
      'http://www.example/',
      'pass',
      undefined,
      '',
    ],
    [
      'a container port that is not there',
      set('workloads', 2, { ports: ['tcp 9999'] }),
      'http://www.example/',
      'broken',
      503,
      'does not listen',
    ],
    [
      'more requests than the limit',
      set('ingressRoutes', 1, { rateLimitPerMinute: 30 }),
      'http://www.example/ at 60 per minute',
      'refused',
      429,
      '50 %',
    ],
    [
      'a source that is not allowed',
      set('ingressRoutes', 1, { allowedSources: ['198.51.100.0/24'] }),
      'http://www.example/',
      'refused',
      403,
      'in place of the client',
    ],
    [
      'a controller without a service',
      set('controllers', 1, { serviceId: null, balancerId: null }),
      'http://www.example/',
      'broken',
      undefined,
      'has no load balancer',
    ],
    [
      'nodes whose filter is shut',
      add('filters', { name: 'shut', clusterIds: [own], defaultOut: 'allow' }),
      'http://www.example/',
      'refused',
      undefined,
      'filter shut',
    ],
    [
      'a health check that is shut out',
      [
        ...set('backends', 1, { healthPort: 10_256 }),
        ...add('filters', { name: 'nodes', clusterIds: [own], defaultOut: 'allow' }),
        ...add('filterRules', {
          filterId: testId('filters', 1),
          direction: 'in',
          position: 10,
          action: 'allow',
          protocol: 'tcp',
          ports: ['30080'],
          peers: ['10.8.0.0/24'],
        }),
      ],
      'http://www.example/',
      'broken',
      503,
      'Health checks',
    ],
    [
      'pods of an overlay called from outside',
      [setOperation('clusters', own, { podMode: 'overlay' }), ...set('backends', 1, { members: 'pods' })],
      'http://www.example/',
      'broken',
      503,
      'overlay',
    ],
  ] as const)('%s', (_, more, to, verdict, status, words) => {
    const found = answer(world([...more]), 'the internet', to);
    expect([found.verdict, found.status]).toEqual([verdict, status]);
    expect(found.sentence).toContain(words);
  });
  test('a load balancer that leaves the client’s address lets filters see that one', () => {
    const open = add('filters', { name: 'nodes', clusterIds: [own], defaultOut: 'allow' });
    const rule = (peer: string) =>
      add('filterRules', {
        filterId: testId('filters', 1),
        direction: 'in',
        position: 10,
        action: 'allow',
        protocol: 'any',
        peers: ['10.8.0.0/16', '10.9.0.0/16', '10.10.0.0/16', peer],
      });
    const at = (peer: string) =>
      answer(
        world(
          set('balancers', 1, { client: 'kept' }),
          set('services', 1, { externalPolicy: 'local' }),
          open,
          rule(peer),
        ),
        'the internet',
        'http://www.example/',
      ).verdict;
    // The internet of the plan is 192.0.2.129.
    expect([at('192.0.2.0/24'), at('198.51.100.0/24')]).toEqual(['pass', 'refused']);
  });
  test('an internal load balancer is not reached from the internet', () => {
    const found = answer(
      world(set('balancers', 1, { side: 'internal', address: '10.8.0.20' })),
      'the internet',
      'http://www.example/',
    );
    expect(found).toMatchObject({ verdict: 'refused' });
    expect(found.sentence).toContain('private address');
  });
  test('a load balancer of layer 7 ends TLS with a certificate that covers the host', () => {
    const at = (certificateHosts: string[]) =>
      answer(
        world(
          set('balancers', 1, { layer: '7' }),
          set('listeners', 2, { protocol: 'https', certificate: 'c', certificateHosts }),
        ),
        'the internet',
        'https://www.example/',
      );
    expect([
      at(['www.example']).verdict,
      at(['*.example']).verdict,
      at(['other.example']).verdict,
      at([]).verdict,
    ]).toEqual(['pass', 'pass', 'refused', 'unknown']);
    expect(
      answer(
        world(set('balancers', 1, { layer: '7' }), set('listeners', 2, { protocol: 'https' })),
        'the internet',
        'https://www.example/',
      ).sentence,
    ).toContain('no certificate');
    expect(
      answer(
        world(
          set('balancers', 1, { layer: '7' }),
          set('listeners', 2, { protocol: 'https', certificate: 'c', certificateHosts: ['www.example'] }),
        ),
        'the internet',
        'http://www.example:443/',
      ).status,
    ).toBe(400);
  });
  test('policies of the pods hold what nodes pass on by the address that the pods see', () => {
    const only = (block: string) =>
      add('networkPolicies', inCluster({ name: 'p', selector: ['app=edge'], allowIn: [`${block} on tcp 8080`] }));
    const at = (externalPolicy: 'cluster' | 'local', block: string) =>
      answer(
        world(set('balancers', 1, { client: 'kept' }), set('services', 1, { externalPolicy }), only(block)),
        'the internet',
        'http://www.example/',
      ).verdict;
    // The client is 192.0.2.129, nodes are in 10.9.0.0/24. With the policy local pods see the client, else the node.
    expect([
      at('local', '192.0.2.0/24'),
      at('local', '10.9.0.0/24'),
      at('cluster', '10.9.0.0/24'),
      at('cluster', '192.0.2.0/24'),
    ]).toEqual(['pass', 'refused', 'pass', 'refused']);
  });
  test('a route that calls another namespace without a grant there is answered with 500', () => {
    const plan = world(
      add('services', {
        id: testId('services', 9),
        clusterId: own,
        namespace: 'far',
        name: 'x',
        selector: ['app=far'],
        ports: ['tcp 80 to http'],
      }),
      add('workloads', {
        id: testId('workloads', 9),
        clusterId: own,
        namespace: 'far',
        name: 'x',
        labels: ['app=far'],
        ports: ['http tcp 80'],
        replicasNow: 1,
        replicasHorizon: 1,
      }),
      set('ingressRoutes', 2, { backends: ['far/x 80'] }),
    );
    const found = answer(plan, 'the internet', 'https://x.a.example/');
    expect([found.verdict, found.status]).toEqual(['broken', 500]);
    expect(found.sentence).toContain('no reference grant in far allows');
  });
  test('inside a cluster a service is called by its name, and policies hold it', () => {
    const to = 'http://old.web.svc.cluster.local/';
    const shut = add('networkPolicies', inCluster({ name: 'p', selector: ['app=old'], allowIn: ['pods app=edge'] }));
    expect(answer(world(), 'pod of c, workload web/new', to).verdict).toBe('pass');
    expect(answer(world(shut), 'pod of c, workload web/new', to).verdict).toBe('refused');
    expect(answer(world(shut), 'pod of c, workload web/edge', to).verdict).toBe('pass');
    expect(answer(world(), 'pod of c, workload web/new', 'http://old/').members[0]?.workload.name).toBe('old');
  });
});

// Handbook 8: 30 a minute, one request a second. The window refuses the 31st to the 60th of each minute; the bucket first refuses at about 60 s.
describe('rate limits', () => {
  test('a fixed window and a token bucket', () => {
    expect(limited(60, 30, 'fixed window')).toEqual({ refused: 0.5, firstAfter: 30 });
    expect(limited(60, 30, 'token bucket')).toEqual({ refused: 0.5, firstAfter: 60 });
    expect(limited(30, 30, 'token bucket')).toEqual({ refused: 0, firstAfter: undefined });
  });
});

describe('entry points as lists', () => {
  const chain = (plan: Plan) => {
    const { entries, chains } = entryPointsOf(IngressState.of(plan));
    const label = new Map(
      entries.map(({ key, label: own_, about }) => [key, `${own_}${about === '' ? '' : ` (${about})`}`]),
    );
    return chains.map((keys) => keys.map((key) => label.get(key)).join(' > '));
  };
  test('each chain goes from host to member', () => {
    expect(chain(world())).toContain('x.a.example > tcp 443 (front) > / (web/split) > web/new (c) > web/new (2 pods)');
    expect(chain(world()).every((each) => each.includes(' > '))).toBe(true);
  });
  test('an open end says where a chain is broken', () => {
    const open = (more: Operation[]) =>
      entryPointsOf(IngressState.of(world(more))).entries.flatMap(({ list, open }) =>
        open === undefined ? [] : [`${list}: ${formatEntryPointLack(open)}`],
      );
    expect(open([])).toEqual([]);
    expect(open(set('ingressRoutes', 1, { className: 'none' }))).toEqual([
      'hosts: No controller implements the class none.',
    ]);
    expect(open(set('listeners', 1, { backendId: null }))[0]).toContain('listeners: It forwards to no backend');
    expect(open(set('backends', 1, { port: 81 }))[0]).toContain('listeners: Its backend calls port 81');
    expect(open(set('workloads', 2, { replicasNow: 0 }))).toEqual(['members: It runs no pods.']);
    expect(open(set('services', 2, { selector: ['app=none'] }))).toEqual([
      'services: It selects no pods. Run a workload with its labels.',
    ]);
  });
});

test('the demo answers as its entry points are told, and each honest mistake is met', () => {
  const plan = demoPlan();
  const at = (from: string, to: string) => {
    const { verdict, status, members } = answer(plan, from, to);
    return `${verdict}${status === undefined ? '' : ` ${status}`}${members.length === 0 ? '' : ` ${members.map(({ workload, share }) => `${workload.name} ${Math.round(100 * share)} %`).join(', ')}`}`;
  };
  expect(at('the internet', 'https://tickets.skerryline.example/')).toBe('pass storefront 100 %');
  expect(at('the internet', 'https://tickets.skerryline.example/basket')).toBe('pass basket 100 %');
  expect(at('the internet', 'http://tickets.skerryline.example/')).toBe('broken 503');
  expect(at('the internet', 'https://offers.skerryline.example/')).toBe('broken');
  expect(at('pod of shared-services', 'http://tide.models.skerryline.example/')).toBe(
    'pass tide-v1 90 %, tide-v2 10 %',
  );
  expect(at('pod of shared-services', 'http://tide.models.skerryline.example/v2 with x-preview: yes')).toBe(
    'pass tide-v2 100 %',
  );
  expect(at('pod of kiosk-ardle', 'http://tickets.pier.example/')).toBe('pass tickets 100 %');
  // The plan holds pier.example for the piers alone: whether the internet knows it is not said.
  expect(at('the internet', 'http://tickets.pier.example/')).toBe('unknown');
  expect(at('10.20.0.9 in head-office', 'http://10.43.255.20/')).toBe('pass berth-board 100 %');
});

test('after an edit of one route the answer is that of a plan read anew', () => {
  let plan = demoPlan();
  let evaluation = evaluate(plan);
  for (const path of ['/a', '/b', '/']) {
    evaluation.ask(ingress);
    ask(
      evaluation.ask(ingress),
      expectGood(readQuestion(plan, 'the internet', 'https://seats.skerryline.example/', 1400)),
    );
    const route = plan.ingressRoutes.find(({ name }) => name === 'seats');
    plan = applied(plan, [setOperation('ingressRoutes', route?.id ?? '', { path })]);
    evaluation = evaluate(plan, evaluation);
    const question = expectGood(readQuestion(plan, 'the internet', 'https://seats.skerryline.example/', 1400));
    expect(ask(evaluation.ask(ingress), question)).toEqual(ask(IngressState.of(plan), question));
  }
});
