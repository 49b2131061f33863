import * as gatewayApi from '@kubernetes-models/gateway-api/gateway.networking.k8s.io/v1';
import * as gatewayTrial from '@kubernetes-models/gateway-api/gateway.networking.k8s.io/v1alpha2';
import * as gatewayBeta from '@kubernetes-models/gateway-api/gateway.networking.k8s.io/v1beta1';
import * as apps from 'kubernetes-models/apps/v1';
import * as networking from 'kubernetes-models/networking.k8s.io/v1';
import * as core from 'kubernetes-models/v1';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { parseAllDocuments } from 'yaml';
import { joined, served } from '../../test/connections.js';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { applyOperations, newId, setOperation, withFallbacks } from '../plan/index.js';
import type { IngressRoute, NetworkPolicy, Plan } from '../plan/index.js';
import { readManifests, writeManifests } from './index.js';

const TODAY = '2026-11-01';
const own = testId('clusters', 1);
const empty = applied(ground(1), add('clusters', cluster('c')));
/** The plan after reading, which must be taken. */
const after = (plan: Plan, text: string): Plan => {
  const { operations } = readManifests(plan, own, text, TODAY);
  return applied(plan, operations);
};

type Model = new (data: never) => { validate: () => void };
const published: Readonly<Record<string, object>> = {
  v1: core,
  'apps/v1': apps,
  'networking.k8s.io/v1': networking,
  'gateway.networking.k8s.io/v1': gatewayApi,
  'gateway.networking.k8s.io/v1alpha2': gatewayTrial,
  'gateway.networking.k8s.io/v1beta1': gatewayBeta,
};

const meta = {
  type: 'object',
  required: ['name', 'namespace'],
  properties: { name: { type: 'string', maxLength: 63 }, namespace: { type: 'string' } },
};
const shared = (kind: string, more: object) => ({
  type: 'object',
  additionalProperties: false,
  required: ['apiVersion', 'kind', 'metadata', ...Object.keys(more)],
  properties: {
    apiVersion: { const: 'multicluster.x-k8s.io/v1alpha1' },
    kind: { const: kind },
    metadata: meta,
    ...more,
  },
});
/** The schemas of the multi-cluster services API, v1alpha1. No package carries them: written from memory of its custom resource definitions. */
const sharedServices: Readonly<Record<string, object>> = {
  ServiceExport: shared('ServiceExport', {}),
  ServiceImport: shared('ServiceImport', {
    spec: {
      type: 'object',
      additionalProperties: false,
      required: ['type', 'ports'],
      properties: {
        type: { enum: ['ClusterSetIP', 'Headless'] },
        ips: { type: 'array', maxItems: 2, items: { type: 'string' } },
        sessionAffinity: { type: 'string' },
        sessionAffinityConfig: { type: 'object' },
        ports: {
          type: 'array',
          items: {
            type: 'object',
            additionalProperties: false,
            required: ['port'],
            properties: {
              name: { type: 'string' },
              protocol: { enum: ['TCP', 'UDP', 'SCTP'] },
              appProtocol: { type: 'string' },
              port: { type: 'integer', minimum: 1, maximum: 65_535 },
            },
          },
        },
      },
    },
  }),
};
const ajv = new Ajv2020();

/** Holds an object against the published schema of its kind: the packages that the Kubernetes and Gateway API schemas are published in. */
function validate(object: Record<string, unknown>): void {
  if (object['apiVersion'] === 'multicluster.x-k8s.io/v1alpha1') {
    if (!ajv.validate(sharedServices[String(object['kind'])] ?? false, object)) throw new Error(ajv.errorsText());
    return;
  }
  const models = published[String(object['apiVersion'])] as Readonly<Record<string, Model>> | undefined;
  const Model = models?.[String(object['kind'])];
  if (Model === undefined) throw new Error(`No schema of ${String(object['apiVersion'])} ${String(object['kind'])}`);
  new Model(object as never).validate();
}
const objects = (text: string) =>
  parseAllDocuments(text).map(
    (document) => (document as unknown as { toJS: () => unknown }).toJS() as Record<string, unknown>,
  );

