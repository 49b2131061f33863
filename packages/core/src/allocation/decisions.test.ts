import fc from 'fast-check';
import { add, anyWorld, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { contains, overlaps, parsePrefix } from '../address/index.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { applyOperations, rangeOf, setOperation, withRebuilds } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import {
  largestFits,
  propose,
  quickStart,
  renumberings,
  sizePlans,
  sizeFields,
  smallerPerNode,
  utilisation,
} from './index.js';

describe('quick start', () => {
  const plan = demoPlan();
  const at = (name: string) => plan.sites.find((site) => site.name === name)?.id ?? '';
  const request = { name: 'refunds', size: sizePlans.medium, podsPerNode: 110, podMode: 'overlay' } as const;

  test.each(['Halden north', 'Orrery east', 'Basalt hall'])('%s: the whole network is free of errors', (siteName) => {
    for (const workload of ['public', 'internal', 'batch'] as const) {
      const start = quickStart(plan, { ...request, siteId: at(siteName), workload });
      if (!start.ok) throw new Error(start.reason);
      const after = applied(plan, start.operations);
      const before = new Set(
        evaluate(plan)
          .findingsInWords()
          .map(({ key }) => key),
      );
      const gained = evaluate(after)
        .findingsInWords()
        .filter(({ key, severity }) => severity !== 'note' && !before.has(key));
      expect(gained.map(({ title }) => title)).toEqual([]);
      const made = after.clusters.find(({ name }) => name === 'refunds');
      const result = evaluate(after).clusters.find(({ cluster: each }) => each.id === made?.id);
      expect(
        result?.figures.needs.every(({ isLargeEnough, ranges }) => isLargeEnough && ranges.length > 0),
      ).toBeTruthy();
      const subnets = after.subnets.filter(({ networkId }) => networkId === made?.networkId);
      const block = after.blocks.find(({ networkId }) => networkId === made?.networkId);
      for (const subnet of subnets) expect(contains(rangeOf(block ?? subnet), rangeOf(subnet))).toBe(true);
      expect(
        subnets
          .filter(({ purpose }) => purpose === 'node')
          .every(({ isPublic, internetEgress }) => !isPublic && internetEgress === 'nat'),
      ).toBe(true);
      expect(subnets.some(({ delegatedTo, isPublic }) => delegatedTo === 'nat' && isPublic)).toBe(true);
      expect(subnets.every(({ routeTableId }) => after.routeTables.some(({ id }) => id === routeTableId))).toBe(true);
      // Private tables lead to the NAT device, public ones to the internet, that of the endpoints nowhere.
      const hops = after.routes.filter(({ routeTableId }) =>
        subnets.some((each) => each.routeTableId === routeTableId),
      );
      expect(new Set(hops.map(({ prefix, nextHop }) => `${prefix} ${nextHop}`))).toEqual(
        new Set(['0.0.0.0/0 nat', '0.0.0.0/0 internet']),
      );
      expect(after.natDevices.filter(({ id }) => hops.some(({ natDeviceId }) => natDeviceId === id))).toHaveLength(1);
      expect(subnets.filter(({ purpose }) => purpose === 'entry').map(({ isPublic }) => isPublic)).toEqual(
        subnets.filter(({ purpose }) => purpose === 'entry').map(() => workload === 'public'),
      );
      expect(subnets.some(({ purpose }) => purpose === 'entry')).toBe(workload !== 'batch');
    }
  });

  test('zonal subnets stand in every zone of the site', () => {
    const start = quickStart(plan, { ...request, siteId: at('Halden north'), workload: 'public' });
    if (!start.ok) throw new Error(start.reason);
    const { subnets } = applied(plan, start.operations);
    expect(
      subnets
        .filter(({ name }) => name.startsWith('refunds-nodes'))
        .map(({ zone }) => zone)
        .sort(),
    ).toEqual(['n1', 'n2', 'n3']);
  });

  test('native pods where the provider has none become an overlay, and it says so', () => {
    const start = quickStart(plan, { ...request, podMode: 'native', siteId: at('Orrery east'), workload: 'batch' });
    expect(start).toMatchObject({ ok: true, notes: [expect.stringContaining('no native pods')] });
  });

  test('without room, or with a name that is taken, it says why and what to do', () => {
    const bare = ground(1);
    const here = { ...request, siteId: testId('sites', 1), workload: 'batch' as const };
    expect(quickStart(bare, here)).toMatchObject({ ok: false, fix: expect.stringContaining('Add a pool') as string });
    const taken = quickStart(plan, { ...request, name: 'booking', siteId: at('Basalt hall'), workload: 'batch' });
    expect(taken).toMatchObject({ ok: false, reason: expect.stringContaining('taken') as string });
  });
});

