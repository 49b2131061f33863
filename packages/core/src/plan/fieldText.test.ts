import { add, applied, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { fieldRules, kinds, readField, readFieldChecked, rulesOf, formatField, writeField } from './index.js';
import type { FieldRule, FieldValue } from './index.js';

const plan = demoPlan();
const read = (rule: FieldRule, typed: unknown) => readField(plan, rule, typed);

test('every field of every entity of the demo is read back from its text as it was', () => {
  let seen = 0;
  for (const kind of kinds) {
    for (const entity of plan[kind]) {
      for (const [field, rule] of Object.entries(rulesOf(kind))) {
        const value = (entity as unknown as Record<string, FieldValue>)[field] as FieldValue;
        seen++;
        expect(readFieldChecked(plan, rule, writeField(plan, rule, value))).toEqual({ ok: true, value });
      }
    }
  }
  expect(seen).toBeGreaterThan(1000);
});

const zones = fieldRules.sites.zones;
test.each<[string, FieldRule, unknown, unknown]>([
  ['a choice in any case', fieldRules.clusters.podMode, 'Overlay', 'overlay'],
  ['thousands by comma', fieldRules.clusters.nodesNow, '1,200', 1200],
  ['thousands by space', fieldRules.clusters.nodesNow, '1 200', 1200],
  ['thousands by narrow space', fieldRules.clusters.nodesNow, '1\u202f200', 1200],
  ['a comma that sets no thousands apart', fieldRules.clusters.nodesNow, '1,5', '1,5'],
  ['a decimal with thousands', fieldRules.shapes.price, '1,234.5', 1234.5],
  ['a decimal comma', fieldRules.shapes.price, '1,5', '1,5'],
  ['a negative number', fieldRules.clusters.nodesNow, '-3', -3],
  ['words for a number', fieldRules.clusters.nodesNow, 'many', 'many'],
  ['a length with its slash', fieldRules.profiles.smallestSubnet, '/28', 28],
  ['a slash before what is no length', fieldRules.clusters.nodesNow, '/28', '/28'],
  ['nothing where it may be empty', fieldRules.clusters.perNodeLength, '', null],
  ['the word shown for nothing', fieldRules.clusters.zoneCount, 'All', null],
  ['the same for a reference', fieldRules.pools.siteId, 'any', null],
  ['nothing for a reference', fieldRules.pools.siteId, '', null],
  ['nothing for a decimal', fieldRules.sites.latitude, '', null],
  ['a flag', fieldRules.clusters.isBuilt, 'Y', true],
  ['no flag', fieldRules.clusters.isBuilt, 'perhaps', 'perhaps'],
  [
    'prefixes by any mark',
    fieldRules.attachments.advertises,
    '10.0.0.0/8; 10.1.0.0/16 10.2.0.0/16',
    ['10.0.0.0/8', '10.1.0.0/16', '10.2.0.0/16'],
  ],
  ['a prefix in another form', fieldRules.pools.prefix, 'FD00::/64', 'fd00::/64'],
  ['choices with spaces', fieldRules.clusters.podNeeds, 'Source kept, reachable', ['source kept', 'reachable']],
  ['a zone with a space in its name', zones, 'zone a; zone b', ['zone a', 'zone b']],
  ['a list as JSON has it', zones, ['a', 'b'], ['a', 'b']],
  ['a number as JSON has it', fieldRules.clusters.nodesNow, 7, 7],
  ['a formula kept from being one', fieldRules.networks.note, "'=1+1", '=1+1'],
  [
    'a fix by its label',
    fieldRules.templates.sets,
    'Pod network: Overlay, Pods per node=1 000',
    ['podMode=overlay', 'podsPerNode=1000'],
  ],
])('%s', (_, rule, typed, value) => expect(read(rule, typed)).toEqual({ ok: true, value }));

test('references go by name in any case, by id, and are shown by name', () => {
  const rule = fieldRules.clusters.siteId;
  const [site] = plan.sites;
  expect(read(rule, ' HALDEN north ')).toEqual({ ok: true, value: site?.id });
  expect(read(rule, site?.id)).toEqual({ ok: true, value: site?.id });
  expect(formatField(plan, rule, site?.id ?? '')).toBe('Halden north');
  expect(read(rule, 'nowhere')).toMatchObject({ ok: false, problem: { message: 'There is no site "nowhere".' } });
  expect(read(fieldRules.links.networkIds, 'nowhere')).toMatchObject({ ok: false });
});

test('a name that holds the marks of a list is written and read back', () => {
  const world = applied(ground(), add('pools', { name: 'a, b; c', prefix: '10.0.0.0/8', purposes: ['node'] }));
  const rule = fieldRules.templates.poolIds;
  const value = [testId('pools', 1)];
  expect(readField(world, rule, 'a, b; c')).toEqual({ ok: true, value });
  expect(readField(world, rule, writeField(world, rule, value))).toEqual({ ok: true, value });
  expect(formatField(world, rule, value)).toBe('a, b; c');
});

test('lengths are said as lengths, nothing as what it means, templates by labels', () => {
  expect(formatField(plan, fieldRules.profiles.smallestSubnet, 28)).toBe('/28');
  expect(formatField(plan, fieldRules.clusters.perNodeLength, null)).toBe('follows');
  expect(formatField(plan, fieldRules.pools.siteId, null)).toBe('any');
  expect(formatField(plan, fieldRules.sites.latitude, null)).toBe('');
  expect(formatField(plan, fieldRules.clusters.nodesNow, 12_000)).toBe('12,000');
  expect(formatField(plan, fieldRules.templates.sets, ['podMode=overlay', 'hasEntrySubnets=true'])).toBe(
    'Pod network: overlay, Entry subnets: yes',
  );
});

test('what is typed is held against the rule, a mark inside a text included', () => {
  expect(readFieldChecked(plan, zones, ['a,b'])).toMatchObject({ ok: false, problem: { code: 'field.list-item' } });
  expect(readFieldChecked(plan, fieldRules.clusters.nodesNow, '1,5')).toMatchObject({ ok: false });
  expect(readFieldChecked(plan, fieldRules.shapes.price, '0.001')).toMatchObject({
    problem: { code: 'field.decimals' },
  });
});

test('an unknown name is answered with the names there are, written as they are', () => {
  expect(read(fieldRules.shapes.profileId, 'Halden rules')).toMatchObject({
    ok: false,
    problem: { code: 'reference.unknown', fix: 'Known are Halden, Orrery, Basalt, Pier site.' },
  });
});
