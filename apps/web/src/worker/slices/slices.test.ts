import { prefixSize } from '@wide-lattice/core/address';
import { sizePlans } from '@wide-lattice/core/allocation';
import { evaluate } from '@wide-lattice/core/evaluation';
import { planCost } from '@wide-lattice/core/money';
import { emptyPlan, rangeOf } from '@wide-lattice/core/plan';
import { formatSize } from '@wide-lattice/core/working';
import { demoPlan } from '@wide-lattice/core/demo';
import { stopOf } from '../../kinds/kindViews';
import { markOf } from '@wide-lattice/core/findings';
import { SliceHost } from '../sliceHost';
import { boardRows } from './board';
import { clusterSheet } from './clusterSheet';
import { costSheet } from './costs';
import { diagramView } from './diagram';
import { lockedDecisions, podNetworkSheet } from './podNetwork';
import { mattersAt } from './matters';
import { poolRows } from './pools';
import { shownStart } from './quickStart';
import { shownRenumberings } from './renumberings';
import { subnetUses } from './subnetUses';
import { utilisationRows } from './utilisation';
import { rangeRows } from './ranges';
import { reachRows } from './reach';
import { ribbonView } from './ribbon';

const evaluation = evaluate(demoPlan());
const { plan } = evaluation;

test('the board has a row a cluster, and its marks are the findings', () => {
  const rows = boardRows(evaluation);
  expect(rows).toHaveLength(plan.clusters.length);
  const north = rows.find(({ name }) => name === 'booking-north');
  expect(north).toMatchObject({
    isBuilt: true,
    findings: { error: 1 },
    ranges: { node: { verdict: 'conflict' }, pod: { verdict: 'clear' } },
  });
  expect(rows.find(({ name }) => name === 'tide-models')).toMatchObject({
    first: { name: 'Pod range', month: 0 },
    ranges: { pod: { tooSmall: 1 } },
  });
  expect(rows.find(({ name }) => name === 'shared-services')?.ranges.pod.verdict).toBe('planned conflict');
  expect(rows.find(({ name }) => name === 'weather-models')?.ranges.pod).toMatchObject({ prefixes: [], missing: 2 });
});

test('everything that leaves the worker can be copied', () => {
  const id = plan.clusters[0]?.id ?? '';
  for (const slice of [
    boardRows(evaluation),
    clusterSheet(evaluation, id),
    poolRows(evaluation),
    rangeRows(evaluation),
    reachRows(evaluation),
    diagramView(evaluation),
    utilisationRows(plan),
    ribbonView(evaluation, '10.16.0.0/12'),
    evaluation.findingsInWords(),
  ]) {
    expect(slice).toBeDefined();
    expect(structuredClone(slice)).toEqual(slice);
  }
  expect(clusterSheet(evaluation, 'none')).toBeUndefined();
});

test('cost: rows add up to the total, items too, and what cannot be computed is counted apart', () => {
  for (const time of ['now', 'horizon'] as const) {
    const { rows, items, total, count, missing, missingCount } = costSheet(plan, time);
    // The dearest are sent, and no row that is not among them is dearer.
    expect(rows).toHaveLength(Math.min(count, 100));
    const lines = planCost(plan, time).lines.flatMap(({ monthly }) => monthly?.value ?? []);
    expect(lines).toHaveLength(count);
    expect(lines.reduce((all, value) => all + value, 0)).toBeCloseTo(total, 2);
    expect(rows.map(({ monthly }) => monthly.value)).toEqual(lines.sort((a, b) => b - a).slice(0, 100));
    expect(items.reduce((all, { amount }) => all + amount, 0)).toBeCloseTo(total, 2);
    expect(missing).toHaveLength(missingCount);
    expect(missing.every(({ cannot }) => cannot !== '')).toBe(true);
    expect(structuredClone(rows)).toEqual(rows);
  }
});

