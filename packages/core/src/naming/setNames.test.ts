import type { Answer } from 'dns-packet';
import { joined, served } from '../../test/connections.js';
import { startNameServer } from '../../test/nameServer.js';
import { testId } from '../../test/worlds.js';
import { Forwarding } from '../forwarding/index.js';
import type { Plan } from '../plan/index.js';
import { setZones } from './index.js';

const member = (n: number) => testId('members', n);

/**
 * Three clusters joined by tunnels. web is exported by all, by the third as the second rank alone; the services of c2 are shown
 * translated. db is headless in c2, with pods db-0 and db-1.
 */
const plan = joined({
  count: 3,
  connection: { dnsTtl: 30 },
  members: [{}, { translated: ['10.202.0.0/20 as 172.20.0.0/20'] }, {}],
  exports: [
    { memberId: member(1), namespace: 'shop', name: 'web' },
    { memberId: member(2), namespace: 'shop', name: 'web' },
    { memberId: member(3), namespace: 'shop', name: 'web', rank: 2 },
    { memberId: member(2), namespace: 'shop', name: 'db' },
  ],
  more: [
    ...served(1, 'web', { address: '10.201.0.10' }),
    ...served(2, 'web', { address: '10.202.0.10' }),
    ...served(3, 'web', { address: '10.203.0.10' }),
    ...served(2, 'db', { type: 'headless', ports: ['sql tcp 5432 to http'] }, 4).map((operation) =>
      operation.op === 'add' && operation.kind === 'workloads'
        ? { ...operation, entity: { ...operation.entity, objectKind: 'StatefulSet' as const } }
        : operation,
    ),
  ],
});

/**
 * What c1 must find, written by hand after the DNS part of the multi-cluster services API (from memory): one name for a service,
 * an SRV record for each named port, at the port of the pods where nothing translates it, the pods of a headless service by host name and cluster id. 192.0.2.x stands for pods, whose
 * addresses no plan knows.
 */
const head = (apex: string) => `$TTL 30
${apex}. 5 IN SOA ns.dns.${apex}. hostmaster.dns.${apex}. 1 7200 1800 86400 5
${apex}. 5 IN NS ns.else.where.
`;
const pods = (suffix: string) => `db.shop.svc.${suffix}. A 192.0.2.1
db-0.m2.db.shop.svc.${suffix}. A 192.0.2.1
db-1.m2.db.shop.svc.${suffix}. A 192.0.2.1
_sql._tcp.db.shop.svc.${suffix}. SRV 0 100 8080 db-0.m2.db.shop.svc.${suffix}.
_sql._tcp.db.shop.svc.${suffix}. SRV 0 100 8080 db-1.m2.db.shop.svc.${suffix}.
`;
const web = (
  suffix: string,
  ...addresses: string[]
) => `${addresses.map((each) => `web.shop.svc.${suffix}. A ${each}\n`).join('')}_web._tcp.web.shop.svc.${suffix}. SRV 0 100 80 web.shop.svc.${suffix}.
`;
const byHand = {
  'clusterset.local':
    head('clusterset.local') + web('clusterset.local', '10.201.0.10', '172.20.0.10') + pods('clusterset.local'),
  'm1.clusterset.local': head('m1.clusterset.local') + web('m1.clusterset.local', '10.201.0.10'),
  'm2.clusterset.local':
    head('m2.clusterset.local') + web('m2.clusterset.local', '172.20.0.10') + pods('m2.clusterset.local'),
  'm3.clusterset.local': head('m3.clusterset.local') + web('m3.clusterset.local', '10.203.0.10'),
};

const starts = [
  '',
  'svc',
  'shop.svc',
  'web.shop.svc',
  '_tcp.web.shop.svc',
  '_web._tcp.web.shop.svc',
  '_web._udp.web.shop.svc',
  'other.shop.svc',
  'web.other.svc',
  'x.web.shop.svc',
  'db.shop.svc',
  'm2.db.shop.svc',
  'm1.db.shop.svc',
  'db-0.m2.db.shop.svc',
  'db-1.m2.db.shop.svc',
  'db-2.m2.db.shop.svc',
  'db-0.m1.db.shop.svc',
  'db-0.db.shop.svc',
  '_sql._tcp.db.shop.svc',
  'pod',
];
const suffixes = [
  'clusterset.local',
  'm1.clusterset.local',
  'm2.clusterset.local',
  'm3.clusterset.local',
  'm4.clusterset.local',
];

/** Pods are told by being there: the one by words, the other by an address that stands for them. */
const podless = (value: string) => (/^the pods? /.test(value) || value === '192.0.2.1' ? 'pod' : value);
const valueOf = (answer: Answer) =>
  answer.type === 'SRV'
    ? `${answer.data.priority ?? 0} ${answer.data.weight ?? 0} ${answer.data.port} ${answer.data.target}`
    : podless(String((answer as { data?: unknown }).data));

test('exported services are found as Debian’s name server finds them in zones written by hand', async () => {
  const viewer = plan.clusters.find(({ name }) => name === 'c1') as Plan['clusters'][number];
  const zones = setZones(plan, Forwarding.of(plan), viewer);
  const server = await startNameServer([byHand]);
  try {
    for (const suffix of suffixes)
      for (const start of starts)
        for (const type of ['A', 'AAAA', 'SRV'] as const) {
          const name = start === '' ? suffix : `${start}.${suffix}`;
          const own = zones.ask(name, type);
          const theirs = await server.ask(0, name, type);
          const said = {
            rcode: own.outcome === 'no name' ? 'NXDOMAIN' : 'NOERROR',
            answers: own.records.map((each) => `${each.name} ${each.ttl} ${podless(each.value)}`).sort(),
            negative: own.outcome === 'answer' ? 0 : own.zone?.negativeTtl(),
          };
          const soa = (theirs.authorities ?? []).find((each) => each.type === 'SOA');
          expect([name, type, said]).toEqual([
            name,
            type,
            {
              rcode: (theirs as unknown as { rcode: string }).rcode,
              answers: (theirs.answers ?? [])
                .map((each) => `${each.name} ${'ttl' in each ? each.ttl : 0} ${valueOf(each)}`)
                .sort(),
              negative: soa !== undefined && 'ttl' in soa ? soa.ttl : 0,
            },
          ]);
        }
  } finally {
    await server.stop();
  }
});
