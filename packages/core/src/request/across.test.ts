import { joined, served } from '../../test/connections.js';
import { add, testId } from '../../test/worlds.js';
import { applyOperations, readQuestion, setOperation } from '../plan/index.js';
import type { Operation, Plan, ServiceExport } from '../plan/index.js';
import { groupsOf } from '../load/fromPlan.js';
import { ask } from './index.js';
import { IngressState } from '../ingress/index.js';
import { formatEvent } from '../english/index.js';

const asked = (plan: Plan, to: string, from = 'pod of c1') => {
  const question = readQuestion(plan, from, to, 200);
  if (!question.ok) throw new Error(question.problem.message);
  return ask(IngressState.of(plan), question.value);
};
const edited = (plan: Plan, ...operations: Operation[]): Plan => {
  const done = applyOperations(plan, operations);
  if (!done.ok) throw new Error(done.problems.map(({ message }) => message).join());
  return done.plan;
};
const exported = (n: number, fields: Partial<ServiceExport> = {}): Partial<ServiceExport> => ({
  memberId: testId('members', n),
  namespace: 'shop',
  name: 'basket',
  ...fields,
});
const BASKET = 'http://basket.shop.svc.clusterset.local/';
const NAME = 'name basket.shop.svc.clusterset.local. type A';
const TWICE = '10.244.0.0/16';

test('by tunnels: the name is that of the service there as it is shown, and its gateway picks the pod', () => {
  const plan = joined({
    pods: [TWICE, TWICE],
    services: ['10.96.0.0/16', '10.96.0.0/16'],
    members: [
      { translated: [`${TWICE} as 172.30.0.0/16`, '10.96.0.0/16 as 172.28.0.0/16'] },
      { translated: [`${TWICE} as 172.31.0.0/16`, '10.96.0.0/16 as 172.29.0.0/16'] },
    ],
    exports: [exported(2)],
    more: served(2, 'basket', { address: '10.96.0.9' }),
  });
  expect(asked(plan, NAME).resolution?.records).toMatchObject([{ value: '172.29.0.9', ttl: 5 }]);
  const answer = asked(plan, BASKET);
  expect(`${answer.verdict} ${answer.sentence}`).toContain('pass Pod of c1 is served by shop/basket of c2');
  const said = answer.flows[0]?.forth.map((event) => formatEvent(plan, event)).join(' ') ?? '';
  expect(said).toContain('gateway 1 of c2 knows 172.29.0.9 as 10.96.0.9 of c2');
  expect(said).toContain('gateway 1 of c2 picks a pod of the service: 10.244.0.2, port 8080');
  const back = answer.flows[0]?.back.map((event) => formatEvent(plan, event)).join(' ') ?? '';
  expect(back).toContain('gives the answer the service’s address 10.96.0.9 back');
  // The pod sees the caller’s translated address; the search list finds nothing before.
  expect(answer.seenAs).toBe('172.30.0.2');
  expect(answer.resolution?.tried).toHaveLength(4);
});

test('what nobody exports, what is planned, and who may not use it', () => {
  const plan = joined({
    count: 3,
    exports: [exported(2, { usedByIds: [testId('clusters', 3)] })],
    more: served(2, 'basket'),
  });
  expect(asked(plan, NAME)).toMatchObject({ verdict: 'broken' });
  expect(asked(plan, NAME).resolution).toMatchObject({ outcome: 'no name' });
  expect(asked(plan, BASKET, 'pod of c3').verdict).toBe('pass');
  expect(asked(joined({ exports: [exported(2)] }), BASKET).verdict).toBe('broken');
  // While the connection is planned its names are those of nobody.
  const planned = joined({ connection: { isPlanned: true }, exports: [exported(2)], more: served(2, 'basket') });
  expect(asked(planned, NAME).verdict).toBe('unknown');
  expect(asked(planned, NAME).sentence).toContain('coast is only planned');
});

test('weights part the calls; the next rank takes over when none of the first is reached', () => {
  const more = [...served(1, 'basket'), ...served(2, 'basket'), ...served(3, 'basket')];
  const plan = joined({
    count: 4,
    exports: [exported(1, { weight: 3 }), exported(2, { weight: 1 }), exported(3, { rank: 2 })],
    more,
  });
  const shares = (answer: ReturnType<typeof asked>) =>
    answer.members.map(({ cluster, share, rank }) => `${cluster} ${share} ${rank}`);
  const first = asked(plan, BASKET, 'pod of c4');
  expect(shares(first)).toEqual(['c1 0.75 1', 'c2 0.25 1']);
  expect(first.standby.map(({ cluster, rank }) => `${cluster} ${rank}`)).toEqual(['c3 2']);
  expect(groupsOf(first.members).map(({ name }) => name)).toEqual(['c1: shop/basket', 'c2: shop/basket']);
  const waits = [1, 2, 4].map((n) => setOperation('members', testId('members', n), { dials: 'is dialled' }));
  const second = asked(edited(plan, ...waits), BASKET, 'pod of c4');
  expect(shares(second)).toEqual(['c3 1 2']);
  expect(second.stages.map(({ description }) => description).join(' ')).toContain(
    'in rank 2, since none before is reached',
  );
  // Of itself a cluster needs no connection.
  expect(shares(asked(edited(plan, ...waits), BASKET, 'pod of c1'))).toEqual(['c1 1 1']);
});

