import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { prefix } from '../address/index.js';
import { evaluate } from '../evaluation/index.js';
import { setOperation } from '../plan/index.js';
import type { Cluster, ClusterService, NodePool, Profile, Purpose } from '../plan/index.js';
import { figure } from '../working/index.js';
import type { Figure } from '../working/index.js';
import {
  countsAtHorizon,
  monthExceeded,
  nodesInMonth,
  nodesServed,
  nodeSubnetDemand,
  nodesToAddress,
  perNodeOf,
  perNodePrefix,
  podRangeLength,
  rangesNeeded,
  serviceBands,
  serviceRangeLength,
  serviceUsable,
  sizingOf,
  subnetLength,
  usableAddresses,
} from './index.js';
import type { Growth, Sizing } from './index.js';

const plain = (value: number): Figure =>
  figure(value, 'nodes', () => ({
    title: '',
    formula: '',
    inputs: [],
    steps: [],
    result: '',
    source: { mark: 'C', text: '' },
  }));

describe('per-node pod prefix (common practice: twice the pods)', () => {
  test.each([
    [8, 28],
    [9, 27],
    [16, 27],
    [17, 26],
    [32, 26],
    [33, 25],
    [64, 25],
    [65, 24],
    [110, 24],
    [128, 24],
    [129, 23],
    [256, 23],
  ])('%d pods per node need a /%d', (pods, length) => expect(perNodePrefix(4, pods, null).value).toBe(length));

  test('it is the longest prefix that holds twice the pods, for every count', () => {
    for (let pods = 1; pods <= 1000; pods++) {
      const { value } = perNodePrefix(4, pods, null);
      expect(2 ** (32 - value)).toBeGreaterThanOrEqual(2 * pods);
      expect(2 ** (31 - value)).toBeLessThan(2 * pods);
    }
  });

  test('a decided length wins in IPv4; IPv6 takes a /64 (RFC 4291 2.5.1)', () => {
    expect(perNodePrefix(4, 110, 25).value).toBe(25);
    expect(perNodePrefix(6, 110, 25).value).toBe(64);
  });
});

describe('nodes a pod range serves (from memory: Kubernetes API node address controller)', () => {
  test.each([
    [16, 24, 256],
    [14, 24, 1024],
    [21, 24, 8],
    [17, 24, 128],
    [24, 24, 1],
    [25, 24, 0],
  ])('a /%d with a /%d a node serves %d', (range, perNode, nodes) =>
    expect(nodesServed(range, plain(perNode)).value).toBe(nodes),
  );

  test('at most 16 bits number nodes', () => expect(nodesServed(4, plain(28)).value).toBe(65_536));

  test('the range that is asked for serves the nodes, and half of it does not', () => {
    for (let nodes = 1; nodes <= 3000; nodes += 7) {
      const length = podRangeLength(plain(nodes), plain(24)).value;
      expect(nodesServed(length, plain(24)).value).toBeGreaterThanOrEqual(nodes);
      expect(nodesServed(length + 1, plain(24)).value).toBeLessThan(nodes);
    }
  });
});

describe('service range (from memory: documentation of the Kubernetes API)', () => {
  test.each([
    ['10.96.0.0/24', 254, '10.96.0.1', '10.96.0.16', '10.96.0.254'],
    ['10.96.0.0/20', 4094, '10.96.0.1', '10.96.1.0', '10.96.15.254'],
    ['10.96.0.0/16', 65_534, '10.96.0.1', '10.96.1.0', '10.96.255.254'],
  ])('%s', (range, usable, first, last, end) => {
    expect(serviceUsable(prefix(range)).value).toBe(usable);
    expect(serviceBands(prefix(range))).toMatchObject({
      apiServer: first,
      staticFirst: first,
      staticLast: last,
      last: end,
      clusterDns: '10.96.0.10',
    });
  });

  test('a /30 holds two services, both static; a /32 none', () => {
    expect(serviceBands(prefix('10.96.0.0/30'))).toMatchObject({ staticLast: '10.96.0.2', clusterDns: undefined });
    expect(serviceBands(prefix('10.96.0.0/32'))).toBeUndefined();
  });

  test('twice the services fit, and at most 20 host bits are asked for', () => {
    for (const services of [0, 1, 62, 63, 126, 127, 400, 5000]) {
      const { value } = serviceRangeLength(4, services);
      expect(2 ** (32 - value) - 2).toBeGreaterThanOrEqual(2 * services + 2);
      expect(2 ** (31 - value) - 2).toBeLessThan(2 * services + 2);
    }
    expect(serviceRangeLength(4, 500_000).value).toBe(12);
    expect(serviceRangeLength(6, 100).value).toBe(112);
    expect(serviceRangeLength(6, 500_000).value).toBe(108);
  });
});

