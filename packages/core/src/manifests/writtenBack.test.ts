import fc from 'fast-check';
import { parseAllDocuments, stringify } from 'yaml';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { setOperation } from '../plan/index.js';
import type { Gateway, IngressRoute, Plan } from '../plan/index.js';
import { readManifests, writeManifests } from './index.js';

// A document that is written back is the document that was read, with the one change: field by field against the original.

const K = testId('clusters', 1);
const empty = applied(ground(1), add('clusters', cluster('c')));
const read = (plan: Plan, text: string) => readManifests(plan, K, text, '2026-11-01');
const taken = (text: string): Plan => applied(empty, read(empty, text).operations);
type Tree = { readonly [name: string]: unknown };
const written = (plan: Plan, kind: string): Tree =>
  parseAllDocuments(writeManifests(plan, K))
    .map((document) => document.toJS() as Tree)
    .find((each) => each['kind'] === kind) ?? {};
/** The paths at which two values differ. */
function differing(a: unknown, b: unknown, path = ''): string[] {
  if (typeof a !== 'object' || a === null || typeof b !== 'object' || b === null) return a === b ? [] : [path];
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].flatMap((key) => differing((a as Tree)[key], (b as Tree)[key], `${path}/${key}`));
}

const gateway = {
  apiVersion: 'gateway.networking.k8s.io/v1',
  kind: 'Gateway',
  metadata: { name: 'g', namespace: 'web' },
  spec: {
    gatewayClassName: 'k',
    listeners: [
      {
        name: 'one',
        protocol: 'HTTPS',
        port: 443,
        hostname: 'a.example',
        tls: { mode: 'Terminate', certificateRefs: [{ name: 'cert-a' }] },
        allowedRoutes: { namespaces: { from: 'Same' } },
      },
      {
        name: 'two',
        protocol: 'HTTPS',
        port: 8443,
        hostname: 'b.example',
        tls: { mode: 'Terminate', certificateRefs: [{ name: 'cert-b' }] },
        allowedRoutes: { namespaces: { from: 'All' } },
      },
    ],
  },
};
const match = (value: string) => ({ path: { type: 'PathPrefix', value } });
const route = {
  apiVersion: 'gateway.networking.k8s.io/v1',
  kind: 'HTTPRoute',
  metadata: { name: 'r', namespace: 'web', annotations: { owner: 'shop' } },
  spec: {
    parentRefs: [
      { name: 'g', sectionName: 'one' },
      { name: 'other', namespace: 'edge' },
    ],
    hostnames: ['a.example'],
    rules: [
      {
        name: 'first',
        matches: [match('/a'), match('/b')],
        filters: [
          { type: 'ResponseHeaderModifier', responseHeaderModifier: { set: [{ name: 'x', value: '1' }] } },
          {
            type: 'URLRewrite',
            urlRewrite: { path: { type: 'ReplaceFullPath', replaceFullPath: '/whole' } },
          },
        ],
        backendRefs: [
          { group: '', kind: 'Service', name: 's', port: 80, weight: 9 },
          { name: 't', port: 80, weight: 1 },
        ],
      },
      {
        matches: [match('/old')],
        filters: [{ type: 'RequestRedirect', requestRedirect: { scheme: 'https', statusCode: 308 } }],
      },
      // The plan takes no such path: the rule stays in the file.
      { matches: [{ path: { type: 'PathPrefix', value: 'no-slash' } }], backendRefs: [{ name: 'u', port: 80 }] },
    ],
  },
};
const text = (...all: object[]) => all.map((each) => stringify(each)).join('---\n');
const change = (plan: Plan, rule: number, fields: Partial<IngressRoute>): Plan => {
  const row = plan.ingressRoutes.find((each) => each.rule === rule);
  return applied(plan, [setOperation('ingressRoutes', row?.id ?? '', fields)]);
};

