import fc from 'fast-check';
import { parseAllDocuments, stringify } from 'yaml';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { setOperation } from '../plan/index.js';
import type { IngressRoute, Plan } from '../plan/index.js';
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
    expect(read(empty, text(gateway, route)).problems).toHaveLength(1);
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
  test('keeps a certificate and a place of routes for each listener', () => {
    expect(differing(written(plan, 'Gateway'), gateway)).toEqual([]);
  });
  test('one port of one listener: the difference is that', () => {
    const [own] = plan.gateways;
    const moved = applied(plan, [
      setOperation('gateways', own?.id ?? '', { listeners: ['one https 443 a.example', 'two https 9443 b.example'] }),
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
        mend: 'Write it without quotes. The object is left out.',
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
        mend: 'Render it with its values, and read what comes out.',
      },
    ]);
    const all = stringify({ apiVersion: 'v1', kind: 'List', items: [service(80), service('90')] });
    const line = all.split('\n').findIndex((text, at) => at > 4 && text.includes('apiVersion')) + 1;
    expect(read(empty, all).problems.map((problem) => problem.line)).toEqual([line]);
  });
});
