import {
  addressAt,
  cover,
  firstAddress,
  formatAddress,
  formatPrefix,
  halves,
  lastAddress,
  merge,
  nthAddress,
  parent,
  parseAddress,
  parsePrefix,
  prefix,
  prefixSize,
  sibling,
  specialBlockAround,
  specialBlocks,
  split,
  subtract,
} from './index.js';

const written = (text: string) => {
  const parsed = parseAddress(text);
  return parsed.ok ? formatAddress(parsed.value) : parsed.problem.code;
};

describe('RFC 4291 section 2.2: text forms of IPv6 addresses', () => {
  test.each([
    ['ABCD:EF01:2345:6789:ABCD:EF01:2345:6789', 'abcd:ef01:2345:6789:abcd:ef01:2345:6789'],
    ['2001:DB8:0:0:8:800:200C:417A', '2001:db8::8:800:200c:417a'],
    ['FF01:0:0:0:0:0:0:101', 'ff01::101'],
    ['0:0:0:0:0:0:0:1', '::1'],
    ['0:0:0:0:0:0:0:0', '::'],
    ['0:0:0:0:0:0:13.1.68.3', '::d01:4403'],
    ['::FFFF:129.144.52.38', '::ffff:129.144.52.38'],
  ])('%s', (given, expected) => expect(written(given)).toBe(expected));
});

describe('RFC 5952: the one text form', () => {
  test.each([
    ['section 4.1: leading zeros', '2001:0db8::0001', '2001:db8::1'],
    ['section 4.2.1: shorten as much as possible', '2001:db8::0:1', '2001:db8::1'],
    ['section 4.2.2: no run of one', '2001:db8:0:1:1:1:1:1', '2001:db8:0:1:1:1:1:1'],
    ['section 4.2.3: the longest run', '2001:0:0:1:0:0:0:1', '2001:0:0:1::1'],
    ['section 4.2.3: the first on a tie', '2001:db8:0:0:1:0:0:1', '2001:db8::1:0:0:1'],
    ['section 4.3: lower case', '2001:DB8::ABCD', '2001:db8::abcd'],
    ['section 5: IPv4-mapped', '::ffff:c000:0201', '::ffff:192.0.2.1'],
  ])('%s', (_, given, expected) => expect(written(given)).toBe(expected));
});

describe('addresses are read strictly', () => {
  test.each([
    ['010.0.0.1', 'address.leading-zero'],
    ['10.1', 'address.ipv4-parts'],
    ['256.0.0.1', 'address.ipv4-part'],
    ['1.2.3.-4', 'address.ipv4-part'],
    ['', 'address.empty'],
    ['1::2::3', 'address.ipv6'],
    ['1:2:3:4:5:6:7', 'address.ipv6'],
    ['1:2:3:4:5:6:7:8:9', 'address.ipv6'],
    ['fe80::1%eth0', 'address.ipv6'],
    ['::12345', 'address.ipv6'],
    ['1:2:3:4:5:6:7::8', 'address.ipv6'],
  ])('%s is refused', (given, code) => expect(written(given)).toBe(code));
});

describe('RFC 4632: prefixes', () => {
  test('host bits are refused and the corrected prefix is named (section 3.1)', () => {
    const parsed = parsePrefix('10.1.2.3/16');
    expect(parsed).toMatchObject({ ok: false, problem: { code: 'prefix.host-bits', fix: 'Write 10.1.0.0/16.' } });
  });

  test('section 3.1: 172.16.0.0/12 spans 172.16.0.0 to 172.31.255.255', () => {
    const block = prefix('172.16.0.0/12');
    expect(formatAddress(firstAddress(block))).toBe('172.16.0.0');
    expect(formatAddress(lastAddress(block))).toBe('172.31.255.255');
  });

  // The table of section 3.1: the number of /24s and of addresses.
  test.each([
    [27, 32n],
    [24, 256n],
    [20, 4096n],
    [16, 65_536n],
    [8, 16_777_216n],
    [0, 4_294_967_296n],
  ])('a /%d has %d addresses', (length, size) => expect(prefixSize(prefix(`0.0.0.0/${length}`))).toBe(size));

  test('section 5.2 example: 10.24.0.0/13 holds what its customers were given', () => {
    const given = [
      '10.24.0.0/21',
      '10.24.16.0/20',
      '10.24.8.0/22',
      '10.24.32.0/20',
      '10.24.48.0/23',
      '10.24.56.0/22',
      '10.24.64.0/18',
    ];
    const left = subtract(prefix('10.24.0.0/13'), given.map(prefix));
    const whole = merge([...left, ...given.map(prefix)]);
    expect(whole.map(formatPrefix)).toEqual(['10.24.0.0/13']);
  });

  test.each(['10.0.0.0', '10.0.0.0/33', '10.0.0.0/08', '10.0.0.0/', 'fd00::/129', '10.0.0.0/1x'])(
    '%s is refused',
    (text) => expect(parsePrefix(text).ok).toBe(false),
  );
});

