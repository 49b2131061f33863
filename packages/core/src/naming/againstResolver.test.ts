import type { Packet } from 'dns-packet';
import { freshAddresses, startResolvers, whyNoAddresses } from '../../test/nameServer.js';
import type { NameServer } from '../../test/nameServer.js';
import { add, applied, ground, testId } from '../../test/worlds.js';
import { Random } from '../load/random.js';
import type { DnsRecord, Plan, Zone } from '../plan/index.js';
import { isWithin, writeZoneFile } from '../zones/index.js';
import type { RecordType } from '../zones/index.js';
import { NameState } from './index.js';
import type { Resolution } from './index.js';

/*
 * Debian's name server as the resolver of three places: the internet, and two networks with private zones of their own. It finds public zones
 * from a root on by their delegations, and follows aliases across zones itself.
 */

const why = whyNoAddresses();
if (why !== undefined) process.stderr.write(`\n*** Names NOT PROVEN against a resolver: ${why}. ***\n\n`);
const [ROOT = '', ONE = '', CHILD = '', TWO = ''] = freshAddresses(4);
const SERVERS = { 'one.test': ONE, 'b.one.test': CHILD, 'two.test': TWO } as const;
type Cut = 'glue' | 'elsewhere' | 'no glue' | 'none';
const cuts: readonly Cut[] = ['glue', 'elsewhere', 'no glue', 'none'];
const places = ['', testId('networks', 1), testId('networks', 2)];

interface PlannedZone {
  readonly zone: Partial<Zone> & { readonly apex: string };
  readonly records: Partial<DnsRecord>[];
}

function worldOf(random: Random, cut: Cut): { readonly plan: Plan; readonly names: readonly string[] } {
  const pick = <T>(all: readonly T[]): T => all[random.below(all.length)] as T;
  const apexes = ['one.test', 'two.test', 'in.one.test', 'in.two.test', ...(cut === 'none' ? [] : ['b.one.test'])];
  const hosts = ['a', 'c', 'd.a', 'x', '*', '*.c', 'e'];
  const names = apexes.flatMap((apex) => [apex, ...hosts.map((host) => `${host.replace('*', 'q')}.${apex}`)]);
  const someRecords = (): Partial<DnsRecord>[] => {
    const held = new Map<string, DnsRecord['type'][]>();
    return Array.from({ length: 4 + random.below(9) }, (): Partial<DnsRecord> | undefined => {
      const name = pick(hosts);
      const type = pick(['A', 'A', 'AAAA', 'TXT', 'CNAME', 'CNAME', 'CNAME'] as const);
      const own = held.get(name) ?? [];
      // An alias stands beside nothing, and of each type there is one record, so that every set has one TTL.
      if (own.includes('CNAME') || own.includes(type) || (type === 'CNAME' && own.length > 0)) return undefined;
      held.set(name, [...own, type]);
      const n = 1 + random.below(4);
      const values = { A: `10.0.0.${n}`, AAAA: `fd00::${n}`, TXT: `"t ${n}"`, CNAME: `${pick(names)}.` };
      return { name, type, value: values[type], target: 'elsewhere', ttl: 60 };
    }).flatMap((each) => each ?? []);
  };
  const server = (address: string): Partial<DnsRecord> => ({
    name: 'ns',
    type: 'A',
    value: address,
    target: 'elsewhere',
    ttl: 60,
  });
  const zone = (
    apex: string,
    address: string,
    fields: Partial<Zone>,
    more: Partial<DnsRecord>[] = [],
  ): PlannedZone => ({
    zone: {
      name: `${apex} ${fields.side ?? ''}`,
      apex,
      nameServers: [`ns.${apex}`],
      ...fields,
    },
    records: [server(address), ...someRecords(), ...more],
  });
  const open = { side: 'public', isDelegated: true } as const;
  const ns = (value: string): Partial<DnsRecord> => ({ name: 'b', type: 'NS', value, target: 'elsewhere', ttl: 60 });
  const delegation: Readonly<Record<Cut, Partial<DnsRecord>[]>> = {
    glue: [
      ns('ns.b.one.test.'),
      { name: 'ns.b', type: 'A', value: SERVERS['b.one.test'], target: 'elsewhere', ttl: 60 },
    ],
    elsewhere: [ns('nsb.two.test.')],
    'no glue': [ns('ns.b.one.test.')],
    none: [],
  };
  const other: Partial<DnsRecord> = {
    name: 'nsb',
    type: 'A',
    value: SERVERS['b.one.test'],
    target: 'elsewhere',
    ttl: 60,
  };
  const [, n1 = '', n2 = ''] = places;
  const planned = [
    zone('one.test', SERVERS['one.test'], open, delegation[cut]),
    zone('two.test', SERVERS['two.test'], open, [other]),
    ...(cut === 'none'
      ? []
      : [
          zone('b.one.test', SERVERS['b.one.test'], {
            ...open,
            ...(cut === 'elsewhere' ? { nameServers: ['nsb.two.test'] } : {}),
          }),
        ]),
    zone('in.one.test', '127.0.9.9', { side: 'private', networkIds: [n1] }),
    zone('in.two.test', '127.0.9.9', { side: 'private', networkIds: [n1, n2] }),
    // The private twin of a public zone hides all of it.
    zone('one.test', '127.0.9.9', { side: 'private', networkIds: [n2] }),
  ];
  const plan = applied(ground(2), [
    ...add('zones', ...planned.map((each) => each.zone)),
    ...add(
      'records',
      ...planned.flatMap(({ records }, at) => records.map((each) => ({ ...each, zoneId: testId('zones', at + 1) }))),
    ),
  ]);
  return { plan, names: [...names, 'y.e.one.test', 'z.in.one.test', 'deep.q.c.two.test'] };
}