test('flat: the pods themselves are called, where their network knows them', () => {
  const flat = joined({
    connection: { method: 'flat' },
    clusters: [{ podMode: 'routed' }, { podMode: 'routed' }],
    exports: [exported(2)],
    more: served(2, 'basket'),
  });
  const { verdict, seenAs, flows } = asked(flat, BASKET);
  expect(verdict).toBe('pass');
  expect(seenAs).toBe('10.101.0.2');
  expect(flows[0]?.forth.some(({ event }) => event === 'wrapped')).toBe(false);
  const overlay = joined({ connection: { method: 'flat' }, exports: [exported(2)], more: served(2, 'basket') });
  expect(asked(overlay, BASKET).verdict).not.toBe('pass');
});

test('by relays: ranges may overlap, the pods see the relay, and one side alone dials', () => {
  const plan = joined({
    pods: [TWICE, TWICE],
    connection: { method: 'relays' },
    members: [{ dials: 'is dialled' }, { dials: 'dials' }],
    exports: [exported(2)],
    more: [
      ...served(2, 'basket'),
      ...add('filters', { name: 'f', clusterIds: [testId('clusters', 2)], defaultOut: 'allow' }),
      ...add('filterRules', {
        filterId: testId('filters', 1),
        direction: 'in',
        position: 1,
        protocol: 'any',
        ports: [],
        peers: ['10.2.0.0/24'],
      }),
    ],
  });
  const { verdict, sentence, seenAs, via, flows } = asked(plan, BASKET);
  expect(`${verdict} ${sentence}`).toContain('pass');
  expect(via.map(({ what }) => what)).toEqual(['relay']);
  expect(sentence).toContain('The backend sees the relay of c2 as the client');
  expect(seenAs).toBe('10.244.0.2');
  expect(flows[0]?.forth.map((event) => formatEvent(plan, event)).join(' ')).toContain(
    'It goes over the link that relay 1 of c2 dialled',
  );
  const wrongWay = edited(
    plan,
    setOperation('members', testId('members', 1), { dials: 'dials' }),
    setOperation('members', testId('members', 2), { dials: 'is dialled' }),
  );
  // Nobody who exports it is reached, so its name is not answered; the reason is the filter.
  expect(asked(wrongWay, BASKET)).toMatchObject({ verdict: 'broken' });
  expect(asked(wrongWay, BASKET).sentence).toContain('no rule allows tcp 443');
});

const stateful = (n: number, form: 'headless' | 'ClusterIP') => [
  ...served(n, 'tide', { type: form }),
  setOperation('workloads', testId('workloads', n), { objectKind: 'StatefulSet' }),
];

test('a headless service: its pods by host name and member id; by its name alone through relays when they are not mirrored', () => {
  const of = (method: 'tunnels' | 'relays', mirrorsPods: boolean) =>
    joined({
      connection: { method },
      exports: [exported(2, { name: 'tide', mirrorsPods })],
      more: stateful(2, 'headless'),
    });
  const pod = 'name tide-1.m2.tide.shop.svc.clusterset.local. type A';
  expect(asked(of('tunnels', true), pod).resolution?.records).toMatchObject([{ value: 'the pod tide-1 of c2' }]);
  expect(asked(of('relays', true), pod).resolution?.outcome).toBe('answer');
  expect(asked(of('relays', false), pod).resolution?.outcome).toBe('no name');
  expect(asked(of('relays', false), 'name tide.shop.svc.clusterset.local. type A').resolution?.records).toMatchObject([
    { value: 'the relay of c1' },
  ]);
  expect(asked(of('tunnels', true), 'name tide-7.m2.tide.shop.svc.clusterset.local. type A').resolution?.outcome).toBe(
    'no name',
  );
  // Nothing translates ports of a headless service: its pods listen on 8080.
  expect(asked(of('tunnels', true), 'http://tide.shop.svc.clusterset.local:8080/').verdict).toBe('pass');
  expect(asked(of('tunnels', true), 'http://tide.shop.svc.clusterset.local/').verdict).toBe('broken');
});

test('of two exports that contradict one another the older one decides', () => {
  const plan = joined({
    count: 3,
    exports: [
      exported(1, { name: 'tide', createdOn: '2026-03-01' }),
      exported(2, { name: 'tide', createdOn: '2026-01-01' }),
    ],
    more: [...stateful(1, 'ClusterIP'), ...stateful(2, 'headless')],
  });
  expect(asked(plan, 'name tide.shop.svc.clusterset.local. type A', 'pod of c3').resolution?.records).toMatchObject([
    { value: 'the pods of c2' },
  ]);
});

test('names of one member alone, and ports as SRV', () => {
  const plan = joined({
    count: 3,
    members: [{}, { dnsSuffix: 'two.coast' }],
    exports: [exported(1), exported(2)],
    more: [...served(1, 'basket', { address: '10.201.0.9' }), ...served(2, 'basket', { address: '10.202.0.9' })],
  });
  const said = (name: string, type = 'A') =>
    asked(plan, `name ${name}. type ${type}`, 'pod of c3').resolution?.records.map(({ value }) => value);
  expect(said('basket.shop.svc.two.coast')).toEqual(['10.202.0.9']);
  expect(said('basket.shop.svc.m1.clusterset.local')).toEqual(['10.201.0.9']);
  expect(said('basket.shop.svc.clusterset.local')).toEqual(['10.201.0.9', '10.202.0.9']);
  expect(said('_web._tcp.basket.shop.svc.clusterset.local', 'SRV')).toEqual([
    '0 100 80 basket.shop.svc.clusterset.local',
  ]);
});