describe('written manifests', () => {
  test.each(
    demoPlan()
      .clusters.slice(0, 8)
      .map(({ name, id }) => [name, id] as const),
  )('of %s are valid by the published schemas, and read back equal', (_, id) => {
    const plan = demoPlan();
    const text = writeManifests(plan, id);
    for (const object of objects(text)) validate(object);
    const read = readManifests(plan, id, text, TODAY);
    expect([read.problems, read.operations]).toEqual([[], []]);
  });
  test('routes by name and by port are valid, and read back equal', () => {
    const row = { clusterId: own, name: 'r', backends: ['s 443'] };
    const plan = applied(
      empty,
      add(
        'ingressRoutes',
        { ...row, objectKind: 'TLSRoute', hosts: ['a.example'] },
        { ...row, objectKind: 'TCPRoute' },
      ),
    );
    const text = writeManifests(plan, own);
    for (const object of objects(text)) validate(object);
    expect(readManifests(plan, own, text, TODAY).operations).toEqual([]);
    const later = text.replace(
      'gateway.networking.k8s.io/v1alpha2\nkind: TLSRoute',
      'gateway.networking.k8s.io/v1alpha3\nkind: TLSRoute',
    );
    expect(readManifests(plan, own, later, TODAY)).toMatchObject({ problems: [], operations: [] });
  });
  test('exported services are written once for all connections, and what others export as imports with type and ports', () => {
    const plan = joined({
      exports: [
        { namespace: 'shop', name: 'web' },
        { memberId: testId('members', 2), namespace: 'shop', name: 'db' },
      ],
      more: [
        ...served(1, 'web'),
        ...served(2, 'db', { type: 'headless', ports: ['sql tcp 5432 to http', 'udp 53 to 53'] }),
      ],
    });
    const text = writeManifests(plan, own);
    for (const object of objects(text)) validate(object);
    expect(
      objects(text).filter(({ kind }) => String(kind).startsWith('ServiceE') || String(kind).startsWith('ServiceI')),
    ).toEqual([
      {
        apiVersion: 'multicluster.x-k8s.io/v1alpha1',
        kind: 'ServiceExport',
        metadata: { name: 'web', namespace: 'shop' },
      },
      {
        apiVersion: 'multicluster.x-k8s.io/v1alpha1',
        kind: 'ServiceImport',
        metadata: { name: 'web', namespace: 'shop' },
        spec: { type: 'ClusterSetIP', ports: [{ name: 'web', protocol: 'TCP', port: 80 }] },
      },
      {
        apiVersion: 'multicluster.x-k8s.io/v1alpha1',
        kind: 'ServiceImport',
        metadata: { name: 'db', namespace: 'shop' },
        spec: {
          type: 'Headless',
          ports: [
            { name: 'sql', protocol: 'TCP', port: 5432 },
            { protocol: 'UDP', port: 53 },
          ],
        },
      },
    ]);
    expect(readManifests(plan, own, text, TODAY)).toMatchObject({ problems: [], operations: [] });
  });
  test('the schemas refuse what is none', () => {
    expect(() =>
      validate({
        apiVersion: 'multicluster.x-k8s.io/v1alpha1',
        kind: 'ServiceImport',
        metadata: { name: 'x', namespace: 'y' },
        spec: { type: 'ClusterIP', ports: [] },
      }),
    ).toThrow();
    expect(() =>
      validate({
        apiVersion: 'multicluster.x-k8s.io/v1alpha1',
        kind: 'ServiceExport',
        metadata: { name: 'x', namespace: 'y' },
        spec: {},
      }),
    ).toThrow();
    expect(() =>
      validate({
        apiVersion: 'networking.k8s.io/v1',
        kind: 'NetworkPolicy',
        metadata: { name: 'x' },
        spec: { podSelector: 7 },
      }),
    ).toThrow();
    expect(() =>
      validate({
        apiVersion: 'gateway.networking.k8s.io/v1',
        kind: 'HTTPRoute',
        metadata: { name: 'x' },
        spec: { rules: [{ matches: [{ path: { type: 'Nonsense' } }] }] },
      }),
    ).toThrow();
  });

  const route = fc.record({
    objectKind: fc.constantFrom('Ingress' as const, 'HTTPRoute' as const),
    host: fc.constantFrom('', 'a.example', '*.b.example'),
    path: fc.constantFrom('/', '/x', '/x/y'),
    pathType: fc.constantFrom('Prefix' as const, 'Exact' as const),
    method: fc.constantFrom('any' as const, 'GET' as const),
    headers: fc.subarray(['v=1', 'agent~^old.*']),
    query: fc.subarray(['q=yes']),
    backends: fc.constantFrom(['a 80'], ['a 80 weight 3', 'b 8080 weight 7']),
    rewritePath: fc.constantFrom('', '/new'),
    rewriteHost: fc.constantFrom('', 'c.example'),
    redirect: fc.constantFrom('', 'https://d.example/z', '/moved'),
    headerChanges: fc.subarray(['set x-a=1', 'add x-b=2', 'remove x-c']),
    mirror: fc.constantFrom('', 'shadow 80'),
    timeoutMs: fc.constantFrom(null, 1500, 30_000),
    retries: fc.integer({ min: 0, max: 3 }),
  });
  const asRow = (
    {
      host,
      objectKind,
      ...rest
    }: Pick<IngressRoute, 'objectKind' | 'path' | 'pathType' | 'backends'> & { readonly host: string },
    rule: number,
    name: string,
  ): Partial<IngressRoute> => {
    const hosts = host === '' ? [] : [host];
    const { path, pathType, backends } = rest;
    // An Ingress knows no more than these, and a certificate is that of a host.
    if (objectKind === 'Ingress')
      return {
        name,
        rule,
        objectKind,
        hosts,
        path,
        pathType,
        className: 'k',
        backends: backends.slice(0, 1).map((each) => each.replace(/ weight.*/, '')),
        certificate: host === 'a.example' ? 'cert' : '',
      };
    return { name, rule, objectKind, hosts, gatewayId: testId('gateways', 1), ...rest, certificate: '' };
  };
  const selector = fc.subarray(['app=web', 'tier in (a, b)', 'old', '!new', 'zone notin (x)']);
  const rules = fc.uniqueArray(
    fc.constantFrom(
      'anyone',
      'pods all on tcp 80',
      'pods app=x in namespaces team=y on tcp http, udp 53',
      'namespaces all',
      '10.0.0.0/8 except 10.1.0.0/16 and 10.2.0.0/16 on tcp 1-99',
      'pods tier in (a, b) or 192.0.2.0/24',
    ),
    { maxLength: 3 },
  );
  const policy = fc.record({
    selector,
    allowIn: rules,
    allowOut: rules,
    directions: fc.subarray(['ingress' as const, 'egress' as const]),
  });

  test('of random routes and policies are valid, and read back equal into an empty plan', () => {
    const gateway = withFallbacks('gateways', {
      id: testId('gateways', 1),
      clusterId: own,
      name: 'g',
      className: 'k',
      listeners: ['web http 80'],
    });
    fc.assert(
      fc.property(
        fc.array(route, { minLength: 1, maxLength: 4 }),
        fc.array(policy, { maxLength: 3 }),
        (all, policies) => {
          const [head] = all;
          // Rules of one object share its kind and, in the Gateway API, its hosts.
          const rows = all.map((each, at) =>
            asRow(
              {
                ...each,
                objectKind: head?.objectKind ?? 'Ingress',
                host: head?.objectKind === 'HTTPRoute' ? head.host : each.host,
              },
              at + 1,
              'r',
            ),
          );
          const plan: Plan = applied(empty, [
            { op: 'add', kind: 'gateways', entity: gateway },
            ...add('ingressRoutes', ...rows.map((fields) => ({ clusterId: own, ...fields }))),
            ...add('networkPolicies', ...policies.map((fields, at) => ({ clusterId: own, name: `p${at}`, ...fields }))),
          ]);
          const text = writeManifests(plan, own);
          for (const object of objects(text)) validate(object);
          const read = after(empty, text);
          const plain = ({ id: _, clusterId: __, gatewayId: ___, ...rest }: IngressRoute) => rest;
          const plainPolicy = ({ id: _, ...rest }: NetworkPolicy) => rest;
          const byPlace = (a: { name: string; rule?: number }, b: { name: string; rule?: number }) =>
            a.name < b.name ? -1 : a.name > b.name ? 1 : (a.rule ?? 0) - (b.rule ?? 0);
          expect([...read.networkPolicies].sort(byPlace).map(plainPolicy)).toEqual(
            [...plan.networkPolicies].sort(byPlace).map(plainPolicy),
          );
          expect([...read.ingressRoutes].sort(byPlace).map(plain)).toEqual(
            [...plan.ingressRoutes].sort(byPlace).map(plain),
          );
        },
      ),
      { numRuns: 150 },
    );
  });
});