async function serve(plan: Plan, state: NameState): Promise<NameServer> {
  const textOf = (zone: Zone) => writeZoneFile(zone.apex, state.treeOf(zone).records());
  const open = plan.zones.filter(({ side }) => side === 'public');
  const root = [
    '. 3600 IN SOA ns.root.invalid. hands.root.invalid. 1 3600 600 86400 60',
    '. 3600 IN NS ns.root.invalid.',
    `ns.root.invalid. 3600 IN A ${ROOT}`,
    ...(['one.test', 'two.test'] as const).flatMap((apex) => [
      `${apex}. 3600 IN NS ns.${apex}.`,
      `ns.${apex}. 3600 IN A ${SERVERS[apex]}`,
    ]),
  ].join('\n');
  return startResolvers(
    places.map((id) =>
      Object.fromEntries(
        plan.zones
          .filter(({ side, networkIds }) => side === 'private' && networkIds.includes(id))
          .map((zone) => [zone.apex, textOf(zone)]),
      ),
    ),
    [
      { address: ROOT, zones: { '': `${root}\n` } },
      ...open.map((zone) => ({
        address: SERVERS[zone.apex as keyof typeof SERVERS],
        zones: { [zone.apex]: textOf(zone) },
      })),
    ],
    ROOT,
  );
}

interface Said {
  readonly rcode: string;
  readonly answers: readonly string[];
}

function ours({ outcome, records }: Resolution): Said | undefined {
  if (outcome === 'outside' || outcome === 'time-out') return undefined;
  const rcode = outcome === 'failure' ? 'SERVFAIL' : outcome === 'no name' ? 'NXDOMAIN' : 'NOERROR';
  const answers = records.map((each) => `${each.name} ${each.type} ${each.value.replace(/\.$/, '')}`).sort();
  return { rcode, answers: rcode === 'SERVFAIL' ? [] : answers };
}

function theirs(packet: Packet): Said {
  const { rcode } = packet as unknown as { rcode: string };
  const answers = (packet.answers ?? []).map((each) => {
    const { data } = each as { data?: unknown };
    const value =
      each.type === 'TXT'
        ? [data]
            .flat()
            .map((text) => `"${String(text)}"`)
            .join(' ')
        : String(data);
    return `${each.name.toLowerCase()} ${each.type} ${value.toLowerCase().replace(/\.$/, '')}`;
  });
  return { rcode, answers: rcode === 'SERVFAIL' ? [] : answers.sort() };
}

/**
 * An alias that a public server tells, to a name below its own zone that the place holds in a private one. RFC 1034 5.3.3 has a resolver start
 * again with that name; this one takes it for an attempt to plant names in zones that it serves itself, and fails.
 */
function isPlantedHere({ records }: Resolution, zones: readonly Zone[], networkId: string): boolean {
  const own = zones.filter(({ side, networkIds }) => side === 'private' && networkIds.includes(networkId));
  const open = zones.filter(({ side }) => side === 'public');
  return records.some(({ type, name, target = '' }) => {
    if (type !== 'CNAME' || own.some(({ apex }) => isWithin(name, apex))) return false;
    return own.some(
      ({ apex }) =>
        isWithin(target, apex) && open.some((zone) => isWithin(name, zone.apex) && isWithin(apex, zone.apex)),
    );
  });
}

/** Loops and long chains end differently from resolver to resolver. */
function isPlain({ records, outcome }: Resolution): boolean {
  const aliases = records.filter(({ type }) => type === 'CNAME').length;
  return aliases <= 8 && !(outcome === 'failure' && aliases > 0);
}

(why === undefined ? test : test.skip)(
  '6,000 queries from the internet and two networks are answered as Debian’s name server resolves them there',
  async () => {
    const random = new Random(24);
    const met = new Map<string, number>();
    const differing: unknown[] = [];
    let asked = 0;
    for (let world = 0; world < 28; world++) {
      const cut = cuts[world % cuts.length] as Cut;
      const { plan, names } = worldOf(random, cut);
      const state = NameState.of(plan);
      const server = await serve(plan, state);
      try {
        for (const [place, networkId] of places.entries())
          for (const name of names)
            for (const type of ['A', 'AAAA', 'CNAME'] as const satisfies readonly RecordType[]) {
              const resolution = state.answers.of(networkId, `${name}.`, type);
              const mine = ours(resolution);
              if (mine === undefined || !isPlain(resolution) || isPlantedHere(resolution, plan.zones, networkId))
                continue;
              asked++;
              const across =
                new Set(resolution.records.map((each) => each.name.split('.').slice(-3).join('.'))).size > 1;
              const kind = `${mine.rcode}${across ? ' across zones' : ''}`;
              met.set(kind, (met.get(kind) ?? 0) + 1);
              const other = theirs(await server.ask(place, name, type));
              if (JSON.stringify(mine) !== JSON.stringify(other))
                differing.push({ world, cut, place, name, type, mine, other });
            }
      } finally {
        await server.stop();
      }
    }
    expect(differing.map((each) => JSON.stringify(each))).toEqual([]);
    expect(asked).toBeGreaterThan(6000);
    for (const kind of ['NOERROR', 'NOERROR across zones', 'NXDOMAIN', 'NXDOMAIN across zones', 'SERVFAIL'])
      expect([kind, (met.get(kind) ?? 0) > 20, met]).toEqual([kind, true, met]);
  },
  180_000,
);
