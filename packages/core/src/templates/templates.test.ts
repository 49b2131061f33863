import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { contains } from '../address/index.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { byId, rangeOf, setOperation, withRebuilds } from '../plan/index.js';
import type { Cluster, Plan, Template } from '../plan/index.js';
import { MAX_STAMPED, readStampList, stampTemplate, templateEffects } from './index.js';

const SITES = 200;
const template = testId('templates', 1);
const world = (): Plan =>
  applied(ground(1), [
    ...add(
      'sites',
      ...Array.from({ length: SITES + 1 }, (_, i) => ({
        id: testId('sites', 2 + i),
        name: `Pier ${i}`,
        kind: 'edge' as const,
        profileId: testId('profiles', 1),
        zones: ['z'],
      })),
    ),
    ...add(
      'pools',
      pool('all', '10.0.0.0/9'),
      pool('kiosks', '10.128.0.0/12'),
      pool('inside', '100.64.0.0/10', { purposes: ['pod', 'service'], isShared: true }),
    ),
    ...add('templates', {
      name: 'kiosk',
      namePattern: 'kiosk-{site}',
      networkId: testId('networks', 1),
      sets: ['podMode=overlay', 'nodesNow=2', 'nodesHorizon=6', 'podsPerNode=30', 'services=40'],
      poolIds: [testId('pools', 2)],
    }),
  ]);
const list = Array.from({ length: SITES }, (_, i) => `Pier ${i}`).join('\n');

describe('stamping', () => {
  test('200 pasted sites: a cluster each, all its ranges, within the pools of the template, and nothing conflicts', () => {
    const plan = world();
    const stamp = stampTemplate(plan, template, readStampList(list));
    expect([stamp.clusters.length, stamp.problems, stamp.proposal.refusals]).toEqual([SITES, [], []]);
    const after = applied(plan, stamp.operations);
    const evaluation = evaluate(after);
    expect(evaluation.findingsInWords().filter(({ severity }) => severity === 'error')).toEqual([]);
    for (const { figures, cluster: made } of evaluation.clusters) {
      expect(figures.needs.every(({ ranges }) => ranges.length > 0)).toBe(true);
      expect(made).toMatchObject({ templateId: template, podMode: 'overlay', nodesHorizon: 6, podsPerNode: 30 });
    }
    const own = rangeOf(byId(after.pools, testId('pools', 2)) as { prefix: string });
    expect(
      after.allocations.filter(({ purpose }) => purpose === 'node').every((range) => contains(own, rangeOf(range))),
    ).toBe(true);
    expect(after.clusters[0]?.name).toBe('kiosk-pier-0');
  });

  test('lines that cannot be are said with their place, and the others are made', () => {
    const rows = readStampList('Pier 1\r\n\nNowhere\nPier 1\npier 2\tmine\nPier 3, mine');
    const { clusters, problems } = stampTemplate(world(), template, rows);
    expect(clusters.map(({ name }) => name)).toEqual(['kiosk-pier-1', 'mine']);
    expect(problems.map(({ line, message }) => `${line} ${message}`)).toEqual([
      '2 There is no site "Nowhere".',
      '3 The name "kiosk-pier-1" is taken.',
      '5 The name "mine" is taken.',
    ]);
  });

  test('node counts stand after the name, or instead of it; what is none is named', () => {
    const rows = readStampList('Pier 1, mine, 4, 9\nPier 2\t7\nPier 3,,2\nPier 4, named, many\nPier 5, x, 1, 2, 3');
    const { clusters, problems } = stampTemplate(world(), template, rows);
    expect(clusters.map(({ name, nodesNow, nodesHorizon }) => [name, nodesNow, nodesHorizon])).toEqual([
      ['mine', 4, 9],
      [expect.stringContaining('pier-2'), 7, Math.max(7, clusters[1]?.nodesHorizon ?? 0)],
      [expect.stringContaining('pier-3'), 2, expect.any(Number)],
    ]);
    expect(problems.map(({ line, message }) => [line, message])).toEqual([
      [4, '"many" is not a number of nodes.'],
      [5, '"3" is not a number of nodes.'],
    ]);
  });

  test('more lines than are taken at once are refused whole, and say the limit', () => {
    const rows = Array.from({ length: MAX_STAMPED + 1 }, () => ({ siteName: 'Pier 1', clusterName: '' }));
    const { operations, problems } = stampTemplate(world(), template, rows);
    expect(operations).toEqual([]);
    expect(problems[0]?.message).toContain(String(MAX_STAMPED));
  });

  test('where the template leaves the network open, it is the one that is there already', () => {
    const plan = applied(world(), [setOperation('templates', template, { networkId: null })]);
    expect(stampTemplate(plan, template, [{ siteName: 'Pier 1', clusterName: '' }]).problems[0]?.message).toMatch(
      /No network is known/,
    );
    const there = applied(plan, add('clusters', cluster('old', { siteId: testId('sites', 3) })));
    expect(stampTemplate(there, template, [{ siteName: 'Pier 1', clusterName: '' }]).clusters[0]?.networkId).toBe(
      testId('networks', 1),
    );
  });
});

