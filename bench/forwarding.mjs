// Look-ups in a table of 10,000 routes, packets against 10,000 ordered rules, and the matrix of 1,000 clusters with one rule edited.
import { formatAddress, parseAddress } from '@wide-lattice/core/address';
import { Forwarding, trace } from '@wide-lattice/core/forwarding';
import { matrixColumns, MatrixMaker } from '@wide-lattice/core/reach';
import { addOperation, kinds, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import ipaddr from 'ipaddr.js';
import { alternate, row, scaled, seeded } from './measure.mjs';
import { apply, organisation } from './organisation.mjs';

const random = seeded(7);
const octet = () => Math.floor(random() * 256);
const id = (kind, n) =>
  `019d0000-${kinds.indexOf(kind).toString(16).padStart(4, '0')}-7000-8000-${n.toString(16).padStart(12, '0')}`;
const add = (kind, n, fields) => addOperation(kind, withFallbacks(kind, { id: id(kind, n), ...fields }));
const prefix = () => `${20 + Math.floor(random() * 100)}.${octet()}.${octet()}.0/24`;

const plan = organisation(scaled(1000, 60));
const [network] = plan.networks;
const site = plan.sites[0].id;
const parse = (text) => parseAddress(text).value;

// 1: one table of 10,000 static routes.
const prefixes = [...new Set(Array.from({ length: scaled(10_400, 520) }, prefix))].slice(0, scaled(10_000, 500));
const routed = apply(plan, [
  add('routeTables', 1, { name: 'large', networkId: network.id }),
  ...prefixes.map((each, n) => add('routes', n, { routeTableId: id('routeTables', 1), prefix: each, nextHop: 'drop' })),
]);
const forwarding = Forwarding.of(routed);
const [table] = routed.routeTables;
const sought = Array.from(
  { length: 2000 },
  () => `${20 + Math.floor(random() * 100)}.${octet()}.${octet()}.${octet()}`,
);
const parsed = sought.map(parse);
const cidrs = prefixes.map((each) => ipaddr.parseCIDR(each));
forwarding.routes.lookUp(network.id, table, parsed[0]);
const [compiled, scan] = alternate([
  () => parsed.forEach((address) => forwarding.routes.lookUp(network.id, table, address)),
  () =>
    sought.slice(0, 20).forEach((text) => {
      const address = ipaddr.parse(text);
      let best;
      for (const cidr of cidrs) if (address.match(cidr) && (best === undefined || cidr[1] > best[1])) best = cidr;
      return best;
    }),
]);
row(
  '2,000 look-ups in 10,000 routes, derived ones included',
  compiled,
  'a linear scan with a library (1 in 100, scaled up)',
  scan * 100,
);

// 2: one firewall of 10,000 ordered rules.
const rules = prefixes.map((destination, n) => ({
  position: n + 1,
  action: n % 3 === 0 ? 'deny' : 'allow',
  ports: [String(1 + (n % 60_000))],
  destinations: [destination],
}));
const walled = apply(plan, [
  add('subnets', 1, { name: 'wall', networkId: network.id, siteId: site, purpose: 'other', prefix: '10.255.0.0/28' }),
  add('firewalls', 1, { name: 'wall', subnetId: id('subnets', 1) }),
  ...rules.map((rule, n) => add('firewallRules', n, { firewallId: id('firewalls', 1), protocol: 'tcp', ...rule })),
]);
const list = Forwarding.of(walled).lists.rulesOf(walled.firewalls[0]);
const packets = parsed.map((destination, i) => ({
  source: parse('10.0.0.1'),
  destination,
  protocol: 'tcp',
  port: 1 + (i % 60_000),
  clientPorts: { first: 1, last: 1 },
  isAnswer: false,
}));
list.decide(packets[0], 'deny');
const [indexed, firstMatch] = alternate([
  () => packets.forEach((packet) => list.decide(packet, 'deny')),
  () =>
    packets.slice(0, 20).forEach((packet) => {
      const address = ipaddr.parse(formatAddress(packet.destination));
      return (
        rules.find((rule, n) => rule.ports[0] === String(packet.port) && address.match(cidrs[n]))?.action ?? 'deny'
      );
    }),
]);
row('2,000 packets against 10,000 ordered rules', indexed, 'first-match scan (1 in 100, scaled up)', firstMatch * 100);

// 3: the matrix of 1,000 clusters by 12 columns, each cluster with a filter of its own.
const withNeeds = (base) =>
  apply(base, [
    ...Array.from({ length: 7 }, (_, n) =>
      add('needs', n, { name: `need ${n}`, prefixes: [`198.51.${100 + n}.0/24`], ports: ['443'] }),
    ),
    ...base.clusters
      .slice(0, 1000)
      .flatMap(({ id: clusterId, name }, n) => [
        add('filters', n, { name: `${name} nodes`, clusterIds: [clusterId], defaultOut: 'allow' }),
        add('filterRules', n, { filterId: id('filters', n), direction: 'in', position: 10, ports: ['10250'] }),
      ]),
  ]);
const fenced = withNeeds(plan);
const columns = matrixColumns(fenced);
const cellsOf = (maker, of) => of.clusters.reduce((sum, cluster) => sum + maker.row(cluster, columns).length, 0);
const first = Forwarding.of(fenced);
const maker = new MatrixMaker(first);
cellsOf(maker, fenced);
// Edits of different rules one after the other, each to something that no other filter says.
const EDITS = scaled(30, 3);
const edits = [];
for (let n = 0; n < EDITS; n++)
  edits.push(
    apply(edits.at(-1) ?? fenced, [
      setOperation('filterRules', fenced.filterRules[(30 * n + 50) % fenced.filterRules.length].id, {
        ports: ['10250', String(9100 + n)],
      }),
    ]),
  );
const [whole, after] = alternate(
  [
    () => cellsOf(new MatrixMaker(Forwarding.of(fenced)), fenced),
    () => {
      let last = { of: first, maker };
      for (const edited of edits) {
        const of = Forwarding.of(edited, last.of);
        const next = new MatrixMaker(of, last.maker);
        cellsOf(next, edited);
        of.release();
        last = { of, maker: next };
      }
    },
  ],
  3,
);
console.log(`matrix: ${fenced.clusters.length} clusters by ${columns.length} columns`);
row(`the matrix after one rule is edited (of ${EDITS} in a row)`, after / EDITS, 'the whole matrix', whole);

// 4: one trace in a plan of 5,000 clusters, once its networks are compiled.
const large = withNeeds(organisation(scaled(5000, 80)));
const all = Forwarding.of(large);
const question = {
  from: { kind: 'pod', clusterId: large.clusters[0].id, nodePoolId: null, zone: '' },
  to: {
    kind: 'node',
    clusterId: large.clusters[Math.floor(0.8 * large.clusters.length)].id,
    nodePoolId: null,
    zone: '',
    service: { protocol: 'tcp', port: 22 },
  },
  bytes: 576,
};
trace(all, question);
const [single, matrix] = alternate(
  [() => trace(all, question), () => cellsOf(new MatrixMaker(Forwarding.of(large, all)), large)],
  3,
);
row('one trace among 5,000 clusters', single, 'the matrix of them', matrix);