describe('subnets (common practice)', () => {
  const zonal = (fields: Partial<Cluster>, profile: Partial<Profile> = {}, pools: Partial<NodePool>[] = []) => {
    const plan = applied(ground(1), [
      setOperation('profiles', testId('profiles', 1), { subnetScope: 'zone', reservedFirst: 4, ...profile }),
      setOperation('sites', testId('sites', 1), { zones: ['a', 'b', 'c'] }),
      ...add('clusters', cluster('c', { surgePercent: 10, entryAddresses: 8, nodesHorizon: 100, ...fields })),
      ...add(
        'nodePools',
        ...pools.map((pool) => ({ clusterId: testId('clusters', 1), nodesNow: 0, nodesMax: 0, ...pool })),
      ),
    ]);
    const [only] = plan.clusters;
    if (only === undefined) throw new Error('no cluster');
    return sizingOf(plan, only);
  };
  const lengths = (sizing: Sizing, purpose: Purpose) =>
    rangesNeeded(sizing)
      .filter((need) => need.purpose === purpose)
      .map(({ length }) => length.value);
  const inZoneA = (sizing: Sizing) => nodeSubnetDemand(sizing, countsAtHorizon(sizing), 'a').addresses;

  test('100 nodes over 3 zones: 34, with surge 38, with entry and reserved 51: a /26', () => {
    expect(inZoneA(zonal({}))).toBe(46);
    expect(lengths(zonal({}), 'node')).toEqual([26, 26, 26]);
  });

  test('RFC 3021: a /31 on a plain LAN has two usable addresses', () => {
    expect(usableAddresses(31, { reservedFirst: 1, reservedLast: 1 }).value).toBe(2);
    expect(usableAddresses(32, { reservedFirst: 1, reservedLast: 1 }).value).toBe(0);
    expect(usableAddresses(24, { reservedFirst: 4, reservedLast: 1 }).value).toBe(251);
  });

  test('three control nodes need five addresses: themselves, the API’s and one while an upgrade rolls; the ingress takes one more', () => {
    const hosted = inZoneA(zonal({ nodesHorizon: 1, zoneCount: 1 }));
    const own = inZoneA(zonal({ nodesHorizon: 1, zoneCount: 1, controlPlane: 'self-run', controlNodes: 3 }));
    expect(own - hosted).toBe(5 + 1);
    expect(inZoneA(zonal({ nodesHorizon: 1, zoneCount: 1, apiEndpoint: 'private' })) - hosted).toBe(1);
  });

  test('native pods take one address each, and each node its warm spare', () => {
    // 100 nodes over 3 zones are 34 each, 38 with surge; 38 × 58 + 5 = 2,209: a /20.
    expect(lengths(zonal({ podMode: 'native', podsPerNode: 58 }), 'pod')).toEqual([20, 20, 20]);
    expect(lengths(zonal({ podMode: 'native', podsPerNode: 106 }), 'pod')).toEqual([20, 20, 20]);
    expect(lengths(zonal({ podMode: 'native', podsPerNode: 106 }, { warmSpare: 2 }), 'pod')).toEqual([19, 19, 19]);
    expect(nodesToAddress(zonal({ nodesHorizon: 120 })).value).toBe(132);
  });

  test('zones: a cluster in two of three has two subnets, and a pool in one of them adds nodes there only', () => {
    const sizing = zonal({ zoneCount: 2, nodesHorizon: 20 }, {}, [{ name: 'p', zones: ['b'], nodesHorizon: 10 }]);
    expect(lengths(sizing, 'node')).toHaveLength(2);
    const [a, b] = ['a', 'b'].map((zone) => nodeSubnetDemand(sizing, countsAtHorizon(sizing), zone).addresses);
    expect((b ?? 0) - (a ?? 0)).toBe(11);
  });

  test('pods without nodes take addresses straight from the subnets and no prefix of the pod range', () => {
    const [plain, more] = [zonal({}), zonal({}, {}, [{ name: 'jobs', kind: 'pods', nodesHorizon: 30 }])];
    expect(inZoneA(more) - inZoneA(plain)).toBe(10);
    expect(nodesToAddress(more).value).toBe(nodesToAddress(plain).value);
    expect(lengths(more, 'pod')).toEqual(lengths(plain, 'pod'));
  });

  test('the per-node prefix follows the pool with the most pods per node', () => {
    const sizing = zonal({ podsPerNode: 30 }, {}, [{ name: 'dense', podsPerNode: 110, nodesHorizon: 1 }]);
    expect(perNodeOf(sizing, 4).value).toBe(24);
  });

  test('the subnet that is asked for holds the nodes, one bit less does not: counted node by node', () => {
    for (let nodes = 1; nodes <= 400; nodes += 3) {
      const sizing = zonal({ nodesNow: 0, nodesHorizon: nodes, zoneCount: 1 });
      const fits = (bits: number) => {
        let free = 2 ** bits - 5 - 8;
        for (let node = 0; node < Math.ceil(nodes * 1.1 - 1e-9); node++) free--;
        return free >= 0;
      };
      const [length = 0] = lengths(sizing, 'node');
      expect([fits(32 - length), fits(31 - length)]).toEqual([true, false]);
    }
  });

  test.each<[string, Partial<Cluster>, Partial<NodePool>[], string, boolean]>([
    ['more zones than the site has', { zoneCount: 4 }, [], 'zoneCount', true],
    ['no nodes', { nodesNow: 0, nodesHorizon: 0 }, [], 'nodesHorizon', true],
    ['a per-node prefix that cannot hold the pods', { perNodeLength: 26 }, [], 'perNodeLength', true],
    ['one that is tight for twice the pods', { perNodeLength: 25 }, [], 'perNodeLength', false],
    ['compound growth from nothing', { nodesNow: 0, growth: 'compound' }, [], 'growth', true],
    ['growth that overflows', { nodesNow: 50, growth: 'compound', growthPerYear: 5000 }, [], 'growthPerYear', true],
    ['a step above the horizon', { growth: 'steps', growthSteps: ['6=200'] }, [], 'growthSteps', false],
    ['an even control plane', { controlPlane: 'self-run', controlNodes: 4 }, [], 'controlNodes', false],
    [
      'a pool outside the cluster’s zones',
      { zoneCount: 1 },
      [{ name: 'p', zones: ['c'], nodesHorizon: 2 }],
      'zones',
      true,
    ],
  ])('said at its field, and the rest is computed: %s', (_, fields, pools, field, isStopping) => {
    const sizing = zonal(fields, {}, pools);
    expect(sizing.problems).toContainEqual(expect.objectContaining({ field, isStopping }));
    expect(rangesNeeded(sizing).every(({ length }) => Number.isInteger(length.value))).toBe(true);
  });

  test('pods per node above the shape’s cap, and more attachments than it has interfaces', () => {
    const plan = applied(ground(1), [
      ...add('shapes', { name: 's', profileId: testId('profiles', 1), podCap: 60, interfaces: 1 }),
      ...add('subnets', {
        name: 'storage',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'other',
        prefix: '10.9.0.0/24',
      }),
      ...add('clusters', cluster('c', { shapeId: testId('shapes', 1) })),
      ...add('nodePools', {
        clusterId: testId('clusters', 1),
        name: 'p',
        nodesNow: 1,
        nodesMax: 1,
        nodesHorizon: 1,
        additionalInterfaceSubnetIds: [testId('subnets', 1)],
      }),
    ]);
    const fields = sizingOf(plan, plan.clusters[0] as Cluster).problems.map(({ field }) => field);
    expect(fields).toEqual(expect.arrayContaining(['podsPerNode', 'additionalInterfaceSubnetIds']));
  });
});

