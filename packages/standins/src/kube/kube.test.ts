import { execFile } from 'node:child_process';
import { join } from 'node:path';
import Ajv from 'ajv';
import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import { removalOf, setOperation } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { applied } from '../../../core/test/worlds.js';
import { run, started } from '../../test/started.js';
import type { Ran, Started } from '../../test/started.js';

let open: Started | undefined;
afterEach(async () => {
  await open?.stop();
  open = undefined;
});

const north = (plan: Plan) => plan.clusters.find(({ name }) => name === 'booking-north')?.id ?? '';

async function openNorth(): Promise<{ readonly started: Started; readonly plan: Plan; readonly clusterId: string }> {
  const plan = demoPlan();
  const clusterId = north(plan);
  open = await started(plan, { vantages: [], clusters: [clusterId] });
  return { started: open, plan, clusterId };
}

/** Runs a script of a stock client in a process of its own, with a kubeconfig to load; gives what it prints as JSON. */
async function asClient<T>(kubeconfig: string, script: string): Promise<T> {
  const { code, output, errors } = await clientRuns(kubeconfig, script);
  if (code !== 0) throw new Error(errors);
  return JSON.parse(output) as T;
}

function clientRuns(kubeconfig: string, script: string): Promise<Ran> {
  const text = [
    "import * as k8s from '@kubernetes/client-node';",
    'const config = new k8s.KubeConfig();',
    `config.loadFromString(${JSON.stringify(kubeconfig)});`,
    'const core = config.makeApiClient(k8s.CoreV1Api);',
    'const print = (value) => process.stdout.write(JSON.stringify(value));',
    script,
  ].join('\n');
  return new Promise((resolve) => {
    const child = execFile(
      process.execPath,
      ['--input-type=module', '-'],
      { cwd: join(__dirname, '../..'), timeout: 300_000 },
      (error, output, errors) => {
        resolve({ code: error === null ? 0 : 1, output, errors });
      },
    );
    child.stdin?.end(text);
  });
}

test('a stock client lists what the plan holds of a cluster', async () => {
  const { started: world, plan, clusterId } = await openNorth();
  const kubeconfig = world.standIns.kubeconfigOf(clusterId, '') ?? '';
  const listed = await asClient<Readonly<Record<string, readonly string[]>>>(
    kubeconfig,
    `
    const apps = config.makeApiClient(k8s.AppsV1Api);
    const net = config.makeApiClient(k8s.NetworkingV1Api);
    const custom = config.makeApiClient(k8s.CustomObjectsApi);
    const names = ({ items }) => items.map(({ metadata: { namespace, name } }) => namespace === undefined ? name : namespace + '/' + name).sort();
    print({
      services: names(await core.listServiceForAllNamespaces()),
      inShop: names(await core.listNamespacedService({ namespace: 'shop' })),
      deployments: names(await apps.listDeploymentForAllNamespaces()),
      pods: names(await core.listPodForAllNamespaces()),
      nodes: names(await core.listNode()),
      policies: names(await net.listNetworkPolicyForAllNamespaces()),
      ingresses: names(await net.listIngressForAllNamespaces()),
      gateways: names(await custom.listClusterCustomObject({ group: 'gateway.networking.k8s.io', version: 'v1', plural: 'gateways' })),
    });`,
  );
  const own = (all: readonly { readonly clusterId: string; readonly namespace: string; readonly name: string }[]) =>
    all
      .filter((each) => each.clusterId === clusterId)
      .map(({ namespace, name }) => `${namespace}/${name}`)
      .sort();
  expect(listed['services']).toEqual(own(plan.services));
  expect(listed['inShop']).toEqual(own(plan.services).filter((name) => name.startsWith('shop/')));
  expect(listed['deployments']).toEqual(own(plan.workloads.filter(({ objectKind }) => objectKind === 'Deployment')));
  const pods = plan.workloads
    .filter((each) => each.clusterId === clusterId)
    .flatMap(({ namespace, name, replicasNow }) =>
      Array.from({ length: replicasNow }, (_, at) => `${namespace}/${name}-${at}`),
    );
  expect(listed['pods']).toEqual(pods.sort());
  const nodes = evaluate(plan).clusterOf(clusterId)?.sizing;
  expect(listed['nodes']?.length).toBeGreaterThan(3);
  expect(nodes).toBeDefined();
  expect(listed['policies']).toEqual(own(plan.networkPolicies));
  expect(listed['ingresses']).toEqual([
    ...new Set(own(plan.ingressRoutes.filter(({ objectKind }) => objectKind === 'Ingress'))),
  ]);
  expect(listed['gateways']).toEqual(own(plan.gateways));
});

