import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Answer, Packet } from 'dns-packet';
import fc from 'fast-check';
import { startNameServer } from '../../test/nameServer.js';
import type { NameServer } from '../../test/nameServer.js';
import { isWithin, readValue, readZoneFile, writeZoneFile, ZoneSet, ZoneTree } from './index.js';
import type { RecordType, Rr } from './index.js';

/** What is asked in one way of ours and of the name server's. */
interface Said {
  readonly rcode: string;
  /** "name type ttl value", in no order within a set. */
  readonly answers: readonly string[];
  /** Servers of the delegation that a referral names. */
  readonly referral: readonly string[];
  /** Seconds that a negative answer lives; -1 where it is none. */
  readonly negative: number;
}

const types = ['A', 'AAAA', 'CNAME', 'TXT', 'MX', 'SRV', 'NS'] as const;

/** Names in few labels, so that wildcards, delegations and empty names between meet one another. */
const label = fc.constantFrom('a', 'b', 'c', '*', 'x-1');
const below = fc.array(label, { maxLength: 4 }).map((labels) => labels.join('.'));
const anyName = fc.array(fc.constantFrom('a', 'b', 'c', 'd', '*', 'x-1'), { maxLength: 5 });

const record = (apex: string, apexes: readonly string[]) =>
  fc
    .record({
      at: below,
      type: fc.constantFrom<RecordType>('A', 'A', 'AAAA', 'CNAME', 'CNAME', 'CNAME', 'TXT', 'MX', 'SRV', 'NS'),
      n: fc.integer({ min: 1, max: 4 }),
      ttl: fc.constantFrom(30, 60, 300, 3600),
      to: fc.oneof(below, fc.constantFrom('ns', 'a', 'b', 'c')),
      toApex: fc.constantFrom(...apexes, 'else.where'),
    })
    .map(({ at, type, n, ttl, to, toApex }): Rr => {
      const name = at === '' ? apex : `${at}.${apex}`;
      const target = to.includes('*') || to === '' ? `ns.${toApex}` : `${to}.${toApex}`;
      const values: Partial<Record<RecordType, string>> = {
        A: `10.0.0.${n}`,
        AAAA: `fd00::${n}`,
        TXT: `"t ${n}"`,
        MX: `${n} ${target}`,
        SRV: `0 ${n} 443 ${target}`,
      };
      const value = values[type] ?? target;
      const read = readValue(type, value);
      if (!read.ok) throw new Error(read.problem.message);
      return { name, type, ttl, ...read.value };
    });

/** A zone that a name server takes: no CNAME beside other data or at the apex, one TTL a set, no delegation by a wildcard. */
function legal(apex: string, all: readonly Rr[], minimum: number): Rr[] {
  const kept: Rr[] = [
    {
      name: apex,
      type: 'SOA',
      ttl: 900,
      value: `ns.${apex} hands.${apex} 1 3600 600 86400 ${minimum}`,
      target: `ns.${apex}`,
    },
    { name: apex, type: 'NS', ttl: 3600, value: `ns.${apex}`, target: `ns.${apex}` },
    { name: `ns.${apex}`, type: 'A', ttl: 3600, value: '10.9.9.9', target: undefined },
  ];
  for (const each of all) {
    const own = kept.filter(({ name }) => name === each.name);
    if (each.type === 'CNAME' && (own.length > 0 || each.name === apex)) continue;
    if (own.some(({ type }) => type === 'CNAME')) continue;
    // A server of the zone itself must have an address in it; a wildcard’s NS is left undefined by RFC 4592 4.2.
    if (each.type === 'NS' && (each.name === apex || each.name.split('.').includes('*'))) continue;
    if (each.name === `ns.${apex}` || own.some(({ type, value }) => type === each.type && value === each.value))
      continue;
    const ttl = own.find(({ type }) => type === each.type)?.ttl ?? each.ttl;
    kept.push({ ...each, ttl });
  }
  return kept;
}

