import { fence, ranges } from '../../test/ways.js';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { formatAddress } from '../address/index.js';
import { evaluate } from '../evaluation/index.js';
import { applyOperations, readQuestion, setOperation } from '../plan/index.js';
import type {
  ClusterService,
  Gateway,
  IngressRoute,
  NetworkPolicy,
  Operation,
  Plan,
  ReferenceGrant,
  Workload,
} from '../plan/index.js';
import { expectGood } from '../result.js';
import { ask } from './index.js';
import { IngressState } from '../ingress/index.js';
import type { Answer } from './index.js';

// Every expected answer is derived by hand from the rule that its test names, before the code was asked.

const K = testId('clusters', 1);
const own = <T extends object>(fields: T) => ({ clusterId: K, namespace: 'shop', ...fields });
const asked = (plan: Plan, from: string, to: string): Answer =>
  ask(IngressState.of(plan), expectGood(readQuestion(plan, from, to, 576)));
const brief = (plan: Plan, from: string, to: string): string => {
  const { verdict, status } = asked(plan, from, to);
  return status === undefined ? verdict : `${verdict} ${status}`;
};
const workload = (name: string, fields: Partial<Workload> = {}): Partial<Workload> =>
  own({ name, labels: [`app=${name}`], ports: ['http tcp 8080'], replicasNow: 2, replicasHorizon: 2, ...fields });
const service = (name: string, fields: Partial<ClusterService> = {}): Partial<ClusterService> =>
  own({ name, selector: [`app=${name}`], ports: ['tcp 80 to http'], ...fields });
/** A gateway with a certificate for www.example. */
const certified = (fields: Partial<Gateway>): Partial<Gateway> =>
  own({ name: 'g', className: 'edge', certificate: 'cert', certificateHosts: ['www.example'], ...fields });
const route = (fields: Partial<IngressRoute>): Partial<IngressRoute> =>
  own({ name: 'r', className: 'edge', hosts: ['www.example'], path: '/', backends: ['a 80'], ...fields });

/**
 * A routed cluster with two pools' worth of nodes; workloads edge (a controller's pods), a and b with a service each; the
 * controller is called inside its cluster at 80 and 443.
 */
const world = (...more: Operation[][]): Plan =>
  applied(ground(1), [
    ...add('clusters', cluster('c', { podMode: 'routed' })),
    ...ranges([1, 'node', '10.1.0.0/24'], [1, 'pod', '10.64.0.0/16'], [1, 'service', '10.96.0.0/16']),
    ...add('nodePools', { name: 'pool-b', clusterId: K, nodesNow: 2, nodesHorizon: 2, nodesMax: 2 }),
    ...add('workloads', workload('edge'), workload('a'), workload('b')),
    ...add('services', service('edge', { ports: ['tcp 80 to http', 'tcp 443 to http'] }), service('a'), service('b')),
    ...add('controllers', { name: 'k', clusterId: K, classes: ['edge'], serviceId: testId('services', 1) }),
    ...more.flat(),
  ]);
/** A rule of a gateway, which may share calls by weight. */
const shared = (backends: string[]) =>
  world(
    add('gateways', own({ name: 'g', className: 'edge', listeners: ['web http 80'] })),
    add('ingressRoutes', route({ objectKind: 'HTTPRoute', className: '', gatewayId: testId('gateways', 1), backends })),
  );
const routed = (fields: Partial<IngressRoute>, ...more: Partial<IngressRoute>[]) =>
  world(add('ingressRoutes', route(fields), ...more.map(route)));

describe('a share of the calls has a verdict of its own', () => {
  test('half goes on where the other service is gone, whichever stands first, with its status told', () => {
    for (const backends of [
      ['a 80 weight 50', 'gone 80 weight 50'],
      ['gone 80 weight 50', 'a 80 weight 50'],
    ]) {
      const { verdict, members, unanswered, sentence } = asked(shared(backends), 'node of c', 'http://www.example/');
      expect([verdict, members.map(({ workload: { name }, share }) => `${name} ${share}`)]).toEqual([
        'broken',
        ['a 0.5'],
      ]);
      expect(unanswered).toMatchObject([{ share: 0.5, status: 500 }]);
      expect(sentence).toContain('50 % of the calls are not answered: Status 500');
    }
  });

  test('two services that fail differently are both told', () => {
    const plan = applied(shared(['a 80 weight 1', 'b 80 weight 1', 'gone 80 weight 2']), [
      setOperation('workloads', testId('workloads', 3), { replicasNow: 0 }),
    ]);
    const { unanswered, members } = asked(plan, 'node of c', 'http://www.example/');
    expect(members).toMatchObject([{ share: 0.25 }]);
    expect(unanswered.map(({ share, status }) => [share, status])).toEqual([
      [0.25, 503],
      [0.5, 500],
    ]);
  });

  test('an external name of a tenth leaves the others answered; a policy on one of two pods refuses its own', () => {
    const external = applied(shared(['a 80 weight 9', 'b 80 weight 1']), [
      setOperation('services', testId('services', 3), {
        type: 'ExternalName',
        externalName: 'api.else.where',
        selector: [],
        ports: [],
      }),
    ]);
    const answer = asked(external, 'node of c', 'http://www.example/');
    expect([answer.verdict, answer.members.map(({ share }) => share)]).toEqual(['unknown', [0.9]]);
    const held = applied(world(add('services', {}, {}, {}, service('both', { selector: ['tier=web'] })).slice(3)), [
      setOperation('workloads', testId('workloads', 2), { labels: ['app=a', 'tier=web'] }),
      setOperation('workloads', testId('workloads', 3), { labels: ['app=b', 'tier=web'] }),
      ...add('networkPolicies', own({ name: 'p', selector: ['app=b'], allowIn: ['pods app=edge'] })),
    ]);
    const half = asked(held, 'node of c', 'service shop/both of c tcp 80');
    expect([half.verdict, half.members.map(({ workload: { name } }) => name)]).toEqual(['refused', ['a']]);
  });

  test('one container that lacks the named port is no endpoint: the other one answers all', () => {
    const plan = applied(world(add('services', {}, {}, {}, service('both', { selector: ['tier=web'] })).slice(3)), [
      setOperation('workloads', testId('workloads', 2), { labels: ['tier=web'] }),
      setOperation('workloads', testId('workloads', 3), { labels: ['tier=web'], ports: ['other tcp 9090'] }),
    ]);
    const { verdict, members } = asked(plan, 'node of c', 'service shop/both of c tcp 80');
    expect([verdict, members.map(({ workload: { name }, share }) => `${name} ${share}`)]).toEqual(['pass', ['a 1']]);
  });
});

