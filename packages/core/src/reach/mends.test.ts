import { BlockList } from 'node:net';
import { add, applied, ground, testId } from '../../test/worlds.js';
import { hubWorld, route } from '../../test/ways.js';
import { readPacketQuestion, setOperation } from '../plan/index.js';
import type { FirewallRule, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { formatMend } from '../english/index.js';
import { Forwarding, trace } from '../forwarding/index.js';
import { mendsOf as found } from './index.js';

const mendsOf = (...asked: Parameters<typeof found>) => found(...asked).map((fix) => ({ ...fix, ...formatMend(fix) }));
const questionOf = (plan: Plan, from: string, to: string) => expectGood(readPacketQuestion(plan, from, to, 576));
const ask = (plan: Plan, from: string, to: string) => trace(Forwarding.of(plan), questionOf(plan, from, to)).verdict;
const walled = (...rules: Partial<FirewallRule>[]) => hubWorld({ rules });

// Public addresses that the code does not know, and others that are not met on the internet (RFC 1918, RFC 6598, RFC 3927, RFC 5771).
const anywhere = [
  '1.2.3.4',
  '57.10.20.30',
  '99.255.255.254',
  '126.0.0.1',
  '172.32.0.1',
  '191.255.0.7',
  '223.255.255.1',
];
const nowhere = ['10.99.0.1', '172.16.0.1', '192.168.7.7', '100.64.9.9', '169.254.169.254', '127.0.0.1', '224.0.0.5'];

test('a rule for one address, for documents or for half of the space is no rule for the internet', () => {
  for (const destinations of [
    ['192.0.2.129/32'],
    ['192.0.2.0/24', '198.51.100.0/24', '203.0.113.0/24'],
    ['128.0.0.0/1'],
  ])
    expect([destinations, ask(walled({ ports: ['443'], destinations }), 'node of a', 'the internet tcp 443')]).toEqual([
      destinations,
      'refused',
    ]);
  expect(
    ask(walled({ ports: ['443'], destinations: ['0.0.0.0/1', '128.0.0.0/1'] }), 'node of a', 'the internet tcp 443'),
  ).toBe('pass');
});

test('a block list that takes some of the internet away leaves the rest of it', () => {
  const plan = walled({ action: 'deny', destinations: ['203.0.113.0/24'] }, { ports: ['443'] });
  expect(ask(plan, 'node of a', 'the internet tcp 443')).toBe('pass');
  expect(ask(plan, 'node of a', '203.0.113.7 tcp 443')).toBe('refused');
});

test('the mend of a question to the internet is a set of the plan: all that is public passes with it, and nothing else', () => {
  const plan = walled({ ports: ['22'] });
  const [fix] = mendsOf(plan, questionOf(plan, 'node of a', 'the internet tcp 443'));
  expect(fix?.steps).toEqual([
    'Add rule 20 to the firewall wall: allow tcp 443 from 10.1.0.0/24 to the set public internet.',
  ]);
  const after = applied(plan, fix?.operations ?? []);
  expect(ask(after, 'node of a', 'the internet tcp 443')).toBe('pass');
  for (const address of anywhere)
    expect([address, ask(after, 'node of a', `${address} tcp 443`)]).toEqual([address, 'pass']);
  expect(ask(after, 'node of a', 'node of b tcp 443')).toBe('refused');
  // The set is held against the address lists of the runtime.
  const list = new BlockList();
  for (const prefix of after.prefixSets[0]?.prefixes ?? []) {
    const [address = '', length = ''] = prefix.split('/');
    list.addSubnet(address, Number(length));
  }
  expect([...anywhere, ...nowhere].filter((address) => list.check(address))).toEqual(anywhere);
});

test('the set is made once: a second mend names the one that stands', () => {
  const plan = walled({ ports: ['22'] });
  const first = applied(
    plan,
    mendsOf(plan, questionOf(plan, 'node of a', 'the internet tcp 443'))[0]?.operations ?? [],
  );
  const renamed = applied(first, [setOperation('prefixSets', first.prefixSets[0]?.id ?? '', { name: 'outside' })]);
  const [fix] = mendsOf(renamed, questionOf(renamed, 'node of b', 'the internet tcp 80'));
  expect(fix?.steps[0]).toContain('to the set outside.');
  expect(fix?.operations.map(({ kind }) => kind)).toEqual(['firewallRules']);
});

test('who calls from the internet may be anybody: a filter rule for one caller lets the internet not in', () => {
  const called = (peers: string[]) =>
    applied(ground(1), [
      ...add('subnets', {
        name: 'edge',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'other',
        prefix: '10.8.0.0/24',
        isPublic: true,
        internetEgress: 'direct',
      }),
      ...add('routeTables', { name: 'main', networkId: testId('networks', 1), isMain: true }),
      ...add('routes', route(1, '0.0.0.0/0', 'internet')),
      ...add('balancers', {
        name: 'front',
        subnetId: testId('subnets', 1),
        layer: '4',
        side: 'public',
        address: '203.0.113.9',
      }),
      ...add('filters', { name: 'door', balancerIds: [testId('balancers', 1)], defaultOut: 'allow' }),
      ...add('filterRules', { filterId: testId('filters', 1), direction: 'in', position: 10, ports: ['443'], peers }),
    ]);
  const verdict = (peers: string[]) => ask(called(peers), 'the internet', '203.0.113.9 tcp 443');
  expect(verdict([])).toBe('pass');
  expect(verdict(['192.0.2.129/32'])).toBe('refused');
});

test('an address that a translation leaves undecided is not the internet: no rule is offered for it', () => {
  // Spoke a asks a public load balancer of the plan through a firewall without a public address; its entry point refuses the caller.
  const plan = applied(hubWorld({ firewall: { publicAddresses: [] } }), [
    ...add(
      'subnets',
      {},
      {
        name: 'edge',
        networkId: testId('networks', 3),
        siteId: testId('sites', 1),
        purpose: 'other',
        prefix: '10.3.0.16/28',
        isPublic: true,
        internetEgress: 'direct',
        routeTableId: testId('routeTables', 2),
      },
    ).slice(1),
    ...add('balancers', {
      name: 'front',
      subnetId: testId('subnets', 2),
      layer: '4',
      side: 'public',
      address: '203.0.113.9',
    }),
    ...add('filters', { name: 'door', balancerIds: [testId('balancers', 1)], defaultOut: 'allow' }),
    ...add('filterRules', {
      filterId: testId('filters', 1),
      direction: 'in',
      position: 10,
      ports: ['443'],
      peers: ['198.51.100.0/24'],
    }),
  ]);
  expect(ask(plan, 'node of a', '203.0.113.9 tcp 443')).toBe('refused');
  const opened = mendsOf(plan, questionOf(plan, 'node of a', '203.0.113.9 tcp 443')).flatMap(
    ({ operations }) => operations,
  );
  expect(opened).toEqual([]);
});

test('of a need all prefixes are named, and each is judged by its last address', () => {
  const need = add('needs', { name: 'mirror', prefixes: ['198.51.100.0/26', '203.0.113.64/26'], ports: ['443'] });
  const plan = applied(walled({ ports: ['22'] }), need);
  const mends = mendsOf(plan, questionOf(plan, 'node of a', 'need mirror'));
  expect(mends[0]?.steps).toEqual([
    'Add rule 20 to the firewall wall: allow tcp 443 from 10.1.0.0/24 to 198.51.100.0/26, 203.0.113.64/26.',
  ]);
  const after = applied(plan, mends[0]?.operations ?? []);
  for (const last of ['198.51.100.63', '203.0.113.127'])
    expect(ask(after, 'node of a', `${last} tcp 443`)).toBe('pass');
  expect(ask(after, 'node of a', '198.51.100.64 tcp 443')).toBe('refused');
  // A deny in front that takes the upper half away cannot be mended by a rule behind it, and a rule before it is.
  const half = applied(walled({ action: 'deny', destinations: ['203.0.113.96/27'] }, { ports: ['22'] }), need);
  for (const { operations } of mendsOf(half, questionOf(half, 'node of a', 'need mirror')))
    expect(ask(applied(half, operations), 'node of a', '203.0.113.127 tcp 443')).toBe('pass');
});

describe('the smallest rule', () => {
  const stepsOf = (plan: Plan, from: string, to: string) => {
    const [fix] = mendsOf(plan, questionOf(plan, from, to));
    return [fix?.steps[0], fix?.opens];
  };

  test('an address that was typed is named alone; what stands for a range is named by it, and told', () => {
    const plan = walled({ ports: ['22'] });
    expect(stepsOf(plan, '10.1.0.9 in n1', 'node of b tcp 444')).toEqual([
      'Add rule 20 to the firewall wall: allow tcp 444 from 10.1.0.9/32 to 10.2.0.0/24.',
      'It opens nothing else that the matrix shows. It holds for every address of 10.2.0.0/24.',
    ]);
    expect(stepsOf(plan, 'node of a', '10.2.0.9 tcp 444')).toEqual([
      'Add rule 20 to the firewall wall: allow tcp 444 from 10.1.0.0/24 to 10.2.0.9/32.',
      'It opens nothing else that the matrix shows. It holds for every address of 10.1.0.0/24.',
    ]);
  });

  test('before a rule that denies a part of a range no more than that part is let through', () => {
    const plan = walled({ action: 'deny', sources: ['10.1.0.0/28'] }, { protocol: 'any' });
    // The first nodes of a are in the /28; the others pass by the rule behind it.
    expect(stepsOf(plan, 'node of a', 'node of b tcp 444')[0]).toBe(
      'Add rule 9 to the firewall wall: allow tcp 444 from 10.1.0.0/28 to 10.2.0.0/24.',
    );
    expect(stepsOf(plan, '10.1.0.9 in n1', 'node of b tcp 444')[0]).toContain('from 10.1.0.9/32 to');
  });
});

// Nobody outside an overlay has a route to its pods, so that no answer finds them (common practice; handbook: forwarding).
describe('overlay pods that keep their address where nobody knows it', () => {
  const keeping = (untranslated: string[]) =>
    applied(hubWorld(), [setOperation('clusters', testId('clusters', 1), { untranslated })]);
  const asked = (plan: Plan, to: string) => {
    const question = questionOf(plan, 'pod of a', to);
    return mendsOf(plan, question).map(({ steps, operations }) => {
      const after = applied(plan, operations);
      return [...steps, ask(after, 'pod of a', to), after.clusters[0]?.untranslated.join(' ') ?? ''];
    });
  };
  const step = (to: string, where: string) =>
    `Let the nodes of a translate to ${to}: take it out of “Untranslated”, where it is in ${where}.`;

  test('are translated for the range that was asked, and for no more', () => {
    const plan = keeping(['10.2.0.0/16', '10.99.0.0/16']);
    expect(ask(plan, 'pod of a', 'node of b tcp 22')).toBe('broken');
    // 10.2.0.0/16 without its first /24, by halves.
    const left = [
      '10.2.1.0/24',
      '10.2.2.0/23',
      '10.2.4.0/22',
      '10.2.8.0/21',
      '10.2.16.0/20',
      '10.2.32.0/19',
      '10.2.64.0/18',
      '10.2.128.0/17',
    ].join(' ');
    expect(asked(plan, 'node of b tcp 22')).toEqual([
      [step('10.2.0.0/24', '10.2.0.0/16'), 'pass', `${left} 10.99.0.0/16`],
    ]);
  });

  test('an address that was typed is taken out alone', () => {
    expect(asked(keeping(['10.2.0.0/30']), '10.2.0.3 tcp 22')).toEqual([
      [step('10.2.0.3/32', '10.2.0.0/30'), 'pass', '10.2.0.0/31 10.2.0.2/32'],
    ]);
  });

  test('for the internet all of it is, and private ranges stay', () => {
    const plan = keeping(['0.0.0.0/0']);
    expect(ask(plan, 'pod of a', 'the internet tcp 443')).not.toBe('pass');
    const [fix] = asked(plan, 'the internet tcp 443');
    expect(fix?.slice(0, 2)).toEqual([step('the internet', '0.0.0.0/0'), 'pass']);
    expect(fix?.[2]?.split(' ')).toEqual(expect.arrayContaining(['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16']));
  });

  test('are translated before a rule is opened for them, wherever their packets are refused', () => {
    const plan = applied(walled({ ports: ['443'] }), [
      setOperation('clusters', testId('clusters', 1), { untranslated: ['10.2.0.0/24'] }),
    ]);
    expect(ask(plan, 'pod of a', 'node of b tcp 22')).toBe('refused');
    // The firewall sees the node then: a rule for the pods alone would leave them without an answer.
    expect(asked(plan, 'node of b tcp 22')).toEqual([
      [
        step('10.2.0.0/24', '10.2.0.0/24'),
        'Add rule 20 to the firewall wall: allow tcp 22 from 10.1.0.0/24 to 10.2.0.0/24.',
        'pass',
        '',
      ],
    ]);
  });

  test('nothing of it is offered where the address is translated already', () => {
    expect(asked(keeping([]), 'node of b tcp 22')).toEqual([]);
  });
});