test('labels, fields and pages select as the API’s documentation says', async () => {
  const { started: world, plan, clusterId } = await openNorth();
  const kubeconfig = world.standIns.kubeconfigOf(clusterId, '') ?? '';
  const workload = plan.workloads.find((each) => each.clusterId === clusterId && each.replicasNow > 2);
  const [key = '', value = ''] = (workload?.labels[0] ?? '').split('=');
  const found = await asClient<Readonly<Record<string, unknown>>>(
    kubeconfig,
    `
    const own = await core.listPodForAllNamespaces({ labelSelector: ${JSON.stringify(`${key}=${value}`)} });
    const others = await core.listPodForAllNamespaces({ labelSelector: ${JSON.stringify(`${key} notin (${value})`)} });
    const all = await core.listPodForAllNamespaces();
    const node = all.items[0].spec.nodeName;
    const onNode = await core.listPodForAllNamespaces({ fieldSelector: 'spec.nodeName=' + node });
    const pages = [];
    let next;
    do {
      const page = await core.listPodForAllNamespaces({ limit: 3, _continue: next });
      pages.push(...page.items.map(({ metadata }) => metadata.uid));
      next = page.metadata._continue;
    } while (next !== undefined && next !== '');
    const bad = await core.listPodForAllNamespaces({ fieldSelector: 'spec.colour=red' }).catch((error) => error.code + ' ' + JSON.parse(error.body).message);
    const gone = await core.readNamespacedPod({ namespace: 'shop', name: 'nobody' }).catch((error) => error.code + ' ' + JSON.parse(error.body).message);
    print({
      own: own.items.length, others: others.items.length, all: all.items.length,
      onNode: onNode.items.every(({ spec }) => spec.nodeName === node), count: onNode.items.length,
      pages: new Set(pages).size, bad, gone,
    });`,
  );
  expect(found).toMatchObject({ own: workload?.replicasNow, onNode: true, pages: found['all'] });
  expect(Number(found['own']) + Number(found['others'])).toBe(found['all']);
  expect(Number(found['count'])).toBeGreaterThan(0);
  expect(found['bad']).toBe('400 field label not supported: spec.colour');
  expect(found['gone']).toBe('404 pods "nobody" not found');
});