describe('TLS comes before the path', () => {
  const split = routed(
    { name: 'one', path: '/a', certificate: 'cert', certificateHosts: ['www.example'] },
    { name: 'two', path: '/b', backends: ['b 80'] },
  );
  test('the certificate of any rule for the host is shown for every path of it', () => {
    for (const path of ['/a', '/b'])
      expect([path, brief(split, 'node of c', `https://www.example${path}`)]).toEqual([path, 'pass']);
    // A path that no rule takes is answered over TLS, too.
    expect(brief(split, 'node of c', 'https://www.example/c')).toBe('broken 404');
  });

  test('a wildcard covers one label of a host (RFC 9525 6.3)', () => {
    const wild = routed({ hosts: ['*.shop.example'], certificate: 'cert', certificateHosts: ['*.shop.example'] });
    expect(brief(wild, 'node of c', 'https://a.shop.example/')).toBe('pass');
  });

  // What is on a certificate that is only named nobody knows.
  test('a certificate whose names are not entered covers a host or does not: unknown', () => {
    const named = (certificateHosts: string[]) => routed({ certificate: 'cert', certificateHosts });
    const at = (plan: Plan) => brief(plan, 'node of c', 'https://www.example/');
    expect(at(named(['www.example']))).toBe('pass');
    expect(at(named(['other.example']))).toBe('refused');
    expect(at(named([]))).toBe('unknown');
    expect(at(routed({}))).toBe('broken');
  });

  test('plain HTTP at the TLS port and TLS at the plain port are not understood', () => {
    expect(brief(split, 'node of c', 'http://www.example:443/a')).toBe('refused 400');
    expect(brief(split, 'node of c', 'https://www.example:80/a')).toBe('broken');
    expect(brief(split, 'node of c', 'http://www.example/a')).toBe('pass');
  });

  const gateway = (listeners: string[], fields: Partial<IngressRoute> = {}) =>
    world(
      add('gateways', certified({ listeners })),
      add(
        'ingressRoutes',
        route({ objectKind: 'HTTPRoute', className: '', gatewayId: testId('gateways', 1), ...fields }),
      ),
    );
  test('the same at listeners of a gateway; one that has none on the port is named as the reason', () => {
    const both = gateway(['web http 80', 'safe https 443']);
    expect(brief(both, 'node of c', 'https://www.example/')).toBe('pass');
    expect(brief(both, 'node of c', 'http://www.example:443/')).toBe('refused 400');
    expect(brief(both, 'node of c', 'https://www.example:80/')).toBe('broken');
    const plain = asked(gateway(['web http 80']), 'node of c', 'https://www.example/');
    expect([plain.verdict, plain.status]).toEqual(['broken', 404]);
    expect(plain.sentence).toContain('The gateway shop/g has no listener for that host on port 443');
  });
});

describe('headless services translate no ports', () => {
  const plan = world(add('services', {}, {}, {}, service('bare', { type: 'headless', selector: ['app=a'] })).slice(3));
  test('their pods are called at the port that they listen on', () => {
    expect(brief(plan, 'node of c', 'service shop/bare of c tcp 8080')).toBe('pass');
    expect(brief(plan, 'node of c', 'service shop/bare of c tcp 80')).toBe('broken');
  });
});

describe('services that answer for one node', () => {
  const placed = (fields: Partial<Workload>, of: Partial<ClusterService>) =>
    applied(world(), [
      setOperation('workloads', testId('workloads', 2), { nodePoolId: testId('nodePools', 1), ...fields }),
      setOperation('services', testId('services', 2), of),
    ]);
  test('internalTrafficPolicy Local: from nodes without a pod of it nothing answers, on each node of a DaemonSet it does', () => {
    const local = { internalPolicy: 'local' } as const;
    expect(brief(placed({}, local), 'node of c', 'service shop/a of c tcp 80')).toBe('broken');
    expect(brief(placed({}, local), 'node of c, pool pool-b', 'service shop/a of c tcp 80')).toBe('unknown');
    expect(
      brief(placed({ objectKind: 'DaemonSet' }, local), 'node of c, pool pool-b', 'service shop/a of c tcp 80'),
    ).toBe('pass');
    expect(brief(placed({}, {}), 'node of c', 'service shop/a of c tcp 80')).toBe('pass');
  });

  const nodePort = { type: 'NodePort', ports: ['tcp 80 to http node 30080'] } as const;
  test('externalTrafficPolicy Local: a NodePort answers on nodes with a pod of it, and nothing listens on others', () => {
    const local = { ...nodePort, externalPolicy: 'local' } as const;
    const at = (plan: Plan, node: string, port = 30_080) => brief(plan, 'the internet', `${node} tcp ${port}`);
    const inside = (plan: Plan, node: string, port = 30_080) => brief(plan, 'node of c', `${node} tcp ${port}`);
    expect(inside(placed({}, local), 'node of c')).toBe('broken');
    expect(inside(placed({}, local), 'node of c, pool pool-b')).toBe('unknown');
    expect(inside(placed({ objectKind: 'DaemonSet' }, local), 'node of c, pool pool-b')).toBe('pass');
    expect(inside(placed({}, nodePort), 'node of c')).toBe('pass');
    expect(inside(placed({}, nodePort), 'node of c', 31_999)).toBe('broken');
    // While the cluster gives the port itself, nothing is said.
    const given = placed({}, { type: 'NodePort', ports: ['tcp 80 to http'] });
    expect(inside(given, 'node of c', 31_999)).toBe('unknown');
    expect(at(placed({}, nodePort), 'node of c')).toBe('refused');
  });

  // A node puts its own address in place of the client’s before it passes a call on (Kubernetes documentation, virtual IPs, from memory).
  test('a NodePort answers where its pods let the node in: policies and filters behind the node are asked too', () => {
    const policy = (...allowIn: string[]) =>
      add('networkPolicies', own({ name: 'p', directions: ['ingress'], selector: ['app=a'], allowIn }));
    const open = placed({ nodePoolId: null }, nodePort);
    const at = (plan: Plan, to = 'node of c') => brief(plan, 'node of c', `${to} tcp 30080`);
    expect(at(open)).toBe('pass');
    expect(at(applied(open, policy('pods app=b on tcp 8080')))).toBe('refused');
    expect(at(applied(open, policy('10.1.0.0/24 on tcp 8080')))).toBe('pass');
    expect(at(applied(open, policy('10.1.0.0/24 on tcp 9090')))).toBe('refused');
    // Asked by the address of a node it is the same node.
    expect(at(open, '10.1.0.9')).toBe('pass');
    expect(at(applied(open, policy('pods app=b on tcp 8080')), '10.1.0.9')).toBe('refused');
    expect(brief(open, 'node of c', '10.1.0.9 tcp 31999')).toBe('broken');
    // Where nodes of two clusters share the subnet, an address may be of either.
    const both = applied(open, [
      ...add('clusters', {}, cluster('d', { podMode: 'routed' })).slice(1),
      ...add(
        'allocations',
        {},
        {},
        {},
        { clusterId: testId('clusters', 2), purpose: 'node', prefix: '10.1.0.0/24' },
      ).slice(3),
    ]);
    expect([at(both), at(both, '10.1.0.9')]).toEqual(['pass', 'unknown']);
    // Pods see a node of the cluster; who answers is told.
    const { members, seenAs } = asked(open, 'node of c', 'node of c tcp 30080');
    expect([members.map(({ workload }) => workload.name), seenAs]).toEqual([
      ['a'],
      expect.stringMatching(/^10\.1\.0\./),
    ]);
  });

  test('asked from outside its cluster, the road stays on the node, and the pods see the client', () => {
    const local = { ...nodePort, externalPolicy: 'local' } as const;
    const plan = applied(
      placed({}, local),
      add('inUse', { prefix: '10.2.0.0/24', owner: 'desk', networkId: testId('networks', 1) }),
    );
    const { verdict, seenAs, members } = asked(plan, 'range desk', 'service shop/a of c tcp 80');
    expect([verdict, seenAs, members.length]).toEqual(['pass', '10.2.0.1', 1]);
    const spread = asked(
      applied(plan, [setOperation('services', testId('services', 2), { externalPolicy: 'cluster' })]),
      'range desk',
      'service shop/a of c tcp 80',
    );
    expect(spread.seenAs).not.toBe('10.2.0.1');
  });
});