describe('an HTTPRoute', () => {
  const plan = taken(text(gateway, route));

  test('comes back whole where nothing was changed, refused rule and second parent included', () => {
    expect(read(empty, text(gateway, route)).problems.map(({ message }) => message)).toEqual([
      'HTTPRoute web/r attaches to the gateway edge/other, which is not there.',
      'HTTPRoute web/r: “no-slash” is not a path.',
    ]);
    expect(differing(written(plan, 'HTTPRoute'), route)).toEqual([]);
  });

  test('one weight: the difference is that weight, in the one match that it was changed for', () => {
    const both = [1, 2].reduce(
      (all, rule) => change(all, rule, { backends: ['s 80 weight 5', 't 80 weight 5'] }),
      plan,
    );
    expect(differing(written(both, 'HTTPRoute'), route)).toEqual([
      '/spec/rules/0/backendRefs/0/weight',
      '/spec/rules/0/backendRefs/1/weight',
    ]);
    const one = written(change(plan, 2, { backends: ['s 80 weight 5', 't 80 weight 5'] }), 'HTTPRoute');
    const rules = (
      one['spec'] as { rules: { matches: unknown[]; backendRefs?: { weight: number }[]; filters: unknown[] }[] }
    ).rules;
    expect(rules.map(({ matches, backendRefs = [] }) => [matches.length, backendRefs[0]?.weight])).toEqual([
      [1, 9],
      [1, 5],
      [1, undefined],
      [1, undefined],
    ]);
    expect(rules[1]?.filters).toEqual(route.spec.rules[0]?.filters);
  });

  test.each<[string, number, Partial<IngressRoute>, string[]]>([
    ['a path', 1, { path: '/c' }, ['/spec/rules/0/matches/0/path/value']],
    ['a redirect status', 3, { redirectStatus: '301' }, ['/spec/rules/1/filters/0/requestRedirect/statusCode']],
    ['a header', 3, { headerChanges: ['set y=2'] }, ['/spec/rules/1/filters/1']],
    ['a listener', 1, {}, []],
  ])('%s: the difference is that', (_, rule, fields, paths) => {
    expect(differing(written(change(plan, rule, fields), 'HTTPRoute'), route)).toEqual(paths);
  });

  test('a rule that is removed is gone, and no other', () => {
    const row = plan.ingressRoutes.find((each) => each.rule === 3);
    const without = applied(plan, [{ op: 'remove', kind: 'ingressRoutes', id: row?.id ?? '' }]);
    const { rules } = written(without, 'HTTPRoute')['spec'] as { rules: object[] };
    expect(rules).toEqual([route.spec.rules[0], route.spec.rules[2]]);
  });

  test('random changes of one field each: nothing else of the document changes', () => {
    const changes = fc.constantFrom<[number, Partial<IngressRoute>, RegExp]>(
      [1, { path: '/z' }, /^.spec.rules.0.matches.0.path.value$/],
      [2, { method: 'GET' }, /^.spec.rules.0.matches.1.method$/],
      [3, { method: 'GET' }, /^.spec.rules.1.matches.0.method$/],
      [1, { additionalParents: [] }, /^.spec.parentRefs.1/],
      [1, { additionalParents: ['edge/other plain'] }, /^.spec.parentRefs.1.sectionName$/],
      [1, { listener: 'two' }, /^.spec.parentRefs.0.sectionName$/],
      [3, { timeoutMs: 2000 }, /^.spec.rules.1.timeouts$/],
      [3, { retries: 2 }, /^.spec.rules.1.retry$/],
      [3, { redirect: 'https://{host}/new' }, /^.spec.rules.1.filters.0.requestRedirect/],
    );
    fc.assert(
      fc.property(changes, ([rule, fields, only]) => {
        const paths = differing(written(change(plan, rule, fields), 'HTTPRoute'), route);
        expect(paths.length).toBeGreaterThan(0);
        expect(paths.filter((path) => !only.test(path))).toEqual([]);
      }),
    );
  });
});

