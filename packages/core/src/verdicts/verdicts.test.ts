import fc from 'fast-check';
import { add, anyWorld, applied, cluster, ground, testId } from '../../test/worlds.js';
import { overlaps } from '../address/index.js';
import { evaluate } from '../evaluation/index.js';
import { rangeOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { worstVerdict } from './index.js';

/** The slow reference: every pair, every network, every link, written without the engine's parts. */
function slowVerdicts(plan: Plan): string[] {
  const reaches = (from: string, to: string, withPlanned: boolean) =>
    from === to ||
    plan.links.some(
      (link) => (withPlanned || !link.isPlanned) && link.networkIds.includes(from) && link.networkIds.includes(to),
    );
  const ranges = [
    ...plan.allocations.map((a) => {
      const owner = plan.clusters.find(({ id }) => id === a.clusterId)!;
      const stays = a.purpose === 'service' || (a.purpose === 'pod' && owner.podMode === 'overlay');
      return { id: a.id, prefix: rangeOf(a), network: owner.networkId, owner: owner.id, stays };
    }),
    ...plan.inUse.map((r) => ({ id: r.id, prefix: rangeOf(r), network: r.networkId, owner: '', stays: false })),
  ];
  const judge = (a: (typeof ranges)[number], b: (typeof ranges)[number], withPlanned: boolean): string => {
    if (a.owner !== '' && a.owner === b.owner) return 'conflict';
    if (a.network === null || b.network === null || (a.stays && b.stays)) return '';
    if (a.stays) return reaches(a.network, b.network, withPlanned) ? 'shadowed' : '';
    if (b.stays) return reaches(b.network, a.network, withPlanned) ? 'shadowed' : '';
    const someoneSeesBoth = plan.networks.some(
      ({ id }) => reaches(id, a.network as string, withPlanned) && reaches(id, b.network as string, withPlanned),
    );
    return someoneSeesBoth ? 'conflict' : '';
  };
  const found: string[] = [];
  ranges.forEach((a, i) => {
    for (const b of ranges.slice(i + 1)) {
      if (!overlaps(a.prefix, b.prefix)) continue;
      const now = judge(a, b, false);
      const kind = now !== '' ? now : judge(a, b, true);
      found.push(
        `${[a.id, b.id].sort().join(' ')} ${kind === '' ? 'reuse' : kind}${kind !== '' && now === '' ? ' planned' : ''}`,
      );
    }
  });
  return found.sort();
}

function fastVerdicts(plan: Plan): { judged: string[]; reusePairs: number } {
  const evaluation = evaluate(plan);
  const judged = evaluation
    .verdicts()
    .map(({ kind, a, b, isPlanned }) => `${[a.id, b.id].sort().join(' ')} ${kind}${isPlanned ? ' planned' : ''}`);
  return { judged: judged.sort(), reusePairs: evaluation.reuseGroups.reduce((sum, { pairs }) => sum + pairs, 0) };
}

test('the engine agrees with the slow reference in random worlds', () => {
  let seen = 0;
  fc.assert(
    fc.property(anyWorld, (plan) => {
      const slow = slowVerdicts(plan);
      const { judged, reusePairs } = fastVerdicts(plan);
      expect(judged).toEqual(slow.filter((line) => !line.endsWith('reuse')));
      expect(reusePairs).toBe(slow.filter((line) => line.endsWith('reuse')).length);
      seen += judged.length;
    }),
    { numRuns: 400 },
  );
  expect(seen).toBeGreaterThan(100);
});

describe('who may overlap whom (handbook 2)', () => {
  const ranges = (one: string, two: string, purpose: 'node' | 'service' = 'node') => [
    ...add('clusters', cluster('one'), cluster('two', { networkId: testId('networks', 2) })),
    ...add(
      'allocations',
      { clusterId: testId('clusters', 1), purpose, zone: '', prefix: one, isFixed: false },
      { clusterId: testId('clusters', 2), purpose: 'node', zone: '', prefix: two, isFixed: false },
    ),
  ];
  const peering = (a: number, b: number, isPlanned = false) => ({
    name: `p${a}${b}`,
    kind: 'peering' as const,
    networkIds: [testId('networks', a), testId('networks', b)],
    isPlanned,
  });
  const kinds = (plan: Plan) =>
    evaluate(plan)
      .verdicts()
      .map(({ kind, isPlanned }) => `${kind}${isPlanned ? ' planned' : ''}`);

  test('unjoined networks may use one range twice: reuse', () => {
    const evaluation = evaluate(applied(ground(2), ranges('10.0.0.0/24', '10.0.0.0/25')));
    expect(evaluation.verdicts()).toEqual([]);
    expect(evaluation.reuseGroups).toMatchObject([{ pairs: 1 }]);
  });

  test('a peering turns reuse into a conflict, a planned one into a planned conflict', () => {
    expect(
      kinds(applied(ground(2), [...ranges('10.0.0.0/24', '10.0.0.0/25'), ...add('links', peering(1, 2))])),
    ).toEqual(['conflict']);
    const planned = evaluate(
      applied(ground(2), [...ranges('10.0.0.0/24', '10.0.0.0/25'), ...add('links', peering(1, 2, true))]),
    );
    expect(worstVerdict(planned.verdicts())).toBe('planned conflict');
  });

  test('peering is not transitive, yet the network in the middle sees both', () => {
    const plan = applied(ground(4), [
      ...ranges('10.0.0.0/24', '10.0.0.0/24'),
      ...add('links', peering(1, 3), peering(3, 2)),
    ]);
    expect(kinds(plan)).toEqual(['conflict']);
    const apart = applied(ground(4), [
      ...ranges('10.0.0.0/24', '10.0.0.0/24'),
      ...add('links', peering(1, 3), peering(3, 4), peering(4, 2)),
    ]);
    expect(kinds(apart)).toEqual([]);
  });

  test('a service range hides a network on the same hub, and the chain names the hub', () => {
    const hub = {
      name: 'hub',
      kind: 'hub' as const,
      networkIds: [1, 2, 3].map((n) => testId('networks', n)),
      isPlanned: false,
    };
    const evaluation = evaluate(
      applied(ground(3), [...ranges('10.96.0.0/12', '10.100.0.0/24', 'service'), ...add('links', hub)]),
    );
    const [finding] = evaluation.findings().filter(({ code }) => code === 'overlap.shadowed');
    expect(finding?.chain.join(' ')).toContain('Network n1 reaches n2 by the transit hub hub.');
    expect(finding?.fixes).toHaveLength(2);
  });

  test('service ranges of two clusters may be one range even where the networks are joined', () => {
    const plan = applied(ground(2), [
      ...add('clusters', cluster('one'), cluster('two', { networkId: testId('networks', 2) })),
      ...add(
        'allocations',
        ...[1, 2].map((n) => ({
          clusterId: testId('clusters', n),
          purpose: 'service' as const,
          zone: '',
          prefix: '10.96.0.0/16',
          isFixed: false,
        })),
      ),
      ...add('links', peering(1, 2)),
    ]);
    expect(kinds(plan)).toEqual([]);
  });
});
