import fc from 'fast-check';
import { readZoneFile, ZoneSet, ZoneTree } from './index.js';
import type { RecordType, Rr } from './index.js';

const zone = (apex: string, text: string): ZoneTree => {
  const { records, problems } = readZoneFile(text, apex);
  if (problems.length > 0) throw new Error(JSON.stringify(problems));
  return ZoneTree.of(apex, records);
};

describe('wildcards: the zone and every example of RFC 4592 2.2.1', () => {
  const example = zone(
    'example',
    `$ORIGIN example.
    example.                 3600 IN  SOA   ns.example.com. hostmaster.example. 1 3600 600 86400 3600
    example.                 3600     NS    ns.example.com.
    example.                 3600     NS    ns.example.net.
    *.example.               3600     TXT   "this is a wildcard"
    *.example.               3600     MX    10 host1.example.
    sub.*.example.           3600     TXT   "this is not a wildcard"
    host1.example.           3600     A     192.0.2.1
    _ssh._tcp.host1.example. 3600     SRV   0 0 22 host1.example.
    _ssh._tcp.host2.example. 3600     SRV   0 0 22 host2.example.
    subdel.example.          3600     NS    ns.example.com.
    subdel.example.          3600     NS    ns.example.net.
    `.replaceAll('\n    ', '\n'),
  );
  const said = (name: string, type: RecordType) => {
    const { outcome, records, wildcard } = example.lookUp(name, type);
    return [outcome, records.map((each) => `${each.name} ${each.value}`).join(), wildcard];
  };
  // "The following responses would be synthesized from one of the wildcards in the zone"
  test.each([
    ['host3.example', 'MX', 'answer', 'host3.example 10 host1.example'],
    ['host3.example', 'A', 'no data', ''],
    ['foo.bar.example', 'TXT', 'answer', 'foo.bar.example "this is a wildcard"'],
  ] as const)('%s %s is made from the wildcard: %s', (name, type, outcome, record) => {
    expect(said(name, type)).toEqual([outcome, record, '*.example']);
  });
  // "The following responses would not be synthesized from any of the wildcards in the zone"
  test.each([
    ['host1.example', 'MX', 'no data'], // because host1.example. exists
    ['sub.*.example', 'MX', 'no data'], // because sub.*.example. exists
    ['_telnet._tcp.host1.example', 'SRV', 'no name'], // because _tcp.host1.example. exists (without data)
    ['host.subdel.example', 'A', 'referral'], // because subdel.example. exists (and is a zone cut)
    ['ghost.*.example', 'MX', 'no name'], // because *.example. exists
  ] as const)('%s %s is not: %s', (name, type, outcome) => {
    expect(said(name, type)).toEqual([outcome, '', undefined]);
  });
  // 2.2.2: names without records of their own exist while names below them do.
  test('empty names between exist', () => {
    expect(said('_tcp.host2.example', 'A')[0]).toBe('no data');
    expect(said('host2.example', 'TXT')[0]).toBe('no data');
  });
});