describe('a Gateway', () => {
  const plan = taken(text(gateway));
  test('has a certificate and a place of routes for each listener, and each changes by itself', () => {
    expect(plan.gateways).toMatchObject([
      {
        listeners: ['one https 443 a.example', 'two https 8443 b.example cert cert-b from all'],
        certificate: 'cert-a',
        allowedRoutes: 'its namespace',
      },
    ]);
    const set = (fields: Partial<Gateway>) =>
      applied(plan, [setOperation('gateways', plan.gateways[0]?.id ?? '', fields)]);
    const [one = '', two = ''] = plan.gateways[0]?.listeners ?? [];
    const path = '/spec/listeners';
    expect(differing(written(set({ certificate: 'cert-c' }), 'Gateway'), gateway)).toEqual([
      `${path}/0/tls/certificateRefs/0/name`,
    ]);
    expect(
      differing(written(set({ listeners: [one, two.replace('cert-b', 'far/cert-d')] }), 'Gateway'), gateway),
    ).toEqual([`${path}/1/tls/certificateRefs/0/name`, `${path}/1/tls/certificateRefs/0/namespace`]);
    expect(differing(written(set({ listeners: [one, two.replace(' from all', '')] }), 'Gateway'), gateway)).toEqual([
      `${path}/1/allowedRoutes/namespaces/from`,
    ]);
    expect(differing(written(plan, 'Gateway'), gateway)).toEqual([]);
  });
  test('one port of one listener: the difference is that', () => {
    const [own] = plan.gateways;
    const moved = applied(plan, [
      setOperation('gateways', own?.id ?? '', {
        listeners: ['one https 443 a.example', 'two https 9443 b.example cert cert-b from all'],
      }),
    ]);
    expect(differing(written(moved, 'Gateway'), gateway)).toEqual(['/spec/listeners/1/port']);
  });
});

describe('an Ingress', () => {
  const ingress = {
    apiVersion: 'networking.k8s.io/v1',
    kind: 'Ingress',
    metadata: { name: 'i', namespace: 'web', annotations: { 'x/limit': '5' } },
    spec: {
      ingressClassName: 'k',
      defaultBackend: { service: { name: 'fallback', port: { number: 80 } } },
      tls: [{ hosts: ['*.shop.example'], secretName: 'wild' }],
      rules: [
        {
          host: 'a.shop.example',
          http: {
            paths: [
              {
                path: '/',
                pathType: 'ImplementationSpecific',
                backend: { service: { name: 's', port: { number: 80 } } },
              },
              { path: '/pay', pathType: 'Prefix', backend: { service: { name: 'p', port: { number: 80 } } } },
              { path: '/files', pathType: 'Prefix', backend: { resource: { kind: 'Bucket', name: 'b' } } },
            ],
          },
        },
      ],
    },
  };
  const plan = taken(text(ingress));

  test('comes back whole, with its default backend and a backend that is no service', () => {
    const { problems } = read(empty, text(ingress));
    expect(problems.map(({ message }) => message)).toEqual([
      'Ingress web/i, rule 3: its backend is the Bucket b, and only services are modelled.',
    ]);
    expect(differing(written(plan, 'Ingress'), ingress)).toEqual([]);
  });

  test('its wildcard secret is that of the hosts below it, and its default backend no rule for every host', () => {
    expect(plan.ingressRoutes.map(({ certificate, pathType }) => [certificate, pathType])).toEqual([
      ['wild', 'Prefix'],
      ['wild', 'Prefix'],
      ['', 'Default backend'],
    ]);
  });

  test('one service: the difference is that', () => {
    const row = plan.ingressRoutes.find(({ path }) => path === '/pay');
    const moved = applied(plan, [setOperation('ingressRoutes', row?.id ?? '', { backends: ['p2 80'] })]);
    expect(differing(written(moved, 'Ingress'), ingress)).toEqual(['/spec/rules/0/http/paths/1/backend/service/name']);
  });
});

