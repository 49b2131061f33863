import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { hubWorld, ranges } from '../../test/ways.js';
import { setOperation } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { Forwarding, waysOut } from './index.js';

const of = (plan: Plan) => waysOut(Forwarding.of(plan));
const said = (plan: Plan) =>
  of(plan).taken.map(({ networkId, target, way, verdict }) => [
    networkId.slice(-1),
    target,
    way.kind,
    way.name,
    verdict,
  ]);

test('spokes leave through the firewall of their hub, and what it refuses is told beside it', () => {
  expect(said(hubWorld())).toEqual([
    ['1', 'the internet', 'firewall', 'wall', 'pass'],
    ['2', 'the internet', 'firewall', 'wall', 'pass'],
  ]);
  const shut = hubWorld({ rules: [{ action: 'deny', protocol: 'any' }] });
  expect(said(shut).map(([, , kind, name, verdict]) => [kind, name, verdict])).toEqual([
    ['firewall', 'wall', 'refused'],
    ['firewall', 'wall', 'refused'],
  ]);
});

test('a network without a route has no way out, and one without node ranges is not followed', () => {
  const plan = applied(ground(2), [
    ...add('clusters', cluster('a'), cluster('b', { networkId: testId('networks', 2) })),
    ...ranges([1, 'node', '10.1.0.0/24']),
  ]);
  expect(said(plan)).toEqual([['1', 'the internet', 'none', '', 'broken']]);
  expect(of(plan).networks.map(({ clusters }) => clusters)).toEqual([1, 1]);
});

test('needs are asked by those that have them, those of most clusters first', () => {
  const plan = applied(hubWorld(), [
    ...add(
      'needs',
      {
        name: 'rare',
        clusterIds: [testId('clusters', 2)],
        protocol: 'tcp',
        ports: ['443'],
        prefixes: ['198.51.100.0/24'],
      },
      { name: 'usual', protocol: 'tcp', ports: ['443'], prefixes: ['198.51.100.0/24'] },
    ),
  ]);
  const { targets, taken } = of(plan);
  expect(targets).toEqual(['the internet', 'usual', 'rare']);
  expect(
    taken.filter(({ target }) => target === 'rare').map(({ networkId, clusters }) => [networkId, clusters]),
  ).toEqual([[testId('networks', 2), 1]]);
  // The question behind a band is the one that was followed.
  expect(taken.find(({ target }) => target === 'rare')).toMatchObject({ from: 'node of b', to: 'need rare' });
});

test('the largest networks are shown, and how many are not', () => {
  const count = 11;
  const networks = Array.from({ length: count }, (_, n) => n + 1);
  const plan = applied(ground(count), [
    ...add(
      'clusters',
      ...networks.map((n) => cluster(`c${n}`, { networkId: testId('networks', n) })),
      cluster('second', { networkId: testId('networks', 7) }),
    ),
    setOperation('networks', testId('networks', 7), { name: 'largest' }),
  ]);
  const { networks: shown, moreNetworks } = of(plan);
  expect(shown[0]).toMatchObject({ name: 'largest', clusters: 2 });
  expect([shown.length, moreNetworks]).toEqual([8, 3]);
});