function ours(zones: ZoneSet, name: string, type: RecordType): Said {
  const { outcome, records, zone, delegation } = zones.ask(name, type);
  const answers = records.map((each) => `${each.name} ${each.type} ${each.ttl} ${each.value}`);
  const isNegative = outcome === 'no name' || outcome === 'no data';
  return {
    rcode: outcome === 'no name' ? 'NXDOMAIN' : outcome === 'not here' && records.length === 0 ? 'REFUSED' : 'NOERROR',
    answers: answers.sort(),
    referral: outcome === 'referral' ? delegation.map(({ name: cut, value }) => `${cut} ${value}`).sort() : [],
    negative: isNegative ? (zone?.negativeTtl() ?? -1) : -1,
  };
}

function theirs({ answers = [], authorities = [], ...packet }: Packet, hosted: ReadonlySet<string>): Said {
  const lower = (text: string) => text.toLowerCase();
  const value = (answer: Answer): string => {
    switch (answer.type) {
      case 'TXT':
        return [answer.data]
          .flat()
          .map((each) => `"${String(each)}"`)
          .join(' ');
      case 'MX':
        return `${answer.data.preference ?? 0} ${lower(answer.data.exchange)}`;
      case 'SRV':
        return `${answer.data.priority ?? 0} ${answer.data.weight ?? 0} ${answer.data.port} ${lower(answer.data.target)}`;
      default:
        return lower(String((answer as { data?: unknown }).data));
    }
  };
  const soa = authorities.find((each) => each.type === 'SOA');
  // NS records of a zone’s own apex come beside an answer; those of another name are a referral.
  const isReferral = authorities.some((each) => each.type === 'NS' && !hosted.has(lower(each.name)));
  return {
    rcode: (packet as unknown as { rcode: string }).rcode,
    answers: answers
      .map((each) => `${lower(each.name)} ${each.type} ${'ttl' in each ? each.ttl : 0} ${value(each)}`)
      .sort(),
    referral: isReferral ? authorities.map((each) => `${lower(each.name)} ${value(each)}`).sort() : [],
    negative: soa !== undefined && 'ttl' in soa ? (soa.ttl ?? -1) : -1,
  };
}

/** What a resolver learns of the server: where an alias leads from one zone to another one, which the server leaves to its clients, it asks again. */
async function resolved(
  server: NameServer,
  view: number,
  set: ZoneSet,
  hosted: ReadonlySet<string>,
  name: string,
  type: string,
): Promise<Said> {
  const said = theirs(await server.ask(view, name, type), hosted);
  const last = said.answers
    .map((each) => each.split(' '))
    .filter(([, of]) => of === 'CNAME')
    .map(([owner, , , target = '']) => ({ owner, target }));
  const open = last.filter(({ target }) => !said.answers.some((each) => each.startsWith(`${target} `)));
  const [alias] = open;
  if (type === 'CNAME' || alias === undefined || said.negative >= 0 || said.referral.length > 0) return said;
  if (set.closest(alias.target) === set.closest(name) || set.closest(alias.target) === undefined) return said;
  const rest = await resolved(server, view, set, hosted, alias.target, type);
  return { ...rest, answers: [...new Set([...said.answers, ...rest.answers])].sort() };
}

/** Sees to it that chains stay shorter than where servers give up, and that none is a loop: both end differently from server to server. */
function isPlainChain(said: readonly Rr[], outcome: string): boolean {
  return outcome !== 'loop' && said.filter(({ type }) => type === 'CNAME').length <= 8;
}

