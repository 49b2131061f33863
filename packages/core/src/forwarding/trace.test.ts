import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { fence, hubWorld, ranges, route, withMtu } from '../../test/ways.js';
import { applyOperations, readPacketQuestion, removalOf, setOperation, writeTarget } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { Forwarding, trace } from './index.js';
import { mendsOf } from '../reach/index.js';
import type { Trace } from './index.js';
import { formatMend, formatTrace } from '../english/index.js';

const ask = (plan: Plan, from: string, to: string, bytes = 576): Trace =>
  trace(Forwarding.of(plan), expectGood(readPacketQuestion(plan, from, to, bytes)));
const codeOf = ({ flows: [flow] }: Trace) => flow?.failed?.failure.code;
const said = ({ flows: [flow] }: Trace) =>
  [...(flow?.forth ?? []), ...(flow?.back ?? [])].map(({ event, spot }) => `${event} ${spot.name}`);

describe('a hub with a firewall', () => {
  const plan = hubWorld();

  test('an overlay pod leaves with its node’s address, then with the firewall’s, and the answer finds it (RFC 3022 2)', () => {
    const answer = ask(plan, 'pod of a', '198.51.100.7 tcp 443');
    expect(answer.verdict).toBe('pass');
    const [flow] = answer.flows;
    const sources = flow?.forth.filter(({ event }) => event === 'translated');
    expect(sources).toHaveLength(2);
    expect(flow?.forth.at(-1)?.packet.source).toMatchObject({ family: 4, w0: 0xcb007101 });
    expect(flow?.back.at(-1)).toMatchObject({ event: 'delivered', spot: { kind: 'pod' } });
  });

  test('spokes reach one another through the firewall only, there and back', () => {
    const answer = ask(plan, 'node of a', 'node of b tcp 22');
    expect(answer.verdict).toBe('pass');
    expect(said(answer).filter((step) => step === 'allowed wall')).toHaveLength(2);
  });

  test('the first matching rule of the firewall decides, and its default when none does', () => {
    const rules = [{ action: 'deny' as const, ports: ['22'] }, { ports: ['1-1000'] }];
    expect(codeOf(ask(hubWorld({ rules }), 'node of a', 'node of b tcp 22'))).toBe('firewall');
    expect(ask(hubWorld({ rules }), 'node of a', 'node of b tcp 23').verdict).toBe('pass');
    expect(ask(hubWorld({ rules }), 'node of a', 'node of b tcp 2000').verdict).toBe('refused');
  });

  test('without translation no answer comes back from the internet', () => {
    const answer = ask(hubWorld({ firewall: { translates: false } }), 'node of a', '198.51.100.7 tcp 443');
    expect([answer.verdict, codeOf(answer)]).toEqual(['broken', 'private-source']);
  });

  test('answers that go around a stateful firewall break TCP and not UDP', () => {
    // Spoke b knows a direct way to spoke a, so its answers do not pass the hub.
    const direct = applied(plan, [
      ...add(
        'links',
        {},
        { name: 'direct', kind: 'peering', networkIds: [testId('networks', 1), testId('networks', 2)] },
      ).slice(1),
      ...add(
        'attachments',
        {},
        {},
        {},
        { linkId: testId('links', 2), networkId: testId('networks', 1), accepts: 'none' },
      ).slice(3),
    ]);
    expect(codeOf(ask(direct, 'node of a', 'node of b tcp 22'))).toBe('avoided');
    expect(ask(direct, 'node of a', 'node of b udp 53').verdict).toBe('pass');
    // The other way round the answer meets a firewall that has not seen the question.
    expect(codeOf(ask(direct, 'node of b', 'node of a tcp 22'))).toBe('no-state');
    const stateless = hubWorld({ firewall: { isStateful: false } });
    expect(ask(stateless, 'node of a', 'node of b tcp 22').verdict).toBe('pass');
  });

  test('a stateless firewall needs a rule for the answers too', () => {
    const rules = [{ ports: ['22'] }];
    const answer = ask(hubWorld({ firewall: { isStateful: false }, rules }), 'node of a', 'node of b tcp 22');
    expect([answer.verdict, codeOf(answer), answer.flows[0]?.failed?.isBack]).toEqual(['refused', 'firewall', true]);
    const both = [...rules, { ports: ['1024-65535'] }];
    expect(
      ask(hubWorld({ firewall: { isStateful: false }, rules: both }), 'node of a', 'node of b tcp 22').verdict,
    ).toBe('pass');
  });

  test('from the internet nothing private is reached, and nothing behind translation', () => {
    expect(ask(plan, 'the internet', 'node of a tcp 22').verdict).toBe('refused');
    expect(codeOf(ask(plan, 'the internet', '203.0.113.1 tcp 443'))).toBe('unsolicited');
  });

  test('a packet that is too large ends where it does not fit; a lower MTU makes hosts send smaller ones (RFC 1191 3)', () => {
    const narrow = withMtu(plan, 'links', 1, 1400);
    expect(codeOf(ask(narrow, 'node of a', 'node of b tcp 22', 1500))).toBe('too-big');
    expect(ask(narrow, 'node of a', 'node of b tcp 22', 1400).verdict).toBe('pass');
    expect(
      ask(withMtu(withMtu(narrow, 'networks', 1, 1400), 'networks', 2, 1400), 'node of a', 'node of b tcp 22', 1500)
        .verdict,
    ).toBe('pass');
  });

  test('an unknown place says what is missing, and keeps no verdict', () => {
    const bare = applied(plan, removalOf(plan, 'allocations', testId('allocations', 3)));
    const answer = ask(bare, 'node of a', 'node of b tcp 22');
    expect([answer.verdict, answer.flows.length]).toEqual(['unknown', 0]);
    expect(formatTrace(bare, answer)).toContain('b has no IPv4 node range');
  });
});