describe('size plans', () => {
  const plan = demoPlan();
  const north = plan.sites.find(({ name }) => name === 'Halden north')?.id ?? '';
  const made = (size: (typeof sizePlans)[keyof typeof sizePlans]) => {
    const start = quickStart(plan, {
      name: 'refunds',
      siteId: north,
      size,
      workload: 'internal',
      podMode: 'overlay',
      podsPerNode: 110,
    });
    if (!start.ok) throw new Error(start.reason);
    const after = applied(plan, start.operations);
    const own = after.clusters.find(({ name }) => name === 'refunds');
    return { own, ranges: after.allocations.filter(({ clusterId }) => clusterId === own?.id), after };
  };

  test('small is one control node and three workers in one zone: one node subnet, its control plane counted', () => {
    const { own, ranges, after } = made(sizePlans.small);
    expect(own).toMatchObject({ controlPlane: 'self-run', controlNodes: 1, nodesNow: 3, zoneCount: 1 });
    expect(ranges.filter(({ purpose }) => purpose === 'node').map(({ zone }) => zone)).toEqual(['n1']);
    const figures = evaluate(after).clusters.find(({ cluster: each }) => each.id === own?.id)?.figures;
    // 6 workers with surge 8, one control node and its spare.
    expect(figures?.nodesToAddress.value).toBe(10);
    expect(figures?.problems).toEqual([]);
  });

  test.each(['medium', 'large'] as const)('%s is spread over three zones with three control nodes', (size) => {
    const { own, ranges } = made(sizePlans[size]);
    expect(own).toMatchObject({ controlNodes: 3, zoneCount: 3 });
    expect(
      ranges
        .filter(({ purpose }) => purpose === 'node')
        .map(({ zone }) => zone)
        .sort(),
    ).toEqual(['n1', 'n2', 'n3']);
  });

  test('no control nodes: the provider hosts the control plane', () =>
    expect(sizeFields({ ...sizePlans.small, controlNodes: 0 })).toMatchObject({
      controlPlane: 'hosted',
      controlNodes: 1,
    }));
});