test('a cluster: what each subnet holds adds up to its need, growth is drawn with its steps, cost is now and at the horizon', () => {
  for (const { id } of plan.clusters) {
    const sheet = clusterSheet(evaluation, id);
    for (const { parts, addresses, reserved, length } of sheet?.subnets ?? []) {
      expect(parts.reduce((sum, part) => sum + part.addresses, 0)).toBe(addresses);
      expect(2 ** (32 - length.value)).toBeGreaterThanOrEqual(addresses + reserved);
    }
    expect(sheet?.course[0]).toEqual({ month: 0, nodes: sheet?.nodesNow });
    expect(sheet?.course.find(({ month }) => month === 36)?.nodes).toBeCloseTo(sheet?.nodesHorizon ?? 0, 6);
    expect(structuredClone(sheet)).toEqual(sheet);
  }
  const tide = clusterSheet(evaluation, plan.clusters.find(({ name }) => name === 'tide-models')?.id ?? '');
  const nodes = (month: number) => tide?.course.find((point) => point.month === month)?.nodes;
  expect([nodes(5), nodes(6), nodes(17), nodes(18)]).toEqual([60, 90, 90, 140]);
  const north = clusterSheet(evaluation, plan.clusters.find(({ name }) => name === 'booking-north')?.id ?? '');
  expect(north?.costHorizon).toBeGreaterThan(north?.costNow ?? 0);
  expect(north?.limits.find(({ name }) => name === 'SNAT ports')?.raises.length).toBeGreaterThan(0);
});

test('pools: taken and free add up', () => {
  for (const row of poolRows(evaluation)) {
    if (rangeOf(row.pool).family === 6) continue;
    const free = Number(row.free.replaceAll(',', ''));
    expect(1 - free / Number(prefixSize(rangeOf(row.pool)))).toBeCloseTo(row.taken, 3);
  }
  expect(rangeRows(evaluation)).toHaveLength(plan.allocations.length);
});

test('reach names the link, planned ones too, and peering goes no further', () => {
  const rows = reachRows(evaluation);
  expect(rows.find(({ name }) => name === 'tide-lab')?.reaches).toEqual([
    { name: 'models', link: 'models-lab', kind: 'peering', isPlanned: false },
  ]);
  expect(rows.find(({ name }) => name === 'coaches')?.reaches).toMatchObject([{ name: 'basalt-lan', isPlanned: true }]);
});

describe('ribbon', () => {
  const lane = (prefix: string, name: string) =>
    ribbonView(evaluation, prefix)?.lanes.find((each) => each.name === name)?.blocks ?? [];

  test('blocks lie to scale inside the view, narrow ones are gathered', () => {
    const office = lane('10.16.0.0/12', 'In use').find(({ prefix }) => prefix === '10.20.0.0/16');
    expect(office).toMatchObject({ start: 0.25, width: 0.0625 });
    const lanes = ribbonView(evaluation, '10.16.0.0/12')?.lanes ?? [];
    expect(lanes.map(({ name }) => name)).toEqual(['Pools', 'Blocks', 'Subnets', 'In use', 'Clusters']);
    for (const block of lanes.flatMap(({ blocks }) => blocks)) {
      expect(block.start).toBeGreaterThanOrEqual(0);
      expect(block.start + block.width).toBeLessThanOrEqual(1.01);
    }
    expect(lane('10.16.0.0/12', 'Clusters').some(({ what }) => what === 'several')).toBe(true);
  });

  test('closer, each range stands for itself with its verdict; pinned ones cannot be resized', () => {
    expect(lane('10.23.96.0/24', 'Clusters').filter(({ what }) => what === 'node')).toMatchObject([
      { prefix: '10.23.96.0/25', width: 0.5, verdict: 'conflict', canResize: false },
    ]);
    expect(lane('10.23.96.0/24', 'In use')).toMatchObject([{ start: 0, width: 1 }]);
    expect(ribbonView(evaluation, 'no prefix')).toBeUndefined();
  });

  test('room to grow is drawn beside a range that is smaller than its horizon', () => {
    const tide = plan.allocations.find(({ prefix }) => prefix === '10.28.0.0/19');
    expect(tide).toBeDefined();
    const [room] = lane('10.28.0.0/16', 'Clusters').filter(({ what }) => what === 'room');
    expect(room?.detail).toContain('room for 10.28.0.0/19 to grow to');
  });
});

describe('diagram', () => {
  const view = diagramView(evaluation);

  test('every network and hub has its place inside the drawing, and none covers another', () => {
    expect(view.nodes.filter(({ kind }) => kind === 'network')).toHaveLength(plan.networks.length);
    for (const [i, a] of view.nodes.entries()) {
      expect(a.x).toBeGreaterThanOrEqual(0);
      expect(a.x + a.width).toBeLessThanOrEqual(view.width + 1);
      for (const b of view.nodes.slice(i + 1))
        expect(a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height).toBe(false);
    }
  });

  test('a hub is joined with each of its networks, other links with two; each says what is advertised', () => {
    const hub = plan.links.find(({ kind }) => kind === 'hub');
    expect(view.edges).toHaveLength((hub?.networkIds.length ?? 0) + plan.links.length - 1);
    expect(view.edges.find(({ label }) => label === 'radar-tunnel')).toMatchObject({
      kind: 'tunnel',
      detail: expect.stringContaining('coast-radar advertises 10.90.0.0/24, accepts all routes') as string,
    });
    expect(view.edges.filter(({ isPlanned }) => isPlanned)).toHaveLength(1);
  });
});

