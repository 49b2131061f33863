import fc from 'fast-check';
import { apexOf, readTtl, readValue, readZoneFile, textOf, writeZoneFile } from './index.js';

const lines = (text: string, apex = 'b.test') => {
  const { records, problems } = readZoneFile(text, apex);
  return {
    records: records.map(({ name, type, ttl, value }) => `${name} ${ttl} ${type} ${value}`),
    problems: problems.map(({ line, code }) => `${line} ${code}`),
  };
};

test('the zone of RFC 1035 5.3 is read', () => {
  // The example of the RFC, its ISI.EDU with the A records that the text shows; TTLs from the SOA, which the RFC leaves to the file.
  const text = `@   IN  SOA     VENERA      Action\\.domains (
                                 20     ; SERIAL
                                 7200   ; REFRESH
                                 600    ; RETRY
                                 3600000; EXPIRE
                                 60)    ; MINIMUM

        NS      A.ISI.EDU.
        NS      VENERA
        NS      VAXA
        MX      10      VENERA
        MX      20      VAXA

A       A       26.3.0.103

VENERA  A       10.1.0.52
        A       128.9.0.32

VAXA    A       10.2.0.27
        A       128.9.0.33
`;
  const { records, problems } = lines(text, 'isi.edu');
  expect(problems).toEqual([]);
  expect(records[0]).toBe('isi.edu 60 SOA venera.isi.edu action\\.domains.isi.edu 20 7200 600 3600000 60');
  expect(records.slice(1)).toEqual([
    'isi.edu 60 NS a.isi.edu',
    'isi.edu 60 NS venera.isi.edu',
    'isi.edu 60 NS vaxa.isi.edu',
    'isi.edu 60 MX 10 venera.isi.edu',
    'isi.edu 60 MX 20 vaxa.isi.edu',
    'a.isi.edu 60 A 26.3.0.103',
    'venera.isi.edu 60 A 10.1.0.52',
    'venera.isi.edu 60 A 128.9.0.32',
    'vaxa.isi.edu 60 A 10.2.0.27',
    'vaxa.isi.edu 60 A 128.9.0.33',
  ]);
});

test('what is wrong is named by its line, and the rest is kept', () => {
  const text = [
    '$TTL 300', // 1
    'a CH A 10.0.0.1', // 2: another class
    '$INCLUDE /etc/passwd', // 3: never read
    '$GENERATE 1-1000000 h$ A 10.0.0.1', // 4: a million
    'a 4294967296 A 10.0.0.1', // 5: TTL overflow
    'a.other.test. A 10.0.0.1', // 6: outside
    'a\\ A 10.0.0.1', // 7: the escaped space makes one word of name and type, so that the address stands where a TTL may
    '@ SOA ns.b.test. h.b.test. 1 2 3 4 5', // 8
    '@ SOA ns.b.test. h.b.test. 2 2 3 4 5', // 9: a second one
    'bücher A 10.0.0.2', // 10
    'good\tIN\t60\tA\t10.0.0.3', // 11: tabs
    'x A 10.0.0', // 12
    'x WKS a b', // 13
    '$FOO 1', // 14
    'q TXT "open', // 15
    'good A 10.0.0.3', // 16: twice
    `${'l'.repeat(64)} A 10.0.0.4`, // 17
    'm MX 70000 x', // 18
    '$GENERATE 1-3 h$ A 10.0.1.$', // 19
    '$GENERATE 5-6 p${-4,3,d} CNAME h$', // 20
    'end A 10.0.0.5 )', // 21
  ].join('\r\n');
  const { records, problems } = lines(text);
  expect(problems.sort((a, b) => parseInt(a) - parseInt(b))).toEqual([
    '2 zone.class',
    '3 zone.include',
    '4 zone.generate',
    '5 zone.ttl',
    '6 zone.outside',
    '7 zone.ttl',
    '9 zone.soa',
    '12 dns.rdata',
    '13 zone.type',
    '14 zone.directive',
    '15 zone.quote',
    '16 zone.twice',
    '17 dns.label',
    '18 dns.rdata',
    '21 zone.bracket',
  ]);
  expect(records).toEqual([
    'b.test 300 SOA ns.b.test h.b.test 1 2 3 4 5',
    'xn--bcher-kva.b.test 300 A 10.0.0.2',
    'good.b.test 60 A 10.0.0.3',
    'h1.b.test 300 A 10.0.1.1',
    'h2.b.test 300 A 10.0.1.2',
    'h3.b.test 300 A 10.0.1.3',
    'p001.b.test 300 CNAME h5.b.test',
    'p002.b.test 300 CNAME h6.b.test',
    'end.b.test 300 A 10.0.0.5',
  ]);
});