describe('tables', () => {
  const base = (...more: Parameters<typeof applied>[1][]) =>
    applied(
      applied(ground(3), [
        ...add('clusters', cluster('c', { networkId: testId('networks', 1) })),
        ...ranges([1, 'node', '10.1.0.0/24'], [1, 'pod', '100.64.0.0/16']),
        ...add(
          'inUse',
          { prefix: '10.5.0.0/16', owner: 'x', networkId: testId('networks', 2) },
          { prefix: '10.5.0.0/16', owner: 'y', networkId: testId('networks', 3) },
        ),
        ...add(
          'links',
          { name: 'l2', kind: 'circuit', networkIds: [testId('networks', 1), testId('networks', 2)] },
          { name: 'l3', kind: 'peering', networkIds: [testId('networks', 1), testId('networks', 3)] },
        ),
        ...add('routeTables', { name: 'main', networkId: testId('networks', 1), isMain: true }),
      ]),
      more.flat(),
    );

  test('of two learned routes the provider’s preference decides; equal ones are ambiguous and never called good', () => {
    expect(said(ask(base(), 'node of c', '10.5.0.1 tcp 80'))).toContain('crossed l3');
    const circuitFirst = base([
      setOperation('profiles', testId('profiles', 1), { routePreference: ['circuit', 'peering'] }),
    ]);
    expect(said(ask(circuitFirst, 'node of c', '10.5.0.1 tcp 80'))).toContain('crossed l2');
    const twoPeerings = base([setOperation('links', testId('links', 1), { kind: 'peering' })]);
    expect(ask(twoPeerings, 'node of c', '10.5.0.1 tcp 80').verdict).toBe('unknown');
  });

  test('static before learned of one length, a longer learned one before a static; local before both', () => {
    const l2 = { linkId: testId('links', 1) };
    expect(
      said(ask(base(add('routes', route(1, '10.5.0.0/16', 'link', l2))), 'node of c', '10.5.0.1 tcp 80')),
    ).toContain('crossed l2');
    expect(
      said(ask(base(add('routes', route(1, '10.0.0.0/8', 'link', l2))), 'node of c', '10.5.0.1 tcp 80')),
    ).toContain('crossed l3');
    expect(ask(base(add('routes', route(1, '10.1.0.0/24', 'drop'))), 'node of c', 'node of c tcp 80').verdict).toBe(
      'pass',
    );
    expect(codeOf(ask(base(add('routes', route(1, '10.1.0.0/25', 'drop'))), 'node of c', '10.1.0.9 tcp 80'))).toBe(
      'route-drops',
    );
  });

  test('planned links carry nothing, and what a side does not accept it does not know', () => {
    const planned = base([setOperation('links', testId('links', 2), { isPlanned: true })]);
    expect(said(ask(planned, 'node of c', '10.5.0.1 tcp 80'))).toContain('crossed l2');
    const deaf = base([
      ...add('attachments', { linkId: testId('links', 2), networkId: testId('networks', 1), accepts: 'none' }),
    ]);
    expect(said(ask(deaf, 'node of c', '10.5.0.1 tcp 80'))).toContain('crossed l2');
  });

  test('what a network advertises is somewhere in it, though nobody has entered it', () => {
    const plan = base(
      add('attachments', { linkId: testId('links', 1), networkId: testId('networks', 2), advertises: ['10.7.0.0/16'] }),
    );
    expect(ask(plan, 'node of c', '10.7.1.1 tcp 80')).toMatchObject({ verdict: 'pass' });
    expect(codeOf(ask(plan, 'node of c', '10.8.1.1 tcp 80'))).toBe('no-route');
  });

  test('a NAT device translates, and its own table leads on', () => {
    const plan = base([
      ...add('subnets', {
        name: 'edge',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'other',
        prefix: '10.9.0.0/28',
        isPublic: true,
        internetEgress: 'direct',
        routeTableId: testId('routeTables', 2),
      }),
      ...add('routeTables', {}, { name: 'out', networkId: testId('networks', 1) }).slice(1),
      ...add('natDevices', { name: 'nat', subnetId: testId('subnets', 1), publicAddresses: ['203.0.113.9'] }),
      ...add(
        'routes',
        route(1, '0.0.0.0/0', 'nat', { natDeviceId: testId('natDevices', 1) }),
        route(2, '0.0.0.0/0', 'internet'),
      ),
    ]);
    expect(ask(plan, 'pod of c', 'the internet tcp 443').verdict).toBe('pass');
    const gone = applied(plan, removalOf(plan, 'natDevices', testId('natDevices', 1)));
    expect(codeOf(ask(gone, 'pod of c', 'the internet tcp 443'))).toBe('hop-gone');
  });
});

