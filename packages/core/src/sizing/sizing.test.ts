import { prefix } from '../address/index.js';
import { figure } from '../working/index.js';
import type { Figure } from '../working/index.js';
import {
  monthReached,
  nativePodSubnetLength,
  nodesHeld,
  nodesServed,
  nodeSubnetLength,
  nodesToAddress,
  perNodePrefix,
  podRangeLength,
  serviceBands,
  serviceRangeLength,
  serviceUsable,
  usableAddresses,
} from './index.js';

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
  ])('%d pods a node need a /%d', (pods, length) => expect(perNodePrefix(4, pods, null).value).toBe(length));

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

describe('node subnets (common practice)', () => {
  const tenth = { percent: 10, least: 0 };
  const demand = { nodes: 100, zones: 3, surge: tenth, entryAddresses: 8, reserved: 5 };

  test('100 nodes over 3 zones: 34, with surge 38, with entry and reserved 51: a /26', () =>
    expect(nodeSubnetLength(demand).value).toBe(26));

  test('RFC 3021: a /31 on a plain LAN has two usable addresses', () => {
    expect(usableAddresses(31, 2).value).toBe(2);
    expect(usableAddresses(32, 2).value).toBe(0);
    expect(usableAddresses(24, 5).value).toBe(251);
  });

  test('the subnet that is asked for holds the nodes, one bit less does not: counted node by node', () => {
    for (let nodes = 1; nodes <= 400; nodes += 3) {
      const { value: length } = nodeSubnetLength({ ...demand, nodes, zones: 1 });
      const fits = (bits: number) => {
        let free = 2 ** bits - demand.reserved - demand.entryAddresses;
        for (let node = 0; node < Math.ceil(nodes * 1.1 - 1e-9); node++) free--;
        return free >= 0;
      };
      expect(fits(32 - length)).toBe(true);
      expect(fits(31 - length)).toBe(false);
    }
  });

  test('nodes held: adding nodes one by one until surge no longer fits', () => {
    for (const length of [24, 25, 26, 27, 28]) {
      const usable = usableAddresses(length, 5);
      let nodes = 0;
      while (Math.ceil(((nodes + 1) * 110) / 100) + 8 <= usable.value) nodes++;
      expect(nodesHeld(usable, { zones: 1, surge: tenth, entryAddresses: 8 }).value).toBe(nodes);
    }
  });

  test('native pods take one address each', () => {
    expect(nativePodSubnetLength(44, 58, 5).value).toBe(20);
    expect(nodesToAddress(120, tenth).value).toBe(132);
  });
});

describe('growth', () => {
  test('the closed form agrees with counting month by month', () => {
    const growth = { nodesNow: 10, nodesHorizon: 46, horizonMonths: 36 };
    for (let limit = 5; limit < 60; limit++) {
      let month = 0;
      while (growth.nodesNow + ((growth.nodesHorizon - growth.nodesNow) * month) / growth.horizonMonths <= limit)
        month++;
      expect(monthReached(growth, limit).value).toBe(month);
    }
  });

  test('no growth never passes a limit that holds now', () => {
    expect(monthReached({ nodesNow: 5, nodesHorizon: 5, horizonMonths: 12 }, 5).value).toBe(-1);
    expect(monthReached({ nodesNow: 5, nodesHorizon: 3, horizonMonths: 12 }, 4).value).toBe(0);
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
    usableAddresses(24, 5),
    nodesToAddress(9, { percent: 10, least: 1 }),
    nativePodSubnetLength(9, 30, 5),
  ];
  for (const each of figures) {
    const working = each.explain();
    expect(working.formula).not.toBe('');
    expect(working.steps.length).toBeGreaterThan(0);
    expect(working.source.text.length).toBeGreaterThan(10);
    expect(working.result.replaceAll(',', '')).toContain(String(each.value));
  }
});