describe('a change of a template', () => {
  const made = (fields: Partial<Cluster>) =>
    cluster('', {
      templateId: template,
      podMode: 'overlay',
      nodesNow: 2,
      nodesHorizon: 6,
      podsPerNode: 30,
      services: 40,
      ...fields,
    });
  const plan = applied(
    world(),
    add(
      'clusters',
      made({ name: 'a follows' }),
      made({ name: 'b built', isBuilt: true }),
      made({ name: 'c drifted', services: 99 }),
      made({ name: 'd own mode', podMode: 'native' }),
      cluster('other'),
    ),
  );
  const present = plan.templates[0] as Template;
  const changed = (sets: readonly string[]): Template => ({ ...present, sets });
  const states = (sets?: readonly string[]) =>
    templateEffects(plan, template, sets === undefined ? undefined : changed(sets)).map(
      ({ clusterName, state }) => `${clusterName}: ${state}`,
    );
  const swap = (from: string, to: string) => present.sets.map((fix) => (fix === from ? to : fix));

  test('as it is, what drifted is named and the others are alike', () =>
    expect(states()).toEqual(['a follows: alike', 'b built: alike', 'c drifted: drifted', 'd own mode: drifted']));

  test('a count is accepted, also by a built cluster; its own way is told apart from the change', () => {
    expect(states(swap('nodesHorizon=6', 'nodesHorizon=9'))).toEqual([
      'a follows: accepts',
      'b built: accepts',
      'c drifted: drifted',
      'd own mode: drifted',
    ]);
    const [, , drifted] = templateEffects(plan, template, changed(swap('nodesHorizon=6', 'nodesHorizon=9')));
    expect(drifted?.gaps.map(({ field, isFollowing }) => [field, isFollowing])).toEqual(
      expect.arrayContaining([
        ['services', false],
        ['nodesHorizon', true],
      ]),
    );
  });

  test('a locked decision needs a rebuild of what is built', () =>
    expect(states(swap('podMode=overlay', 'podMode=native'))).toEqual([
      'a follows: accepts',
      'b built: rebuild',
      'c drifted: drifted',
      'd own mode: alike',
    ]));

  test('a field that was open before is nobody’s own way', () =>
    expect(states([...present.sets, 'surgePercent=30'])[0]).toBe('a follows: accepts'));

  test('applied to a part: these are alike afterwards, the rest is as it was; a rebuild goes into the ledger', () => {
    const next = changed(swap('podMode=overlay', 'podMode=routed'));
    const effects = templateEffects(plan, template, next);
    const chosen = effects.filter(({ clusterName }) => clusterName.startsWith('a') || clusterName.startsWith('b'));
    const operations = [
      setOperation('templates', template, { sets: next.sets }),
      ...chosen.flatMap((effect) => effect.operations),
    ];
    const after = applied(
      plan,
      withRebuilds(plan, operations, { reason: 'r', decidedOn: '2026-11-23', decidedBy: 'm' }),
    );
    expect(templateEffects(after, template).map(({ state }) => state)).toEqual([
      'alike',
      'alike',
      'drifted',
      'drifted',
    ]);
    expect(after.rebuilds.map(({ clusterId }) => clusterId)).toEqual([testId('clusters', 2)]);
  });

  test('a template based on another follows it in what it does not fix, and so do its clusters', () => {
    const based = applied(plan, [
      ...add('templates', {
        id: testId('templates', 2),
        name: 'night kiosk',
        basedOnId: template,
        sets: ['services=7'],
      }),
      ...add('clusters', {
        id: testId('clusters', 9),
        ...made({ name: 'n', templateId: testId('templates', 2), services: 7 }),
      }),
    ]);
    const [night] = templateEffects(based, testId('templates', 2), undefined);
    expect(night?.state).toBe('alike');
    const through = templateEffects(based, template, changed(swap('nodesHorizon=6', 'nodesHorizon=9')));
    expect(through.find(({ clusterName }) => clusterName === 'n')).toMatchObject({ state: 'accepts' });
    const own = templateEffects(based, template, changed(swap('services=40', 'services=50')));
    expect(own.find(({ clusterName }) => clusterName === 'n')).toMatchObject({ state: 'alike' });
  });

  test('the demo: 40 kiosks, one of which went its own way', () => {
    const demo = demoPlan();
    const effects = templateEffects(demo, demo.templates[1]?.id ?? '');
    expect(effects).toHaveLength(40);
    expect(effects.filter(({ state }) => state !== 'alike').map(({ clusterName }) => clusterName)).toEqual([
      'kiosk-quoy',
    ]);
  });
});