describe('filters', () => {
  const world = (fields: object, ...filter: Parameters<typeof fence>[]) =>
    applied(ground(1), [
      ...add('clusters', cluster('c', { networkId: testId('networks', 1), ...fields })),
      ...ranges([1, 'node', '10.1.0.0/24'], [1, 'pod', '10.64.0.0/16']),
      ...add('inUse', { prefix: '10.2.0.0/24', owner: 'desk', networkId: testId('networks', 1) }),
      ...filter.flatMap((each) => fence(...each)),
    ]);

  test('a filter on the nodes sees the outer packet of an overlay: VXLAN 4789 (RFC 7348), Geneve 6081 (RFC 8926)', () => {
    const open = (port: string): Parameters<typeof fence> => [
      1,
      { defaultOut: 'allow' },
      { protocol: 'udp', ports: [port] },
    ];
    const pods = (plan: Plan) => ask(plan, 'pod of c', 'pod of c tcp 80').verdict;
    expect(pods(world({}, open('4789')))).toBe('pass');
    expect(pods(world({ encapsulation: 'geneve' }, open('4789')))).toBe('refused');
    expect(pods(world({ encapsulation: 'geneve' }, open('6081')))).toBe('pass');
    // Routed pods are seen as they are.
    expect(pods(world({ podMode: 'routed' }, open('4789')))).toBe('refused');
    expect(pods(world({ podMode: 'routed' }, [1, { defaultOut: 'allow' }, { ports: ['80'] }]))).toBe('pass');
  });

  test('between pods of one node nothing meets a filter, in every pod network (common practice)', () => {
    // Nothing is let in or out of the nodes, so that pods of two nodes cannot meet.
    for (const podMode of ['overlay', 'routed', 'native'] as const) {
      const shut = world({ podMode }, [1, { defaultOut: 'deny' }]);
      expect(ask(shut, 'pod of c', 'pod of c tcp 80').verdict).toBe('refused');
      const near = ask(shut, 'pod of c', 'pod of c, same node tcp 80');
      expect([podMode, near.verdict]).toEqual([podMode, 'pass']);
      const [flow] = near.flows;
      expect(flow?.aim.host?.node?.address).toEqual(flow?.from.node?.address);
      expect(flow?.aim.address).not.toEqual(flow?.from.address);
      expect(ask(shut, 'node of c', 'pod of c, same node tcp 80').verdict).toBe('pass');
    }
  });

  test('pods of one node send what their interface takes: 1,450 bytes in a VXLAN overlay of 1,500 (RFC 7348 4.3)', () => {
    expect(ask(world({}), 'pod of c', 'pod of c, same node tcp 80', 1450).verdict).toBe('pass');
    expect(codeOf(ask(world({}), 'pod of c', 'pod of c, same node tcp 80', 1451))).toBe('too-big');
    expect(ask(world({ podMode: 'routed' }), 'pod of c', 'pod of c, same node tcp 80', 1500).verdict).toBe('pass');
  });

  test('the same node is one of the asked cluster, and its pods are of the pool and zone of that node', () => {
    const lackOf = (from: string, to: string) => ask(world({}), from, to).lack;
    expect(lackOf('range desk', 'pod of c, same node tcp 80')).toMatchObject({
      code: 'host.not-its-node',
      isOther: false,
    });
    const pooled = applied(world({}), [
      ...add('nodePools', { clusterId: testId('clusters', 1), name: 'big', nodesNow: 1, nodesHorizon: 1, nodesMax: 1 }),
    ]);
    expect(ask(pooled, 'pod of c, pool big', 'pod of c, pool big, same node tcp 80').verdict).toBe('pass');
    expect(ask(pooled, 'pod of c', 'pod of c, pool big, same node tcp 80').lack).toMatchObject({ isOther: true });
    const read = (from: string, to: string) => readPacketQuestion(pooled, from, to, 576);
    expect(read('pod of c, same node', 'pod of c tcp 80')).toMatchObject({
      ok: false,
      problem: { code: 'place.same-node' },
    });
    expect(read('pod of c', 'node of c, same node tcp 80')).toMatchObject({ ok: false });
    const both = expectGood(read('pod of c', 'pod of c, pool big, SAME NODE tcp 80'));
    expect(writeTarget(pooled, both.to)).toBe('pod of c, pool big, same node tcp 80');
  });

  test('an overlay leaves 1,450 of 1,500 bytes inside VXLAN (RFC 7348 4.3)', () => {
    expect(ask(world({}), 'pod of c', 'pod of c tcp 80', 1450).verdict).toBe('pass');
    expect(codeOf(ask(world({}), 'pod of c', 'pod of c tcp 80', 1451))).toBe('too-big');
  });

  test('allow-only filters are a union: any rule of any of them is enough; a list in order stops at the first', () => {
    const two = applied(world({}, [1, { defaultOut: 'allow' }, { ports: ['80'] }]), [
      ...add('filters', {}, { name: 'second', clusterIds: [testId('clusters', 1)], defaultOut: 'allow' }).slice(1),
      ...add('filterRules', {}, { filterId: testId('filters', 2), direction: 'in', position: 10, ports: ['22'] }).slice(
        1,
      ),
    ]);
    for (const port of [80, 22]) expect(ask(two, 'range desk', `node of c tcp ${port}`).verdict).toBe('pass');
    expect(ask(two, 'range desk', 'node of c tcp 23').verdict).toBe('refused');
    const ordered = (...rules: Parameters<typeof fence>[2][]) =>
      world({}, [1, { mode: 'ordered', defaultIn: 'allow', defaultOut: 'allow' }, ...rules]);
    expect(
      ask(ordered({ action: 'deny', ports: ['22'] }, { ports: ['22'] }), 'range desk', 'node of c tcp 22').verdict,
    ).toBe('refused');
    expect(
      ask(ordered({ ports: ['22'] }, { action: 'deny', ports: ['22'] }), 'range desk', 'node of c tcp 22').verdict,
    ).toBe('pass');
  });

  test('a stateless filter needs a rule for each direction, a stateful one knows the answers', () => {
    const inOnly: Parameters<typeof fence>[2] = { ports: ['22'] };
    expect(ask(world({}, [1, {}, inOnly]), 'range desk', 'node of c tcp 22').verdict).toBe('pass');
    const stateless = world({}, [1, { isStateful: false }, inOnly]);
    expect(ask(stateless, 'range desk', 'node of c tcp 22')).toMatchObject({
      verdict: 'refused',
      flows: [{ failed: { isBack: true } }],
    });
    const back: Parameters<typeof fence>[2] = { direction: 'out', ports: ['32768-60999'] };
    expect(ask(world({}, [1, { isStateful: false }, inOnly, back]), 'range desk', 'node of c tcp 22').verdict).toBe(
      'pass',
    );
  });

  test('a service range of the cluster itself hides what lies outside under the same addresses', () => {
    const plan = applied(world({}), [
      ...add(
        'allocations',
        {},
        {},
        { clusterId: testId('clusters', 1), purpose: 'service', prefix: '10.2.0.0/16' },
      ).slice(2),
    ]);
    expect(codeOf(ask(plan, 'pod of c', 'range desk tcp 80'))).toBe('shadowed');
  });

  test('overlay pods whose address is kept are answered by nobody outside', () => {
    const plan = world({ untranslated: ['10.2.0.0/24'] });
    expect(ask(plan, 'pod of c', 'range desk tcp 80').verdict).toBe('broken');
    expect(
      ask(world({ podMode: 'routed', untranslated: ['10.2.0.0/24'] }), 'pod of c', 'range desk tcp 80').verdict,
    ).toBe('pass');
  });
});

