import fc from 'fast-check';
import { add, anyWorld, applied, cluster, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import {
  applyOperations,
  byId,
  checkField,
  duplicateOf,
  fieldRules,
  kinds,
  removalOf,
  removalOfAll,
  setOperation,
  withFallbacks,
} from './index.js';
import type { Operation, Plan, Subnet } from './index.js';

const one = testId('networks', 1);
const two = testId('networks', 2);
const here = testId('sites', 1);
const subnet = (fields: Partial<Subnet>) => ({
  name: 's',
  networkId: one,
  siteId: here,
  purpose: 'node' as const,
  prefix: '10.0.1.0/24',
  ...fields,
});
const base = applied(ground(3), [
  ...add('blocks', { networkId: one, prefix: '10.0.0.0/16' }, { networkId: one, prefix: 'fd00::/48' }),
  ...add('subnets', subnet({ zone: 'a' })),
  ...add('links', { name: 'hub', kind: 'hub', networkIds: [one, two] }),
  ...add('attachments', { linkId: testId('links', 1), networkId: one, advertises: ['10.0.0.0/16'] }),
]);
const refused = (operations: readonly Operation[], plan: Plan = base) => {
  const result = applyOperations(plan, operations);
  return result.ok ? [] : result.problems.map(({ field, code }) => `${field} ${code}`);
};
const nth = (operations: Operation[], n: number): Operation[] =>
  operations.map((operation) =>
    operation.op === 'add'
      ? ({ ...operation, entity: { ...operation.entity, id: testId('subnets', n) } } as Operation)
      : operation,
  );

describe('what does not fit together is refused at its field, with the mend', () => {
  test.each<[string, Operation[], string]>([
    [
      'a subnet outside its network',
      nth(add('subnets', subnet({ name: 't', prefix: '10.1.0.0/24' })), 2),
      'prefix subnet.outside-network',
    ],
    [
      'a zone that the site does not have',
      nth(add('subnets', subnet({ name: 't', zone: 'z' })), 2),
      'zone zone.missing',
    ],
    [
      'a private subnet with a direct way out',
      nth(add('subnets', subnet({ name: 't', prefix: '10.0.2.0/24', internetEgress: 'direct' })), 2),
      'internetEgress subnet.way-out',
    ],
    [
      'two blocks of one network that overlap',
      [setOperation('blocks', testId('blocks', 2), { prefix: '10.0.0.0/8' })],
      'prefix block.overlap',
    ],
    [
      'a block that shrinks away from a subnet',
      [setOperation('blocks', testId('blocks', 1), { prefix: '10.0.0.0/24' })],
      'prefix block.in-use',
    ],
    [
      'a zone that a subnet is in, taken from the site',
      [setOperation('sites', here, { zones: ['b'] })],
      'zones zone.in-use',
    ],
    [
      'a network with an attachment, taken from the link',
      [setOperation('links', testId('links', 1), { networkIds: [two, testId('networks', 3)] })],
      'networkIds link.attached',
    ],
    [
      'an attachment of a network that is not on the link',
      [setOperation('attachments', testId('attachments', 1), { networkId: testId('networks', 3) })],
      'networkId attachment.not-joined',
    ],
    [
      'routes learned from a network that is not on the link',
      [
        setOperation('attachments', testId('attachments', 1), {
          accepts: 'listed',
          acceptsFromIds: [testId('networks', 3)],
        }),
      ],
      'acceptsFromIds attachment.not-joined',
    ],
    [
      'a subnet size that is upside down',
      [setOperation('profiles', testId('profiles', 1), { smallestSubnet: 16, largestSubnet: 28 })],
      'smallestSubnet profile.size-order',
    ],
    [
      'a prefix to advertise that is none',
      [setOperation('attachments', testId('attachments', 1), { advertises: ['10.0.0.1/8'] })],
      'advertises prefix.host-bits',
    ],
  ])('%s', (_, operations, expected) => expect(refused(operations)).toContain(expected));

  test('a block that subnets need cannot be removed; with another one around them it can', () => {
    const remove: Operation = { op: 'remove', kind: 'blocks', id: testId('blocks', 1) };
    // The IPv6 block says nothing about IPv4 subnets.
    expect(refused([remove])).toEqual([]);
    const both = applied(base, [setOperation('blocks', testId('blocks', 2), { prefix: '10.1.0.0/16' })]);
    expect(refused([remove], both)).toEqual(['id block.in-use']);
  });

  test('an attachment twice, and every message with a mend', () => {
    const again = add('attachments', { linkId: testId('links', 1), networkId: one });
    const result = applyOperations(base, [
      {
        ...again[0],
        entity: { ...(again[0] as { entity: object }).entity, id: testId('attachments', 9) },
      } as Operation,
    ]);
    expect(result).toMatchObject({
      ok: false,
      problems: [{ code: 'attachment.twice', fix: expect.stringMatching(/./) as string }],
    });
  });
});

describe('field rules', () => {
  test.each([
    [fieldRules.shapes.price, 118.4, true],
    [fieldRules.shapes.price, 118.456, false],
    [fieldRules.shapes.price, -1, false],
    [fieldRules.shapes.price, null, false],
    [fieldRules.shapes.price, Number.NaN, false],
    [fieldRules.sites.latitude, null, true],
    [fieldRules.sites.latitude, 91, false],
    [fieldRules.reservations.first, '10.0.0.1', true],
    [fieldRules.reservations.first, '10.0.0.01', false],
    [fieldRules.reservations.first, 'FD00::1', false],
    [fieldRules.reservations.first, 7, false],
    [fieldRules.attachments.advertises, ['10.0.0.0/8', '10.0.0.0/8'], false],
    [fieldRules.clusters.podNeeds, ['reachable'], true],
    [fieldRules.clusters.podNeeds, ['magic'], false],
  ])('%#: %j is accepted: %s', (rule, value, isGood) => expect(checkField(rule, value) === undefined).toBe(isGood));
});

test('removing takes what is part of a thing along, and several at once leave nothing hanging', () => {
  const plan = demoPlan();
  for (const kind of ['networks', 'links', 'profiles', 'clusters'] as const) {
    for (const { id } of plan[kind]) {
      const result = applyOperations(plan, removalOf(plan, kind, id));
      // What others still use stays, and is named.
      if (!result.ok) expect(result.problems[0]?.code).toBe('entity.referred-to');
      else expect(byId<{ id: string }>(result.plan[kind], id)).toBeUndefined();
    }
  }
  const unused = plan.networks.filter(({ name }) => ['coast-radar', 'clearing', 'tide-lab'].includes(name));
  const without = applied(plan, [
    ...removalOfAll(
      plan,
      'inUse',
      plan.inUse.filter(({ networkId }) => unused.some(({ id }) => id === networkId)).map(({ id }) => id),
    ),
    ...removalOfAll(
      plan,
      'networks',
      unused.map(({ id }) => id),
    ),
  ]);
  expect(without.networks).toHaveLength(plan.networks.length - 3);
  expect(without.links.map(({ name }) => name).sort()).toEqual(['coach-join', 'skerry-hub']);
});

test('a copy is free of its original: another id, another name, its own shapes', () => {
  const plan = demoPlan();
  const [halden] = plan.profiles;
  const once = applied(plan, duplicateOf(plan, 'profiles', halden?.id ?? ''));
  const twice = applied(once, duplicateOf(once, 'profiles', halden?.id ?? ''));
  expect(twice.profiles.map(({ name }) => name)).toEqual(expect.arrayContaining(['Halden copy', 'Halden copy 2']));
  const copy = twice.profiles.find(({ name }) => name === 'Halden copy');
  expect(twice.shapes.filter(({ profileId }) => profileId === copy?.id)).toHaveLength(4);
  expect(duplicateOf(plan, 'profiles', 'none')).toEqual([]);
});

test('usual values complete an entity and never change one that is whole', () => {
  const plan = demoPlan();
  for (const kind of kinds) for (const entity of plan[kind]) expect(withFallbacks(kind, entity)).toEqual(entity);
  fc.assert(
    fc.property(anyWorld, (world) => {
      for (const kind of kinds) for (const entity of world[kind]) expect(withFallbacks(kind, entity)).toEqual(entity);
    }),
    { numRuns: 20 },
  );
  expect(withFallbacks('clusters', { ...cluster('c'), id: 'x' })).toMatchObject({
    encapsulation: 'vxlan',
    mtuFloor: 0,
  });
});