const deployment = `apiVersion: apps/v1
kind: Deployment
metadata:
  name: web
  namespace: shop
  uid: 1234
  annotations: {team: red}
spec:
  replicas: 3
  strategy: {type: Recreate}
  selector: {matchLabels: {app: web}}
  template:
    metadata: {labels: {app: web}}
    spec:
      containers:
      - name: main
        image: registry.example/web:1
        ports: [{name: http, containerPort: 8080}]
        resources:
          requests: {cpu: 250m, memory: 512Mi}
          limits: {cpu: "1", memory: 1Gi}
      - name: side
        image: registry.example/side:1
        resources:
          requests: {cpu: "0.1", memory: 64M}
status: {replicas: 3}
`;

describe('read manifests', () => {
  test('requests of containers add up; a pod has a limit when each of them has one', () => {
    // 250 m + 100 m; 512 MiB + 64,000,000 bytes, which are 61.03 MiB: rounded up 62.
    expect(after(empty, deployment).workloads[0]).toMatchObject({
      name: 'web',
      namespace: 'shop',
      labels: ['app=web'],
      ports: ['http tcp 8080'],
      replicasNow: 3,
      replicasHorizon: 3,
      cpuMillis: 350,
      memoryMib: 574,
      cpuLimit: null,
      memoryLimit: null,
      spread: 'anywhere',
    });
  });
  test('what the plan does not know is named, kept and written back; what the plan changed is written anew', () => {
    const { objects: read } = readManifests(empty, own, deployment, TODAY);
    expect(read[0]?.unknown).toEqual(
      expect.arrayContaining([
        'metadata.annotations.team',
        'spec.strategy.type',
        'spec.template.spec.containers[0].image',
      ]),
    );
    const plan = after(empty, deployment);
    const [written] = objects(writeManifests(plan, own));
    const [given] = objects(deployment) as [{ metadata: { uid?: unknown }; status?: unknown }];
    delete given.metadata.uid;
    delete given.status;
    expect(written).toEqual(given);
    const more = applied(plan, [setOperation('workloads', plan.workloads[0]?.id ?? '', { replicasNow: 9 })]);
    expect(objects(writeManifests(more, own))[0]).toEqual({
      ...written,
      spec: { ...(written?.['spec'] as object), replicas: 9 },
    });
  });
  test('reading again changes nothing, and leaves what the plan alone knows', () => {
    const plan = after(empty, deployment);
    const grown = applied(plan, [
      setOperation('workloads', plan.workloads[0]?.id ?? '', { replicasHorizon: 40, serviceMs: 12 }),
    ]);
    expect(readManifests(grown, own, deployment, TODAY).operations).toEqual([]);
    expect(
      readManifests(grown, own, deployment.replace('replicas: 3\n  strategy', 'replicas: 5\n  strategy'), TODAY)
        .operations,
    ).toMatchObject([{ op: 'set', fields: { replicasNow: 5 } }]);
  });

  // From memory of the guide to deprecated APIs: extensions/v1beta1 and networking.k8s.io/v1beta1 of Ingress went with 1.22.
  test('retired versions are brought to that of today, and the difference is told', () => {
    const old = `apiVersion: extensions/v1beta1
kind: Ingress
metadata:
  name: old
  annotations: {kubernetes.io/ingress.class: edge}
spec:
  backend: {serviceName: all, servicePort: 80}
  rules:
  - host: a.example
    http: {paths: [{path: /x, backend: {serviceName: web, servicePort: http}}]}
---
apiVersion: v1
kind: Service
metadata: {name: web}
spec: {ports: [{name: http, port: 8080}], selector: {app: web}}
`;
    const { objects: read, problems } = readManifests(empty, own, old, TODAY);
    expect(problems).toEqual([]);
    expect(read[0]).toMatchObject({ from: 'extensions/v1beta1', line: 1 });
    expect(read[0]?.changes.join('; ')).toMatch(
      /apiVersion.*pathType.*serviceName.*ingressClassName.*defaultBackend|apiVersion.*ingressClassName/,
    );
    const plan = after(empty, old);
    expect(
      plan.ingressRoutes.map(({ className, hosts, path, backends, isDeprecatedVersion }) => [
        className,
        hosts,
        path,
        backends,
        isDeprecatedVersion,
      ]),
    ).toEqual(
      expect.arrayContaining([
        ['edge', ['a.example'], '/x', ['web 8080'], true],
        ['edge', [], '/', ['all 80'], true],
      ]),
    );
    for (const object of objects(writeManifests(plan, own))) validate(object);
  });
  test('several documents, a list of objects, comments and JSON are read', () => {
    const text = `# first\n---\n${deployment}---\n# nothing\n---\n{"apiVersion":"v1","kind":"List","items":[{"apiVersion":"v1","kind":"Service","metadata":{"name":"a"},"spec":{"ports":[{"port":80}]}},{"apiVersion":"v1","kind":"Service","metadata":{"name":"b"},"spec":{"clusterIP":"None","ports":[{"port":80}]}}]}\n`;
    const plan = after(empty, text);
    expect([plan.workloads.length, ...plan.services.map(({ name, type }) => `${name} ${type}`).sort()]).toEqual([
      1,
      'a ClusterIP',
      'b headless',
    ]);
  });
  test('a rule that cannot be read is there all the same: only rules past the last one are gone', () => {
    const rule = (path: string, weight: number) =>
      `{matches: [{path: {type: PathPrefix, value: ${path}}}], backendRefs: [{name: s, port: 80, weight: ${weight}}]}`;
    const route = (...rules: string[]) =>
      `apiVersion: gateway.networking.k8s.io/v1\nkind: HTTPRoute\nmetadata: {name: x}\nspec: {rules: [${rules.join(', ')}]}\n`;
    const plan = after(empty, route(rule('/a', 1), rule('/b', 1), rule('/c', 1)));
    expect(plan.ingressRoutes).toHaveLength(3);
    const broken = readManifests(plan, own, route(rule('/a', 1), rule('b', 1), rule('/c', 1)), TODAY);
    expect(broken.problems).toHaveLength(1);
    expect(broken.operations.filter(({ op }) => op === 'remove')).toEqual([]);
    const shorter = readManifests(plan, own, route(rule('/a', 1), rule('/b', 1)), TODAY);
    const gone = plan.ingressRoutes.find((each) => each.path === '/c');
    expect(shorter.operations.filter(({ op }) => op === 'remove')).toMatchObject([{ id: gone?.id }]);
  });
  test('an HTTPRoute with several matches is as many rules, and finds its gateway', () => {
    const text = `apiVersion: gateway.networking.k8s.io/v1beta1
kind: HTTPRoute
metadata: {name: r, namespace: web}
spec:
  parentRefs: [{name: g, sectionName: tls}]
  hostnames: [a.example]
  rules:
  - matches: [{path: {type: Exact, value: /a}}, {headers: [{name: v, value: "2"}]}]
    backendRefs: [{name: s, port: 80}]
---
apiVersion: gateway.networking.k8s.io/v1
kind: Gateway
metadata: {name: g, namespace: web}
spec:
  gatewayClassName: k
  listeners: [{name: tls, protocol: HTTPS, port: 443, hostname: "*.example", tls: {certificateRefs: [{name: cert}]}}]
`;
    const plan = after(empty, text);
    const [gateway] = plan.gateways;
    expect(gateway).toMatchObject({ className: 'k', listeners: ['tls https 443 *.example'], certificate: 'cert' });
    expect(
      plan.ingressRoutes
        .map(({ rule, path, pathType, headers, gatewayId, listener }) => [
          rule,
          path,
          pathType,
          headers,
          gatewayId === gateway?.id,
          listener,
        ])
        .sort(),
    ).toEqual([
      [1, '/a', 'Exact', [], true, 'tls'],
      [2, '/', 'Prefix', ['v=2'], true, 'tls'],
    ]);
  });
});