test('each change that is offered lets the packet pass, and says which rule, route or prefix it is', () => {
  const refusing = hubWorld({ rules: [{ ports: ['443'] }] });
  const question = expectGood(readPacketQuestion(refusing, 'node of a', 'node of b tcp 22', 576));
  const mends = mendsOf(refusing, question);
  expect(mends.map((fix) => formatMend(fix).steps)).toEqual([
    ['Add rule 20 to the firewall wall: allow tcp 22 from 10.1.0.0/24 to 10.2.0.0/24.'],
  ]);
  for (const { operations } of mends) {
    const result = applyOperations(refusing, operations);
    expect(result.ok && trace(Forwarding.of(result.plan), question).verdict).toBe('pass');
  }
  // What passes needs no change, and what only the user can decide is not guessed.
  expect(mendsOf(hubWorld(), question)).toEqual([]);
});

test('an opening between the nodes of a cluster is for all of its node ranges, not only the two that were asked', () => {
  const plan = applied(ground(1), [
    ...add('clusters', cluster('c', { networkId: testId('networks', 1), encapsulation: 'geneve' })),
    setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] }),
    ...add(
      'allocations',
      { clusterId: testId('clusters', 1), purpose: 'node', zone: 'a', prefix: '10.1.0.0/24' },
      { clusterId: testId('clusters', 1), purpose: 'node', zone: 'b', prefix: '10.3.0.0/24' },
      { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '10.64.0.0/16' },
    ),
    ...fence(1, { defaultOut: 'allow' }, { protocol: 'udp', ports: ['4789'] }),
  ]);
  const question = expectGood(readPacketQuestion(plan, 'pod of c', 'pod of c tcp 80', 576));
  const [fix] = mendsOf(plan, question);
  // Geneve: UDP 6081 (RFC 8926 3.3).
  expect(fix?.operations).toMatchObject([
    { kind: 'filterRules', entity: { protocol: 'udp', ports: ['6081'], peers: ['10.1.0.0/24', '10.3.0.0/24'] } },
  ]);
});