describe('the zone of RFC 1034 6.1, and queries of 6.2', () => {
  // 6.2 asks for these names; the answers are those that it prints (MIL and its servers, ISI aliases).
  const root = zone(
    '',
    '. 86400 IN SOA sri-nic.arpa. hostmaster.sri-nic.arpa. 870611 1800 300 604800 86400\n. 86400 NS a.isi.edu.\nmil. 86400 NS sri-nic.arpa.\nedu. 86400 NS sri-nic.arpa.\nsri-nic.arpa. 86400 A 26.0.0.73\nsri-nic.arpa. 86400 A 10.0.0.51\nsri-nic.arpa. 86400 MX 0 sri-nic.arpa.\nusc-isic.arpa. 86400 CNAME c.isi.edu.\n26.6.0.26.in-addr.arpa. 86400 PTR acc.arpa.\n',
  );
  const set = new ZoneSet([root]);
  test('6.2.1 and 6.2.3: SRI-NIC.ARPA, A and MX', () => {
    expect(
      set
        .ask('sri-nic.arpa', 'A')
        .records.map(({ value }) => value)
        .sort(),
    ).toEqual(['10.0.0.51', '26.0.0.73']);
    expect(set.ask('sri-nic.arpa', 'MX').records.map(({ value }) => value)).toEqual(['0 sri-nic.arpa']);
  });
  test('6.2.4: SRI-NIC.ARPA, NS: no such record', () => {
    expect(set.ask('sri-nic.arpa', 'NS')).toMatchObject({ outcome: 'no data', records: [] });
  });
  test('6.2.5: SIR-NIC.ARPA, A: no such name', () => {
    expect(set.ask('sir-nic.arpa', 'A')).toMatchObject({ outcome: 'no name', records: [] });
  });
  test('6.2.6: BRL.MIL, A: a referral', () => {
    expect(set.ask('brl.mil', 'A')).toMatchObject({
      outcome: 'referral',
      delegation: [{ name: 'mil', value: 'sri-nic.arpa' }],
    });
  });
  test('6.2.7 and 6.2.8: USC-ISIC.ARPA, A and CNAME', () => {
    expect(set.ask('usc-isic.arpa', 'A')).toMatchObject({
      outcome: 'referral',
      at: 'c.isi.edu',
      records: [{ value: 'c.isi.edu' }],
    });
    expect(set.ask('usc-isic.arpa', 'CNAME')).toMatchObject({ outcome: 'answer', records: [{ value: 'c.isi.edu' }] });
  });
});

test('a block smaller than 256 addresses is delegated by aliases: the example of RFC 2317 4', () => {
  const parent = zone(
    '2.0.192.in-addr.arpa',
    '0/25 NS ns.A.domain.\n1 CNAME 1.0/25.2.0.192.in-addr.arpa.\n2 CNAME 2.0/25.2.0.192.in-addr.arpa.\n128/26 NS ns.B.domain.\n129 CNAME 129.128/26.2.0.192.in-addr.arpa.',
  );
  const child = zone('0/25.2.0.192.in-addr.arpa', '1 PTR host1.A.domain.\n2 PTR host2.A.domain.');
  const set = new ZoneSet([parent, child]);
  expect(set.ask('1.2.0.192.in-addr.arpa', 'PTR').records.map(({ value }) => value)).toEqual([
    '1.0/25.2.0.192.in-addr.arpa',
    'host1.a.domain',
  ]);
  expect(set.ask('129.2.0.192.in-addr.arpa', 'PTR')).toMatchObject({
    outcome: 'referral',
    delegation: [{ value: 'ns.b.domain' }],
  });
});

test('a negative answer lives for the smaller of the SOA’s TTL and its minimum (RFC 2308 5)', () => {
  const soa = (ttl: number, minimum: number) =>
    zone('a.test', `@ ${ttl} IN SOA ns.a.test. h.a.test. 1 2 3 4 ${minimum}`).negativeTtl();
  expect([soa(300, 3600), soa(3600, 60)]).toEqual([300, 60]);
});

test('records of one set have one TTL, the lowest (RFC 2181 5.2)', () => {
  const made = zone('a.test', 'x 300 A 10.0.0.1\nx 60 A 10.0.0.2\nx 900 TXT t');
  expect(made.setAt('x.a.test', 'A').map(({ ttl }) => ttl)).toEqual([60, 60]);
  expect(made.setAt('x.a.test', 'TXT')[0]?.ttl).toBe(900);
});

test('when the record with the lowest TTL goes, the others have their own again', () => {
  const rr = (value: string, ttl: number): Rr => ({ name: 'x.a.test', type: 'A', ttl, value, target: undefined });
  const tree = ZoneTree.of('a.test', [rr('10.0.0.1', 300), rr('10.0.0.2', 60)]);
  expect(tree.after([rr('10.0.0.2', 60)], []).setAt('x.a.test', 'A')).toEqual([rr('10.0.0.1', 300)]);
});

test('aliases that go round in a circle end, and a long chain does', () => {
  const set = new ZoneSet([
    zone('a.test', `x CNAME y\ny CNAME x\n${Array.from({ length: 30 }, (_, i) => `c${i} CNAME c${i + 1}`).join('\n')}`),
  ]);
  expect(set.ask('x.a.test', 'A').outcome).toBe('loop');
  expect(set.ask('c0.a.test', 'A').outcome).toBe('loop');
  expect(set.ask('c20.a.test', 'A').outcome).toBe('no name');
});