test('a watch tells what an edit of the plan and a stopped pod change', async () => {
  const { started: world, plan, clusterId } = await openNorth();
  const kubeconfig = world.standIns.kubeconfigOf(clusterId, '') ?? '';
  const workload = plan.workloads.find(
    (each) => each.clusterId === clusterId && each.namespace === 'shop' && each.replicasNow > 1,
  );
  const service = plan.services.find((each) => each.clusterId === clusterId && each.namespace === 'shop');
  if (workload === undefined || service === undefined) throw new Error('the demo has none');
  const watching = asClient<readonly string[]>(
    kubeconfig,
    `
    const list = await core.listPodForAllNamespaces();
    const told = [];
    const watch = new k8s.Watch(config);
    const ended = new Promise((resolve) => {
      const seen = (type, { kind, metadata, status }) => {
        told.push([type, kind, metadata.name, kind === 'Pod' ? status.conditions[0].status : ''].join(' '));
        if (told.length === 3) resolve();
      };
      watch.watch('/api/v1/pods', { resourceVersion: list.metadata.resourceVersion }, seen, () => {});
      watch.watch('/api/v1/services', { resourceVersion: list.metadata.resourceVersion }, seen, () => {});
    });
    await core.readNamespace({ name: 'default' });
    process.stderr.write('ready');
    await ended;
    print(told.sort());
    process.exit(0);`,
  );
  // Both watches are there, or made up for what they missed by the version of the list.
  for (;;) {
    const said = world.standIns.report().log.map(({ asked }) => asked);
    if (said.some((each) => each.endsWith('/namespaces/default (API)'))) break;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  world.standIns.stopPods(workload.id, 1);
  world.standIns.follow(
    applied(plan, [
      setOperation('workloads', workload.id, { labels: workload.labels }),
      setOperation('services', service.id, { ports: [...service.ports, 'extra tcp 9999 to 9999'] }),
    ]),
  );
  world.standIns.stopPods(workload.id, 0);
  const last = `${workload.name}-${workload.replicasNow - 1}`;
  expect(await watching).toEqual([
    `MODIFIED Pod ${last} False`,
    `MODIFIED Pod ${last} True`,
    `MODIFIED Service ${service.name} `,
  ]);
});

test('what is removed from the plan is deleted for who watches', async () => {
  const { started: world, plan, clusterId } = await openNorth();
  const policy = plan.networkPolicies.find((each) => each.clusterId === clusterId);
  const kubeconfig = world.standIns.kubeconfigOf(clusterId, '') ?? '';
  world.standIns.follow(applied(plan, removalOf(plan, 'networkPolicies', policy?.id ?? '')));
  const left = await asClient<readonly string[]>(
    kubeconfig,
    `print((await config.makeApiClient(k8s.NetworkingV1Api).listNetworkPolicyForAllNamespaces()).items.map(({ metadata }) => metadata.name));`,
  );
  expect(left).not.toContain(policy?.name);
});

test('nobody may write, a role reads its namespace alone, and no token reads nothing', async () => {
  const { started: world, clusterId } = await openNorth();
  const all = world.standIns.kubeconfigOf(clusterId, '') ?? '';
  const ofShop = world.standIns.kubeconfigOf(clusterId, 'shop') ?? '';
  const tried = `
    const told = (run) => run.then(() => 'yes', (error) => error.body === undefined ? String(error) : error.code + ' ' + JSON.parse(error.body).message);
    print([
      await told(core.listNamespacedPod({ namespace: 'shop' })),
      await told(core.listNamespacedPod({ namespace: 'kube-system' })),
      await told(core.listPodForAllNamespaces()),
      await told(core.deleteNamespacedPod({ namespace: 'shop', name: 'basket-0' })),
      await told(core.createNamespace({ body: { metadata: { name: 'new' } } })),
    ]);`;
  expect(await asClient(ofShop, tried)).toEqual([
    'yes',
    '403 pods is forbidden: User "stand-in:reader-of-shop" cannot list resource "pods" in API group "" in the namespace "kube-system"',
    '403 pods is forbidden: User "stand-in:reader-of-shop" cannot list resource "pods" in API group "" at the cluster scope',
    '403 pods "basket-0" is forbidden: User "stand-in:reader-of-shop" cannot delete resource "pods" in API group "" in the namespace "shop"',
    '403 namespaces is forbidden: User "stand-in:reader-of-shop" cannot create resource "namespaces" in API group "" at the cluster scope',
  ]);
  expect((await asClient<readonly string[]>(all, tried)).slice(0, 3)).toEqual(['yes', 'yes', 'yes']);
  const strange = all.replace(/token: .*/, 'token: c2hvcA.bm90aGluZw');
  expect((await asClient<readonly string[]>(strange, tried))[0]).toMatch(/^Error: HTTP-Code: 401/);
});

test('tables, discovery and the OpenAPI documents are as clients ask for them', async () => {
  const { started: world, clusterId } = await openNorth();
  const [, token = ''] = /token: (\S+)/.exec(world.standIns.kubeconfigOf(clusterId, '') ?? '') ?? [];
  const port = world.standIns.report().apis[0]?.port ?? 0;
  const get = async (path: string, accept = 'application/json') => {
    const { output } = await run('curl', [
      ...['-s', '--noproxy', '*', '--cacert', world.authority, '-H', `authorization: Bearer ${token}`],
      ...['-H', `accept: ${accept}`, `https://127.0.0.1:${port}${path}`],
    ]);
    return JSON.parse(output) as Readonly<Record<string, unknown>>;
  };
  const table = (await get('/api/v1/namespaces/shop/pods', 'application/json;as=Table;v=v1;g=meta.k8s.io')) as {
    readonly kind: string;
    readonly columnDefinitions: readonly { readonly name: string }[];
    readonly rows: readonly { readonly cells: readonly unknown[]; readonly object: { readonly kind: string } }[];
  };
  expect([table.kind, table.columnDefinitions.slice(0, 4).map(({ name }) => name)]).toEqual([
    'Table',
    ['Name', 'Ready', 'Status', 'Restarts'],
  ]);
  expect(table.rows.every(({ cells }) => cells.length === table.columnDefinitions.length)).toBe(true);
  expect(table.rows[0]?.object.kind).toBe('PartialObjectMetadata');
  const groups = (await get('/apis')) as { readonly groups: readonly { readonly name: string }[] };
  expect(groups.groups.map(({ name }) => name).sort()).toEqual([
    'apps',
    'discovery.k8s.io',
    'gateway.networking.k8s.io',
    'multicluster.x-k8s.io',
    'networking.k8s.io',
  ]);
  const list = (await get('/apis/apps/v1')) as {
    readonly resources: readonly { readonly name: string; readonly verbs: readonly string[] }[];
  };
  expect(list.resources.map(({ name, verbs }) => [name, ...verbs])).toContainEqual([
    'deployments',
    'get',
    'list',
    'watch',
  ]);
  const index = (await get('/openapi/v3')) as {
    readonly paths: Readonly<Record<string, { readonly serverRelativeURL: string }>>;
  };
  for (const { serverRelativeURL } of Object.values(index.paths)) {
    const document = (await get(serverRelativeURL)) as {
      readonly openapi: string;
      readonly paths: Readonly<Record<string, { readonly get: unknown }>>;
      readonly components: { readonly schemas: Readonly<Record<string, object>> };
    };
    expect(document.openapi).toMatch(/^3\./);
    // Each schema is one that a validator takes, and each path is answered.
    for (const schema of Object.values(document.components.schemas))
      expect(() => new Ajv({ strict: false }).compile(schema)).not.toThrow();
    for (const path of Object.keys(document.paths)) {
      const asked = path.replace('{namespace}', 'shop').replace('{name}', 'nobody-of-this-name');
      const said = await get(asked);
      expect([path, said['kind']]).toEqual([path, path.endsWith('{name}') ? 'Status' : expect.stringMatching(/List$/)]);
    }
  }
  expect((await get('/openapi/v2'))['swagger']).toBe('2.0');
  expect((await get('/apis/nothing.example/v1/things'))['code']).toBe(404);
  // What is wrong with a watch is told before it begins, and ends nothing for others.
  expect((await get('/api/v1/pods?watch=1&timeoutSeconds=soon'))['code']).toBe(400);
  expect((await get('/api/v1/pods?watch=1&resourceVersion=0x'))['code']).toBe(400);
  expect((await get('//'))['code']).toBe(400);
  expect((await get('/version'))['major']).toBe('1');
});