describe('an overlay pod asked from outside', () => {
  const plan = hubWorld({ a: { podMode: 'overlay' } });

  test('is answered as such, and not by what others do with its address', () => {
    for (const from of ['node of b', 'the internet']) {
      const answer = ask(plan, from, 'pod of a tcp 8080');
      expect([answer.verdict, codeOf(answer)]).toEqual(['broken', 'overlay-pod']);
      expect(formatTrace(plan, answer)).toContain('reached through a service or an entry point of a');
    }
  });

  test('has no mend that would open a way to an address that is not there', () => {
    const question = expectGood(readPacketQuestion(plan, 'node of b', 'pod of a tcp 8080', 576));
    expect(mendsOf(plan, question)).toEqual([]);
  });

  test('its own cluster reaches it', () => {
    expect(ask(plan, 'node of a', 'pod of a tcp 8080').verdict).toBe('pass');
  });
});

describe('a node that calls an overlay pod of its own cluster on another node', () => {
  test('is answered inside the overlay: a filter that lets nothing but the tunnel in lets the answer in too', () => {
    // VXLAN, UDP 4789 (RFC 7348 8.1).
    const plan = hubWorld({ a: { podMode: 'overlay', encapsulation: 'vxlan' } });
    const only = (ports: string[]) => applied(plan, fence(1, { defaultOut: 'allow' }, { protocol: 'udp', ports }));
    const answer = ask(only(['4789']), 'node of a', 'pod of a tcp 8080');
    expect(answer.verdict).toBe('pass');
    const back = answer.flows[0]?.back ?? [];
    expect(back.some(({ wraps }) => wraps.length > 0)).toBe(true);
    // It calls from its address in the overlay, so that the answer has a way in there.
    expect(answer.flows[0]?.forth[0]?.packet.source).toMatchObject({ family: 4, w0: 0x64400001 });
    expect(ask(only(['4790']), 'node of a', 'pod of a tcp 8080').verdict).toBe('refused');
  });
});

