import { add, applied, cluster as clusterWith, ground, testId } from '../../test/worlds.js';
import { ranges } from '../../test/ways.js';
import { demoPlan } from '../demo/index.js';
import { byId, setOperation, applyOperations, readPacketQuestion } from '../plan/index.js';
import type { Cluster, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { compareMatrices, matrixColumns, MatrixMaker } from './index.js';
import { Forwarding, needsOf, trace } from '../forwarding/index.js';
import type { MatrixCell } from './index.js';
import { codeOfReason } from '../road/index.js';

const demo = demoPlan();
const order = ['broken', 'refused', 'unknown', 'pass'];

function cells(plan: Plan, before?: MatrixMaker) {
  const forwarding = Forwarding.of(plan);
  const columns = matrixColumns(forwarding.parts);
  const maker = new MatrixMaker(forwarding, before);
  const rows = plan.clusters.map((cluster) => ({ cluster, cells: maker.row(cluster, columns) }));
  return { maker, columns, rows, forwarding };
}

const at = (plan: Plan, clusterName: string, label: string): MatrixCell | undefined => {
  const { rows, columns } = cells(plan);
  return rows.find(({ cluster }) => cluster.name === clusterName)?.cells[
    columns.findIndex((column) => column.label === label)
  ];
};

test('each cell is the worst of what is asked one by one, from pods and nodes in every zone', () => {
  const { rows, columns, forwarding } = cells(demo);
  let compared = 0;
  for (const { cluster, cells: own } of rows) {
    const zones = [
      ...new Set(
        demo.allocations
          .filter(
            ({ clusterId, purpose, prefix }) => clusterId === cluster.id && purpose === 'node' && !prefix.includes(':'),
          )
          .map(({ zone }) => zone),
      ),
    ];
    for (const need of needsOf(demo, cluster)) {
      const verdicts = zones.flatMap((zone) =>
        (['node', 'pod'] as const).map(
          (kind) =>
            trace(forwarding, {
              from: { kind, clusterId: cluster.id, nodePoolId: null, zone },
              to: { kind: 'need', needId: need.id },
              bytes: 576,
            }).verdict,
        ),
      );
      if (verdicts.length === 0) continue;
      compared++;
      const expected = [...verdicts].sort((a, b) => order.indexOf(a) - order.indexOf(b))[0];
      expect([cluster.name, need.name, own[columns.findIndex(({ label }) => label === need.name)]?.verdict]).toEqual([
        cluster.name,
        need.name,
        expected,
      ]);
    }
  }
  expect(compared).toBeGreaterThan(80);
});

test.each([
  ['node', 'nodes', 10_250],
  ['pod', 'pods', 8080],
] as const)('what is counted over every other %s is what each of them answers', (target, column, port) => {
  for (const [world, most] of [
    [demo, 12],
    [manyAlike(), 18],
  ] as const) {
    const { rows, columns, forwarding } = cells(world);
    const others = (cluster: Cluster) =>
      world.clusters.filter(({ id, family }) => id !== cluster.id && family !== 'ipv6');
    for (const { cluster, cells: own } of rows.slice(0, most)) {
      const [zone] = world.allocations.flatMap((range) =>
        range.clusterId === cluster.id && range.purpose === 'node' ? [range.zone] : [],
      );
      if (zone === undefined) continue;
      const answers = others(cluster).map(({ id }) =>
        trace(forwarding, {
          from: { kind: 'pod', clusterId: cluster.id, nodePoolId: null, zone },
          to: { kind: target, clusterId: id, nodePoolId: null, zone: '', service: { protocol: 'tcp', port } },
          bytes: 576,
        }),
      );
      const reached = answers.filter(({ flows }) => flows.length > 0);
      const cell = own[columns.findIndex(({ kind }) => kind === column)];
      expect([cluster.name, cell?.passes, cell?.of]).toEqual([
        cluster.name,
        reached.filter(({ verdict }) => verdict === 'pass').length,
        reached.length,
      ]);
    }
  }
});

test('the question that a cell names is answered as the cell says, and is never about the asking cluster itself', () => {
  const { rows, columns, forwarding } = cells(demo);
  let asked = 0;
  for (const { cluster, cells: own } of rows)
    for (const [i, cell] of own.entries()) {
      if (cell === undefined || cell.why === undefined) continue;
      const kind = columns[i]?.kind;
      if (kind === 'nodes' || kind === 'pods')
        expect([cell.to, cell.to.includes(` ${cluster.name} `)]).toEqual([cell.to, false]);
      const question = expectGood(readPacketQuestion(demo, cell.from, cell.to, 576));
      expect([cell.from, cell.to, trace(forwarding, question).verdict]).toEqual([cell.from, cell.to, cell.verdict]);
      asked++;
    }
  expect(asked).toBeGreaterThan(80);
});

test('of clusters that are alike, each is told about the other', () => {
  const fenced = applied(ground(1), [
    ...add('clusters', ...['a', 'b', 'c'].map((name) => clusterWith(name, { networkId: testId('networks', 1) }))),
    ...ranges([1, 'node', '10.1.0.0/24'], [2, 'node', '10.2.0.0/24'], [3, 'node', '10.3.0.0/24']),
    ...add('filters', {
      name: 'closed',
      clusterIds: [testId('clusters', 1), testId('clusters', 2)],
      defaultOut: 'allow',
    }),
  ]);
  const cell = (name: string) => at(fenced, name, 'Other nodes');
  expect(cell('a')).toMatchObject({ verdict: 'refused', passes: 1, of: 2, to: 'node of b tcp 10250' });
  expect(cell('b')).toMatchObject({ verdict: 'refused', passes: 1, of: 2, to: 'node of a tcp 10250' });
  expect(cell('c')).toMatchObject({ verdict: 'refused', passes: 0, of: 2 });
});

test('after an edit of one rule the matrix is what it is from nothing', () => {
  const { maker } = cells(demo);
  for (const rule of [...demo.filterRules, ...demo.firewallRules]) {
    const kind = 'filterId' in rule ? 'filterRules' : 'firewallRules';
    const edited = applyOperations(demo, [setOperation(kind, rule.id, { protocol: 'udp' })]);
    if (!edited.ok) throw new Error(edited.problems[0]?.message);
    const rowsOf = (of: ReturnType<typeof cells>) =>
      of.rows.map(({ cluster, cells: own }) => [
        cluster.name,
        own.map((cell) => [cell?.verdict, cell?.passes, cell?.of]),
      ]);
    expect(rowsOf(cells(edited.plan, maker))).toEqual(rowsOf(cells(edited.plan)));
  }
});

type RangeWords = [cluster: number, purpose: 'node' | 'pod', prefix: string];

/** Three networks on a hub, with overlay, routed and native clusters whose filters say the same, some to others, some without state. */
function manyAlike(): Plan {
  const modes = ['overlay', 'routed', 'native'] as const;
  const clusters = Array.from({ length: 18 }, (_, n) =>
    clusterWith(`c${n}`, {
      networkId: testId('networks', 1 + (n % 3)),
      podMode: modes[n % 2 === 0 ? n % 3 : 1] ?? 'routed',
    }),
  );
  const overlay = (n: number) => clusters[n]?.podMode === 'overlay';
  return applied(ground(3), [
    ...add('clusters', ...clusters),
    ...ranges(
      ...clusters.flatMap((_, n): RangeWords[] => [
        [n + 1, 'node', `10.${n + 1}.0.0/24`],
        [n + 1, 'pod', overlay(n) ? '10.200.0.0/16' : `10.${100 + n}.0.0/20`],
      ]),
    ),
    ...add('links', { name: 'hub', kind: 'hub', networkIds: [1, 2, 3].map((n) => testId('networks', n)) }),
    ...add('inUse', { owner: 'ferry control', prefix: '10.90.0.0/24', networkId: testId('networks', 2) }),
    ...add(
      'filters',
      ...clusters.slice(0, 15).map(({ name }, n) => ({
        name,
        clusterIds: [testId('clusters', n + 1)],
        defaultOut: n % 7 === 6 ? ('deny' as const) : ('allow' as const),
        mode: n % 5 === 4 ? ('ordered' as const) : ('allow-only' as const),
        isStateful: n % 7 !== 6,
      })),
    ),
    ...add(
      'filterRules',
      ...clusters.slice(0, 15).map((_, n) => ({
        filterId: testId('filters', n + 1),
        direction: 'in' as const,
        position: 10,
        action: 'allow' as const,
        protocol: 'tcp' as const,
        ports: n % 4 === 0 ? ['10250', '8080'] : ['10250'],
      })),
      ...[7, 14].map((n) => ({
        filterId: testId('filters', n),
        direction: 'out' as const,
        position: 20,
        action: 'allow' as const,
        protocol: 'tcp' as const,
        ports: ['1024-65535'],
      })),
    ),
  ]);
}

test('after many edits in a row, each row and each cell is what it is from nothing', () => {
  let plan = manyAlike();
  let { maker } = cells(plan);
  const fields = [
    { ports: ['10250', '9100'] },
    { ports: ['22'] },
    { direction: 'out' as const },
    { protocol: 'udp' as const },
    { peers: ['10.3.0.0/24'] },
    { ports: ['1-65535'] },
    { direction: 'in' as const },
  ];
  let changed = 0;
  for (let n = 0; n < 90; n++) {
    const rule = plan.filterRules[(n * 7) % plan.filterRules.length];
    const isOrdered = byId(plan.filters, rule?.filterId ?? '')?.mode === 'ordered';
    const last = cells(plan, maker).rows.flatMap(({ cells: own }) => own.map((cell) => cell?.passes));
    plan = applied(plan, [
      setOperation('filterRules', rule?.id ?? '', {
        ...fields[(n * 3) % fields.length],
        ...(isOrdered && n % 2 === 0 ? { action: 'deny' as const } : {}),
      }),
    ]);
    const followed = cells(plan, maker);
    const said = ({ rows }: ReturnType<typeof cells>) =>
      rows.map(({ cluster, cells: own }) => [
        n,
        cluster.name,
        own.map((cell) => [cell?.verdict, codeOfReason(cell?.why), cell?.passes, cell?.of]),
      ]);
    expect(said(followed)).toEqual(said(cells(plan)));
    for (const cell of followed.rows.flatMap(({ cells: own }) => own)) {
      if (cell?.verdict !== 'refused') continue;
      // What it tells of is refused still.
      const question = expectGood(readPacketQuestion(plan, cell.from, cell.to, 576));
      if (trace(followed.forwarding, question).verdict !== 'refused')
        throw new Error(`edit ${n}: ${cell.from} to ${cell.to} is not refused`);
    }
    changed += followed.rows
      .flatMap(({ cells: own }) => own.map((cell) => cell?.passes))
      .filter((passes, at) => passes !== last[at]).length;
    maker = followed.maker;
  }
  expect(changed).toBeGreaterThan(100);
});

test('a range of the cluster’s own that hides a target is told, also where all others reach it', () => {
  expect(at(demo, 'harbour-ops', 'ferry control')).toMatchObject({
    verdict: 'broken',
    why: { failure: { code: 'shadowed' } },
  });
  expect(at(demo, 'booking-north', 'ferry control')).toMatchObject({ verdict: 'pass' });
  expect(at(demo, 'booking-south', 'ferry control')).toBeUndefined();
});

test('between two states, cells that were gained and lost are told', () => {
  const rule = demo.firewallRules.find(({ position, note }) => position === 100 && note.startsWith('Images'));
  const without = {
    ...demo,
    firewallRules: demo.firewallRules.filter((each) => each !== rule && each.position !== 200),
  };
  const { gained, lost } = compareMatrices(Forwarding.of(demo), Forwarding.of(without));
  expect(gained).toEqual([]);
  expect(lost.map(({ clusterName, label }) => `${clusterName} ${label}`)).toContain('tide-models image registry');
  expect(lost.every(({ before, after }) => after < before)).toBe(true);
  expect(byId(demo.clusters, demo.clusters[0]?.id ?? '')?.name).toBe('booking-north');
});
