import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { applyOperations, setOperation } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import { section } from '../section/index.js';
import { formatChainStep } from '../english/index.js';
import { verdictOfPair } from '../verdicts/index.js';
import { readPlanFile, writePlanFile } from './index.js';

test('docs/core.md: read a plan, change it, evaluate it, open a working, add a section', () => {
  const read = readPlanFile(writePlanFile(demoPlan(), 'yaml'));
  expect(read.ok).toBe(true);
  if (!read.ok) return;
  const { plan } = read;
  const one = plan.clusters.find(({ name }) => name === 'timetable') as Cluster;
  const changed = applyOperations(plan, [setOperation('clusters', one.id, { nodesHorizon: 300 })]);
  expect(changed.ok).toBe(true);
  if (!changed.ok) return;
  const evaluation = evaluate(plan);
  const draft = evaluate(changed.plan, evaluation);
  const found = evaluation.findingsInWords();
  expect(draft.findingsInWords().length).toBeGreaterThanOrEqual(found.length);
  expect(draft.domains).toBe(evaluation.domains);
  const [need] = evaluation.clusterOf(one.id)?.figures.needs ?? [];
  const working = need?.need.length.explain();
  expect(working?.result).toBe(`/${need?.need.length.value}`);
  expect(working?.steps.length).toBeGreaterThan(0);
  const longNames = section({
    name: 'long names',
    reads: ['clusters'],
    needs: {},
    build: ({ clusters }) => clusters.filter(({ name }) => name.length > 12).map(({ name }) => name),
  });
  expect(evaluation.ask(longNames)).toContain('booking-north');
});

test('docs/core.md: the verdict of two ranges, each kind by hand', () => {
  const networks = [1, 2, 3].map((n) => testId('networks', n));
  const plan = applied(ground(3), [
    ...add('links', { name: 'p12', kind: 'peering', networkIds: networks.slice(0, 2) }),
    ...add('clusters', cluster('one')),
    ...add(
      'allocations',
      { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.0.0.0/24' },
      { clusterId: testId('clusters', 1), purpose: 'service', prefix: '10.96.0.0/12' },
    ),
    ...add(
      'inUse',
      { prefix: '10.0.0.0/16', owner: 'over the peering', networkId: networks[1] },
      { prefix: '10.100.0.0/16', owner: 'behind the services', networkId: networks[1] },
      { prefix: '10.0.0.0/16', owner: 'out of reach', networkId: networks[2] },
    ),
    ...add('blocks', { networkId: networks[0], prefix: '10.0.0.0/20' }),
  ]);
  const ask = evaluate(plan).ask(verdictOfPair);
  const [node, service] = [1, 2].map((n) => testId('allocations', n)) as [string, string];
  const [near, hidden, far] = [1, 2, 3].map((n) => testId('inUse', n)) as [string, string, string];
  expect(ask(node, near)).toMatchObject({ kind: 'conflict', isPlanned: false });
  expect(ask(near, node)).toEqual(ask(node, near));
  const shadow = ask(service, hidden);
  expect(shadow).toMatchObject({ kind: 'shadowed' });
  expect('chain' in shadow && shadow.chain.map(formatChainStep).join(' ')).toContain(
    'Network n1 reaches n2 by the peering p12.',
  );
  expect(ask(node, far)).toEqual({ kind: 'reuse' });
  expect(ask(node, service)).toEqual({ kind: 'apart' });
  expect(ask(node, testId('blocks', 1))).toEqual({ kind: 'held' });
  expect(ask(node, testId('inUse', 9))).toEqual({ kind: 'unknown', id: testId('inUse', 9) });
});
