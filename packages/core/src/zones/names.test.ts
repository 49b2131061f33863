import { expectGood } from '../result.js';
import {
  compareNames,
  isWithin,
  labelsOf,
  parentOf,
  readFullName,
  readName,
  relativeTo,
  reverseName,
  shownName,
  storedName,
} from './index.js';

const read = (text: string, origin = 'b.example') => {
  const name = readName(text, origin);
  return name.ok ? name.value : name.problem.code;
};

describe('names as zone files write them', () => {
  // RFC 1035 5.1: relative names are below the origin, a final dot ends a full one, "@" is the origin; \X and \DDD stand for characters.
  test.each([
    ['a', 'a.b.example'],
    ['a.other.', 'a.other'],
    ['@', 'b.example'],
    ['.', ''],
    ['*.Apps', '*.apps.b.example'],
    ['a\\.b', 'a\\.b.b.example'],
    ['\\065b', 'ab.b.example'],
    ['a\\032b', 'a\\032b.b.example'],
    ['_acme-challenge', '_acme-challenge.b.example'],
    ['a..b', 'dns.label'],
    ['.a', 'dns.label'],
    ['a\\', 'dns.escape'],
    ['a\\25', 'dns.escape'],
    ['a\\999', 'dns.escape'],
  ])('%p is %p', (text, name) => {
    expect(read(text)).toBe(name);
  });

  // RFC 1035 2.3.4: 63 octets a label, 255 on the wire, which are 253 characters.
  test('labels of 63 and names of 253 characters are the most', () => {
    expect(read('a'.repeat(63), '')).toBe('a'.repeat(63));
    expect(read('a'.repeat(64), '')).toBe('dns.label');
    const long = Array.from({ length: 4 }, () => 'a'.repeat(62)).join('.');
    expect([long.length, read(`${long}.b`, '')]).toEqual([251, `${long}.b`]);
    expect(read(`${long}.bcd`, '')).toBe('dns.name');
  });

  // RFC 5891 4 with its A-label form; bücher is the example of RFC 3492 7.1’s kind that browsers show as xn--bcher-kva.
  test.each([
    ['bücher.example.', 'xn--bcher-kva.example'],
    ['BÜCHER.example.', 'xn--bcher-kva.example'],
    ['_x.bücher.example.', '_x.xn--bcher-kva.example'],
    ['\u200d.example.', 'dns.idn'],
  ])('%p is stored as %p', (text, name) => {
    expect(read(text)).toBe(name);
  });

  test('names are shown in their own letters where they read back as the same', () => {
    expect(shownName('_x.xn--bcher-kva.example')).toBe('_x.bücher.example');
    // No label of RFC 5891: the form decodes to plain letters, or to nothing.
    expect(shownName('xn--abc-.example')).toBe('xn--abc-.example');
    expect(shownName('xn--999999999.example')).toBe('xn--999999999.example');
    expect([storedName('Bücher.Example.'), storedName('@'), storedName('*.Apps'), storedName('a..b')]).toEqual([
      'xn--bcher-kva.example',
      '@',
      '*.apps',
      'a..b',
    ]);
  });

  test('dots and backslashes inside labels do not part them', () => {
    expect(labelsOf('a\\.b.c')).toEqual(['a\\.b', 'c']);
    expect([parentOf('a\\.b.c'), parentOf('c'), parentOf('')]).toEqual(['c', '', undefined]);
    expect([isWithin('x.b.c', 'b.c'), isWithin('xb.c', 'b.c'), isWithin('x\\.b.c', 'b.c'), isWithin('x', '')]).toEqual([
      true,
      false,
      false,
      true,
    ]);
    expect([relativeTo('a.b.c', 'b.c'), relativeTo('b.c', 'b.c')]).toEqual(['a', '@']);
  });

  // RFC 4034 6.1: the names of its example, in its order.
  test('canonical order', () => {
    const sorted = [
      'example',
      'a.example',
      'yljkjljk.a.example',
      'z.a.example',
      'zabc.a.example',
      'z.example',
      '\\001.z.example',
      '*.z.example',
      '\\200.z.example',
    ];
    expect(
      [
        'z.example',
        '\\200.z.example',
        'zabc.a.example',
        'example',
        '*.z.example',
        'a.example',
        'z.a.example',
        '\\001.z.example',
        'yljkjljk.a.example',
      ].sort(compareNames),
    ).toEqual(sorted);
  });

  // RFC 1035 3.5 (10.2.0.52 is ARPANET’s own example), RFC 3596 2.5.
  test('reverse names', () => {
    expect(reverseName([10, 2, 0, 52])).toBe('52.0.2.10.in-addr.arpa');
    const bytes = [0x43, 0x21, 0, 0, 0, 1, 0, 2, 0, 3, 0, 4, 0x56, 0x78, 0x9a, 0xbc];
    expect(reverseName(bytes)).toBe('c.b.a.9.8.7.6.5.4.0.0.0.3.0.0.0.2.0.0.0.1.0.0.0.0.0.0.0.1.2.3.4.ip6.arpa');
    expect(expectGood(readFullName('A.B.'))).toBe('a.b');
  });
});