describe('operations', () => {
  test('RFC 3021: a /31 has two addresses, both ends of the link', () => {
    const link = prefix('192.0.2.0/31');
    expect([nthAddress(link, 0), nthAddress(link, -1)].map((a) => a && formatAddress(a))).toEqual([
      '192.0.2.0',
      '192.0.2.1',
    ]);
    expect(nthAddress(link, 2)).toBeUndefined();
  });

  test('halves, parent and sibling', () => {
    expect(halves(prefix('10.0.0.0/8'))?.map(formatPrefix)).toEqual(['10.0.0.0/9', '10.128.0.0/9']);
    expect(halves(prefix('10.0.0.1/32'))).toBeUndefined();
    expect(formatPrefix(parent(prefix('10.128.0.0/9')) ?? prefix('::/0'))).toBe('10.0.0.0/8');
    expect(formatPrefix(sibling(prefix('10.0.0.0/9')) ?? prefix('::/0'))).toBe('10.128.0.0/9');
    expect(parent(prefix('::/0'))).toBeUndefined();
  });

  test('cover of an arbitrary run', () => {
    const run = cover(addressAt(4, 0x0a000001n), addressAt(4, 0x0a000006n));
    expect(run.map(formatPrefix)).toEqual(['10.0.0.1/32', '10.0.0.2/31', '10.0.0.4/31', '10.0.0.6/32']);
  });

  test('split', () =>
    expect([...split(prefix('10.0.0.0/30'), 32)].map(formatPrefix)).toEqual([
      '10.0.0.0/32',
      '10.0.0.1/32',
      '10.0.0.2/32',
      '10.0.0.3/32',
    ]));
});

describe('special blocks', () => {
  // RFC 6890 section 2.2 tables, with RFC 1918, 6598, 4193, 3927, 5737 and 3849 as cited there.
  test.each([
    ['10.1.0.0/16', 'RFC 1918', 'private'],
    ['172.31.0.0/16', 'RFC 1918', 'private'],
    ['192.168.4.0/24', 'RFC 1918', 'private'],
    ['100.64.0.0/10', 'RFC 6598', 'private'],
    ['fd12:3456::/32', 'RFC 4193', 'private'],
    ['169.254.8.0/24', 'RFC 3927', 'unroutable'],
    ['127.1.0.0/16', 'RFC 1122', 'unroutable'],
    ['192.0.2.0/25', 'RFC 5737', 'documentation'],
    ['198.51.100.0/24', 'RFC 5737', 'documentation'],
    ['203.0.113.64/26', 'RFC 5737', 'documentation'],
    ['2001:db8:1::/48', 'RFC 3849', 'documentation'],
    ['fe80::/64', 'RFC 4291', 'unroutable'],
    ['ff02::/16', 'RFC 4291', 'unroutable'],
  ])('%s is %s', (text, source, use) => expect(specialBlockAround(prefix(text))).toMatchObject({ source, use }));

  test('172.32.0.0/16 and 100.128.0.0/16 lie just outside', () => {
    expect(specialBlockAround(prefix('172.32.0.0/16'))).toBeUndefined();
    expect(specialBlockAround(prefix('100.128.0.0/16'))).toBeUndefined();
    expect(specialBlocks.length).toBeGreaterThan(15);
  });
});