test('2,000 random queries over random zones and views are answered as Debian’s name server answers them', async () => {
  const seed = 20_261_126;
  const worlds = fc.sample(
    fc.tuple(
      fc.array(record('one.test', ['one.test', 'b.one.test', 'two.test']), { maxLength: 40 }),
      fc.array(record('b.one.test', ['one.test', 'b.one.test', 'two.test']), { maxLength: 15 }),
      fc.array(record('two.test', ['one.test', 'two.test']), { maxLength: 30 }),
      fc.constantFrom(30, 600, 7200),
    ),
    { seed, numRuns: 25 },
  );
  const zonesOf = worlds.map(([one, child, two, minimum], at) => [
    ['one.test', legal('one.test', one, minimum)] as const,
    // In every other world the child is hosted elsewhere.
    ...(at % 2 === 0 ? [['b.one.test', legal('b.one.test', child, minimum)] as const] : []),
    ['two.test', legal('two.test', two, minimum)] as const,
  ]);
  const views = zonesOf.map((zones) =>
    Object.fromEntries(zones.map(([apex, records]) => [apex, writeZoneFile(apex, records)])),
  );
  const server = await startNameServer(views);
  const disagreements: unknown[] = [];
  const met = new Map<string, number>();
  let asked = 0;
  try {
    for (const [at, zones] of zonesOf.entries()) {
      const set = new ZoneSet(zones.map(([apex, records]) => ZoneTree.of(apex, records)));
      // Names that are there, those below wildcards, and names that may be.
      const known = zones.flatMap(([, records]) =>
        records.flatMap((each) => [each.name, each.name.replace('*', 'q'), `q.${each.name}`]),
      );
      const hosted = new Set(zones.map(([apex]) => apex));
      const questions = fc.sample(
        fc.tuple(
          fc.oneof(
            {
              arbitrary: fc
                .tuple(anyName, fc.constantFrom('one.test', 'b.one.test', 'two.test'))
                .map(([labels, apex]) => [...labels, apex].join('.')),
              weight: 1,
            },
            { arbitrary: fc.constantFrom(...known), weight: 2 },
          ),
          fc.constantFrom(...types),
        ),
        { seed: seed + at, numRuns: 110 },
      );
      for (const [name, type] of questions) {
        const said = set.ask(name, type);
        if (!isPlainChain(said.records, said.outcome)) continue;
        asked++;
        const wild = said.wildcards.length > 0 ? ' by wildcard' : '';
        const kind = `${said.outcome}${wild}${said.records.some((each) => each.type === 'CNAME') ? ' by alias' : ''}`;
        met.set(kind, (met.get(kind) ?? 0) + 1);
        const mine = ours(set, name, type);
        const other = await resolved(server, at, set, hosted, name, type);
        if (JSON.stringify(mine) !== JSON.stringify(other)) disagreements.push({ at, name, type, mine, other });
      }
    }
  } finally {
    await server.stop();
  }
  expect(disagreements).toEqual([]);
  expect(asked).toBeGreaterThanOrEqual(2000);
  // The queries meet what they are to meet.
  for (const kind of [
    'answer',
    'answer by wildcard',
    'answer by alias',
    'no data',
    'no name',
    'referral',
    'no data by wildcard',
  ])
    expect([kind, (met.get(kind) ?? 0) > 10, met]).toEqual([kind, true, met]);
});

test('what is written is read back, and named-checkzone takes it', () => {
  const folder = mkdtempSync('/var/tmp/wl-zones-');
  try {
    fc.assert(
      fc.property(fc.array(record('one.test', ['one.test', 'two.test']), { maxLength: 40 }), (all) => {
        const records = legal('one.test', all, 300);
        const text = writeZoneFile('one.test', records);
        const read = readZoneFile(text, 'one.test');
        expect(read.problems).toEqual([]);
        const key = ({ name, type, ttl, value }: Rr) => `${name} ${type} ${ttl} ${value}`;
        expect(read.records.map(key).sort()).toEqual(records.map(key).sort());
        const file = join(folder, 'zone');
        writeFileSync(file, text);
        // -i none: addresses of servers are not looked for outside; -k ignore: any owner name.
        expect(
          execFileSync('named-checkzone', [
            '-i',
            'none',
            '-k',
            'ignore',
            '-M',
            'ignore',
            '-S',
            'ignore',
            'one.test',
            file,
          ]).toString(),
        ).toMatch(/OK\s*$/);
        expect(records.every(({ name }) => isWithin(name, 'one.test'))).toBe(true);
      }),
      { numRuns: 40 },
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