describe('growth', () => {
  const linear: Growth = {
    kind: 'linear',
    nodesNow: 10,
    nodesHorizon: 46,
    horizonMonths: 36,
    perYear: null,
    steps: [],
  };
  const kinds: Growth[] = [
    linear,
    { ...linear, kind: 'compound' },
    { ...linear, kind: 'compound', perYear: 40 },
    {
      ...linear,
      kind: 'steps',
      steps: [
        { month: 4, nodes: 20 },
        { month: 20, nodes: 33 },
      ],
    },
  ];

  /** Nodes month by month, each from the one before; steps as they come. */
  const monthByMonth = ({ kind, nodesNow, nodesHorizon, horizonMonths, perYear, steps }: Growth, months: number) => {
    const all = [nodesNow];
    const factor =
      perYear === null ? (nodesHorizon / nodesNow) ** (1 / horizonMonths) : (1 + perYear / 100) ** (1 / 12);
    for (let month = 1; month <= months; month++) {
      const last = all[month - 1] ?? 0;
      const step = steps.find((each) => each.month === month);
      const next =
        kind === 'linear'
          ? last + (nodesHorizon - nodesNow) / horizonMonths
          : kind === 'compound'
            ? last * factor
            : month === horizonMonths
              ? nodesHorizon
              : (step?.nodes ?? last);
      all.push(next);
    }
    return all;
  };

  test.each(kinds.map((growth) => [`${growth.kind} ${growth.perYear ?? ''}`, growth] as const))(
    'agrees with summation month by month: %s',
    (_, growth) => {
      const months = monthByMonth(growth, 120);
      months.forEach((nodes, month) => expect(nodesInMonth(growth, month)).toBeCloseTo(nodes, 6));
      for (let limit = 5.5; limit < 60; limit++) {
        const first = months.findIndex((nodes) => nodes > limit);
        const { value } = monthExceeded(growth, limit);
        expect(first < 0 ? value === -1 || value > 120 : value === first).toBe(true);
      }
    },
  );

  test('compound through both counts ends where the horizon is; 7 nodes doubling each year are 56 after three', () => {
    expect(nodesInMonth({ ...linear, kind: 'compound' }, 36)).toBeCloseTo(46, 9);
    expect(nodesInMonth({ ...linear, kind: 'compound', nodesNow: 7, perYear: 100 }, 36)).toBeCloseTo(56, 9);
  });

  // 50 × 1.1 = 55.00 in month 12: as many as a limit of 55 allows. Floating point makes 55.00000000000001 of it.
  test('a limit that is reached still holds, and is exceeded in the month after', () => {
    const yearly: Growth = { ...linear, kind: 'compound', nodesNow: 50, nodesHorizon: 67, perYear: 10 };
    expect(nodesInMonth(yearly, 12)).toBe(55);
    expect(monthExceeded(yearly, 55).value).toBe(13);
    // 54 = 50 × 1.1^(t ÷ 12) at t = 12 × ln 1.08 ÷ ln 1.1 = 9.7.
    expect(monthExceeded(yearly, 54).value).toBe(10);
    // 10 + 90 × 7 ÷ 30 = 31 in month 7.
    const straight: Growth = { ...linear, nodesNow: 10, nodesHorizon: 100, horizonMonths: 30 };
    expect(nodesInMonth(straight, 7)).toBe(31);
    expect(monthExceeded(straight, 31).value).toBe(8);
  });

  test('no growth never exceeds a limit that holds now', () => {
    expect(monthExceeded({ ...linear, nodesNow: 5, nodesHorizon: 5 }, 5).value).toBe(-1);
    expect(monthExceeded({ ...linear, nodesNow: 5, nodesHorizon: 3 }, 4).value).toBe(0);
  });
});

