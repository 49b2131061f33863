import { add, testId } from '../../test/worlds.js';
import { behindNat, joined } from '../../test/connections.js';
import { readPacketQuestion, setOperation, applyOperations } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { Forwarding, NO_FAULTS, trace } from './index.js';
import type { RoadEvent } from '../road/index.js';
import { formatEvent, formatTrace } from '../english/index.js';

const asked = (plan: Plan, from = 'pod of c1', to = 'pod of c2 tcp 8080', bytes = 200) => {
  const question = readPacketQuestion(plan, from, to, bytes);
  if (!question.ok) throw new Error(question.problem.message);
  const answer = trace(Forwarding.of(plan), question.value);
  return { ...answer, sentence: formatTrace(plan, answer) };
};
const edited = (plan: Plan, ...operations: Operation[]): Plan => {
  const done = applyOperations(plan, operations);
  if (!done.ok) throw new Error(done.problems.map(({ message }) => message).join());
  return done.plan;
};
const words = (steps: readonly RoadEvent[] | undefined) =>
  (steps ?? []).map(({ event, spot }) => `${event} ${spot.name}`);

test('a pod reaches a pod of another cluster by the gateways, and its own address is seen there', () => {
  const { verdict, flows, sentence } = asked(joined());
  expect(`${verdict}: ${sentence}`).toContain('pass: pod of c1 reaches pod of c2');
  const [flow] = flows;
  expect(words(flow?.forth)).toEqual([
    'sent pod of c1',
    // VXLAN of the pod network carries it to the gateway.
    'wrapped node of c1',
    'routed n1',
    'unwrapped gateway 1 of c1',
    'wrapped gateway 1 of c1',
    'routed n1',
    'crossed hub',
    'routed n2',
    'unwrapped gateway 1 of c2',
    'wrapped gateway 1 of c2',
    'routed n2',
    'unwrapped node of c2',
    'delivered pod of c2',
  ]);
  expect(flow?.forth.at(-1)?.packet.source).toMatchObject({ w0: (10 * 256 + 101) * 65_536 + 2 });
  // WireGuard over IPv4: 1500 - 60; VXLAN to the gateway would leave 1450.
  expect(flow?.room).toBe(1440);
  expect(words(flow?.back)[0]).toBe('sent pod of c2');
  expect(words(flow?.back).at(-1)).toBe('delivered pod of c1');
});

test('packets as large as fit pass, one byte more does not; a tunnel in a tunnel stacks', () => {
  const plan = joined({ connection: { tunnel: 'esp-gcm-nat' } });
  // RFC 4303, 4106, 3948: 1438 of 1500 (handbook 5).
  expect(asked(plan, undefined, undefined, 1438).verdict).toBe('pass');
  expect(asked(plan, undefined, undefined, 1439)).toMatchObject({ verdict: 'broken' });
  // Over a link that wraps in ESP of its own: 1446 outside, and of it 1382 inside ESP with NAT traversal: (1446 - 60) down to fours, less 2.
  const stacked = edited(plan, setOperation('links', testId('links', 1), { encapsulation: 'esp-gcm' }));
  expect(asked(stacked).flows[0]?.room).toBe(Math.floor((1446 - 20 - 8 - 8 - 8 - 16) / 4) * 4 - 2);
});

const TWICE = '10.244.0.0/16';

test('one pod range in both: the own pods win, and the other cluster is out of reach', () => {
  const { verdict, sentence } = asked(joined({ pods: [TWICE, TWICE] }));
  expect(verdict).toBe('broken');
  expect(sentence).toContain('lies in the pod range 10.244.0.0/16 of c1 itself');
});

test('translated ranges: the caller is seen in its translated range, the called is asked in its own', () => {
  const plan = joined({
    pods: [TWICE, TWICE],
    members: [{ translated: [`${TWICE} as 172.30.0.0/16`] }, { translated: [`${TWICE} as 172.31.0.0/16`] }],
  });
  const { verdict, flows, sentence } = asked(plan);
  expect(`${verdict} ${sentence}`).toContain('pass');
  expect(sentence).toContain('172.31.0.2');
  const said = flows[0]?.forth.map((event) => formatEvent(plan, event)).join(' ');
  expect(said).toContain('gateway 1 of c1 shows 10.244.0.2 as 172.30.0.2');
  expect(said).toContain('gateway 1 of c2 knows 172.31.0.2 as 10.244.0.2');
  expect(said).toContain('It arrives at pod of c2, 10.244.0.2');
  // With one side translated alone the answers of the other have no way: they stay in its own pod range.
  const half = joined({ pods: [TWICE, TWICE], members: [{}, { translated: [`${TWICE} as 172.31.0.0/16`] }] });
  expect(asked(half)).toMatchObject({ verdict: 'broken' });
});

const closed: Operation[] = add('filters', { name: 'nodes', clusterIds: [testId('clusters', 2)], defaultOut: 'allow' });
const opened = (ports: string[], protocol: 'udp' | 'esp' = 'udp'): Operation[] =>
  add('filterRules', {
    filterId: testId('filters', 1),
    direction: 'in',
    position: 10,
    protocol,
    ports,
    peers: ['10.0.0.0/8'],
  });

