import { add, applied, ground, testId } from '../../test/worlds.js';
import { NameState } from '../naming/index.js';
import type { DnsRecord, Plan, Zone } from '../plan/index.js';
import { targetFindings } from './targetFindings.js';

const looksOf = (plan: Plan) => targetFindings.build({}, { naming: NameState.of(plan) }).found;

/** Codes of what a public zone one.test with these records is told of; each as type, name, value. */
const told = (records: readonly (readonly [DnsRecord['type'], string, string])[], zones: Partial<Zone>[] = []) => {
  const plan = applied(ground(1), [
    ...add('zones', { name: 'one', apex: 'one.test', side: 'public', nameServers: ['ns.else.example'] }, ...zones),
    ...add('records', ...records.map(([type, name, value]) => ({ zoneId: testId('zones', 1), type, name, value }))),
  ]);
  return looksOf(plan).map(({ code, severity }) => `${severity} ${code}`);
};

// RFC 2181 10.3: the data of NS and MX must not be aliases. RFC 2782: nor the target of SRV. RFC 7505: "0 ." says that no mail is taken.
test.each([
  [
    'mail by a name with an address',
    [
      ['MX', '@', '10 mail.one.test'],
      ['A', 'mail', '192.0.2.1'],
    ],
    [],
  ],
  [
    'mail by a name with an IPv6 address alone',
    [
      ['MX', '@', '10 mail.one.test'],
      ['AAAA', 'mail', '2001:db8::1'],
    ],
    [],
  ],
  [
    'mail by an alias',
    [
      ['MX', '@', '10 mail.one.test'],
      ['CNAME', 'mail', 'other.else.example'],
    ],
    ['warning record.target-alias'],
  ],
  ['no mail at all', [['MX', '@', '0 .']], []],
  [
    'a service at an alias',
    [
      ['SRV', '_x._tcp', '0 0 80 web.one.test'],
      ['CNAME', 'web', 'a.one.test'],
      ['A', 'a', '192.0.2.1'],
    ],
    ['warning record.target-alias'],
  ],
  [
    'a service at nobody',
    [
      ['SRV', '_x._tcp', '0 0 80 web.one.test'],
      ['TXT', 'web', 'x'],
    ],
    ['warning record.target-missing'],
  ],
  [
    'mail by a wildcard',
    [
      ['MX', '@', '10 mail.one.test'],
      ['A', '*', '192.0.2.1'],
    ],
    [],
  ],
  ['a host of somebody else', [['MX', '@', '10 mail.else.example']], []],
  [
    'a server of the zone that is an alias',
    [
      ['NS', '@', 'ns.one.test'],
      ['CNAME', 'ns', 'other.else.example'],
    ],
    ['warning record.target-alias'],
  ],
  // RFC 1034 4.2.1: a server below the delegated name is found by its glue alone.
  ['a delegation without glue', [['NS', 'sub', 'ns.sub.one.test']], ['error zone.glue']],
  [
    'a delegation with glue',
    [
      ['NS', 'sub', 'ns.sub.one.test'],
      ['A', 'ns.sub', '192.0.2.1'],
    ],
    [],
  ],
  ['a delegation to a name that is not there', [['NS', 'sub', 'ns.one.test']], ['warning record.target-missing']],
  [
    'mail below a delegation, which its zone answers',
    [
      ['NS', 'sub', 'ns.else.example'],
      ['MX', '@', '10 mail.sub.one.test'],
    ],
    [],
  ],
] as const)('%s', (_, records, expected) => {
  expect(told(records.map(([type, name, value]) => [type, name, value] as const))).toEqual(expected);
});

test('a zone that the plan holds tells of its own delegation, and a private zone answers for no public one', () => {
  expect(
    told(
      [['NS', 'sub', 'ns.sub.one.test']],
      [{ name: 'sub', apex: 'sub.one.test', side: 'public', nameServers: ['ns.else.example'] }],
    ),
  ).toEqual([]);
  const inner: Partial<Zone> = {
    name: 'in',
    apex: 'mail.one.test',
    side: 'private',
    networkIds: [testId('networks', 1)],
  };
  expect(told([['MX', '@', '10 mail.one.test']], [inner])).toEqual(['warning record.target-missing']);
});