test('where it depends on a workload that is not named, nothing is decided; where all are stopped, it is refused', () => {
  const policy = (fields: Partial<NetworkPolicy>) =>
    world(
      add('networkPolicies', own({ name: 'p', directions: ['ingress'], ...fields })),
      add('inUse', { prefix: '10.2.0.0/24', owner: 'desk', networkId: testId('networks', 1) }),
    );
  const one = policy({ selector: ['app=a'] });
  expect(brief(one, 'range desk', 'pod of c tcp 8080')).toBe('unknown');
  expect(brief(one, 'range desk', 'pod of c, workload shop/a tcp 8080')).toBe('refused');
  expect(brief(one, 'range desk', 'pod of c, workload shop/b tcp 8080')).toBe('pass');
  expect(brief(policy({}), 'range desk', 'pod of c tcp 8080')).toBe('refused');
  // What holds calls out of pods does not hold those into them.
  expect(brief(policy({ directions: ['egress'] }), 'range desk', 'pod of c tcp 8080')).toBe('pass');
});

test('names are asked of the cluster’s DNS: a block that leaves its ranges out does not let a pod ask', () => {
  const policy = (allowOut: string[]) =>
    world(
      add('zones', { name: 'one', apex: 'one.test', side: 'public' }),
      add('records', { zoneId: testId('zones', 1), name: 'www', type: 'A', value: '203.0.113.9' }),
      add('networkPolicies', own({ name: 'p', directions: ['egress'], selector: ['app=a'], allowOut })),
    );
  const at = (allowOut: string[]) => brief(policy(allowOut), 'pod of c, workload shop/a', 'name www.one.test type A');
  expect(at(['0.0.0.0/0 except 10.0.0.0/8 on udp 53'])).toBe('broken');
  expect(at(['0.0.0.0/0 on udp 53'])).not.toBe('broken');
  expect(at(['namespaces all on udp 53'])).not.toBe('broken');
});

describe('redirects by the Gateway API: what is left out is that of the request', () => {
  const to = (redirect: string, url: string, fields: Partial<IngressRoute> = {}) =>
    asked(routed({ redirect, redirectStatus: '301', backends: [], ...fields }), 'node of c', url);
  test.each([
    // From http to https, the most usual of all: host and path stay, the port is the usual one of the scheme.
    ['https://{host}{path}', 'http://www.example/a/b', '/', 'https://www.example/a/b'],
    ['{scheme}://new.example{path}', 'http://www.example/a', '/', 'http://new.example/a'],
    ['/new{rest}', 'http://www.example/old/x', '/old', 'http://www.example/new/x'],
    ['/whole', 'http://www.example/old/x', '/old', 'http://www.example/whole'],
    ['https://{host}:8443{path}', 'http://www.example/', '/', 'https://www.example:8443/'],
  ])('%s of %s', (redirect, url, path, target) => {
    const { stages } = to(redirect, url, { path });
    expect(stages.map(({ description }) => description)).toContain(
      `It sends the client to ${target} instead, with status 301.`,
    );
  });

  test('one that leads to what was asked is a loop', () => {
    expect(to('{path}', 'http://www.example/a').verdict).toBe('broken');
    for (const redirectStatus of ['303', '307', '308'] as const)
      expect(to('/x', 'http://www.example/a', { redirectStatus }).status).toBe(Number(redirectStatus));
  });
});