describe('renumbering', () => {
  test('on the demo, each way ends its overlap and gains no other; the least disturbing comes first', () => {
    const plan = demoPlan();
    const evaluation = evaluate(plan);
    const before = new Set(evaluation.verdicts().map(({ a, b }) => `${a.id} ${b.id}`));
    let seen = 0;
    for (const { a, b } of evaluation.verdicts()) {
      const ways = renumberings(plan, [a.id, b.id]);
      expect(ways.map(({ rank }) => rank)).toEqual(ways.map(({ rank }) => rank).sort());
      for (const way of ways) {
        seen++;
        const decision = { reason: 'tried', decidedOn: '2026-11-23', decidedBy: 'me' };
        const after = evaluate(applied(plan, withRebuilds(plan, way.operations, decision))).verdicts();
        expect(after.some((each) => each.a.id === a.id && each.b.id === b.id)).toBe(false);
        expect(after.filter((each) => !before.has(`${each.a.id} ${each.b.id}`))).toEqual([]);
      }
    }
    expect(seen).toBeGreaterThan(2);
  });

  test('pinned ranges never move; a built cluster is a rebuild, which needs its reason', () => {
    const base = applied(ground(1), [
      ...add('pools', pool('p', '10.0.0.0/16')),
      ...add('clusters', cluster('old', { isBuilt: true })),
      ...add('allocations', { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.0.0.0/24' }),
      ...add('inUse', { prefix: '10.0.0.0/25', owner: 'x', networkId: testId('networks', 1) }),
    ]);
    const id = testId('allocations', 1);
    const [first] = renumberings(base, [id]);
    expect(first).toMatchObject({ rank: 3, disturbs: expect.stringContaining('rebuilt') as string });
    expect(applyOperations(base, first?.operations ?? []).ok).toBe(false);
    const decision = { reason: 'overlap', decidedOn: '2026-11-23', decidedBy: 'me' };
    expect(applied(base, withRebuilds(base, first?.operations ?? [], decision)).rebuilds).toHaveLength(1);
    expect(renumberings(applied(base, [setOperation('allocations', id, { isPinned: true })]), [id])).toEqual([]);
  });

  test('a planned link can be left unmade', () => {
    const plan = demoPlan();
    const link = plan.links.find(({ isPlanned }) => isPlanned);
    const [way] = renumberings(plan, [], [link?.id ?? '']);
    expect(way?.title).toContain('coach-join');
    expect(
      evaluate(applied(plan, way?.operations ?? []))
        .verdicts()
        .every(({ isPlanned }) => !isPlanned),
    ).toBe(true);
  });
});

describe('inverse questions', () => {
  test('the largest that fits is free, and one bit more is not', () => {
    const plan = demoPlan();
    const taken = [...plan.allocations, ...plan.inUse, ...plan.subnets].map(rangeOf);
    for (const { id, name } of plan.clusters.slice(0, 7)) {
      for (const fit of largestFits(plan, id) ?? []) {
        expect(fit.prefix).not.toBe('');
        if (fit.purpose !== 'node') continue;
        const found = expectGood(parsePrefix(fit.prefix));
        expect(taken.some((range) => overlaps(range, found))).toBe(false);
        const own = propose(
          { ...plan, allocations: plan.allocations.filter(({ clusterId }) => clusterId !== id) },
          { clusterIds: [id] },
        );
        expect(own.refusals.map(() => name)).toEqual([]);
      }
    }
    expect(largestFits(plan, 'none')).toBeUndefined();
  });

  test('a longer per-node prefix: half the pods, half the range (table of handbook 3)', () => {
    const plan = applied(ground(1), add('clusters', cluster('c', { nodesHorizon: 100 })));
    const rows = smallerPerNode(plan, testId('clusters', 1));
    // 100 nodes with a /24 each need a /17; with a /25 a /18, and so on; the table says 64 pods for a /25, 32 for a /26.
    expect(rows.map(({ length, podsPerNode, podRangeLength }) => [length, podsPerNode, podRangeLength])).toEqual([
      [25, 64, 18],
      [26, 32, 19],
      [27, 16, 20],
      [28, 8, 21],
      [29, 4, 22],
    ]);
    expect(rows[0]).toMatchObject({ freed: 2 ** 14, holdsToday: false });
    const native = applied(plan, [setOperation('clusters', testId('clusters', 1), { podMode: 'native' })]);
    expect(smallerPerNode(native, testId('clusters', 1))).toEqual([]);
  });
});

describe('utilisation', () => {
  test('counted by hand for one site', () => {
    const plan: Plan = applied(ground(1), [
      ...add('clusters', cluster('c', { nodesNow: 10, nodesHorizon: 20, services: 64, entryAddresses: 4 })),
      ...add(
        'allocations',
        { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.0.0.0/26' },
        { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '10.1.0.0/19' },
        { clusterId: testId('clusters', 1), purpose: 'service', prefix: '10.2.0.0/24' },
      ),
    ]);
    const rows = utilisation(plan).map((row) => [
      row.purpose,
      row.addresses,
      row.usedNow.value,
      row.usedHorizon.value,
      row.routes,
    ]);
    // Nodes: 10 + 4 entry + 2 reserved and the gateway of 64; pods: 10 whole /24 of 8,192; services: 64 of 256.
    expect(rows).toEqual([
      ['node', 64, 26.6, 42.2, 1],
      ['pod', 8192, 31.3, 62.5, 0],
      ['service', 256, 25, 25, 0],
    ]);
    expect(utilisation(plan)[0]?.usedNow.explain().steps).toEqual(['17 ÷ 64 = 26.6 %']);
  });

  test('every range of every world is in one row', () => {
    fc.assert(
      fc.property(anyWorld, (plan) => {
        const rows = utilisation(plan);
        // A subnet in which several live is there once.
        const places = new Set(
          plan.allocations.map(({ id, clusterId, purpose, zone, prefix }) => {
            const owner = plan.clusters.find((each) => each.id === clusterId);
            const isSubnet =
              purpose === 'node' || purpose === 'entry' || (purpose === 'pod' && owner?.podMode === 'native');
            return isSubnet ? `${owner?.networkId} ${owner?.siteId} ${zone} ${prefix}` : id;
          }),
        );
        expect(rows.reduce((sum, { ranges }) => sum + ranges, 0)).toBe(places.size);
      }),
      { numRuns: 40 },
    );
  });
});