test('a filter sees the outer packets: closed, the tunnel does not come up; open for its port it does', () => {
  const plan = joined({ more: closed, members: [{ dials: 'dials' }, { dials: 'is dialled' }] });
  const { verdict, sentence } = asked(edited(plan, ...opened(['4789'])));
  expect(verdict).toBe('refused');
  expect(sentence).toContain('The tunnel of coast does not come up');
  expect(sentence).toContain('udp 51820');
  expect(asked(edited(plan, ...opened(['51820', '4789']))).verdict).toBe('pass');
  expect(asked(edited(plan, ...opened(['51821', '4789']))).verdict).toBe('refused');
  expect(
    asked(
      edited(
        plan,
        ...opened(['51821', '4789']),
        setOperation('connections', testId('connections', 1), { port: 51_821 }),
      ),
    ).verdict,
  ).toBe('pass');
  // ESP takes IKE beside it (RFC 7296 2): without UDP 500 no keys are agreed on.
  const esp = edited(plan, setOperation('connections', testId('connections', 1), { tunnel: 'esp-gcm-nat' }));
  expect(asked(edited(esp, ...opened(['4500', '4789']))).verdict).toBe('refused');
  expect(asked(edited(esp, ...opened(['500', '4500', '4789']))).verdict).toBe('pass');
  // The way from the gateway to the pod’s node is VXLAN of the cluster’s own.
  expect(asked(edited(plan, ...opened(['51820']))).verdict).toBe('refused');
});

test('who may dial: two that wait never meet; one that dials brings it up for both directions', () => {
  expect(asked(joined({ members: [{ dials: 'is dialled' }, { dials: 'is dialled' }] })).sentence).toContain(
    'Both wait to be dialled',
  );
  expect(asked(joined({ members: [{ dials: 'dials' }, { dials: 'dials' }] })).verdict).toBe('broken');
  const plan = joined({ members: [{ dials: 'is dialled' }, { dials: 'dials' }], more: closed });
  // c2 dials outwards, which its filter remembers: packets of c1 come in as answers; VXLAN inside is opened.
  expect(asked(edited(plan, ...opened(['4789']))).verdict).toBe('pass');
  expect(
    asked(joined({ members: [{ dials: 'dials' }, { dials: 'is dialled' }], more: [...closed, ...opened(['4789'])] }))
      .verdict,
  ).toBe('refused');
});

test('behind NAT, over the internet: who has a public address is dialled, and answers find back; ESP without NAT traversal does not pass', () => {
  const plan = behindNat();
  const there = asked(plan);
  expect(`${there.verdict} ${there.sentence}`).toContain('pass');
  expect(there.flows[0]?.forth.map((event) => formatEvent(plan, event)).join(' ')).toContain(
    'nat translates the source to 203.0.113.7',
  );
  expect(asked(plan, 'pod of c2', 'pod of c1 tcp 8080').verdict).toBe('pass');
  // Nobody dials the side behind NAT.
  const other = edited(plan, setOperation('members', testId('members', 1), { dials: 'is dialled' }));
  expect(asked(other).verdict).not.toBe('pass');
  const esp = edited(plan, setOperation('connections', testId('connections', 1), { tunnel: 'esp-gcm' }));
  expect(asked(esp).sentence).toContain('NAT traversal');
});

test('a hub passes on between two others; without it nobody does', () => {
  const plan = joined({ count: 3, connection: { shape: 'hub' }, members: [{}, {}, { isHub: true }] });
  const { verdict, flows } = asked(plan);
  expect(verdict).toBe('pass');
  expect(words(flows[0]?.forth)).toContain('wrapped gateway 1 of c3');
  expect(asked(joined({ count: 3, connection: { shape: 'hub' } })).sentence).toContain('no member of it is the hub');
});

test('a connection that is planned carries nothing, and two that show one address are told apart by nobody', () => {
  expect(asked(joined({ connection: { isPlanned: true } })).verdict).not.toBe('pass');
  const plan = joined({ count: 3, pods: ['10.101.0.0/16', TWICE, TWICE] });
  expect(asked(plan)).toMatchObject({ verdict: 'unknown' });
});

test('in a drill the next gateway carries; without one, or cut off, nothing does', () => {
  const plan = joined();
  const question = readPacketQuestion(plan, 'pod of c1', 'pod of c2 tcp 8080', 200);
  if (!question.ok) throw new Error(question.problem.message);
  const whole = Forwarding.of(plan);
  const drilled = (gateways: string[], pairs: string[] = [], members: string[] = []) =>
    trace(
      whole.with({ ...NO_FAULTS, gateways: new Set(gateways), pairs: new Set(pairs), members: new Set(members) }),
      question.value,
    );
  const said = (...faults: Parameters<typeof drilled>) => formatTrace(plan, drilled(...faults));
  const [one, two] = [testId('members', 1), testId('members', 2)];
  expect(words(drilled([`${one} 0`]).flows[0]?.forth)).toContain('wrapped gateway 2 of c1');
  expect(said([`${one} 0`, `${one} 1`])).toContain('c1 has no gateway left');
  expect(said([], [`${one} ${two}`])).toContain('is cut');
  expect(said([], [], [two])).toContain('is cut off');
  expect(trace(whole, question.value).verdict).toBe('pass');
});

test('after an edit tunnels are as if they were made anew', () => {
  const plan = joined({ more: closed });
  const question = readPacketQuestion(plan, 'pod of c1', 'pod of c2 tcp 8080', 200);
  if (!question.ok) throw new Error(question.problem.message);
  const first = Forwarding.of(plan);
  expect(trace(first, question.value).verdict).toBe('refused');
  const open = edited(plan, ...opened(['51820', '4789']));
  const second = Forwarding.of(open, first);
  expect(trace(second, question.value).verdict).toBe('pass');
  const other = edited(
    open,
    setOperation('members', testId('members', 2), { dials: 'is dialled' }),
    setOperation('members', testId('members', 1), { dials: 'is dialled' }),
  );
  expect(trace(Forwarding.of(other, second), question.value).verdict).toBe('broken');
  expect(trace(first, question.value).verdict).toBe('refused');
});