// A client that is sent on asks there: what it gets is the answer (Fetch standard, HTTP-redirect fetch; RFC 9110 15.4).
describe('a redirect is followed', () => {
  const G = testId('gateways', 1);
  const at = (listener: string, fields: Partial<IngressRoute>) =>
    route({ objectKind: 'HTTPRoute', className: '', gatewayId: G, listener, ...fields });
  const entryPoints = (...routes: Partial<IngressRoute>[]) =>
    world(
      add('gateways', certified({ listeners: ['plain http 80', 'safe https 443'] })),
      add('ingressRoutes', ...routes),
    );
  const up = (fields: Partial<IngressRoute> = {}) =>
    at('plain', { name: 'up', redirect: 'https://{host}{path}', redirectStatus: '301', backends: [], ...fields });
  const get = (plan: Plan, url: string) => asked(plan, 'node of c', url);

  test('to who answers there, with path and query; the status told is that of the redirect', () => {
    const answer = get(entryPoints(up(), at('safe', {})), 'http://www.example/x?y=1');
    expect([answer.verdict, answer.status]).toEqual(['pass', 301]);
    expect(answer.members.map(({ workload: { name } }) => name)).toEqual(['a']);
    expect(answer.sentence).toContain('https://www.example/x?y=1');
  });

  test('a rule that attaches to the other listener matches and does not get the call, and that is why', () => {
    const { stages } = get(entryPoints(up({ hosts: [] }), at('safe', {})), 'http://www.example/');
    expect(stages.flatMap(({ lost }) => lost)[0]).toMatchObject({
      route: { name: 'r' },
      isMatch: true,
      why: { code: 'other-listener' },
    });
  });

  test('where nobody answers there, the question fails as that does', () => {
    const gone = get(entryPoints(up(), at('safe', { backends: ['gone 80'] })), 'http://www.example/');
    expect([gone.verdict, gone.status]).toEqual(['broken', 500]);
    expect(get(entryPoints(up()), 'http://www.example/').verdict).toBe('broken');
    // The certificate is for www.example alone.
    expect(get(entryPoints(up({ hosts: [] }), at('safe', { hosts: [] })), 'http://sub.example/').verdict).toBe(
      'refused',
    );
  });

  test('a rule for both listeners leads from http to https, and there in circles', () => {
    const answer = get(entryPoints(up({ listener: '' })), 'http://www.example/');
    expect(answer.verdict).toBe('broken');
    expect(answer.sentence).toContain('a loop');
    const two = entryPoints(
      up({ name: 'one', path: '/a', redirect: '/b' }),
      up({ name: 'two', path: '/b', redirect: '/a' }),
    );
    expect(get(two, 'http://www.example/a').sentence).toContain('which it asked for before: a loop');
  });

  test('what answers outside the plan is not known', () => {
    const answer = get(entryPoints(up({ redirect: 'https://login.elsewhere.test/' })), 'http://www.example/');
    expect([answer.verdict, answer.status]).toEqual(['unknown', 301]);
  });

  test.each<[IngressRoute['redirectStatus'], string]>([
    ['301', 'pass 301'],
    ['302', 'pass 302'],
    ['303', 'pass 303'],
    ['307', 'broken 404'],
    ['308', 'broken 404'],
  ])('a POST with %s comes to a rule for GET: %s', (redirectStatus, expected) => {
    expect(
      brief(
        entryPoints(up({ redirectStatus }), at('safe', { method: 'GET' })),
        'node of c',
        'POST http://www.example/',
      ),
    ).toBe(expected);
  });

  test('20 in a row are followed, and 21 are not', () => {
    const steps = (count: number) =>
      entryPoints(
        ...Array.from({ length: count }, (_, i) =>
          up({ name: `r${i}`, path: `/${i}`, pathType: 'Exact', redirect: `/${i + 1}` }),
        ),
        at('plain', { name: 'end', path: `/${count}`, pathType: 'Exact' }),
      );
    expect(get(steps(20), 'http://www.example/0').verdict).toBe('pass');
    expect(get(steps(21), 'http://www.example/0').verdict).toBe('broken');
  });
});

test('a default backend takes what no rule does, also below a host that has rules', () => {
  const plan = routed(
    { path: '/a' },
    { name: 'd', hosts: [], pathType: 'Default backend', path: '/', backends: ['b 80'] },
  );
  const who = (url: string) => asked(plan, 'node of c', url).members.map(({ workload: { name } }) => name);
  expect(who('http://www.example/a')).toEqual(['a']);
  expect(who('http://www.example/pay')).toEqual(['b']);
  expect(who('http://other.example/')).toEqual(['b']);
  expect(brief(routed({ path: '/a' }), 'node of c', 'http://www.example/pay')).toBe('broken 404');
});

test('a rule whose services are all drained answers with an error of its own', () => {
  expect(brief(shared(['a 80 weight 0', 'b 80 weight 0']), 'node of c', 'http://www.example/')).toBe('broken 500');
});

// Gateway API, ReferenceGrant: a reference to another namespace holds where a grant there names the kind and namespace that it
// comes from and what it goes to; without one the backend is invalid and its calls get 500.
describe('a route sends to another namespace where a grant there says so', () => {
  const far = { clusterId: K, namespace: 'far' };
  const plan = (grant?: Partial<ReferenceGrant>) =>
    applied(shared(['far/x 80']), [
      ...add('workloads', {
        ...far,
        id: testId('workloads', 9),
        name: 'x',
        labels: ['app=x'],
        ports: ['http tcp 8080'],
        replicasNow: 1,
        replicasHorizon: 1,
      }),
      ...add('services', {
        ...far,
        id: testId('services', 9),
        name: 'x',
        selector: ['app=x'],
        ports: ['tcp 80 to http'],
      }),
      ...(grant === undefined ? [] : add('referenceGrants', { ...far, name: 'g', ...grant })),
    ]);
  test.each<[string, Partial<ReferenceGrant> | undefined, string]>([
    ['no grant', undefined, 'broken 500'],
    ['every service to HTTPRoutes of its namespace', { from: ['HTTPRoute in shop'], to: ['Service'] }, 'pass'],
    ['this service by name', { from: ['HTTPRoute in shop'], to: ['Service y', 'Service x'] }, 'pass'],
    ['another service', { from: ['HTTPRoute in shop'], to: ['Service y'] }, 'broken 500'],
    ['secrets alone', { from: ['HTTPRoute in shop'], to: ['Secret'] }, 'broken 500'],
    ['another kind of route', { from: ['TLSRoute in shop'], to: ['Service'] }, 'broken 500'],
    ['another namespace', { from: ['HTTPRoute in far'], to: ['Service'] }, 'broken 500'],
    ['a grant that is elsewhere', { namespace: 'shop', from: ['HTTPRoute in shop'], to: ['Service'] }, 'broken 500'],
  ])('%s', (_, grant, expected) => {
    expect(brief(plan(grant), 'node of c', 'http://www.example/')).toBe(expected);
  });
  test('the smallest grant is offered, and with it the calls are answered', () => {
    const broken = plan();
    const found = evaluate(broken)
      .findingsInWords()
      .find(({ code }) => code === 'entry.grant');
    const [fix] = found?.fixes ?? [];
    expect(fix?.kind).toBe('change');
    const mended = applied(broken, fix?.kind === 'change' ? fix.operations : []);
    expect(mended.referenceGrants).toMatchObject([
      { namespace: 'far', from: ['HTTPRoute in shop'], to: ['Service x'] },
    ]);
    expect(brief(mended, 'node of c', 'http://www.example/')).toBe('pass');
    expect(
      evaluate(mended)
        .findingsInWords()
        .filter(({ code }) => code === 'entry.grant'),
    ).toEqual([]);
  });
  test('so with the certificate of a gateway that is a secret elsewhere', () => {
    const secure = (grants: Partial<ReferenceGrant>[]) =>
      world(
        add('gateways', own({ name: 'g', className: 'edge', listeners: ['web https 443'], certificate: 'far/cert' })),
        [setOperation('gateways', testId('gateways', 1), { certificateHosts: ['www.example'] })],
        add('ingressRoutes', route({ objectKind: 'HTTPRoute', className: '', gatewayId: testId('gateways', 1) })),
        add('referenceGrants', ...grants.map((each) => ({ ...far, name: 'g', ...each }))),
      );
    const url = 'https://www.example/';
    expect(brief(secure([]), 'node of c', url)).toBe('broken');
    const [found] = evaluate(secure([]))
      .findingsInWords()
      .filter(({ code }) => code === 'entry.grant');
    const [fix] = found?.fixes ?? [];
    const mended = applied(secure([]), fix?.kind === 'change' ? fix.operations : []);
    expect(brief(mended, 'node of c', url)).toBe('pass');
    expect(
      evaluate(mended)
        .findingsInWords()
        .filter(({ code }) => code === 'entry.grant'),
    ).toEqual([]);
    expect(brief(secure([{ from: ['Gateway in shop'], to: ['Secret cert'] }]), 'node of c', url)).toBe('pass');
    expect(brief(secure([{ from: ['Gateway in shop'], to: ['Service'] }]), 'node of c', url)).toBe('broken');
  });
});

