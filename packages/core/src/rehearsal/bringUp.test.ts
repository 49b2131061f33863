import fc from 'fast-check';
import { add, anyWorld, applied, cluster, ground, ownRanges, testId } from '../../test/worlds.js';
import { quickStart, sizePlans, workloads as purposes } from '../allocation/index.js';
import type { Workload } from '../allocation/index.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { buildSteps, emptyPlan, kindOf } from '../plan/index.js';
import type { Cluster, Operation, Plan } from '../plan/index.js';
import { finished } from '../working/index.js';
import { bringUp, compareRuns, Graph, prerequisitesOf, runGraph, Times, usualTimes, usualWish } from './index.js';
import type { BringUp, BringUpWish } from './index.js';
import { keyOf } from './planObjects.js';

function run(plan: Plan, wish: Partial<BringUpWish> = {}): BringUp {
  const made = finished(bringUp(evaluate(plan), { ...usualWish, ...wish }));
  if (!made.ok) throw new Error(`too many: ${made.objects}`);
  return made;
}

const CLUSTER = testId('clusters', 1);

/** One cluster with three nodes in a node subnet of its own, in a network without anything else. */
function one(fields: Partial<Omit<Cluster, 'id'>> = {}, more: readonly Operation[] = []): Plan {
  return applied(ground(), [
    ...add('clusters', cluster('c', { nodesNow: 3, nodesHorizon: 3, ...fields })),
    ...ownRanges(),
    ...more,
  ]);
}

const pathOf = (of: BringUp) =>
  of.criticalPath().map(({ object, condition, from, to }) => `${object.kind} ${condition} ${from}-${to}`);

// What is proposed must come up: nothing in it is refused, whatever size, pod network and purpose.
test('what a quick start proposes in an empty plan comes up whole', () => {
  const cases = Object.values(sizePlans).flatMap((size) =>
    (Object.keys(purposes) as Workload[]).flatMap((workload) =>
      (['overlay', 'routed', 'native'] as const).flatMap((podMode) =>
        (['lan', 'zonal', 'regional'] as const).map((starter) => ({ size, workload, podMode, starter })),
      ),
    ),
  );
  let made = 0;
  for (const each of cases) {
    const start = quickStart(emptyPlan(), { ...each, name: 'shop', siteId: '', siteName: 'West', podsPerNode: 110 });
    if (!start.ok) continue;
    made++;
    const up = run(applied(emptyPlan(), start.operations));
    const { workload, podMode, starter } = each;
    const refused = up.refusals().map(({ object }) => `${object.kind} ${object.name}`);
    expect([workload, podMode, starter, refused]).toEqual([workload, podMode, starter, []]);
    expect(up.objects.filter((object) => !Number.isFinite(up.readyAt(object))).map(({ name }) => name)).toEqual([]);
  }
  expect(made).toBeGreaterThan(40);
});

/*
 * Critical paths derived by hand from the usual times: account 60, network 30, subnet 15, hosted control plane 600, control
 * node 420, health check 30, node 150 + 45 + 20, pod network 90, cluster DNS 30, object 5, pods 40.
 */
