import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { fence } from '../../test/ways.js';
import { evaluate } from '../evaluation/index.js';
import { Forwarding, trace } from '../forwarding/index.js';
import { readPacketQuestion, setOperation } from '../plan/index.js';
import type { Cluster, Operation, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { clusters } from '../sizing/index.js';
import { verdictOfPair } from '../verdicts/index.js';
import { propose, subnetUse } from './index.js';

type Fields = Partial<Omit<Cluster, 'id'>>;

/** Clusters a, b, ... with node ranges in the one network; each node takes one address, and nothing else does. */
function living(
  ...all: readonly { readonly prefix?: string; readonly zone?: string; readonly fields?: Fields }[]
): Plan {
  const ids = all.map((_, at) => testId('clusters', at + 1));
  return applied(ground(1), [
    ...add('pools', pool('all', '10.0.0.0/8', { purposes: ['node', 'pod', 'service', 'entry'] })),
    ...add(
      'clusters',
      ...all.map(({ fields = {} }, at) => cluster('abcdef'[at] ?? '', { podMode: 'overlay', ...fields })),
    ),
    ...add(
      'allocations',
      ...all.flatMap(({ prefix, zone = '' }, at) =>
        prefix === undefined
          ? []
          : [{ clusterId: ids[at] ?? '', purpose: 'node' as const, zone, prefix, isPinned: false }],
      ),
    ),
  ]);
}

const range = (n: number) => testId('allocations', n);
const codesOf = (plan: Plan) =>
  evaluate(plan)
    .findingsInWords()
    .map(({ code }) => code);
const resultOf = (plan: Plan, n: number) => {
  const found = evaluate(plan).ask(clusters).of(testId('clusters', n));
  if (found === undefined) throw new Error('no such cluster');
  return found;
};
const nodeLimit = (plan: Plan, n: number) =>
  resultOf(plan, n).figures.limits.find(({ code }) => code === 'node-subnets')?.nodes.value;

describe('several clusters in one subnet', () => {
  test('equal node ranges of one network are one subnet; parts of one another, or other zones, are not', () => {
    const ask = (plan: Plan) => evaluate(plan).ask(verdictOfPair)(range(1), range(2)).kind;
    expect(ask(living({ prefix: '10.0.0.0/24' }, { prefix: '10.0.0.0/24' }))).toBe('shared');
    expect(ask(living({ prefix: '10.0.0.0/24' }, { prefix: '10.0.0.0/25' }))).toBe('conflict');
    expect(ask(living({ prefix: '10.0.0.0/24', zone: 'a' }, { prefix: '10.0.0.0/24' }))).toBe('conflict');
    const apart = applied(living({ prefix: '10.0.0.0/24' }, { prefix: '10.0.0.0/24' }), [
      ...add('networks', {}, { name: 'n2' }).slice(1),
      setOperation('clusters', testId('clusters', 2), { networkId: testId('networks', 2) }),
    ]);
    expect(ask(apart)).toBe('reuse');
  });

  test('routed pods are no subnet: a prefix of each node cannot be shared', () => {
    const routed = (n: number) => ({
      id: range(n),
      clusterId: testId('clusters', n),
      purpose: 'pod' as const,
      zone: '',
      prefix: '10.8.0.0/16',
      isPinned: false,
    });
    const plan = applied(
      living({ fields: { podMode: 'routed' } }, { fields: { podMode: 'routed' } }),
      add('allocations', routed(1), routed(2)),
    );
    expect(evaluate(plan).ask(verdictOfPair)(range(1), range(2)).kind).toBe('conflict');
  });

  test('native pods may live in the subnet of their nodes, and a third cluster beside them', () => {
    const pods = {
      id: range(9),
      clusterId: testId('clusters', 1),
      purpose: 'pod' as const,
      zone: '',
      prefix: '10.0.0.0/20',
      isPinned: false,
    };
    const plan = applied(
      living({ prefix: '10.0.0.0/20', fields: { podMode: 'native' } }, { prefix: '10.0.0.0/20' }),
      add('allocations', pods),
    );
    for (const other of [range(1), range(2)])
      expect(evaluate(plan).ask(verdictOfPair)(range(9), other).kind).toBe('shared');
    expect(codesOf(plan)).not.toContain('overlap.conflict');
  });

  test('what one takes is gone for the other: a /24 holds 253 beside its gateway, and with 100 gone 153', () => {
    const plan = living({ prefix: '10.0.0.0/24' }, { prefix: '10.0.0.0/24', fields: { nodesHorizon: 100 } });
    // b keeps 100 at its horizon, a 10.
    expect([nodeLimit(plan, 1), nodeLimit(plan, 2)]).toEqual([153, 243]);
    expect(nodeLimit(living({ prefix: '10.0.0.0/24' }), 1)).toBe(253);
    expect(codesOf(plan)).not.toContain('range.too-small');
  });

  test('a subnet that holds each and not all is too small, and says who takes what', () => {
    // A /28 holds 13 beside its gateway, and each takes 10.
    const plan = living({ prefix: '10.0.0.0/28' }, { prefix: '10.0.0.0/28' });
    const found = evaluate(plan)
      .findingsInWords()
      .filter(({ code }) => code === 'range.too-small');
    expect(found).toHaveLength(2);
    expect(found[0]?.detail).toContain('It has 13 addresses to give; at their largest a takes 10 and b 10.');
    // Surge counts: 3 nodes and 10 are 13; with one in surge they are one too many.
    const small = (surgePercent: number) =>
      living(
        { prefix: '10.0.0.0/28' },
        { prefix: '10.0.0.0/28', fields: { nodesNow: 3, nodesHorizon: 3, surgePercent } },
      );
    expect(codesOf(small(0))).not.toContain('range.too-small');
    expect(codesOf(small(25))).toContain('range.too-small');
  });

  test('an endpoint and a bastion in it take an address each, and a load balancer where no entry address is kept', () => {
    const devices = (fields: Fields) =>
      applied(living({ prefix: '10.0.0.0/24', fields }), [
        ...add('subnets', {
          name: 's',
          networkId: testId('networks', 1),
          siteId: testId('sites', 1),
          zone: '',
          purpose: 'node',
          prefix: '10.0.0.0/24',
        }),
        ...add('endpoints', { name: 'e', subnetId: testId('subnets', 1), address: '10.0.0.40' }),
        ...add('bastions', { name: 'j', subnetId: testId('subnets', 1), address: '10.0.0.41' }),
        ...add('balancers', { name: 'l', subnetId: testId('subnets', 1), side: 'internal', address: '10.0.0.42' }),
      ]);
    expect(nodeLimit(devices({}), 1)).toBe(253 - 3);
    expect(nodeLimit(devices({ entryAddresses: 4 }), 1)).toBe(253 - 4 - 2);
    // Six load balancers, of which two find an entry address: four more are taken.
    const more = Array.from({ length: 5 }, (_, n) => ({
      id: testId('balancers', n + 2),
      name: `l${n}`,
      subnetId: testId('subnets', 1),
      side: 'internal' as const,
      address: `10.0.0.${50 + n}`,
    }));
    const crowded = applied(devices({ entryAddresses: 2 }), add('balancers', ...more));
    expect(nodeLimit(crowded, 1)).toBe(253 - 2 - 4 - 2);
    // The subnet says the same of itself: ten nodes with their entry, the four, and the two others; its gateway is none of them.
    const [subnet, profile] = [crowded.subnets[0], crowded.profiles[0]];
    if (subnet === undefined || profile === undefined) throw new Error('no subnet');
    expect(subnetUse(crowded, subnet, profile)).toMatchObject({ usable: 253, taken: 10 + 2 + 4 + 2 });
  });

  test('after an edit of one, the other is as if it had been computed from nothing', () => {
    const before = living({ prefix: '10.0.0.0/24' }, { prefix: '10.0.0.0/24' });
    const edits: Operation[][] = [
      [setOperation('clusters', testId('clusters', 2), { nodesHorizon: 100 })],
      [setOperation('clusters', testId('clusters', 2), { name: 'renamed' })],
      [setOperation('allocations', range(2), { prefix: '10.1.0.0/24' })],
      [{ op: 'remove', kind: 'allocations', id: range(2) }],
    ];
    for (const edit of edits) {
      const first = evaluate(before);
      first.findingsInWords();
      const after = applied(before, edit);
      const followed = evaluate(after, first);
      const limits = (from: typeof followed) =>
        from
          .ask(clusters)
          .of(testId('clusters', 1))
          ?.figures.limits.map(({ code, nodes }) => [code, nodes.value, nodes.explain().inputs]);
      expect(limits(followed)).toEqual(limits(evaluate(after)));
      expect(followed.findingsInWords()).toEqual(evaluate(after).findingsInWords());
    }
  });

  test('each has addresses of its own there, and of an address that may be either’s the stricter filter decides', () => {
    const plan = applied(living({ prefix: '10.0.0.0/24' }, { prefix: '10.0.0.0/24' }, { prefix: '10.1.0.0/24' }), [
      ...add('blocks', { networkId: testId('networks', 1), prefix: '10.0.0.0/8' }),
      ...fence(2, {}, { ports: ['9999'] }),
    ]);
    const ask = (to: string) => trace(Forwarding.of(plan), expectGood(readPacketQuestion(plan, 'node of c', to, 576)));
    const addressOf = (to: string) => ask(to).flows[0]?.forth.at(-1)?.packet.destination;
    expect(addressOf('node of a')).not.toEqual(addressOf('node of b'));
    expect([ask('node of a tcp 22').verdict, ask('node of b tcp 22').verdict]).toEqual(['pass', 'refused']);
    expect(ask('10.0.0.77 tcp 22').verdict).toBe('refused');
  });
});

describe('ranges are placed in subnets that stand', () => {
  const subnet = (prefix: string, more: object = {}) => ({
    name: `s ${prefix}`,
    networkId: testId('networks', 1),
    siteId: testId('sites', 1),
    zone: '',
    purpose: 'node' as const,
    prefix,
    ...more,
  });
  const sizes = (...nodes: readonly number[]) => living(...nodes.map((nodesHorizon) => ({ fields: { nodesHorizon } })));
  const nodesOf = (plan: Plan) =>
    propose(plan)
      .ranges.filter(({ purpose }) => purpose === 'node')
      .map(({ clusterName, after, poolName, sharedWith }) => [clusterName, after, poolName, ...sharedWith]);

  test('the largest first while there is room, those that find none in new ones; nothing is left to find', () => {
    // A /24 holds 254: 200 and 40 fit, the 100 do not.
    const plan = applied(sizes(200, 40, 100), add('subnets', subnet('10.9.0.0/24')));
    const found = nodesOf(plan);
    expect(found.filter(([, after]) => after === '10.9.0.0/24')).toEqual([
      ['a', '10.9.0.0/24', 'subnet s 10.9.0.0/24'],
      ['b', '10.9.0.0/24', 'subnet s 10.9.0.0/24', 'a'],
    ]);
    expect(found.find(([name]) => name === 'c')?.[2]).toBe('all');
    const codes = codesOf(applied(plan, propose(plan).operations));
    for (const code of ['range.missing', 'range.too-small', 'overlap.conflict', 'overlap.reuse'])
      expect(codes).not.toContain(code);
  });

  test('of two that have room, the one that has less left is filled', () => {
    const plan = applied(sizes(50), add('subnets', subnet('10.9.0.0/24'), subnet('10.9.1.0/26')));
    expect(nodesOf(plan)).toEqual([['a', '10.9.1.0/26', 'subnet s 10.9.1.0/26']]);
  });

  test('not in one for something else, of another zone, delegated, or that holds a part of its own', () => {
    const others = [{ purpose: 'entry' as const }, { zone: 'a' }, { delegatedTo: 'storage' }];
    for (const more of others)
      expect(nodesOf(applied(sizes(50), add('subnets', subnet('10.9.0.0/24', more))))[0]?.[2]).toBe('all');
    const parted = applied(
      living({ fields: { nodesHorizon: 50 } }, { prefix: '10.9.0.0/26' }),
      add('subnets', subnet('10.9.0.0/24')),
    );
    expect(nodesOf(parted)[0]?.[2]).toBe('all');
  });

  test('not in one smaller than the provider makes, however few live in it', () => {
    const plan = applied(sizes(4), [
      ...add('subnets', subnet('10.9.0.0/29')),
      setOperation('profiles', testId('profiles', 1), { smallestSubnet: 28 }),
    ]);
    expect(nodesOf(plan)[0]?.[2]).toBe('all');
  });

  test('one cluster in each where the provider lets no more in', () => {
    const plan = applied(sizes(50, 50), [
      ...add('subnets', subnet('10.9.0.0/24')),
      setOperation('profiles', testId('profiles', 1), { sharesSubnets: false }),
    ]);
    expect(nodesOf(plan).map(([, , from]) => from)).toEqual(['subnet s 10.9.0.0/24', 'all']);
  });

  test('what devices and the gateway hold is given to nobody', () => {
    // A /28 on a plain LAN: 14 hosts, one of them the gateway, one the endpoint: 12 nodes and no more.
    const plan = (nodes: number) =>
      applied(sizes(nodes), [
        ...add('subnets', subnet('10.9.0.0/28')),
        ...add('endpoints', { name: 'e', subnetId: testId('subnets', 1), address: '10.9.0.9' }),
      ]);
    expect(nodesOf(plan(12))[0]?.[1]).toBe('10.9.0.0/28');
    expect(nodesOf(plan(13))[0]?.[1]).not.toBe('10.9.0.0/28');
  });
});

describe('where nothing is free', () => {
  const full = (more: Operation[] = []) =>
    applied(living({ fields: { nodesHorizon: 50 } }), [
      ...add('blocks', { networkId: testId('networks', 1), prefix: '10.9.0.0/24' }),
      ...add('subnets', {
        name: 'storage',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        zone: '',
        purpose: 'other',
        prefix: '10.9.0.0/24',
      }),
      ...more,
    ]);

  test('who holds the block is named, and a block that is free', () => {
    const [refusal] = propose(full()).refusals;
    expect(refusal?.reason).toContain('nothing is free in n1 block 10.9.0.0/24, held by 10.9.0.0/24 (subnet storage).');
    // 50 nodes want a /26, and the first that is free apart from what is held is the first of the pool.
    expect(refusal?.fix).toMatch(/^Add the address block 10\.\d+\.\d+\.\d+\/26 in all, which is free, to n1/);
    const block = /block (\S+) in/.exec(refusal?.fix ?? '')?.[1] ?? '';
    const added = full([...add('blocks', {}, { networkId: testId('networks', 1), prefix: block }).slice(1)]);
    expect(propose(added).refusals).toEqual([]);
  });

  test('two that find nothing are offered a block each', () => {
    const plan = applied(
      full(),
      add('clusters', { ...cluster('second', { podMode: 'overlay', nodesHorizon: 50 }), id: testId('clusters', 2) }),
    );
    const blocks = propose(plan).refusals.map(({ fix }) => /block (\S+) in/.exec(fix)?.[1]);
    expect([blocks.length, new Set(blocks).size]).toEqual([2, 2]);
  });

  test('the block is no smaller than the provider makes one', () => {
    const plan = full([setOperation('profiles', testId('profiles', 1), { smallestBlock: 24 })]);
    expect(propose(plan).refusals[0]?.fix).toMatch(/\/24 in all/);
  });
});

describe('hard cases, derived by hand before they were asked', () => {
  const zonal = [
    setOperation('profiles', testId('profiles', 1), { reservedFirst: 4, subnetScope: 'zone' }),
    setOperation('sites', testId('sites', 1), { zones: ['a', 'b', 'c'] }),
  ];
  const inZoneA = (nodesHorizon: number) =>
    applied(
      living(
        { prefix: '10.0.0.0/27', zone: 'a', fields: { nodesNow: 9, nodesHorizon: 9, surgePercent: 33 } },
        { prefix: '10.0.0.0/27', zone: 'a', fields: { nodesHorizon } },
      ),
      zonal,
    );

  test('zonal, five reserved: a /27 gives 27; 9 nodes over 3 zones with surge are 4, and 69 without are 23', () => {
    expect(codesOf(inZoneA(69))).not.toContain('range.too-small');
    // 70 over 3 zones are 24 in the fullest: 28 of 27.
    expect(codesOf(inZoneA(70))).toContain('range.too-small');
  });

  test('nodes with their native pods in one subnet: 10 nodes and 300 pods want a /23, and a /24 is too small', () => {
    const plan = (prefix: string) =>
      applied(
        living({ prefix, fields: { podMode: 'native', podsPerNode: 30 } }),
        add('allocations', {
          id: range(9),
          clusterId: testId('clusters', 1),
          purpose: 'pod',
          zone: '',
          prefix,
          isPinned: false,
        }),
      );
    expect(codesOf(plan('10.0.0.0/23'))).not.toContain('range.too-small');
    expect(codesOf(plan('10.0.0.0/24'))).toContain('range.too-small');
  });

  test('one network over two sites: an equal range is no shared subnet, since a subnet is at one of them', () => {
    const plan = applied(living({ prefix: '10.0.0.0/24' }, { prefix: '10.0.0.0/24' }), [
      ...add('sites', {}, { name: 'there', kind: 'region', profileId: testId('profiles', 1), zones: ['a'] }).slice(1),
      setOperation('clusters', testId('clusters', 2), { siteId: testId('sites', 2) }),
    ]);
    expect(codesOf(plan)).toContain('overlap.conflict');
  });

  test('a /64 is shared by any number, and a provider that forbids sharing forbids it there too', () => {
    const six = living(
      { prefix: '2001:db8::/64', fields: { family: 'ipv6' } },
      { prefix: '2001:db8::/64', fields: { family: 'ipv6', nodesHorizon: 1000 } },
    );
    for (const code of ['overlap.conflict', 'range.too-small', 'subnet.shared'])
      expect(codesOf(six)).not.toContain(code);
    const strict = applied(six, [setOperation('profiles', testId('profiles', 1), { sharesSubnets: false })]);
    expect(codesOf(strict).filter((code) => code === 'subnet.shared')).toHaveLength(1);
  });

  test('what somebody else uses inside it stays a conflict with each, and nobody more is placed there', () => {
    const plan = applied(living({ prefix: '10.9.0.0/24' }, { prefix: '10.9.0.0/24' }, {}), [
      ...add('subnets', {
        name: 's',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        zone: '',
        purpose: 'node',
        prefix: '10.9.0.0/24',
      }),
      ...add('inUse', { prefix: '10.9.0.32/28', owner: 'printers', networkId: testId('networks', 1) }),
    ]);
    const told = evaluate(plan)
      .verdicts()
      .filter(({ kind, a, b }) => kind === 'conflict' && [a, b].some(({ kind: of }) => of === 'inUse'));
    expect(told.filter(({ a, b }) => [a, b].some(({ kind: of }) => of === 'allocations'))).toHaveLength(2);
    expect(propose(plan).ranges.find(({ purpose }) => purpose === 'node')?.after).not.toBe('10.9.0.0/24');
  });

  test('overlay pods of a third cluster there hide it from that cluster, shared or not', () => {
    const pods = {
      id: range(9),
      clusterId: testId('clusters', 3),
      purpose: 'pod' as const,
      zone: '',
      prefix: '10.0.0.0/24',
      isPinned: false,
    };
    const plan = applied(
      living({ prefix: '10.0.0.0/24' }, { prefix: '10.0.0.0/24' }, { prefix: '10.1.0.0/24' }),
      add('allocations', pods),
    );
    expect(
      evaluate(plan)
        .verdictsOf(range(9))
        .map(({ kind }) => kind),
    ).toEqual(['shadowed', 'shadowed']);
  });

  test('a range that leaves frees its part: the other may grow by it', () => {
    const plan = living({ prefix: '10.0.0.0/28' }, { prefix: '10.0.0.0/28' });
    expect(nodeLimit(plan, 1)).toBe(3);
    expect(
      nodeLimit(
        applied(plan, [
          { op: 'remove', kind: 'allocations', id: range(2) },
          { op: 'remove', kind: 'clusters', id: testId('clusters', 2) },
        ]),
        1,
      ),
    ).toBe(13);
  });
});