test('the first and last address of an IPv4 subnet are no machine’s (RFC 1122 3.2.1.3), of one of two addresses both are (RFC 3021)', () => {
  const own = testId('clusters', 1);
  const world = (prefix: string) =>
    applyOperations(ground(1), [
      ...add('clusters', cluster('c')),
      ...add('allocations', { clusterId: own, purpose: 'node', prefix: '10.0.0.0/24' }),
      ...add('subnets', {
        name: 's',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'entry',
        prefix,
      }),
    ]);
  const verdicts = (prefix: string, addresses: readonly string[]) => {
    const made = world(prefix);
    if (!made.ok) throw new Error(JSON.stringify(made.problems));
    return addresses.map((address) => ask(made.plan, 'node of c', `${address} tcp 443`).verdict);
  };
  expect(verdicts('10.1.0.0/24', ['10.1.0.0', '10.1.0.1', '10.1.0.254', '10.1.0.255'])).toEqual([
    'broken',
    'pass',
    'pass',
    'broken',
  ]);
  expect(verdicts('10.1.0.0/31', ['10.1.0.0', '10.1.0.1'])).toEqual(['pass', 'pass']);
  expect(verdicts('10.1.0.0/24', ['10.0.0.0', '10.0.0.255'])).toEqual(['broken', 'broken']);
});