describe('times derived by hand', () => {
  test('a hosted cluster: nodes come after the control plane, DNS after two nodes', () => {
    const made = run(one());
    expect(made.total).toBe(60 + 30 + 15 + 600 + 150 + 45 + 20 + 30);
    expect(pathOf(made)).toEqual([
      'account Checked 0-60',
      'network Ready 60-90',
      'subnet Ready 90-105',
      'control plane Available 105-705',
      'node Provisioned 705-855',
      'node Registered 855-900',
      'node Ready 900-920',
      'cluster DNS Available 920-950',
    ]);
  });

  test('a self-run cluster: control nodes come one by one, and the last of them is the end', () => {
    const made = run(one({ controlPlane: 'self-run', controlNodes: 3 }));
    // Virtual address 105 to 115, then three times 420; the API answers after the first, 535 to 565.
    expect(made.total).toBe(115 + 3 * 420);
    expect(pathOf(made).slice(-3)).toEqual([
      'control node Ready 115-535',
      'control node Ready 535-955',
      'control node Ready 955-1375',
    ]);
    const dns = made.objects.find(({ kind }) => kind === 'cluster DNS');
    expect(dns === undefined ? 0 : made.readyAt(dns)).toBe(565 + 150 + 45 + 20 + 30);
  });

  test('one machine at a time: the third waits twice, and sets the end', () => {
    const slow = add('buildTimes', { step: 'node machine', profileId: testId('profiles', 1), seconds: 100, atOnce: 1 });
    const made = run(one({}, slow));
    expect(made.total).toBe(705 + 3 * 100 + 45 + 20);
    expect(made.criticalPath().map(({ waited }) => waited)).toEqual([0, 0, 0, 0, 0, 100, 200, 0, 0]);
  });

  test('a default route through NAT: the control plane waits for the device and the route', () => {
    const made = run(
      one({}, [
        ...add('subnets', {
          name: 'edge',
          networkId: testId('networks', 1),
          siteId: testId('sites', 1),
          purpose: 'other',
          prefix: '10.8.0.0/28',
        }),
        ...add('routeTables', { name: 'main', networkId: testId('networks', 1), isMain: true }),
        ...add('natDevices', { name: 'nat', subnetId: testId('subnets', 1), publicAddresses: ['203.0.113.9'] }),
        ...add('routes', {
          routeTableId: testId('routeTables', 1),
          prefix: '0.0.0.0/0',
          nextHop: 'nat',
          natDeviceId: testId('natDevices', 1),
        }),
      ]),
    );
    // Subnet until 105, NAT 120 more, route 5: the control plane begins at 230 in place of 105.
    expect(made.total).toBe(950 + 125);
    expect(pathOf(made).slice(2, 6)).toEqual([
      'subnet Ready 90-105',
      'NAT device Ready 105-225',
      'route Ready 225-230',
      'control plane Available 230-830',
    ]);
  });

  test('a load balancer: its front first, and members healthy once pods answer', () => {
    const made = run(entryPlan());
    const at = (key: string, condition: string) =>
      made.conditionsAt(made.graph.object(key) as never, Infinity).find(({ type }) => type === condition)?.since;
    // Subnet 105, address 10, load balancer 180, backend 15, listener 20.
    expect(at(keyOf('listeners', testId('listeners', 1)), 'Programmed')).toBe(105 + 10 + 180 + 15 + 20);
    // DNS 950, pods 40, endpoints 5, health check 30.
    expect(at(keyOf('backends', testId('backends', 1)), 'Healthy')).toBe(950 + 40 + 5 + 30);
    expect(made.total).toBe(1025);
  });
});

function entryPlan(more: readonly Operation[] = []): Plan {
  return one({}, [
    ...add('subnets', {
      name: 'edge',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'entry',
      prefix: '10.8.0.0/29',
    }),
    ...add('workloads', {
      clusterId: CLUSTER,
      namespace: 'shop',
      name: 'basket',
      labels: ['app=basket'],
      replicasNow: 2,
      replicasHorizon: 2,
      ports: ['http tcp 8080'],
    }),
    ...add('services', {
      clusterId: CLUSTER,
      namespace: 'shop',
      name: 'basket',
      type: 'NodePort',
      selector: ['app=basket'],
      ports: ['web tcp 80 to http node 30080'],
    }),
    ...add('balancers', { name: 'front', subnetId: testId('subnets', 1), address: '10.8.0.5' }),
    ...add('backends', {
      name: 'nodes',
      balancerId: testId('balancers', 1),
      members: 'nodes',
      serviceId: testId('services', 1),
      port: 80,
    }),
    ...add('listeners', {
      name: 'web',
      balancerId: testId('balancers', 1),
      protocol: 'tcp',
      port: 80,
      backendId: testId('backends', 1),
    }),
    ...more,
  ]);
}