test('after any edits a zone answers as one made anew', () => {
  const label = fc.constantFrom('a', 'b', '*', 'c');
  const some = fc
    .record({
      labels: fc.array(label, { maxLength: 3 }),
      type: fc.constantFrom<RecordType>('A', 'NS', 'CNAME'),
      n: fc.integer({ min: 1, max: 3 }),
    })
    .map(({ labels, type, n }): Rr => {
      const value = type === 'A' ? `10.0.0.${n}` : `t${n}.z.test`;
      return {
        name: [...labels, 'z.test'].join('.'),
        type,
        ttl: 60 * n,
        value,
        target: type === 'A' ? undefined : value,
      };
    });
  const key = ({ name, type, value }: Rr) => `${name} ${type} ${value}`;
  const once = (all: readonly Rr[]) => [...new Map(all.map((each) => [key(each), each])).values()];
  fc.assert(
    fc.property(
      fc.array(some, { maxLength: 12 }),
      fc.array(fc.tuple(fc.nat(), fc.array(some, { maxLength: 2 })), { maxLength: 6 }),
      fc.array(fc.array(label, { maxLength: 4 }), { maxLength: 10 }),
      (first, edits, asked) => {
        let records = once(first);
        let tree = ZoneTree.of('z.test', records);
        for (const [at, more] of edits) {
          const gone = records.length === 0 ? [] : [records[at % records.length] as Rr];
          const left = records.filter((each) => !gone.includes(each));
          const come = once(more).filter((each) => !left.some((other) => key(other) === key(each)));
          records = [...left, ...come];
          tree = tree.after(gone, come);
        }
        const anew = ZoneTree.of('z.test', records);
        for (const labels of asked)
          for (const type of ['A', 'CNAME'] as const) {
            const name = [...labels, 'z.test'].join('.');
            const plain = ({ outcome, records: found }: ReturnType<ZoneTree['lookUp']>) => [
              outcome,
              found.map(key).sort(),
            ];
            expect(plain(tree.lookUp(name, type))).toEqual(plain(anew.lookUp(name, type)));
          }
        expect(tree.records().map(key).sort()).toEqual(anew.records().map(key).sort());
      },
    ),
    { numRuns: 500 },
  );
});

test('after a thousand edits one after the other a zone answers as one made anew', () => {
  // More than are laid over the others before they are put with them.
  let state = 7;
  const below = (n: number) => (state = (state * 48_271) % 2_147_483_647) % n;
  const labels = ['a', 'b', '*', 'c', 'd', 'e'];
  const any = (): Rr => {
    const name = [...Array.from({ length: 1 + below(3) }, () => labels[below(labels.length)] ?? 'a'), 'z.test'].join(
      '.',
    );
    const type = below(8) === 0 ? 'NS' : 'A';
    const value = type === 'A' ? `10.0.0.${1 + below(3)}` : 'ns.else.where';
    return { name, type, ttl: 60, value, target: type === 'A' ? undefined : value };
  };
  const key = ({ name, type, value }: Rr) => `${name} ${type} ${value}`;
  const records = new Map<string, Rr>();
  let tree = ZoneTree.of('z.test', []);
  for (let at = 1; at <= 1000; at++) {
    const gone = below(2) === 0 ? [...records.values()].slice(0, 1) : [];
    for (const each of gone) records.delete(key(each));
    const come = [any()].filter((each) => !records.has(key(each)));
    for (const each of come) records.set(key(each), each);
    tree = tree.after(gone, come);
    if (at % 50 !== 0) continue;
    const anew = ZoneTree.of('z.test', records.values());
    for (let asked = 0; asked < 40; asked++) {
      const { name } = any();
      const plain = ({ outcome, records: found, delegation }: ReturnType<ZoneTree['lookUp']>) => [
        outcome,
        found.map(key).sort(),
        delegation.map(key).sort(),
      ];
      expect([at, name, plain(tree.lookUp(name, 'A'))]).toEqual([at, name, plain(anew.lookUp(name, 'A'))]);
    }
  }
  expect(records.size).toBeGreaterThan(100);
});