describe('read exports', () => {
  const text = (fields = '') =>
    `apiVersion: multicluster.x-k8s.io/v1alpha1\nkind: ServiceExport\nmetadata: {name: web, namespace: shop${fields}}\n`;
  const imported = (type: string) =>
    `apiVersion: multicluster.x-k8s.io/v1alpha1\nkind: ServiceImport\nmetadata: {name: web, namespace: shop}\nspec: {type: ${type}, ports: [{port: 80}]}\n`;
  const plan = joined({ more: served(1, 'web') });
  test('go into the connection of the cluster, of the day the cluster says or of today, with what the plan does not know', () => {
    expect(after(plan, text()).serviceExports).toMatchObject([
      { memberId: testId('members', 1), namespace: 'shop', name: 'web', createdOn: TODAY, preserved: '' },
    ]);
    const dated = after(plan, text(', creationTimestamp: "2026-03-04T09:10:11Z", labels: {team: red}'));
    expect(dated.serviceExports).toMatchObject([{ createdOn: '2026-03-04' }]);
    expect(objects(writeManifests(dated, own)).find(({ kind }) => kind === 'ServiceExport')).toMatchObject({
      metadata: { labels: { team: 'red' } },
    });
    expect(readManifests(dated, own, text(', labels: {team: red}'), TODAY).operations).toEqual([]);
  });
  test('without a connection, or with two, it is told where to begin', () => {
    expect(readManifests(empty, own, text(), TODAY)).toMatchObject({
      operations: [],
      problems: [{ message: 'ServiceExport shop/web: the cluster is a member of no connection.' }],
    });
    const two = applied(plan, [
      ...add('connections', { name: 'second', method: 'relays', id: testId('connections', 2) }),
      ...add('members', {
        connectionId: testId('connections', 2),
        clusterId: own,
        memberId: 'm1',
        id: testId('members', 9),
      }),
    ]);
    const read = readManifests(two, own, text(), TODAY);
    expect([read.operations, read.problems[0]?.message]).toEqual([
      [],
      expect.stringContaining('a member of coast, second'),
    ]);
  });
  test('imports are held against what is exported', () => {
    const problemOf = (of: Plan, type: string) =>
      readManifests(of, own, imported(type), TODAY).problems.map(({ message }) => message);
    const exported = after(plan, text());
    expect(problemOf(exported, 'ClusterSetIP')).toEqual([]);
    expect(problemOf(exported, 'Headless')).toEqual([expect.stringContaining('has the type Headless')]);
    expect(problemOf(plan, 'ClusterSetIP')).toEqual([
      expect.stringContaining('no member of a connection of this cluster'),
    ]);
  });
});