test('every figure explains itself: formula, steps and source, and the result names the value', () => {
  const figures = [
    perNodePrefix(4, 110, null),
    perNodePrefix(4, 110, 25),
    nodesServed(16, plain(24)),
    podRangeLength(plain(100), plain(24)),
    serviceRangeLength(4, 40),
    serviceUsable(prefix('10.96.0.0/20')),
    usableAddresses(24, { reservedFirst: 4, reservedLast: 1 }),
    subnetLength('t', { parts: () => [{ name: 'n', how: '', addresses: 9 }], addresses: 9 }, 5),
    monthExceeded({ kind: 'linear', nodesNow: 1, nodesHorizon: 30, horizonMonths: 12, perYear: null, steps: [] }, 9),
  ];
  for (const each of figures) {
    const working = each.explain();
    expect(working.formula).not.toBe('');
    expect(working.steps.length).toBeGreaterThan(0);
    expect(working.source.text.length).toBeGreaterThan(10);
    expect(working.result.replaceAll(',', '')).toContain(String(each.value));
  }
});

describe('a cluster that shrinks is sized for the larger of both counts', () => {
  // 200 nodes and the plan's two reserved addresses: a /24; 200 × a /24 for 110 pods: 2^8 of them, a /16.
  test.each([
    [200, 50],
    [50, 200],
  ])('%d nodes now and %d at the horizon: node subnet /24, pods /16', (nodesNow, nodesHorizon) => {
    const plan = applied(ground(1), add('clusters', cluster('c', { nodesNow, nodesHorizon, podsPerNode: 110 })));
    const needs = rangesNeeded(sizingOf(plan, plan.clusters[0] as Cluster));
    const lengthOf = (purpose: Purpose) => needs.find((need) => need.purpose === purpose)?.length.value;
    expect([lengthOf('node'), lengthOf('pod')]).toEqual([24, 16]);
  });

  test('ranges that only hold the horizon are errors, and say whose nodes they are too small for', () => {
    const plan = applied(ground(1), [
      ...add('clusters', cluster('c', { nodesNow: 200, nodesHorizon: 50, podsPerNode: 110 })),
      ...add(
        'allocations',
        { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.0.0.0/26' },
        { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '100.64.0.0/18' },
      ),
    ]);
    const small = evaluate(plan)
      .findingsInWords()
      .filter(({ code }) => code === 'range.too-small');
    expect(small.map(({ severity }) => severity)).toEqual(['error', 'error']);
    for (const { detail } of small) expect(detail).toMatch(/^Today’s nodes need a \/(24|16)\./);
  });
});

describe('services that the plan lists', () => {
  const listed = (fields: Partial<Cluster>, ...types: ClusterService['type'][]) => {
    const plan = applied(ground(1), [
      ...add('clusters', cluster('c', fields)),
      ...add(
        'services',
        ...types.map((type, n) => ({
          clusterId: testId('clusters', 1),
          name: `s${n}`,
          type,
          ...(type === 'ExternalName' ? { externalName: 'x.example' } : { ports: ['tcp 80 to 80'] }),
        })),
      ),
    ]);
    const { cluster: counted, problems } = sizingOf(plan, plan.clusters[0] as Cluster);
    const { services, nodePortServices, balancerServices, headlessServices } = counted;
    return {
      counts: [services, nodePortServices, balancerServices, headlessServices],
      doubts: problems.map(({ field }) => field),
    };
  };
  test('stand for the estimate where they are more, and it is told', () => {
    expect(listed({ services: 1 }, 'ClusterIP', 'NodePort', 'headless')).toEqual({
      counts: [3, 1, 0, 1],
      doubts: ['services', 'nodePortServices', 'headlessServices'],
    });
  });
  test('leave an estimate that is higher: it counts what is not listed yet', () => {
    expect(listed({ services: 50, nodePortServices: 4 }, 'NodePort')).toEqual({ counts: [50, 4, 0, 0], doubts: [] });
  });
  test('do not count names that stand for others', () => {
    expect(listed({ services: 1 }, 'ExternalName', 'ExternalName').counts[0]).toBe(1);
  });
});