test('renumbering is tried on the plan and leaves its evaluation as it was', () => {
  const host = new SliceHost(evaluation);
  const before = evaluation.findingsInWords().length;
  const verdict = evaluation.verdicts().find(({ isPlanned }) => isPlanned);
  const ways = shownRenumberings(host, [verdict?.a.id ?? '', verdict?.b.id ?? '']);
  expect(ways.length).toBeGreaterThan(1);
  expect(ways.some(({ title }) => title === 'Do not make the link coach-join')).toBe(true);
  for (const { lost } of ways) expect(lost.length).toBeGreaterThan(0);
  expect(host.evaluation.findingsInWords()).toHaveLength(before);
});

test('the pod network of each cluster is shown with its workings, and what is locked is listed for built ones only', () => {
  for (const { id } of plan.clusters) {
    const sheet = podNetworkSheet(evaluation, id);
    expect(sheet?.families.map(({ modes }) => modes.length)).toEqual([3, 3, 3]);
    expect(sheet?.families.flatMap(({ rows }) => rows).every(({ cells }) => cells.length === 3)).toBe(true);
    expect(structuredClone(sheet)).toEqual(sheet);
  }
  expect(podNetworkSheet(evaluation, 'none')).toBeUndefined();
  const locked = lockedDecisions(evaluation);
  expect(new Set(locked.map(({ cluster }) => cluster))).toEqual(new Set(['booking-north', 'coach-depots']));
  expect(locked.map(({ decision }) => decision)).toEqual(
    expect.arrayContaining(['Pod network', 'Network', 'Service range']),
  );
});

test('a quick start says what it makes', () => {
  const siteId = plan.sites[0]?.id ?? '';
  const request = {
    name: 'refunds',
    siteId,
    size: sizePlans.small,
    workload: 'public',
    podMode: 'overlay',
    podsPerNode: 110,
  } as const;
  const start = shownStart(plan, request);
  expect(start).toMatchObject({ ok: true, gained: [] });
  if (!start.ok) return;
  expect(start.rows.map(({ what }) => what)).toEqual(
    expect.arrayContaining(['network', 'address block', 'private node subnet', 'public nat subnet', 'pod range']),
  );
  expect(shownStart(plan, { ...request, name: 'booking' }).ok).toBe(false);
});

test('sizes are said whole, or as a power of two when vast', () => {
  expect(formatSize(4096n)).toBe('4,096');
  expect(formatSize(1n << 64n)).toBe('2^64');
});

test('a stop opens on what is counted for it, the worst first, with questions and the next steps', () => {
  const host = new SliceHost(evaluation);
  for (const stop of ['egress', 'ingress', 'dns', 'cross-cluster'] as const) {
    const { broken, errors, warnings, asks } = mattersAt(host, stop);
    const own = evaluation.findingsInWords().filter((finding) => stopOf(markOf(finding)) === stop);
    expect([errors, warnings]).toEqual([
      own.filter(({ severity }) => severity === 'error').length,
      own.filter(({ severity }) => severity === 'warning').length,
    ]);
    expect(errors).toBeGreaterThan(0);
    expect(broken[0]?.severity).toBe('error');
    expect(asks).toHaveLength(3);
  }
  const empty = new SliceHost(evaluate(emptyPlan({ name: 'empty' })));
  expect(mattersAt(empty, 'egress')).toMatchObject({
    errors: 0,
    isEmpty: true,
    missing: [{ action: 'Add clusters', path: 'demand' }],
    asks: [],
  });
});

test('who lives in a subnet of the ground is named with what it takes', () => {
  const rows = subnetUses(plan);
  expect(rows).toHaveLength(plan.subnets.length);
  const front = rows.find(({ id }) => plan.subnets.find((subnet) => subnet.id === id)?.name === 'basalt-front');
  // A load balancer, of the thirteen that a /28 of a plain LAN has beside its gateway.
  expect(front).toMatchObject({ taken: '1 of 13', living: 'devices 1' });
});