describe('a DaemonSet has a pod on each node that may run it (Kubernetes API, DaemonSet v1)', () => {
  const pools = add(
    'nodePools',
    { name: 'disk', clusterId: K, nodesNow: 3, nodesHorizon: 5, nodesMax: 5, labels: ['disk=fast'] },
    { name: 'held', clusterId: K, nodesNow: 2, nodesHorizon: 2, nodesMax: 2, taints: ['only=x:NoSchedule'] },
  );
  const plan = applied(empty, [setOperation('clusters', K, { nodesNow: 4, nodesHorizon: 6 }), ...pools]);
  const daemon = (nodeSelector: Tree) =>
    stringify({
      apiVersion: 'apps/v1',
      kind: 'DaemonSet',
      metadata: { name: 'agent', namespace: 'web' },
      spec: {
        selector: { matchLabels: { app: 'agent' } },
        template: {
          metadata: { labels: { app: 'agent' } },
          spec: { nodeSelector, containers: [{ name: 'agent', image: 'registry.example/agent:1' }] },
        },
      },
    });
  const after = (text: string) => applied(plan, read(plan, text).operations);

  test.each([
    // Main nodes 4 and 6, the pool disk 3 and 5; what is tainted runs only what asks for it.
    ['every node', {}, [7, 11]],
    ['nodes with a label', { disk: 'fast' }, [3, 5]],
    ['no node at all', { disk: 'slow' }, [0, 0]],
  ] as const)('%s', (_, selector, expected) => {
    const made = after(daemon(selector));
    expect(made.workloads.map(({ replicasNow, replicasHorizon }) => [replicasNow, replicasHorizon])).toEqual([
      expected,
    ]);
    // Nothing of it is written: the object says no count.
    expect(differing(written(made, 'DaemonSet'), parseAllDocuments(daemon(selector))[0]?.toJS())).toEqual([]);
    expect(read(made, daemon(selector)).operations).toEqual([]);
  });
});

describe('what the API refuses, and what it means otherwise than it is written', () => {
  const service = (port: unknown, target: unknown = 8080) => ({
    apiVersion: 'v1',
    kind: 'Service',
    metadata: { name: 's', namespace: 'web' },
    spec: { selector: { app: 's' }, ports: [{ port, targetPort: target }] },
  });

  test('a port in quotes is refused where it is a number, and taken where it may be a name (Kubernetes API, int32 and IntOrString)', () => {
    const quoted = read(empty, stringify(service('80')));
    expect(quoted.operations).toEqual([]);
    expect(quoted.problems).toEqual([
      {
        line: 1,
        message: 'Service web/s: spec.ports[0].port is the text "80", and the API takes a number there.',
        fix: 'Write it without quotes. The object is left out.',
      },
    ]);
    expect(read(empty, stringify(service(80, 'http'))).problems).toEqual([]);
    expect(taken(stringify(service(80, 'http'))).services[0]?.ports).toEqual(['tcp 80 to http']);
    const backend = {
      matches: [{ path: { type: 'PathPrefix', value: '/' } }],
      backendRefs: [{ name: 's', port: '80' }],
    };
    const route = {
      apiVersion: 'gateway.networking.k8s.io/v1',
      kind: 'HTTPRoute',
      metadata: { name: 'r', namespace: 'web' },
      spec: { hostnames: ['a.example'], rules: [backend] },
    };
    expect(read(empty, stringify(route)).problems[0]?.message).toContain(
      'spec.rules[0].backendRefs[0].port is the text',
    );
  });

  test('a block with host bits means the block around it, so that the policy holds, and comes back as it was', () => {
    const policy = {
      apiVersion: 'networking.k8s.io/v1',
      kind: 'NetworkPolicy',
      metadata: { name: 'p', namespace: 'web' },
      spec: {
        podSelector: {},
        policyTypes: ['Ingress'],
        ingress: [{ from: [{ ipBlock: { cidr: '10.1.2.3/8', except: ['10.9.9.9/16'] } }] }],
      },
    };
    const plan = taken(stringify(policy));
    expect(plan.networkPolicies[0]?.allowIn).toEqual(['10.0.0.0/8 except 10.9.0.0/16']);
    expect(differing(written(plan, 'NetworkPolicy'), policy)).toEqual([]);
  });

  test('a template says that it is one, at its first brace; items of a list have lines of their own', () => {
    const template = 'apiVersion: v1\nkind: Service\nmetadata:\n  name: {{ .name }}-web\n';
    expect(read(empty, template).problems).toEqual([
      {
        line: 4,
        message: 'This is a template ({{ }}), not a manifest.',
        fix: 'Render it with its values, and read what comes out.',
      },
    ]);
    const all = stringify({ apiVersion: 'v1', kind: 'List', items: [service(80), service('90')] });
    const line = all.split('\n').findIndex((text, at) => at > 4 && text.includes('apiVersion')) + 1;
    expect(read(empty, all).problems.map((problem) => problem.line)).toEqual([line]);
  });
});