describe('what never comes to be', () => {
  const refused = (of: BringUp) =>
    of.objects.flatMap((object) => {
      const refusal = of.refusalOf(object);
      return refusal === undefined ? [] : [{ object: object.name, ...refusal }];
    });

  test('nodes stop where the pod range ends, which the finding says', () => {
    // 110 pods per node take a /24 each (handbook 3); a /22 has four.
    const plan = one({ nodesNow: 6, nodesHorizon: 6 }, [
      { op: 'set', kind: 'allocations', id: testId('allocations', 2), fields: { prefix: '10.244.0.0/22' } },
    ]);
    const made = run(plan);
    expect(refused(made).map(({ object }) => object)).toEqual(['c 5 in a', 'c 6 in a']);
    const [first] = refused(made);
    expect(first).toMatchObject({ why: 'limit', limit: 'pod-range', holds: 4 });
    const told = evaluate(plan)
      .findings()
      .find(({ key }) => key === first?.key);
    expect(told?.code).toBe('range.too-small');
    // The machine is there, and registers at no time.
    const node = made.graph.object(`${CLUSTER} node 5`) as never;
    expect(made.conditionsAt(node, made.total).map(({ type, status }) => `${type} ${status}`)).toEqual([
      'Provisioned True',
      'Registered False',
      'Ready False',
    ]);
    expect(made.stateAt(node, made.total)).toBe('refused');
  });

  // 64,512 ports of an address (1,024 to 65,535) in portions of 30,000: two nodes (RFC 4787, RFC 6335 6).
  test('nodes stop where the ports of their NAT addresses end, which the finding says', () => {
    const plan = one({ natAddresses: 1, snatPorts: 30_000, nodesNow: 4, nodesHorizon: 4 });
    const made = run(plan);
    expect(refused(made).map(({ object }) => object)).toEqual(['c 3 in a', 'c 4 in a']);
    const [first] = refused(made);
    expect(first).toMatchObject({ why: 'limit', limit: 'snat-ports', holds: 2 });
    const told = evaluate(plan)
      .findings()
      .find(({ key }) => key === first?.key);
    expect(told?.subjects).toContainEqual({ kind: 'clusters', id: CLUSTER });
    // The machine registers; what it cannot do is call out.
    const node = made.graph.object(`${CLUSTER} node 3`) as never;
    expect(made.conditionsAt(node, made.total).map(({ type, status }) => `${type} ${status}`)).toEqual([
      'Provisioned True',
      'Registered True',
      'Ready False',
    ]);
  });

  test('nodes stop at the quota of a cluster, which the finding says', () => {
    const plan = one({ nodesNow: 5, nodesHorizon: 5 }, [
      { op: 'set', kind: 'profiles', id: testId('profiles', 1), fields: { nodesPerCluster: 3 } },
    ]);
    const made = run(plan);
    expect(refused(made).map(({ object }) => object)).toEqual(['c 4 in a', 'c 5 in a']);
    const [first] = refused(made);
    expect(first).toMatchObject({ why: 'limit', limit: 'nodes-per-cluster', holds: 3 });
    expect(
      evaluate(plan)
        .findings()
        .find(({ key }) => key === first?.key)?.code,
    ).toBe('nodes.over-quota');
  });

  test('the nth cluster of a site that holds fewer is refused, and all of it waits', () => {
    const second = add('clusters', cluster('c', {}), cluster('d', { nodesNow: 1 })).slice(1);
    const ranges = ['10.0.1.0/24', '10.244.16.0/20', '10.97.0.0/22'].map((prefix, i) => ({
      clusterId: testId('clusters', 2),
      purpose: (['node', 'pod', 'service'] as const)[i] as 'node',
      zone: '',
      prefix,
      isPinned: false,
    }));
    const others = add('allocations', ...ranges, ...ranges).slice(3);
    const plan = one({}, [
      ...second,
      ...others,
      { op: 'set', kind: 'profiles', id: testId('profiles', 1), fields: { clustersPerSite: 1 } },
    ]);
    const made = run(plan);
    expect(refused(made)).toMatchObject([{ why: 'full', of: 'clusters at a site', holds: 1, name: 'here' }]);
    const node = made.graph.object(`${testId('clusters', 2)} node 1`) as never;
    expect(made.stateAt(node, made.total)).toBe('waiting');
    expect(made.rootsOf(node).map(({ object }) => object.kind)).toEqual(['control plane']);
  });

  test('a subnet gives its addresses to those that come first', () => {
    // A /29 has 8 addresses, of which network, gateway and broadcast go to no machine: 5 load balancers.
    const more = Array.from({ length: 6 }, (_, i) => ({ name: `b${i + 1}`, subnetId: testId('subnets', 1) }));
    const made = run(entryPlan(add('balancers', ...more).slice(1)));
    expect(refused(made)).toMatchObject([{ why: 'full', of: 'subnet', holds: 5 }]);
    const sixth = made.graph.object(keyOf('balancers', testId('balancers', 6))) as never;
    expect(made.conditionsAt(sixth, made.total)[0]).toMatchObject({ type: 'AddressAssigned', status: 'False' });
  });

  test('pods without room today are refused; what only an upgrade lacks stops nothing', () => {
    // Nodes of 2 CPUs: two pods of 1.5 need two of the three, and three while one is drained; five find no room on three.
    const shape: readonly Operation[] = [
      ...add('shapes', { name: 'small', profileId: testId('profiles', 1), vcpus: 2, memoryGib: 8 }),
      { op: 'set', kind: 'clusters', id: CLUSTER, fields: { shapeId: testId('shapes', 1) } },
    ];
    const pods = (replicas: number): Operation => ({
      op: 'set',
      kind: 'workloads',
      id: testId('workloads', 1),
      fields: { cpuMillis: 1500, replicasNow: replicas, replicasHorizon: replicas },
    });
    const codes = (plan: Plan) =>
      evaluate(plan)
        .findings()
        .filter(({ code }) => code === 'workload.no-room').length;
    const tight = entryPlan([...shape, pods(3)]);
    expect(codes(tight)).toBe(1);
    expect(refused(run(tight))).toEqual([]);
    expect(refused(run(entryPlan([...shape, pods(5)])))).toMatchObject([{ why: 'finding', code: 'workload.no-room' }]);
  });

  test('a second pod network is refused, and the first stays', () => {
    const made = run(one(), { secondPodNetworkIn: CLUSTER });
    expect(refused(made)).toMatchObject([{ object: 'c', why: 'second pod network' }]);
    expect(made.total).toBe(950);
  });

  test('before a pod network runs nodes are not ready and DNS waits; a log says when it changed', () => {
    const made = run(one());
    const node = made.graph.object(`${CLUSTER} node 1`) as never;
    // The pod network is there at 795; at 790 the machine is still being made.
    expect(made.conditionsAt(node, 790).at(-1)).toMatchObject({ type: 'Ready', status: 'False', since: 705 });
    expect(made.conditionsAt(node, 790).at(-1)?.fact).toMatchObject({ is: 'waits' });
    expect(made.conditionsAt(node, 920).at(-1)).toMatchObject({ type: 'Ready', status: 'True', since: 920 });
    const own = made.log().filter(({ task }) => made.awaited(task).object === node);
    expect(own.map(({ at, what }) => `${at} ${what}`)).toEqual([
      '705 started',
      '855 done',
      '855 started',
      '900 done',
      '900 started',
      '920 done',
    ]);
  });
});