test('brackets that never close, and owners that cannot be read, name the lines that hang on them', () => {
  expect(lines('a A (\n10.0.0.1').problems).toEqual(['1 zone.bracket']);
  expect(lines(' A 10.0.0.1').problems).toEqual(['1 zone.owner']);
  expect(lines('a..b A 10.0.0.1\n A 10.0.0.2').problems).toEqual(['1 dns.label', '2 zone.owner']);
});

test('TTLs: seconds or units, at most 2^31 - 1 (RFC 2181 8)', () => {
  expect(['0', '3600', '1h30m', '1W', '2147483647', '2147483648', '-1', '1x', ''].map(readTtl)).toEqual([
    0,
    3600,
    5400,
    604_800,
    2_147_483_647,
    undefined,
    undefined,
    undefined,
    undefined,
  ]);
});

test('values as fields hold them', () => {
  const value = (type: Parameters<typeof readValue>[0], text: string) => {
    const read = readValue(type, text);
    return read.ok ? read.value.value : read.problem.code;
  };
  expect(value('A', '10.0.0.1')).toBe('10.0.0.1');
  expect(value('A', 'fd00::1')).toBe('dns.rdata');
  expect(value('AAAA', 'FD00::0001')).toBe('fd00::1');
  expect(value('CNAME', 'Front.Example.')).toBe('front.example');
  expect(value('MX', '10 Mail.example')).toBe('10 mail.example');
  expect(value('SRV', '0 5 443 gate.example')).toBe('0 5 443 gate.example');
  expect(value('SRV', '0 5 gate.example')).toBe('dns.rdata');
  expect(value('CAA', '0 issue "ca.example"')).toBe('0 issue "ca.example"');
  expect(value('CAA', '0 issue ca.example')).toBe('0 issue "ca.example"');
  expect(value('TXT', 'v=spf1 -all')).toBe('"v=spf1 -all"');
  expect(textOf(value('TXT', 'say "hi" \\ ü'))).toBe('say "hi" \\ ü');
  // RFC 1035 3.3: a string has at most 255 octets, so a longer text is several.
  expect(value('TXT', 'x'.repeat(300))).toBe(`"${'x'.repeat(255)}" "${'x'.repeat(45)}"`);
  expect(value('TXT', `"${'x'.repeat(300)}"`)).toBe('dns.text');
});

test('a file names its zone by its SOA', () => {
  const apex = apexOf('$ORIGIN b.test.\n@ IN SOA ns h 1 2 3 4 5');
  expect(apex.ok && apex.value).toBe('b.test');
  expect(apexOf('a A 10.0.0.1').ok).toBe(false);
});

test('no text is too odd: each is read to an end, and what was read is written and read again alike', () => {
  const word = fc.constantFrom(
    'a',
    '@',
    'IN',
    'CH',
    'A',
    'CNAME',
    'TXT',
    'SOA',
    '10.0.0.1',
    '300',
    '1h',
    '"q',
    'q"',
    '"x y"',
    '(',
    ')',
    ';',
    '\\',
    '\\046',
    '\\999',
    '$TTL',
    '$ORIGIN',
    '$GENERATE',
    '1-3',
    'h$',
    '*',
    '.',
    'ü',
    '\n',
    '\r\n',
    '\t',
    ' ',
  );
  const text = fc
    .array(fc.oneof({ weight: 9, arbitrary: word }, { weight: 1, arbitrary: fc.string({ maxLength: 6 }) }), {
      maxLength: 60,
    })
    .map((words) => words.join(' '));
  fc.assert(
    fc.property(text, (source) => {
      const { records, problems } = readZoneFile(source, 'b.test');
      const last = source.split(/\r\n|\n|\r/).length;
      expect(problems.every(({ line, message }) => line >= 1 && line <= last && message !== '')).toBe(true);
      const again = readZoneFile(writeZoneFile('b.test', records), 'b.test');
      const key = ({ name, type, ttl, value }: (typeof records)[number]) => `${name} ${ttl} ${type} ${value}`;
      expect(again.problems).toEqual([]);
      expect(again.records.map(key).sort()).toEqual(records.map(key).sort());
    }),
    { numRuns: 3000 },
  );
});