test('a method that is taken out of a match is gone from it', () => {
  const get = { ...route, spec: { ...route.spec, rules: [{ matches: [{ ...match('/a'), method: 'GET' }] }] } };
  const plan = taken(text(gateway, get));
  expect(differing(written(change(plan, 1, { method: 'any' }), 'HTTPRoute'), get)).toEqual([
    '/spec/rules/0/matches/0/method',
  ]);
});

// Kubernetes API, ObjectMeta: creationTimestamp, an RFC 3339 time in UTC; of equal routes the older wins (Gateway API, from memory).
describe('the ages of routes that are read with the time of their creation', () => {
  const made = (name: string, at: string) => ({
    apiVersion: 'networking.k8s.io/v1',
    kind: 'Ingress',
    metadata: { name, namespace: 'shop', ...(at === '' ? {} : { creationTimestamp: at }) },
    spec: { ingressClassName: 'edge', rules: [{ host: `${name}.example`, http: { paths: [path] } }] },
  });
  const path = { path: '/', pathType: 'Prefix', backend: { service: { name: 'a', port: { number: 80 } } } };
  const ages = (plan: Plan) => plan.ingressRoutes.map(({ name, age }) => `${name} ${age}`).sort();
  const all = text(made('new', '2026-03-04T09:10:12Z'), made('old', '2025-12-31T23:59:59Z'), made('odd', ''));
  test('are their places, the same for the same second; none where the time is not there', () => {
    const plan = taken(all);
    expect(ages(plan)).toEqual(['new 2', 'odd 0', 'old 1']);
    // Read again, and written without their times, they stay.
    expect(read(plan, all).operations).toEqual([]);
    expect(read(plan, writeManifests(plan, K)).operations).toEqual([]);
    expect(ages(taken(text(made('b', '2026-03-04T09:10:12Z'), made('c', '2026-03-04T09:10:12Z'))))).toEqual([
      'b 1',
      'c 1',
    ]);
  });
  test('stay as they are while some of those that have one are not read', () => {
    const plan = taken(all);
    const more = applied(plan, read(plan, text(made('new', '2024-01-01T00:00:00Z'))).operations);
    expect(ages(more)).toEqual(['new 2', 'odd 0', 'old 1']);
  });
});

describe('a GRPCRoute', () => {
  const grpc = {
    apiVersion: 'gateway.networking.k8s.io/v1',
    kind: 'GRPCRoute',
    metadata: { name: 'tide', namespace: 'web' },
    spec: {
      parentRefs: [{ name: 'g' }],
      rules: [
        { matches: [{ method: { service: 'tide.Times', method: 'Next' } }], backendRefs: [{ name: 's', port: 80 }] },
        { matches: [{ method: { service: 'tide.Times' } }, { method: { method: 'Watch' } }], backendRefs: [] },
        { matches: [{ method: { type: 'RegularExpression', service: 'tide[.].*' } }], backendRefs: [] },
        { backendRefs: [{ name: 's', port: 80 }], sessionPersistence: { type: 'Header' } },
      ],
    },
  };
  const plan = taken(text(gateway, grpc));
  test('is held as the paths of its calls, and comes back whole', () => {
    expect(plan.ingressRoutes.map(({ pathType, path }) => `${pathType} ${path}`)).toEqual([
      'Exact /tide.Times/Next',
      'Prefix /tide.Times',
      'RegularExpression /[^/]+/Watch',
      'RegularExpression /tide[.].*/[^/]+',
      'Prefix /',
    ]);
    expect(differing(written(plan, 'GRPCRoute'), grpc)).toEqual([]);
  });
  test('one method: the difference is that; a rule for every method has none', () => {
    expect(differing(written(change(plan, 1, { path: '/tide.Times/Last' }), 'GRPCRoute'), grpc)).toEqual([
      '/spec/rules/0/matches/0/method/type',
      '/spec/rules/0/matches/0/method/method',
    ]);
    const all = written(change(plan, 1, { path: '/', pathType: 'Prefix' }), 'GRPCRoute');
    expect((all['spec'] as { rules: { matches: object[] }[] }).rules[0]?.matches).toEqual([{}]);
  });
  test('from its fields alone it reads back as the same', () => {
    const bare = plan.ingressRoutes.map(({ id }) => setOperation('ingressRoutes', id, { preserved: '' }));
    const again = read(applied(plan, bare), writeManifests(applied(plan, bare), K));
    expect([again.problems, again.operations]).toEqual([[], []]);
  });
});