describe('what is run', () => {
  test('built clusters with all they rest on can be there from the beginning', () => {
    const made = run(one({ isBuilt: true }), { isBuiltThere: true });
    expect(made.total).toBe(0);
    expect(made.objects.every((object) => made.readyAt(object) === 0)).toBe(true);
  });

  test('one cluster of the demo comes up with what it waits for, and no other cluster', () => {
    const plan = demoPlan();
    const own = plan.clusters.find(({ name }) => name === 'weather-models');
    const made = run(plan, { scope: { kind: 'cluster', id: own?.id ?? '' } });
    const names = new Set(made.objects.map(({ clusterId }) => clusterId));
    expect([...names].sort()).toEqual(['', own?.id].sort());
    const whole = run(plan);
    expect(made.objects.length).toBeLessThan(whole.objects.length / 3);
    // What exports a service waits for its connection, and so for the other members.
    const [, south] = plan.clusters;
    const joined = run(plan, { scope: { kind: 'cluster', id: south?.id ?? '' } });
    expect(joined.objects.some(({ clusterId }) => clusterId === plan.clusters[0]?.id)).toBe(true);
  });

  test('two runs differ in what the second has more of', () => {
    const plan = one({ nodesNow: 3, nodesHorizon: 5 });
    const found = compareRuns(run(plan), run(plan, { nodes: 'horizon' }));
    expect(found.map(({ object, what, second }) => [object.name, what, second])).toEqual([
      ['c 4 in a', 'only in the second', 920],
      ['c 5 in a', 'only in the second', 920],
    ]);
  });

  test('steps that wait for one another are told as a circle, and never begin', () => {
    const graph = new Graph();
    const at = { entity: undefined, clusterId: '', siteId: '' } as const;
    for (const name of ['one', 'other', 'third']) graph.add({ ...at, kind: 'zone', key: name, name });
    graph.wait(0, 1);
    graph.wait(1, 2);
    graph.wait(2, 0);
    const made = finished(runGraph(graph, new Times(ground()), new Set([0, 1, 2]), new Set()));
    expect([...made.ended]).toEqual([Infinity, Infinity, Infinity]);
  });

  test('every step has a usual time, and a time that is not possible is refused with its bounds', () => {
    expect(Object.keys(usualTimes).sort()).toEqual([...buildSteps].sort());
    const { seconds } = kindOf.buildTimes.fields;
    expect(seconds).toMatchObject({ min: 0, max: 30 * 86_400 });
    expect(() => one({}, add('buildTimes', { step: 'network', profileId: null, seconds: -1, atOnce: 1 }))).toThrow(
      /-1/,
    );
  });
});

