import fc from 'fast-check';
import ipaddr from 'ipaddr.js';
import { formatAddress, formatPrefix, parseAddress, prefix } from '../address/index.js';
import type { Address } from '../address/index.js';
import { expectGood } from '../result.js';
import { RowLookup } from './rowLookup.js';
import { coversIcmp, coversPorts, RuleList } from './ruleList.js';
import type { CompiledRule } from './ruleList.js';
import { HOST_PORTS } from '../road/index.js';
import type { Packet } from '../road/index.js';
import { crowdedPrefix } from '../../test/arbitraries.js';

const address = (text: string): Address => expectGood(parseAddress(text));
const packet = (fields: Partial<Packet> = {}): Packet => ({
  source: address('10.0.0.1'),
  destination: address('10.0.1.1'),
  protocol: 'tcp',
  port: 443,
  clientPorts: HOST_PORTS,
  isAnswer: false,
  ...fields,
});
const rule = (fields: Partial<CompiledRule>): CompiledRule => ({
  id: String(fields.position ?? 1),
  position: 1,
  action: 'allow',
  protocol: 'any',
  ports: [],
  icmp: [],
  sources: [],
  destinations: [],
  isEmpty: false,
  ...fields,
});

test('the longest prefix wins as in a linear scan with a general-purpose library (RFC 4632 5.1)', () => {
  fc.assert(
    fc.property(
      fc.array(crowdedPrefix(4), { minLength: 1, maxLength: 120 }),
      fc.array(crowdedPrefix(4), { minLength: 1, maxLength: 20 }),
      (rows, sought) => {
        const lookup = new RowLookup(rows);
        for (const each of sought) {
          const text = formatAddress(each);
          const holding = rows
            .map((row, at) => ({ at, length: row.length, text: formatPrefix(row) }))
            .filter((row) => ipaddr.parse(text).match(ipaddr.parseCIDR(row.text)));
          const expected = holding.sort((a, b) => b.length - a.length || a.at - b.at).map(({ at }) => at);
          expect(lookup.all(each)).toEqual(expected);
          expect(lookup.best(each)).toBe(expected[0] ?? -1);
        }
      },
    ),
    { numRuns: 150 },
  );
});

test('the first matching rule decides, as when every rule is tried in order for every port', () => {
  const anyPorts = fc.array(
    fc
      .record({ first: fc.integer({ min: 1, max: 60 }), size: fc.nat({ max: 20 }) })
      .map(({ first, size }) => ({ first, last: first + size })),
    { maxLength: 2 },
  );
  const anyRule = fc.record({
    action: fc.constantFrom<'allow' | 'deny'>('allow', 'deny'),
    protocol: fc.constantFrom<'any' | 'tcp' | 'udp'>('any', 'tcp', 'udp'),
    ports: anyPorts,
    sources: fc.array(crowdedPrefix(4), { maxLength: 2 }),
    destinations: fc.array(crowdedPrefix(4), { maxLength: 2 }),
  });
  fc.assert(
    fc.property(
      fc.array(anyRule, { maxLength: 90 }),
      crowdedPrefix(4),
      crowdedPrefix(4),
      fc.integer({ min: 1, max: 80 }),
      fc.boolean(),
      (rules, source, destination, port, isAnswer) => {
        const list = new RuleList(rules.map((each, i) => rule({ ...each, position: i, id: String(i) })));
        const asked = packet({ source, destination, port, isAnswer, clientPorts: { first: 5, last: 70 } });
        const slow = (wanted: number) =>
          rules.find(
            (each) =>
              (each.protocol === 'any' || each.protocol === 'tcp') &&
              (each.ports.length === 0 || each.ports.some(({ first, last }) => first <= wanted && wanted <= last)) &&
              [
                [each.sources, source],
                [each.destinations, destination],
              ].every(([prefixes, at]) => {
                const list = prefixes as typeof each.sources;
                return (
                  list.length === 0 ||
                  list.some((one) =>
                    ipaddr.parse(formatAddress(at as Address)).match(ipaddr.parseCIDR(formatPrefix(one))),
                  )
                );
              }),
          )?.action ?? 'deny';
        const ports = isAnswer ? Array.from({ length: 66 }, (_, i) => 5 + i) : [port];
        const expected = ports.every((each) => slow(each) === 'allow') ? 'allow' : 'deny';
        expect(list.decide(asked, 'deny').action).toBe(expected);
      },
    ),
    { numRuns: 400 },
  );
});