describe('a ReferenceGrant', () => {
  const grant = {
    apiVersion: 'gateway.networking.k8s.io/v1beta1',
    kind: 'ReferenceGrant',
    metadata: { name: 'from-edge', namespace: 'shop', labels: { owner: 'net' } },
    spec: {
      from: [{ group: 'gateway.networking.k8s.io', kind: 'HTTPRoute', namespace: 'edge' }],
      to: [
        { group: '', kind: 'Service' },
        { group: '', kind: 'Secret', name: 'cert' },
      ],
    },
  };
  test('is held, comes back whole, and changes in one place', () => {
    const plan = taken(text(grant));
    expect(plan.referenceGrants).toMatchObject([{ from: ['HTTPRoute in edge'], to: ['Service', 'Secret cert'] }]);
    expect(differing(written(plan, 'ReferenceGrant'), grant)).toEqual([]);
    const [own] = plan.referenceGrants;
    const narrower = applied(plan, [
      setOperation('referenceGrants', own?.id ?? '', { to: ['Service x', 'Secret cert'] }),
    ]);
    expect(differing(written(narrower, 'ReferenceGrant'), grant)).toEqual(['/spec/to/0/name']);
  });
  test('one for kinds that the plan does not model is told, and left as it is', () => {
    const other = { ...grant, spec: { ...grant.spec, from: [{ group: 'x', kind: 'Funnel', namespace: 'edge' }] } };
    expect(read(empty, text(other)).problems[0]?.message).toContain('Funnel in edge');
    // A kind of the same name in another group is another kind.
    const alike = { ...grant, spec: { ...grant.spec, to: [{ group: 'x.example', kind: 'Service' }] } };
    expect(read(empty, text(alike)).operations).toEqual([]);
  });
});

