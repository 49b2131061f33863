import { faultsOf, connected, setMatrix } from '@wide-lattice/core/crosscluster';
import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import { finished } from '@wide-lattice/core/working';
import { SliceHost } from '../sliceHost';
import { crossSlices } from './crossSlices';

const plan = demoPlan();
const host = new SliceHost(evaluate(plan));
const idOf = (name: string) => plan.clusters.find((each) => each.name === name)?.id ?? '';

test('uses: planned connections come in only when they are asked for', () => {
  const uses = finished(crossSlices.uses(host, ''));
  expect(uses.columns.map(({ service }) => service)).toContain('tills/ledger');
  expect(uses.rows.map(({ name }) => name)).not.toContain('coach-depots');
  for (const { cells } of uses.rows) expect(cells).toHaveLength(uses.columns.length);
  const planned = finished(crossSlices.uses(host.made, ''));
  expect(planned.rows.map(({ name }) => name)).toContain('coach-depots');
  // Drills too; and where nothing is planned, both are one.
  expect(crossSlices.faults(host.made).length).toBeGreaterThan(crossSlices.faults(host).length);
  expect(host.made.made).toBe(host.made);
});

test('uses: services are found by their names; a cell says who answers, or why nobody does', () => {
  const all = finished(crossSlices.uses(host, ''));
  const [column] = all.columns;
  if (column === undefined) throw new Error('nothing is exported');
  const found = finished(crossSlices.uses(host, column.service.toUpperCase()));
  expect(found.columns.map(({ service }) => service)).toContain(column.service);
  expect(found.columns.length).toBeLessThan(all.columns.length);
  expect(found.services).toBe(all.services);
  expect(finished(crossSlices.uses(host, 'nobody has this')).columns).toEqual([]);
  const words = all.rows.flatMap(({ id, cells }) =>
    cells.flatMap((cell, at) =>
      cell === undefined
        ? []
        : [[cell.verdict, crossSlices.useDescription(host, id, all.columns[at]?.key ?? '')] as const],
    ),
  );
  expect(words.length).toBeGreaterThan(20);
  for (const [verdict, said] of words) {
    expect(said).not.toBe('');
    expect(/^Answered by /.test(said)).toBe(verdict === 'pass' || verdict === 'part');
  }
  expect(crossSlices.useDescription(host, idOf('no such cluster'), column.key)).toBe('');
});

test('a drill tells clusters to which the same happens together, and loses none of them', () => {
  const { reached } = host.evaluation.ask(setMatrix);
  const faults = crossSlices.faults(host);
  expect(faults).toHaveLength(faultsOf(plan, host.evaluation.ask(connected)).length);
  for (const { key, label } of faults.filter(({ key }) => /^(member|zone)~/.test(key)).slice(0, 12)) {
    const drill = crossSlices.drill(host, [key]);
    if (drill === undefined) throw new Error(`no drill of ${label}`);
    expect([drill.labels, drill.reachedBefore]).toEqual([[label], reached]);
    const lost = drill.changes.filter(({ seconds }) => seconds === undefined).flatMap(({ clusters }) => clusters);
    expect(lost.length).toBeGreaterThanOrEqual(drill.reachedBefore - drill.reachedAfter);
    expect(structuredClone(drill)).toEqual(drill);
  }
  expect(crossSlices.drill(host, ['nothing'])).toBeUndefined();
});

test('sites: both directions of each pair are counted, a member of every connection is drawn, and planned ways say so', () => {
  const { sites, ways, placeless } = crossSlices.siteMap(host);
  expect(placeless).toEqual([]);
  const joined = new Set(plan.members.map(({ clusterId }) => plan.clusters.find(({ id }) => id === clusterId)?.siteId));
  expect(new Set(sites.map(({ id }) => id))).toEqual(joined);
  for (const { of, passes, unknown } of ways) {
    expect(of % 2).toBe(0);
    expect(passes + unknown).toBeLessThanOrEqual(of);
  }
  // 40 kiosks and the hub, at 41 sites: 40 pairs of ways.
  expect(ways.filter(({ connection }) => connection === 'piers').reduce((sum, { of }) => sum + of, 0)).toBe(80);
  expect(ways.filter(({ isPlanned }) => isPlanned).map(({ connection }) => connection)).toEqual(['coaches']);
});

test('a choice needs two clusters, and its proposal comes without the whole plan', () => {
  const wish = {
    name: 'x',
    tunnel: 'wireguard',
    shape: 'full mesh',
    sides: [],
    gateways: 2,
    rendezvous: '',
    today: '2026-11-29',
    exportsServices: true,
  } as const;
  const needs = { plannedMbps: 0, gatewayMbps: 1000, anyProtocol: false, sourceKept: false };
  expect(
    finished(crossSlices.connectionComparison(host, { ...wish, clusterIds: [idOf('timetable')] }, needs)),
  ).toBeUndefined();
  const two = [idOf('timetable'), idOf('harbour-ops')];
  const shown = finished(crossSlices.connectionComparison(host, { ...wish, clusterIds: two }, needs));
  expect(shown?.ways.map(({ method }) => method)).toEqual(['tunnels', 'relays', 'flat']);
  for (const { cells } of shown?.rows ?? []) expect(cells).toHaveLength(3);
  const proposal = crossSlices.connectionProposal(host, { ...wish, method: 'tunnels', clusterIds: two });
  expect(proposal).not.toHaveProperty('plan');
  expect(structuredClone(proposal)).toEqual(proposal);
});