// Kubernetes API, IngressClass: an Ingress without a class gets the one that is marked as default.
test('an Ingress without a class is carried out by the controller of the default class, and by nobody without one', () => {
  const plan = (defaultClass: string) =>
    applied(routed({ className: '' }), [setOperation('controllers', testId('controllers', 1), { defaultClass })]);
  expect(brief(plan('edge'), 'node of c', 'http://www.example/')).toBe('pass');
  expect(brief(plan(''), 'node of c', 'http://www.example/')).toBe('broken');
  const second = applyOperations(
    plan('edge'),
    add('controllers', {
      id: testId('controllers', 2),
      name: 'l',
      clusterId: K,
      classes: ['other'],
      defaultClass: 'other',
    }),
  );
  expect(second.ok ? [] : second.problems.map(({ code }) => code)).toEqual(['controller.default-twice']);
});

// Gateway API, HTTPRoute: a route attaches to each of its parents; a parent with a section to that listener alone.
describe('a route attaches to every gateway that it names', () => {
  const plan = (additionalParents: string[], second: Partial<Gateway> = {}) =>
    world(
      add(
        'gateways',
        own({ name: 'g', className: 'edge', listeners: ['web http 8080'] }),
        own({ name: 'h', className: 'edge', listeners: ['a http 80 *.example', 'b http 81'], ...second }),
      ),
      add(
        'ingressRoutes',
        route({ objectKind: 'HTTPRoute', className: '', gatewayId: testId('gateways', 1), additionalParents }),
      ),
      [setOperation('services', testId('services', 1), { ports: ['tcp 80 to http', 'tcp 81 to http'] })],
    );
  const at = (port: number, ...of: Parameters<typeof plan>) =>
    brief(plan(...of), 'node of c', `http://www.example:${port}/`);
  test('the second one takes it, at both its listeners or at the one that is named', () => {
    expect(at(80, [])).toBe('broken 404');
    expect([at(80, ['shop/h']), at(81, ['shop/h'])]).toEqual(['pass', 'pass']);
    expect([at(80, ['shop/h b']), at(81, ['shop/h b'])]).toEqual(['broken 404', 'pass']);
    expect(at(80, ['edge/h'])).toBe('broken 404');
  });
  test('of labelled namespaces it takes those whose labels meet its conditions', () => {
    const labels = (namespaceTerms: string[], namespaceLabels: string[]) =>
      brief(
        applied(plan(['shop/h'], { allowedRoutes: 'labelled namespaces', namespaceTerms }), [
          setOperation('clusters', K, { namespaceLabels }),
        ]),
        'node of c',
        'http://www.example/',
      );
    expect(labels(['team=web'], ['shop: team=web'])).toBe('pass');
    expect(labels(['team=web'], ['shop: team=data'])).toBe('broken 404');
    expect(labels(['team=web'], ['edge: team=web'])).toBe('broken 404');
    // Every namespace has its name as a label; conditions that are none let every one in.
    expect(labels(['kubernetes.io/metadata.name in (shop, far)'], [])).toBe('pass');
    expect(labels(['!team'], ['shop: team=web'])).toBe('broken 404');
    expect(labels([], [])).toBe('pass');
  });
});

// Gateway API, GRPCRoute; gRPC over HTTP/2: a call is a POST to /package.Service/Method.
test('calls of gRPC are told apart by service and method', () => {
  const grpc = (name: string, fields: Partial<IngressRoute>) =>
    route({ name, objectKind: 'GRPCRoute', className: '', gatewayId: testId('gateways', 1), ...fields });
  const plan = world(
    add('gateways', own({ name: 'g', className: 'edge', listeners: ['web http 80'] })),
    add(
      'ingressRoutes',
      grpc('one', { pathType: 'Exact', path: '/tide.Times/Next', backends: ['a 80'] }),
      grpc('all', { path: '/tide.Times', backends: ['b 80'] }),
    ),
  );
  const who = (path: string) => {
    const { members, status } = asked(plan, 'node of c', `POST http://www.example${path}`);
    return members[0]?.workload.name ?? status;
  };
  expect([who('/tide.Times/Next'), who('/tide.Times/Last'), who('/tide.Timesheet/Next')]).toEqual(['a', 'b', 404]);
});