test('without bounds a step begins when the last it waits for ends; with them sites never do more at once', () => {
  fc.assert(
    fc.property(anyWorld, fc.integer({ min: 1, max: 3 }), (world, atOnce) => {
      for (const most of [10_000, atOnce]) {
        const rows = buildSteps.map((step, i) => ({ step, profileId: null, seconds: 7 + i, atOnce: most }));
        const plan = applied(world, add('buildTimes', ...rows));
        const made = run(plan);
        expectEndsOf(made, plan, most);
      }
    }),
    { numRuns: 25 },
  );
});

/** Holds every step against what it waited for, and counts what goes on at once. */
function expectEndsOf(made: BringUp, plan: Plan, most: number): void {
  const times = new Times(plan);
  const changes = new Map<string, [number, number][]>();
  const begun = new Map(made.log().flatMap(({ at, what, task }) => (what === 'started' ? [[task, at] as const] : [])));
  const ended = new Map(made.log().flatMap(({ at, what, task }) => (what === 'done' ? [[task, at] as const] : [])));
  for (const [task, from] of begun) {
    const { needs, step, object } = made.graph.tasks[task] as (typeof made.graph.tasks)[number];
    const met = Math.max(0, ...needs.map((need) => ended.get(need) ?? Infinity));
    const siteId = made.graph.objects[object]?.siteId ?? '';
    if (most === 10_000) expect(from).toBe(met);
    else expect(from).toBeGreaterThanOrEqual(met);
    expect(ended.get(task)).toBe(from + times.at(siteId, step).seconds);
    const key = `${siteId} ${step}`;
    changes.set(key, [...(changes.get(key) ?? []), [from, 1], [ended.get(task) as number, -1]]);
  }
  for (const all of changes.values()) {
    let now = 0;
    for (const [, by] of all.sort((a, b) => a[0] - b[0] || a[1] - b[1])) expect((now += by)).toBeLessThanOrEqual(most);
  }
}

test('prerequisites: what the plan tells fails with its finding, and the rest is confirmed site by site', () => {
  const missing = applied(one(), [{ op: 'remove', kind: 'allocations', id: testId('allocations', 2) }]);
  const before = prerequisitesOf(evaluate(missing), { kind: 'plan' });
  expect(before.failed.map(({ about, finding }) => [about, finding.code])).toEqual([['addresses', 'range.missing']]);
  expect(before.areMet).toBe(false);
  const rows = before.confirmable.map(({ what }) => ({
    siteId: testId('sites', 1),
    what,
    confirmedBy: 'Net',
    confirmedOn: '2026-12-01',
  }));
  const after = prerequisitesOf(evaluate(applied(one(), add('confirmations', ...rows))), { kind: 'plan' });
  expect(after).toMatchObject({ failed: [], areMet: true });
});
