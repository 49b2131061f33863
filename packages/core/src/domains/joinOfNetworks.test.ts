import { add, applied, ground, testId } from '../../test/worlds.js';
import type { Plan } from '../plan/index.js';
import { Domains, joinOfNetworks } from './index.js';

const [one, two, three] = [1, 2, 3].map((n) => testId('networks', n)) as [string, string, string];
const peer = (name: string, networkIds: readonly string[], isPlanned = false) => ({
  name,
  kind: 'peering' as const,
  networkIds,
  isPlanned,
});
const world = (...advertises: readonly string[]): Plan =>
  applied(ground(3), [
    ...add('links', peer('a', [one, two]), peer('b', [two, three], true)),
    ...add('inUse', { prefix: '10.3.0.0/16', owner: 'x', networkId: three }),
    ...(advertises.length === 0
      ? []
      : add('attachments', { linkId: testId('links', 1), networkId: two, advertises: [...advertises] })),
  ]);
const way = (plan: Plan, from = one, to = three) =>
  joinOfNetworks(plan, new Domains(plan.networks, plan.links, plan.attachments), from, to)?.hops.map(
    ({ link }) => link.name,
  );

test('networks that share a link are joined by it, and peering is not passed on', () => {
  expect(way(world(), one, two)).toEqual(['a']);
  expect(way(world())).toBeUndefined();
});

test('a network between that advertises what is there passes it on, with every link of the way', () => {
  expect(way(world('10.3.0.0/16'))).toEqual(['a', 'b']);
  expect(way(world('10.0.0.0/8'))).toEqual(['a', 'b']);
  const plan = world('10.3.0.0/16');
  expect(joinOfNetworks(plan, new Domains(plan.networks, plan.links, plan.attachments), one, three)?.isPlanned).toBe(
    true,
  );
});

test('what it advertises that is not there joins nothing', () => {
  expect(way(world('10.4.0.0/16'))).toBeUndefined();
  expect(way(world('10.3.0.0/16'), three, one)).toBeUndefined();
});