// Gateway API, GRPCRoute, hostnames (from memory): at one listener a GRPCRoute and an HTTPRoute have no host in common, or only the older is accepted.
describe('a GRPCRoute and an HTTPRoute for one host', () => {
  const both = (web: string[], calls: string[], listeners = ['web http 80'], fields: Partial<IngressRoute> = {}) =>
    world(
      add('gateways', own({ name: 'g', className: 'edge', listeners })),
      add(
        'ingressRoutes',
        route({ name: 'pages', objectKind: 'HTTPRoute', className: '', gatewayId: testId('gateways', 1), hosts: web }),
        route({
          name: 'calls',
          objectKind: 'GRPCRoute',
          className: '',
          gatewayId: testId('gateways', 1),
          hosts: calls,
          path: '/tide.Times',
          backends: ['b 80'],
          ...fields,
        }),
      ),
    );
  const verdict = (plan: Plan, url: string) => asked(plan, 'node of c', url).verdict;
  test.each([
    ['the same host', ['x.example'], ['x.example'], 'unknown'],
    ['a wildcard over it', ['x.example'], ['*.example'], 'unknown'],
    ['every host', ['x.example'], [], 'unknown'],
    ['another host', ['x.example'], ['y.example'], 'pass'],
    ['a wildcard beside it', ['x.example'], ['*.x.example'], 'pass'],
    // The route is rejected as a whole, whichever of its hosts it shares.
    ['one host of two, and the other is asked', ['x.example', 'z.example'], ['z.example'], 'unknown'],
  ])('%s', (_, web, calls, expected) => {
    expect(verdict(both(web, calls), 'http://x.example/')).toBe(expected);
  });
  test('the older is accepted where their ages are entered, and the other takes no call', () => {
    const aged = (web: number, calls: number) =>
      applied(both(['x.example'], ['x.example']), [
        setOperation('ingressRoutes', testId('ingressRoutes', 1), { age: web }),
        setOperation('ingressRoutes', testId('ingressRoutes', 2), { age: calls }),
      ]);
    const members = (plan: Plan, path: string) => {
      const answer = asked(plan, 'node of c', `http://x.example${path}`);
      return answer.members[0]?.workload.name ?? `${answer.verdict} ${answer.status}`;
    };
    // The pages take every path where they are accepted, the calls theirs alone.
    expect(members(aged(1, 2), '/tide.Times/Next')).toBe('a');
    expect(members(aged(2, 1), '/tide.Times/Next')).toBe('b');
    expect(members(aged(2, 1), '/about')).toBe('broken 404');
    expect(asked(aged(2, 1), 'node of c', 'http://x.example/about').sentence).toContain(
      'The HTTPRoute shop/pages is not accepted',
    );
    // Of the same age the first by name: calls before pages.
    expect(members(aged(3, 3), '/about')).toBe('broken 404');
    expect(verdict(aged(0, 1), 'http://x.example/about')).toBe('unknown');
  });
  test('hosts outside the listener are not shared, nor are those of different listeners', () => {
    const narrow = both(['x.example', 'x.other.test'], ['*.example'], ['web http 80 *.other.test']);
    expect(verdict(narrow, 'http://x.other.test/')).toBe('pass');
    const apart = both(['x.example'], ['x.example'], ['web http 80', 'calls http 443'], { listener: 'calls' });
    expect(verdict(apart, 'http://x.example:443/tide.Times/Next')).toBe('unknown');
    const named = applied(apart, [setOperation('ingressRoutes', testId('ingressRoutes', 1), { listener: 'web' })]);
    expect(verdict(named, 'http://x.example:443/tide.Times/Next')).toBe('pass');
    expect(verdict(named, 'http://x.example/')).toBe('pass');
  });
});

// Gateway API, precedence of matches (from memory): of two objects that ask for the same the older, then the first by name.
describe('two rules that ask for the same', () => {
  const two = (first: Partial<IngressRoute>, second: Partial<IngressRoute>) =>
    routed({ name: 'a', ...first }, { name: 'b', backends: ['b 80'], ...second });
  const who = (plan: Plan, url = 'http://www.example/x') => {
    const { members, verdict } = asked(plan, 'node of c', url);
    return members[0]?.workload.name ?? verdict;
  };
  test.each([
    [{}, {}, 'unknown'],
    [{ age: 1 }, {}, 'unknown'],
    [{ age: 2 }, { age: 1 }, 'b'],
    [{ age: 1 }, { age: 1 }, 'a'],
    [{ path: '/x' }, {}, 'a'],
    [{}, { path: '/x' }, 'b'],
    [{ pathType: 'Exact', path: '/x' }, { path: '/x' }, 'a'],
    [{ pathType: 'Exact', path: '/x' }, { pathType: 'Exact', path: '/x' }, 'unknown'],
    [{ hosts: ['*.example'] }, {}, 'b'],
    [{ hosts: ['other.example'] }, {}, 'b'],
    [{ hosts: [], pathType: 'Default backend' }, { hosts: [], pathType: 'Default backend' }, 'unknown'],
    [{ hosts: [], pathType: 'Default backend' }, { hosts: [], pathType: 'Default backend', age: 1 }, 'unknown'],
    // Of one object the earlier rule, whatever its age.
    [{}, { name: 'a', rule: 2 }, 'a'],
  ] as const)('%j and %j: %s', (first, second, expected) => {
    expect(who(two(first as Partial<IngressRoute>, second as Partial<IngressRoute>))).toBe(expected);
  });
});

// Gateway API, kinds of routes by the protocol of a listener (from memory).
test.each([
  ['web http 80', 'HTTPRoute GRPCRoute'],
  ['web https 443', 'HTTPRoute GRPCRoute'],
  ['web tls 443 passthrough', 'TLSRoute'],
  ['web tls 443 cert edge-cert', 'TLSRoute TCPRoute'],
  ['web tcp 5432', 'TCPRoute'],
  ['web udp 53', ''],
])('a listener %s takes %s', (listener, taken) => {
  const forms = ['HTTPRoute', 'GRPCRoute', 'TLSRoute', 'TCPRoute'] as const;
  const found = forms.filter((objectKind) => {
    const plan = world(
      add('gateways', own({ name: 'g', className: 'edge', listeners: [listener] })),
      add(
        'ingressRoutes',
        route({ objectKind, className: '', gatewayId: testId('gateways', 1), hosts: [], path: '/' }),
      ),
    );
    const attached = evaluate(plan)
      .findingsInWords()
      .find(({ code }) => code === 'entry.unattached');
    if (attached !== undefined)
      expect(attached.detail).toContain(`None of its listeners takes ${objectKind}s; by protocol: web `);
    return attached === undefined;
  });
  expect(found.join(' ')).toBe(taken);
});

// Ingress: a wildcard is for one label; Gateway API: for several, and the listener with the most precise host gets the call (from memory).
test('why a host has no route is told by the rules of its kind', () => {
  const wild = routed({ hosts: ['*.example'] });
  expect(asked(wild, 'node of c', 'http://a.example/').verdict).toBe('pass');
  expect(asked(wild, 'node of c', 'http://a.b.example/').sentence).toBe(
    'Nothing in the plan is for the host a.b.example.',
  );
  const isolated = world(
    add(
      'gateways',
      own({ name: 'g', className: 'edge', listeners: ['one http 80 x.example', 'all http 80 *.example'] }),
    ),
    add(
      'ingressRoutes',
      route({
        objectKind: 'HTTPRoute',
        className: '',
        gatewayId: testId('gateways', 1),
        listener: 'all',
        hosts: ['x.example', 'y.example'],
      }),
    ),
  );
  expect(asked(isolated, 'node of c', 'http://y.example/').verdict).toBe('pass');
  expect(asked(isolated, 'node of c', 'http://x.example/')).toMatchObject({
    status: 404,
    sentence: expect.stringContaining(
      'The listener one of the gateway shop/g gets it, and shop/r does not attach',
    ) as string,
  });
});