test('an answer is allowed only where every port a client may use is open: the hole decides', () => {
  const open = (...ranges: [number, number][]) =>
    new RuleList([rule({ protocol: 'tcp', ports: ranges.map(([first, last]) => ({ first, last })) })]);
  const answer = packet({ isAnswer: true });
  expect(open([1024, 65_535]).decide(answer, 'deny').action).toBe('allow');
  expect(open([32_768, 45_000], [45_001, 60_999]).decide(answer, 'deny').action).toBe('allow');
  // Port 45,001 is in no rule.
  expect(open([32_768, 45_000], [45_002, 60_999]).decide(answer, 'deny')).toMatchObject({
    action: 'deny',
    port: 45_001,
  });
});

test('a rule that names peers of whom none has an address matches nothing', () => {
  expect(new RuleList([rule({ isEmpty: true })]).decide(packet(), 'deny').action).toBe('deny');
  expect(new RuleList([rule({ sources: [prefix('10.0.0.0/24')] })]).decide(packet(), 'deny').action).toBe('allow');
});

test('ranges of ports cover another when nothing of it is left out', () => {
  expect(coversPorts([{ first: 1, last: 65_535 }], { first: 443, last: 443 })).toBe(true);
  expect(
    coversPorts(
      [
        { first: 1, last: 10 },
        { first: 11, last: 20 },
      ],
      { first: 5, last: 15 },
    ),
  ).toBe(true);
  expect(
    coversPorts(
      [
        { first: 1, last: 10 },
        { first: 12, last: 20 },
      ],
      { first: 5, last: 15 },
    ),
  ).toBe(false);
  expect(coversPorts([], { first: 5, last: 5 })).toBe(false);
});

// RFC 792 and RFC 4443, the numbers of each message; RFC 1191 4: to IPv4 "too big" is code 4 of type 3, to IPv6 it is type 2.
describe('messages of ICMP', () => {
  const six = { source: address('fd00::1'), destination: address('fd00::2') };
  const says = (icmp: CompiledRule['icmp'], of: Partial<Packet>) =>
    new RuleList([rule({ protocol: 'icmp', icmp })]).decide(packet({ protocol: 'icmp', port: 0, ...of }), 'deny')
      .action;
  test.each<[CompiledRule['icmp'], Partial<Packet>, 'allow' | 'deny']>([
    [[], {}, 'allow'],
    [['echo request'], {}, 'allow'],
    [['echo request'], { isAnswer: true }, 'deny'],
    [['echo reply'], { isAnswer: true }, 'allow'],
    [['echo request'], six, 'allow'],
    [['too big'], { message: 'too big' }, 'allow'],
    [['too big'], {}, 'deny'],
    [['too big'], { message: 'unreachable' }, 'deny'],
    [['unreachable'], { message: 'too big' }, 'allow'],
    [['unreachable'], { ...six, message: 'too big' }, 'deny'],
    [['time exceeded', 'too big'], { ...six, message: 'too big' }, 'allow'],
  ])('a rule for %j and the packet %j: %s', (icmp, of, expected) => {
    expect(says(icmp, of)).toBe(expected);
  });
  test('another protocol is not held against them', () => {
    expect(says([], { protocol: 'tcp', port: 80 })).toBe('deny');
  });
  test('a rule for all of them covers any; one for some covers what is among them', () => {
    expect(coversIcmp([], [])).toBe(true);
    expect(coversIcmp([], ['too big'])).toBe(true);
    expect(coversIcmp(['too big', 'echo reply'], ['too big'])).toBe(true);
    expect(coversIcmp(['too big'], [])).toBe(false);
    expect(coversIcmp(['too big'], ['unreachable'])).toBe(false);
  });
});