describe('objects that are kept whole with their cluster', () => {
  const namespace = {
    apiVersion: 'v1',
    kind: 'Namespace',
    metadata: {
      name: 'shop',
      labels: { 'kubernetes.io/metadata.name': 'shop', team: 'web' },
      annotations: { owner: 'shop desk' },
    },
  };
  const className = {
    apiVersion: 'networking.k8s.io/v1',
    kind: 'IngressClass',
    metadata: { name: 'edge', annotations: { 'ingressclass.kubernetes.io/is-default-class': 'true' } },
    spec: { controller: 'edge.example/ingress', parameters: { kind: 'Bend', name: 'b' } },
  };
  const service = {
    apiVersion: 'v1',
    kind: 'Service',
    metadata: { name: 'db', namespace: 'shop' },
    spec: { ports: [{ name: 'sql', port: 5432, targetPort: 5432 }] },
  };
  const slice = {
    apiVersion: 'discovery.k8s.io/v1',
    kind: 'EndpointSlice',
    metadata: { name: 'db-1', namespace: 'shop', labels: { 'kubernetes.io/service-name': 'db' } },
    addressType: 'IPv4',
    ports: [{ name: 'sql', protocol: 'TCP', port: 5432 }],
    endpoints: [
      { addresses: ['10.2.0.5'], zone: 'a', conditions: { ready: true } },
      { addresses: ['10.2.0.6'], conditions: { ready: false } },
    ],
  };
  const controlled = applied(empty, add('controllers', { name: 'k', clusterId: K, classes: ['edge', 'other'] }));
  const plan = applied(controlled, read(controlled, text(namespace, className, service, slice)).operations);

  test('what the plan knows of them stands where it asks for it, and they come back whole', () => {
    expect(read(controlled, text(namespace, className, service, slice)).problems).toEqual([]);
    expect(plan.clusters[0]?.namespaceLabels).toEqual(['shop: team=web']);
    expect(plan.controllers[0]?.defaultClass).toBe('edge');
    expect(plan.services[0]?.endpoints).toEqual(['10.2.0.5']);
    for (const each of [namespace, className, slice]) expect(differing(written(plan, each.kind), each)).toEqual([]);
    expect(read(plan, writeManifests(plan, K))).toMatchObject({ problems: [], operations: [] });
  });
  test('a label, the default and an address that the plan changes are the difference', () => {
    const changed = applied(plan, [
      setOperation('clusters', K, { namespaceLabels: ['shop: team=data', 'far: team=web'] }),
      setOperation('controllers', testId('controllers', 1), { defaultClass: '' }),
      setOperation('services', plan.services[0]?.id ?? '', { endpoints: ['10.2.0.7'] }),
    ]);
    const all = parseAllDocuments(writeManifests(changed, K)).map((each) => each.toJS() as Tree);
    const named = (name: string) => all.find((each) => (each['metadata'] as Tree)['name'] === name);
    expect(differing(named('shop'), namespace)).toEqual(['/metadata/labels/team']);
    expect(named('far')).toEqual({
      apiVersion: 'v1',
      kind: 'Namespace',
      metadata: { name: 'far', labels: { team: 'web' } },
    });
    expect(differing(named('edge'), className)).toEqual([
      '/metadata/annotations/ingressclass.kubernetes.io/is-default-class',
    ]);
    // The one that was not ready stays as it was: the plan never had it.
    expect(named('db-1')?.['endpoints']).toEqual([slice.endpoints[1], { addresses: ['10.2.0.7'] }]);
  });
  test('endpoints that were entered by hand are written as slices of their own', () => {
    const bare = applied(empty, [
      ...add('services', {
        clusterId: K,
        namespace: 'shop',
        name: 'db',
        ports: ['sql tcp 5432 to 5432', 'stats tcp 9187 to metrics'],
        endpoints: ['10.2.0.5', 'fd00::5'],
      }),
    ]);
    const slices = parseAllDocuments(writeManifests(bare, K))
      .map((each) => each.toJS() as Tree)
      .filter(({ kind }) => kind === 'EndpointSlice');
    expect(slices).toMatchObject([
      {
        addressType: 'IPv4',
        ports: [{ name: 'sql', protocol: 'TCP', port: 5432 }],
        endpoints: [{ addresses: ['10.2.0.5'] }],
      },
      { addressType: 'IPv6', endpoints: [{ addresses: ['fd00::5'] }] },
    ]);
    expect(read(bare, writeManifests(bare, K)).problems).toEqual([]);
  });
  test('a slice of a service with a selector follows from it, and is not kept; one of no service is told', () => {
    const selecting = { ...service, spec: { ...service.spec, selector: { app: 'db' } } };
    const follows = taken(text(selecting, slice));
    expect([follows.services[0]?.endpoints, follows.clusters[0]?.preservedObjects]).toEqual([[], []]);
    expect(read(empty, text(slice)).problems.map(({ message }) => message)).toEqual([
      'EndpointSlice shop/db-1 is of the service db, which is not there.',
    ]);
    const other = { ...slice, ports: [{ name: 'sql', protocol: 'TCP', port: 6432 }] };
    expect(read(empty, text(service, other)).problems.map(({ message }) => message)).toEqual([
      'EndpointSlice shop/db-1 has the port sql 6432 for 5432, and the plan asks at the container port of the service.',
    ]);
  });
  test('a default class that nobody serves is told', () => {
    expect(read(empty, text(className)).problems.map(({ message }) => message)).toEqual([
      'IngressClass edge is the default, and no controller of the plan serves it.',
    ]);
  });
});

test('how many pods are ready is taken from the state of a workload, and left where there is none', () => {
  const deployment = (status?: Tree) => ({
    apiVersion: 'apps/v1',
    kind: 'Deployment',
    metadata: { name: 'w', namespace: 'shop' },
    spec: { replicas: 5, template: { spec: { containers: [{ name: 'w' }] } } },
    ...(status === undefined ? {} : { status }),
  });
  const plan = taken(text(deployment({ replicas: 5, readyReplicas: 3 })));
  expect(plan.workloads[0]?.notReady).toBe(2);
  expect(taken(text(deployment({ replicas: 5 }))).workloads[0]?.notReady).toBe(5);
  expect(taken(text(deployment())).workloads[0]?.notReady).toBe(0);
  expect(read(plan, text(deployment())).operations).toEqual([]);
});