// Gateway API, listeners (from memory): at one port HTTP apart from HTTPS and TLS, these two apart by host, TCP alone, UDP beside all of them.
test.each([
  [['a http 80 x.example', 'b http 80 y.example'], 'pass'],
  [['a http 80', 'b http 80 *.x.example'], 'pass'],
  [['a http 80 x.example', 'b https 80 y.example'], 'unknown'],
  [['a http 80 x.example', 'b tls 80 y.example'], 'unknown'],
  [['a http 80', 'b tcp 80'], 'unknown'],
  [['a http 80', 'b udp 80'], 'pass'],
  [['a http 80', 'b https 443', 'c tcp 8443'], 'pass'],
  // The conflict is at another port than the one that is asked.
  [['a http 80', 'b https 443', 'c http 443'], 'pass'],
] as const)('listeners %j: a request to port 80 is %s', (listeners, verdict) => {
  const plan = world(
    add('gateways', own({ name: 'g', className: 'edge', listeners: [...listeners] })),
    add(
      'ingressRoutes',
      route({ objectKind: 'HTTPRoute', className: '', gatewayId: testId('gateways', 1), hosts: ['x.example'] }),
    ),
  );
  expect(asked(plan, 'node of c', 'http://x.example/').verdict).toBe(verdict);
});

test('a listener of the same protocol, port and host is refused, as the API refuses it', () => {
  const twice = (listeners: string[]) =>
    applyOperations(ground(1), [
      ...add('clusters', cluster('c')),
      ...add('gateways', own({ name: 'g', className: 'edge', listeners })),
    ]);
  expect(twice(['a http 80 x.example', 'b http 80 X.example'])).toMatchObject({
    ok: false,
    problems: [{ field: 'listeners', code: 'gateway.listener-place' }],
  });
  expect(twice(['a https 443 x.example', 'b tls 443 x.example']).ok).toBe(true);
});

// Gateway API, backends that are no valid ones (from memory): HTTP 500, the gRPC status UNAVAILABLE, connections of TCP and TLS rejected.
test.each([
  ['HTTPRoute', 500, 'does not exist.'],
  ['GRPCRoute', undefined, 'Its calls are answered with the gRPC status UNAVAILABLE.'],
] as const)('a %s to a service that is gone answers as its kind does', (objectKind, status, words) => {
  const plan = world(
    add('gateways', own({ name: 'g', className: 'edge', listeners: ['web http 80'] })),
    add('ingressRoutes', route({ objectKind, className: '', gatewayId: testId('gateways', 1), backends: ['gone 80'] })),
  );
  const answer = asked(plan, 'node of c', 'http://www.example/');
  expect([answer.verdict, answer.status]).toEqual(['broken', status]);
  expect(answer.sentence).toContain(words);
});

// Kubernetes API, EndpointSlice: a service without a selector has the endpoints that somebody wrote.
describe('a service without a selector', () => {
  const plan = (endpoints: string[], fields: Partial<ClusterService> = {}) =>
    world(
      [
        setOperation('services', testId('services', 2), {
          selector: [],
          ports: ['tcp 80 to 5432'],
          endpoints,
          ...fields,
        }),
      ],
      add('inUse', { prefix: '10.2.0.0/24', owner: 'old hall', networkId: testId('networks', 1) }),
    );
  const asks = (of: Plan) => asked(of, 'node of c', 'service shop/a of c tcp 80');
  test('sends to its endpoints at the container port, each with its share; without any it answers nobody', () => {
    const two = asks(plan(['10.2.0.5', '10.2.0.6']));
    expect(two.verdict).toBe('pass');
    expect(two.flows.map(({ aim }) => `${formatAddress(aim.address)} ${aim.port}`)).toContain('10.2.0.5 5432');
    expect(two.flows).toHaveLength(2);
    expect(two.sentence).toBe('Node of c is served by 10.2.0.5, 10.2.0.6.');
    // One of the two is nowhere: half of the calls is not answered, and the rest is.
    expect(asks(plan(['10.2.0.5', '10.9.9.9'])).unanswered.map(({ share }) => share)).toEqual([0.5]);
    expect(asks(plan([])).sentence).toContain('it has neither a selector nor endpoints');
  });
  test('is broken where one is nowhere, and names no port by a name', () => {
    expect(asks(plan(['10.9.9.9'])).verdict).toBe('broken');
    expect(asks(plan(['10.2.0.5'], { ports: ['tcp 80 to http'] })).verdict).toBe('broken');
    // Answered only on the node of who asks: an address that is on no node is none of these.
    expect(asks(plan(['10.2.0.5'], { internalPolicy: 'local' })).verdict).toBe('broken');
  });
});

// Kubernetes API, Pod conditions: a pod that is not ready is no endpoint, unless the service publishes those, too.
describe('pods that are not ready', () => {
  const plan = (notReady: number, fields: Partial<ClusterService> = {}) =>
    world([
      setOperation('workloads', testId('workloads', 2), { replicasNow: 3, notReady }),
      setOperation('services', testId('services', 2), fields),
    ]);
  const asks = (of: Plan) => asked(of, 'node of c', 'service shop/a of c tcp 80');
  test('get no calls: with none that is ready nobody answers', () => {
    expect(asks(plan(0)).verdict).toBe('pass');
    expect(asks(plan(2)).stages.find(({ about }) => about === 'service')?.description).toContain('has 1 pod at');
    expect([asks(plan(3)).verdict, asks(plan(3)).status]).toEqual(['broken', 503]);
    expect(asks(plan(3)).sentence).toContain('none that its workloads run is ready');
    expect(asks(plan(3, { publishNotReady: true })).verdict).toBe('pass');
  });
  test('share the calls of a service of two workloads by those that are ready', () => {
    const both = applied(plan(2, { selector: ['tier=web'] }), [
      setOperation('workloads', testId('workloads', 2), { labels: ['tier=web'] }),
      setOperation('workloads', testId('workloads', 3), { labels: ['tier=web'] }),
    ]);
    // One of three pods of a is ready, both of b are.
    const shares = asks(both).members.map(({ workload: { name }, share }) => [name, Math.round(share * 3)]);
    expect(shares).toEqual([
      ['a', 1],
      ['b', 2],
    ]);
  });
  test('are at most as many as there are', () => {
    const refused = applyOperations(plan(0), [setOperation('workloads', testId('workloads', 2), { notReady: 4 })]);
    expect(refused.ok ? [] : refused.problems.map(({ code }) => code)).toEqual(['workload.not-ready']);
  });
});