describe('bad input', () => {
  const service = (name: string, port: unknown = 80) =>
    `apiVersion: v1\nkind: Service\nmetadata: {name: ${name}}\nspec: {ports: [{port: ${String(port)}}]}\n`;
  test('of fifty documents a broken one is told with its line, and the others are read', () => {
    const text = Array.from({ length: 50 }, (_, i) => (i === 30 ? 'a: [1, 2\nb: }\n' : service(`s${i}`))).join('---\n');
    const { problems, operations } = readManifests(empty, own, text, TODAY);
    expect(operations).toHaveLength(49);
    // 30 documents of four lines and 30 separators come before.
    expect(problems).toHaveLength(1);
    expect(problems[0]?.line).toBeGreaterThanOrEqual(151);
    expect(problems[0]?.line).toBeLessThanOrEqual(153);
    expect(problems[0]?.message).toContain('cannot be read');
  });
  test('anchors that expand without end are refused', () => {
    const bomb = `a: &a [x, x, x, x, x, x, x, x, x]\n${'bcdefgh'
      .split('')
      .map(
        (name, i) =>
          `${name}: &${name} [${Array(9)
            .fill(`*${'abcdefg'[i] ?? ''}`)
            .join(', ')}]`,
      )
      .join('\n')}\n`;
    const { problems, operations } = readManifests(empty, own, `${service('s')}---\n${bomb}`, TODAY);
    expect([operations.length, problems[0]?.message]).toEqual([
      1,
      expect.stringContaining('anchors unfold to more than 100 copies'),
    ]);
  });
  test('a text of more than 20 MB is refused at once', () => {
    expect(readManifests(empty, own, 'x'.repeat(20_000_001), TODAY).problems[0]?.message).toContain(
      '20,000,001 characters',
    );
  });
  test('a document of more than 1 MB is refused, and the others are read', () => {
    const { problems, operations } = readManifests(
      empty,
      own,
      `${service('s')}---\n${'# x\n'.repeat(300_000)}a: 1\n`,
      TODAY,
    );
    expect([operations.length, problems[0]?.message]).toEqual([1, expect.stringContaining('1,200,0')]);
  });
  test.each([
    ['no object', '- a\n- b\n', 'not an object'],
    ['no kind', 'apiVersion: v1\n', 'no kind'],
    ['a kind that is not read', 'apiVersion: v1\nkind: ConfigMap\nmetadata: {name: x}\n', 'ConfigMap are not read'],
    ['no name', 'apiVersion: v1\nkind: Service\n', 'has no name'],
    [
      'a version of another kind',
      'apiVersion: apps/v1\nkind: Service\nmetadata: {name: x}\n',
      'apps/v1 is not a version',
    ],
    ['a port as text', service('x', '"80x"'), 'Service default/x'],
    [
      'a path without a slash',
      'apiVersion: networking.k8s.io/v1\nkind: Ingress\nmetadata: {name: x}\nspec: {rules: [{http: {paths: [{path: x, pathType: Prefix, backend: {service: {name: s, port: {number: 80}}}}]}}]}\n',
      '“x” is not a path',
    ],
    [
      'a host of 300 characters',
      `apiVersion: networking.k8s.io/v1\nkind: Ingress\nmetadata: {name: x}\nspec: {rules: [{host: ${'a'.repeat(300)}, http: {paths: [{path: /, pathType: Prefix, backend: {service: {name: s, port: {number: 80}}}}]}}]}\n`,
      'Hosts',
    ],
    [
      'a gateway that is not there',
      'apiVersion: gateway.networking.k8s.io/v1\nkind: HTTPRoute\nmetadata: {name: x}\nspec: {parentRefs: [{name: g}], rules: [{backendRefs: [{name: s, port: 80}]}]}\n',
      'the gateway default/g, which is not there',
    ],
    ['the same object twice', `${service('x')}---\n${service('x')}`, 'there twice'],
  ])('%s', (_, text, message) => {
    const { problems, operations } = readManifests(empty, own, text, TODAY);
    expect(problems.map((each) => each.message).join(' ')).toContain(message);
    // What is left can be applied.
    expect(applyOperations(empty, operations).ok).toBe(true);
  });
  test('an object that is too large to be kept whole is told, and what the plan knows of it is read', () => {
    const large = deployment.replace('annotations: {team: red}', `annotations: {team: ${'x'.repeat(9000)}}`);
    const { problems, operations } = readManifests(empty, own, large, TODAY);
    expect([operations.length, problems[0]?.message]).toEqual([1, expect.stringContaining('8,000 are kept')]);
  });
  test('what was kept and then broken by hand is left aside', () => {
    const plan = applied(
      empty,
      add('services', { id: newId(), clusterId: own, name: 's', ports: ['tcp 80 to 80'], preserved: '{"a":' }),
    );
    expect(objects(writeManifests(plan, own))[0]).toMatchObject({ kind: 'Service', metadata: { name: 's' } });
  });
});