// Gateway API, Gateway: each listener has a certificate, allowed namespaces and a TLS mode of its own.
describe('what a listener of a gateway says by itself', () => {
  const plan = (listeners: string[], fields: Partial<Gateway> = {}, rule: Partial<IngressRoute> = {}) =>
    world(
      add('gateways', certified({ listeners, certificate: 'one', ...fields })),
      add(
        'ingressRoutes',
        route({ objectKind: 'HTTPRoute', className: '', gatewayId: testId('gateways', 1), hosts: [], ...rule }),
      ),
      add('certificates', {
        name: 'two',
        clusterId: K,
        namespace: 'shop',
        names: ['pay.example'],
        validFrom: '2026-11-01',
        validDays: 90,
      }),
    );
  const at = (of: Plan, url: string) => brief(of, 'node of c', url);
  test('a certificate of its own is shown in place of the gateway’s', () => {
    const both = plan(['a https 443 www.example', 'b https 443 pay.example cert two']);
    expect([at(both, 'https://www.example/'), at(both, 'https://pay.example/')]).toEqual(['pass', 'pass']);
    const one = plan(['a https 443 www.example', 'b https 443 pay.example']);
    expect(at(one, 'https://pay.example/')).toBe('refused');
    expect(
      evaluate(one)
        .findingsInWords()
        .filter(({ code }) => code === 'entry.certificate'),
    ).toHaveLength(0);
    const named = plan(
      ['a https 443 www.example', 'b https 443 pay.example'],
      {},
      { hosts: ['www.example', 'pay.example'] },
    );
    expect(
      evaluate(named)
        .findingsInWords()
        .filter(({ code }) => code === 'entry.certificate')
        .map(({ title }) => title),
    ).toEqual(['c: HTTPRoute shop/r, rule 1: no certificate covers pay.example']);
  });
  test('so are the namespaces whose routes it takes', () => {
    const far = { namespace: 'far', backends: ['shop/a 80'] };
    const open = applied(plan(['a http 80 www.example', 'b http 81 from all'], {}, far), [
      ...add('referenceGrants', {
        clusterId: K,
        namespace: 'shop',
        name: 'g',
        from: ['HTTPRoute in far'],
        to: ['Service'],
      }),
      setOperation('services', testId('services', 1), { ports: ['tcp 80 to http', 'tcp 81 to http'] }),
    ]);
    expect([at(open, 'http://www.example/'), at(open, 'http://www.example:81/')]).toEqual(['broken 404', 'pass']);
  });
  test('one that passes TLS on shows no certificate, though the gateway has one', () => {
    const passed = (listener: string) =>
      asked(
        plan([listener], {}, { objectKind: 'TLSRoute', hosts: ['other.example'] }),
        'node of c',
        'https://other.example/',
      );
    expect(passed('a tls 443 passthrough').verdict).toBe('pass');
    expect(passed('a tls 443').sentence).toContain('is not on the certificate one');
    const refused = applyOperations(plan(['a http 80']), [
      setOperation('gateways', testId('gateways', 1), { listeners: ['a http 80 passthrough'] }),
    ]);
    expect(refused.ok ? [] : refused.problems.map(({ code }) => code)).toEqual(['gateway.listener-tls']);
  });
});

// By hand: a node pool in one zone falls with it, and so do the pods that run there alone.
describe('while a zone is lost', () => {
  const SITE = testId('sites', 1);
  const POOL = testId('nodePools', 1);
  const without = (plan: Plan, from: string, to: string, ...zones: string[]): string => {
    const lost = new Set(zones.map((zone) => `${SITE} ${zone}`));
    const { verdict, status } = ask(IngressState.of(plan).without(lost), expectGood(readQuestion(plan, from, to, 576)));
    return status === undefined ? verdict : `${verdict} ${status}`;
  };
  /** Workload number n runs on nodes of zone a alone. */
  const pinned = (n: number, ...more: Operation[]) =>
    applied(routed({ backends: ['b 80'] }), [
      setOperation('sites', SITE, { zones: ['a', 'b'] }),
      setOperation('nodePools', POOL, { zones: ['a'] }),
      setOperation('workloads', testId('workloads', n), { nodePoolId: POOL }),
      ...more,
    ]);
  const url = 'http://www.example/';

  test('a service has no pods left where all of them ran there; others go on', () => {
    expect(without(pinned(3), 'node of c', url)).toBe('pass');
    expect(without(pinned(3), 'node of c', url, 'a')).toBe('broken 503');
    expect(without(pinned(3), 'node of c', url, 'b')).toBe('pass');
    expect(without(pinned(3), 'node of c', 'service shop/a of c tcp 80', 'a')).toBe('pass');
    expect(without(pinned(3), 'node of c', 'service shop/a of c tcp 80', 'a', 'b')).toBe('broken');
    // The pods of the controller are as mortal.
    expect(without(pinned(1), 'node of c', url, 'a')).not.toContain('pass');
  });

  test('of two workloads the one that is left answers all', () => {
    const both = pinned(
      3,
      setOperation('workloads', testId('workloads', 2), { labels: ['tier=web'] }),
      setOperation('workloads', testId('workloads', 3), { labels: ['tier=web'] }),
      setOperation('services', testId('services', 3), { selector: ['tier=web'] }),
    );
    expect(without(both, 'node of c', 'service shop/b of c tcp 80', 'a')).toBe('pass');
  });

  test('a pod of that workload asks nothing any more, and a headless service names none', () => {
    expect(without(pinned(3), 'pod of c, workload shop/b', 'service shop/a of c tcp 80', 'a')).toBe('broken');
    expect(without(pinned(3), 'pod of c, workload shop/b', 'service shop/a of c tcp 80', 'b')).toBe('pass');
    const headless = pinned(3, setOperation('services', testId('services', 3), { type: 'headless' }));
    const name = 'name b.shop.svc.cluster.local. type A';
    expect(without(headless, 'pod of c, workload shop/a', name)).toBe('pass');
    expect(without(headless, 'pod of c, workload shop/a', name, 'a')).not.toBe('pass');
  });
});

test('a pod of a workload that is named stands in the node pool of that, and meets its lists', () => {
  const POOL = testId('nodePools', 1);
  const plan = applied(world(), [
    ...fence(1, { clusterIds: [], nodePoolIds: [POOL], defaultOut: 'deny' }, { direction: 'in', ports: ['22'] }),
    setOperation('workloads', testId('workloads', 3), { nodePoolId: POOL }),
  ]);
  expect(asked(plan, 'pod of c, workload shop/a', 'node of c tcp 10250').verdict).toBe('pass');
  expect(asked(plan, 'pod of c, workload shop/b', 'node of c tcp 10250').verdict).toBe('refused');
  // Asked for, too.
  expect(asked(plan, 'node of c', 'pod of c, workload shop/a tcp 8080').verdict).toBe('pass');
  expect(asked(plan, 'node of c', 'pod of c, workload shop/b tcp 8080').verdict).toBe('refused');
});
