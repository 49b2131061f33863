import fc from 'fast-check';
import { joined } from '../../test/connections.js';
import { add, anyWorld, applied, cluster, ground, testId } from '../../test/worlds.js';
import { addressValue, overlaps, parsePrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { evaluate } from '../evaluation/index.js';
import { rangeOf, setOperation } from '../plan/index.js';
import type { Allocation, Attachment, Operation, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { advertisedUses, verdictOfPair, worstVerdict } from './index.js';

const inside = (address: bigint, range: Prefix) =>
  address >> BigInt(32 - range.length) === addressValue(range) >> BigInt(32 - range.length);

/** Which networks each network reaches for one address: routes told link by link, round after round, until nobody hears anything new. */
function routesFor(plan: Plan, address: bigint, withPlanned: boolean): Map<string, Set<string>> {
  let known = new Map(plan.networks.map(({ id }) => [id, new Set([id])]));
  for (let round = 0; round < plan.networks.length; round++) {
    const next = new Map([...known].map(([id, reached]) => [id, new Set(reached)]));
    for (const link of plan.links.filter(({ isPlanned }) => withPlanned || !isPlanned)) {
      for (const to of link.networkIds) {
        for (const from of link.networkIds.filter((id) => id !== to)) {
          const told = plan.attachments.find((a) => a.linkId === link.id && a.networkId === from);
          const taken = plan.attachments.find((a) => a.linkId === link.id && a.networkId === to);
          if (!withPlanned && (told?.isPlanned === true || taken?.isPlanned === true)) continue;
          if (taken?.accepts === 'none') continue;
          if (taken?.accepts === 'listed' && !taken.acceptsFromIds.includes(from)) continue;
          const list = told?.advertises ?? [];
          if (list.length === 0) next.get(to)?.add(from);
          else if (list.some((text) => inside(address, expectGood(parsePrefix(text)))))
            for (const id of known.get(from) ?? []) next.get(to)?.add(id);
        }
      }
    }
    known = next;
  }
  return known;
}

/** Prefixes that networks advertise and that neither they nor those behind them have entered, once for each network. */
function advertisedOf(plan: Plan) {
  const told = plan.attachments.flatMap(({ id, linkId, networkId, advertises }) =>
    advertises.map((text) => ({ attachment: id, linkId, network: networkId, text })),
  );
  const once = told.filter(
    (one, i) => told.findIndex(({ network, text }) => network === one.network && text === one.text) === i,
  );
  return once.flatMap(({ attachment, network, text }) => {
    const prefix = expectGood(parsePrefix(text));
    const links = told.filter((each) => each.network === network && each.text === text).map(({ linkId }) => linkId);
    const entered = [...plan.inUse, ...plan.subnets, ...plan.blocks].filter(
      (each) => rangeOf(each).length <= prefix.length && overlaps(rangeOf(each), prefix) && each.networkId !== null,
    );
    // What its owner tells is passed on as well as what is entered there.
    const toldElsewhere = once.filter((each) => {
      const around = expectGood(parsePrefix(each.text));
      return each.network !== network && around.length <= prefix.length && overlaps(around, prefix);
    });
    const isKnown =
      entered.some(
        ({ networkId }) => networkId === network || passesOn(plan, links, network, networkId ?? '', prefix),
      ) || toldElsewhere.some((each) => passesOn(plan, links, network, each.network, prefix));
    return isKnown
      ? []
      : [{ id: `${attachment} ${text}`, prefix, network, owner: '', stays: false, what: 'told', links }];
  });
}

/** Whether a network has the owner's part of a range from elsewhere than the links it tells it over, and the owner is on none of those. */
function passesOn(plan: Plan, links: readonly string[], network: string, owner: string, range: Prefix): boolean {
  const on = plan.links.filter(({ id, networkIds }) => links.includes(id) && networkIds.includes(network));
  if (on.some(({ networkIds }) => networkIds.includes(owner))) return false;
  const others = plan.links.map((link) =>
    on.includes(link) ? { ...link, networkIds: link.networkIds.filter((id) => id !== network) } : link,
  );
  return placesIn(plan, range).some((at) =>
    routesFor({ ...plan, links: others }, at, true)
      .get(network)
      ?.has(owner),
  );
}

/** Addresses of a range where an answer can change: its first, and every edge in it. */
function placesIn(plan: Plan, range: Prefix): bigint[] {
  const told = plan.attachments.flatMap(({ advertises }) => advertises.map((text) => expectGood(parsePrefix(text))));
  const edges = told.flatMap((each) => [addressValue(each), addressValue(each) + (1n << BigInt(32 - each.length))]);
  return [addressValue(range), ...edges.filter((edge) => inside(edge, range))];
}

/** The slow reference: every pair, every address where an answer can change, every network, written without the engine's parts. */
function slowVerdicts(plan: Plan): string[] {
  const edges = [
    ...plan.attachments.flatMap(({ advertises }) => advertises.map((text) => expectGood(parsePrefix(text)))),
    ...[...plan.allocations, ...plan.inUse, ...plan.subnets, ...plan.blocks].map(rangeOf),
  ].flatMap((range) => [addressValue(range), addressValue(range) + (1n << BigInt(32 - range.length))]);
  const tables = new Map<string, Map<string, Set<string>>>();
  const reached = (from: string, address: bigint, withPlanned: boolean): Set<string> => {
    const key = `${address} ${withPlanned}`;
    let table = tables.get(key);
    if (table === undefined) {
      table = routesFor(plan, address, withPlanned);
      tables.set(key, table);
    }
    return table.get(from) ?? new Set();
  };
  const ranges = [
    ...plan.allocations.map((a) => {
      const owner = plan.clusters.find(({ id }) => id === a.clusterId)!;
      const stays = a.purpose === 'service' || (a.purpose === 'pod' && owner.podMode === 'overlay');
      const what = stays ? 'inner' : a.purpose;
      // Equal places of nodes, entry addresses and native pods in one network, site and zone are one subnet.
      const isSubnet =
        a.purpose === 'node' || a.purpose === 'entry' || (a.purpose === 'pod' && owner.podMode === 'native');
      const lives = isSubnet ? `${owner.networkId} ${owner.siteId} ${a.zone} ${a.prefix}` : a.id;
      return { id: a.id, prefix: rangeOf(a), network: owner.networkId, owner: owner.id, stays, what, lives };
    }),
    ...plan.inUse.map((r) => ({
      id: r.id,
      prefix: rangeOf(r),
      network: r.networkId,
      owner: '',
      stays: false,
      what: 'in use',
    })),
    ...plan.subnets.map((s) => ({
      id: s.id,
      prefix: rangeOf(s),
      network: s.networkId,
      owner: '',
      stays: false,
      what: `subnet ${s.purpose}`,
    })),
    ...advertisedOf(plan),
    ...plan.blocks.map((b) => ({
      id: b.id,
      prefix: rangeOf(b),
      network: b.networkId,
      owner: '',
      stays: false,
      what: 'block',
    })),
  ];
  type Range = {
    id: string;
    prefix: Prefix;
    network: string | null;
    owner: string;
    stays: boolean;
    what: string;
    links?: string[];
    lives?: string;
  };
  const isSame = (told: Range, other: Range) =>
    told.links !== undefined &&
    other.network !== null &&
    (told.network === other.network
      ? !other.stays
      : passesOn(
          plan,
          told.links,
          told.network ?? '',
          other.network,
          told.prefix.length > other.prefix.length ? told.prefix : other.prefix,
        ));
  const holds = (outer: Range, inner: Range) =>
    outer.network === inner.network &&
    !inner.stays &&
    outer.prefix.length <= inner.prefix.length &&
    ((outer.what === 'block' && inner.what !== 'block') ||
      outer.what === `subnet ${inner.what}` ||
      // Nodes and pods share a subnet, whichever it is meant for.
      (['subnet node', 'subnet pod'].includes(outer.what) && ['node', 'pod'].includes(inner.what)));
  const judge = (a: Range, b: Range, withPlanned: boolean): string => {
    if (a.owner !== '' && a.owner === b.owner) return 'conflict';
    if (a.network === null || b.network === null || (a.stays && b.stays)) return '';
    const narrow = a.prefix.length > b.prefix.length ? a.prefix : b.prefix;
    const places = [addressValue(narrow), ...edges.filter((edge) => inside(edge, narrow))];
    const [from, to] = [a.network, b.network];
    if (isSame(a, b) || isSame(b, a)) return '';
    if (a.stays) return places.some((at) => reached(from, at, withPlanned).has(to)) ? 'shadowed' : '';
    if (b.stays) return places.some((at) => reached(to, at, withPlanned).has(from)) ? 'shadowed' : '';
    const someoneSeesBoth = plan.networks.some(({ id }) =>
      places.some((at) => reached(id, at, withPlanned).has(from) && reached(id, at, withPlanned).has(to)),
    );
    if (!someoneSeesBoth) return '';
    const wide = a.prefix.length < b.prefix.length ? a : b;
    return a.prefix.length !== b.prefix.length && wide.links !== undefined ? 'hidden' : 'conflict';
  };
  const found: string[] = [];
  (ranges as Range[]).forEach((a, i) => {
    for (const b of (ranges as Range[]).slice(i + 1)) {
      if (!overlaps(a.prefix, b.prefix) || holds(a, b) || holds(b, a)) continue;
      if (a.lives !== undefined && a.lives === b.lives) continue;
      const now = judge(a, b, false);
      const kind = now !== '' ? now : judge(a, b, true);
      // What is advertised is no use there by itself, so it is no reuse.
      if (kind === '' && (a.what === 'told' || b.what === 'told')) continue;
      found.push(
        `${[a.id, b.id].sort().join(' ')} ${kind === '' ? 'reuse' : kind}${kind !== '' && now === '' ? ' planned' : ''}`,
      );
    }
  });
  return found.sort();
}

function fastVerdicts(plan: Plan): { judged: string[]; reusePairs: number } {
  const evaluation = evaluate(plan);
  const hidden = evaluation
    .ask(advertisedUses)
    .flatMap(({ id }) => evaluation.verdictsOf(id).filter((each) => each.kind === 'hidden' && each.b.id === id));
  const judged = [...evaluation.verdicts(), ...hidden].map(
    ({ kind, a, b, isPlanned }) => `${[a.id, b.id].sort().join(' ')} ${kind}${isPlanned ? ' planned' : ''}`,
  );
  return { judged: judged.sort(), reusePairs: evaluation.reuseGroups.reduce((sum, { pairs }) => sum + pairs, 0) };
}

test('the engine agrees with the slow reference in random worlds', () => {
  let seen = 0;
  fc.assert(
    fc.property(anyWorld, (plan) => {
      const slow = slowVerdicts(plan);
      const { judged, reusePairs } = fastVerdicts(plan);
      expect(judged).toEqual(slow.filter((line) => !line.endsWith('reuse')));
      expect(reusePairs).toBe(slow.filter((line) => line.endsWith('reuse')).length);
      seen += judged.length;
    }),
    { numRuns: 400 },
  );
  expect(seen).toBeGreaterThan(100);
});

describe('who may overlap whom (handbook 2)', () => {
  const ranges = (one: string, two: string, purpose: 'node' | 'service' = 'node') => [
    ...add('clusters', cluster('one'), cluster('two', { networkId: testId('networks', 2) })),
    ...add(
      'allocations',
      { clusterId: testId('clusters', 1), purpose, zone: '', prefix: one, isPinned: false },
      { clusterId: testId('clusters', 2), purpose: 'node', zone: '', prefix: two, isPinned: false },
    ),
  ];
  const peering = (a: number, b: number, isPlanned = false) => ({
    name: `p${a}${b}`,
    kind: 'peering' as const,
    networkIds: [testId('networks', a), testId('networks', b)],
    isPlanned,
  });
  const kinds = (plan: Plan) =>
    evaluate(plan)
      .verdicts()
      .map(({ kind, isPlanned }) => `${kind}${isPlanned ? ' planned' : ''}`);

  test('unjoined networks may use one range twice: reuse', () => {
    const evaluation = evaluate(applied(ground(2), ranges('10.0.0.0/24', '10.0.0.0/25')));
    expect(evaluation.verdicts()).toEqual([]);
    expect(evaluation.reuseGroups).toMatchObject([{ pairs: 1 }]);
  });

  test('a peering turns reuse into a conflict, a planned one into a planned conflict', () => {
    expect(
      kinds(applied(ground(2), [...ranges('10.0.0.0/24', '10.0.0.0/25'), ...add('links', peering(1, 2))])),
    ).toEqual(['conflict']);
    const planned = evaluate(
      applied(ground(2), [...ranges('10.0.0.0/24', '10.0.0.0/25'), ...add('links', peering(1, 2, true))]),
    );
    expect(worstVerdict(planned.verdicts())).toBe('planned conflict');
  });

  test('peering is not transitive, yet the network in the middle sees both', () => {
    const plan = applied(ground(4), [
      ...ranges('10.0.0.0/24', '10.0.0.0/24'),
      ...add('links', peering(1, 3), peering(3, 2)),
    ]);
    expect(kinds(plan)).toEqual(['conflict']);
    const apart = applied(ground(4), [
      ...ranges('10.0.0.0/24', '10.0.0.0/24'),
      ...add('links', peering(1, 3), peering(3, 4), peering(4, 2)),
    ]);
    expect(kinds(apart)).toEqual([]);
  });

  test('a service range hides a network on the same hub, and the chain names the hub', () => {
    const hub = {
      name: 'hub',
      kind: 'hub' as const,
      networkIds: [1, 2, 3].map((n) => testId('networks', n)),
      isPlanned: false,
    };
    const evaluation = evaluate(
      applied(ground(3), [...ranges('10.96.0.0/12', '10.100.0.0/24', 'service'), ...add('links', hub)]),
    );
    const [finding] = evaluation.findingsInWords().filter(({ code }) => code === 'overlap.shadowed');
    expect(finding?.chain.join(' ')).toContain('Network n1 reaches n2 by the transit hub hub.');
    expect(finding?.fixes).toHaveLength(2);
  });

  test('service ranges of two clusters may be one range even where the networks are joined', () => {
    const plan = applied(ground(2), [
      ...add('clusters', cluster('one'), cluster('two', { networkId: testId('networks', 2) })),
      ...add(
        'allocations',
        ...[1, 2].map((n) => ({
          clusterId: testId('clusters', n),
          purpose: 'service' as const,
          zone: '',
          prefix: '10.96.0.0/16',
          isPinned: false,
        })),
      ),
      ...add('links', peering(1, 2)),
    ]);
    expect(kinds(plan)).toEqual([]);
  });

  describe('what is advertised and learned decides', () => {
    const joined = (...attachments: Partial<Attachment>[]) =>
      applied(ground(3), [
        ...ranges('10.0.0.0/16', '10.0.0.0/16'),
        ...add(
          'links',
          { ...peering(1, 2), kind: 'tunnel' as const },
          { ...peering(2, 3), name: 'c', kind: 'circuit' as const },
        ),
        ...add('attachments', ...attachments.map((each) => ({ linkId: testId('links', 1), ...each }))),
      ]);
    const [one, two] = [testId('networks', 1), testId('networks', 2)];

    test('a side that tells nothing of the range cannot conflict, part of it can', () => {
      expect(
        kinds(joined({ networkId: two, advertises: ['10.9.0.0/16'] }, { networkId: one, advertises: ['10.8.0.0/16'] })),
      ).toEqual([]);
      // With the range and with the prefix of it that is advertised.
      expect(kinds(joined({ networkId: two, advertises: ['10.0.7.0/24'] }))).toEqual(['conflict', 'conflict']);
    });

    test('two sides that learn nothing keep apart', () => {
      expect(kinds(joined({ networkId: one, accepts: 'none' }, { networkId: two, accepts: 'none' }))).toEqual([]);
    });

    test('a network in the middle passes on what it lists, and the chain says so', () => {
      const plan = applied(ground(3), [
        ...add('clusters', cluster('one')),
        ...add('allocations', { clusterId: testId('clusters', 1), purpose: 'service', prefix: '10.96.0.0/12' }),
        ...add('inUse', { prefix: '10.100.0.0/24', owner: 'far', networkId: testId('networks', 3) }),
        ...add('links', peering(1, 2), { ...peering(2, 3), kind: 'circuit' as const }),
      ]);
      expect(kinds(plan)).toEqual([]);
      const passed = applied(
        plan,
        add('attachments', { linkId: testId('links', 1), networkId: two, advertises: ['10.100.0.0/16'] }),
      );
      const chains = evaluate(passed)
        .findingsInWords()
        .filter(({ code }) => code === 'overlap.shadowed')
        .map(({ chain }) => chain.join(' '));
      expect(chains).toHaveLength(2);
      expect(chains.join('\n')).toContain(
        'Network n1 reaches n3 by the peering p12 to n2, which passes it on, by the private circuit p23.',
      );
    });
  });

  test('a range in its own network’s block or in a subnet for its purpose is where it belongs', () => {
    const held = applied(ground(1), [
      ...add('clusters', cluster('one')),
      ...add('allocations', { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.0.0.0/24' }),
      ...add('blocks', { networkId: testId('networks', 1), prefix: '10.0.0.0/16' }),
      ...add('subnets', {
        name: 's',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'node',
        prefix: '10.0.0.0/20',
      }),
    ]);
    expect(evaluate(held).verdicts()).toEqual([]);
    expect(evaluate(held).reuseGroups).toEqual([]);
    const other = applied(held, [setOperation('subnets', testId('subnets', 1), { purpose: 'endpoint' })]);
    expect(kinds(other)).toEqual(['conflict']);
    // Nodes in a subnet for pods are where they are, and meant to be elsewhere.
    const mixed = evaluate(applied(held, [setOperation('subnets', testId('subnets', 1), { purpose: 'pod' })]));
    expect(mixed.verdicts()).toEqual([]);
    expect(mixed.findingsInWords().map(({ code }) => code)).toContain('range.purpose');
  });

  test('the blocks of two networks that are joined conflict before anything stands in them', () => {
    const plan = applied(ground(2), [
      ...add('blocks', ...[1, 2].map((n) => ({ networkId: testId('networks', n), prefix: '10.0.0.0/16' }))),
      ...add('links', peering(1, 2, true)),
    ]);
    expect(kinds(plan)).toEqual(['conflict planned']);
  });
});

describe('what a link brings is a destination, though nobody entered a range in it (handbook 2)', () => {
  const [cloud, premises, third] = [1, 2, 3].map((n) => testId('networks', n)) as [string, string, string];
  /** n1 is a cloud's network, n2 on-premises; a circuit joins them, and n2 advertises what is given. */
  const joined = (advertises: string[], ranges: Partial<Allocation>[], more: Operation[] = []) =>
    evaluate(
      applied(ground(3), [
        ...add('links', { name: 'c', kind: 'circuit', networkIds: [cloud, premises] }),
        ...add('attachments', { linkId: testId('links', 1), networkId: premises, advertises }),
        ...add('clusters', cluster('one', { networkId: cloud }), cluster('home', { networkId: premises })),
        ...add('allocations', ...ranges.map((each) => ({ clusterId: testId('clusters', 1), ...each }))),
        ...more,
      ]),
    );
  const codes = (evaluation: ReturnType<typeof joined>) =>
    evaluation
      .findingsInWords()
      .map(({ code }) => code)
      .filter((code) => code.startsWith('overlap'));

  test('a service range inside it is shadowed', () => {
    const evaluation = joined(['10.150.0.0/16'], [{ purpose: 'service', prefix: '10.150.64.0/20' }]);
    expect(codes(evaluation)).toEqual(['overlap.shadowed']);
    const [finding] = evaluation.findingsInWords().filter(({ code }) => code === 'overlap.shadowed');
    expect(finding?.title).toBe('Service range of one 10.150.64.0/20 hides prefix advertised by n2 10.150.0.0/16');
    expect(finding?.chain[1]).toBe('Network n1 reaches n2 by the private circuit c.');
    expect(finding?.subjects[1]).toEqual({ kind: 'attachments', id: testId('attachments', 1) });
  });

  test('so is one around it, and one of a cluster that stands on the premises', () => {
    expect(codes(joined(['10.150.0.0/16'], [{ purpose: 'service', prefix: '10.144.0.0/12' }]))).toEqual([
      'overlap.shadowed',
    ]);
    const home = [{ clusterId: testId('clusters', 2), purpose: 'service' as const, prefix: '10.150.64.0/20' }];
    expect(codes(joined(['10.150.0.0/16'], home))).toEqual(['overlap.shadowed']);
  });

  test('a destination of the other side that is the same or wider conflicts', () => {
    expect(codes(joined(['10.150.0.0/16'], [{ purpose: 'node', prefix: '10.150.0.0/16' }]))).toEqual([
      'overlap.conflict',
    ]);
    expect(codes(joined(['10.150.0.0/16'], [{ purpose: 'node', prefix: '10.128.0.0/10' }]))).toEqual([
      'overlap.conflict',
    ]);
  });

  test('a summary around what the other side uses is no conflict; a finding says what is out of reach', () => {
    const evaluation = joined(['10.0.0.0/8'], [{ purpose: 'node', prefix: '10.64.0.0/16' }]);
    expect(evaluation.verdicts()).toEqual([]);
    expect(evaluation.verdictCount).toBe(0);
    expect(codes(evaluation)).toEqual(['overlap.hidden']);
    const [finding] = evaluation.findingsInWords().filter(({ code }) => code === 'overlap.hidden');
    expect(finding?.severity).toBe('warning');
    expect(finding?.title).toBe('Part of 10.0.0.0/8, which n2 advertises, cannot be reached');
    expect(finding?.detail).toContain('node range of one 10.64.0.0/16');
    // It is said of the cluster too.
    expect(evaluation.findingsInWordsOf(testId('clusters', 1)).map(({ code }) => code)).toContain('overlap.hidden');
  });

  test('its own network may use it, and what nobody reaches is judged by nobody', () => {
    const home = [{ clusterId: testId('clusters', 2), purpose: 'node' as const, prefix: '10.150.4.0/22' }];
    expect(codes(joined(['10.150.0.0/16'], home))).toEqual([]);
    const apart = add('inUse', { prefix: '10.150.0.0/16', owner: 'far', networkId: third });
    expect(codes(joined(['10.150.0.0/16'], [], apart))).toEqual([]);
  });

  test('a side that accepts nothing is not hidden from, and reaches nothing', () => {
    const deaf = add(
      'attachments',
      { linkId: testId('links', 1), networkId: premises, advertises: ['10.150.0.0/16'] },
      { linkId: testId('links', 1), networkId: cloud, accepts: 'none' },
    ).slice(1);
    const evaluation = joined(['10.150.0.0/16'], [{ purpose: 'service', prefix: '10.150.64.0/20' }], deaf);
    expect(codes(evaluation)).toEqual([]);
  });

  test('a prefix of another network that is passed on is that network’s, and no conflict with it', () => {
    const behind = [
      ...add('links', {}, { name: 't', kind: 'tunnel' as const, networkIds: [premises, third] }).slice(1),
      ...add('inUse', { prefix: '10.90.0.0/24', owner: 'radar', networkId: third }),
    ];
    expect(codes(joined(['10.90.0.0/24'], [], behind))).toEqual([]);
    // The same prefix where the other network is not behind it: two places.
    const beside = add('inUse', { prefix: '10.90.0.0/24', owner: 'radar', networkId: cloud });
    expect(codes(joined(['10.90.0.0/24'], [], beside))).toEqual(['overlap.conflict']);
  });

  test('one prefix over two circuits is one destination', () => {
    const second = [
      ...add('links', {}, { name: 'c2', kind: 'circuit' as const, networkIds: [cloud, premises] }).slice(1),
      ...add(
        'attachments',
        {},
        { linkId: testId('links', 2), networkId: premises, advertises: ['10.150.0.0/16'] },
      ).slice(1),
    ];
    const evaluation = joined(['10.150.0.0/16'], [{ purpose: 'service', prefix: '10.150.64.0/20' }], second);
    expect(codes(evaluation)).toEqual(['overlap.shadowed']);
  });

  test('a chain of seven networks is followed to its end', () => {
    const links = Array.from({ length: 6 }, (_, i) => ({
      name: `l${i}`,
      kind: 'circuit' as const,
      networkIds: [testId('networks', i + 1), testId('networks', i + 2)],
    }));
    // Each tells the one before it what lies behind.
    const told = links.map((_, i) => ({
      linkId: testId('links', i + 1),
      networkId: testId('networks', i + 2),
      advertises: ['10.7.0.0/16'],
    }));
    const evaluation = evaluate(
      applied(ground(7), [
        ...add('links', ...links),
        ...add('attachments', ...told),
        ...add('clusters', cluster('one')),
        ...add('allocations', { clusterId: testId('clusters', 1), purpose: 'service', prefix: '10.7.0.0/20' }),
        ...add('inUse', { prefix: '10.7.0.0/16', owner: 'far', networkId: testId('networks', 7) }),
      ]),
    );
    expect(evaluation.verdicts().map(({ kind, b }) => [kind, b.kind])).toEqual([['shadowed', 'inUse']]);
    const [finding] = evaluation.findingsInWords().filter(({ code }) => code === 'overlap.shadowed');
    expect(finding?.chain.join(' ')).toContain('l5');
  });
});

describe('an additional interface joins the nodes to its network', () => {
  const [home, store, behind] = [1, 2, 3].map((n) => testId('networks', n)) as [string, string, string];
  /** A cluster in n1 with a node pool that has an additional interface in n2; the two networks are not joined. */
  const world = (ranges: Partial<Allocation>[], more: Operation[] = []) =>
    evaluate(
      applied(ground(3), [
        ...add('clusters', cluster('one', { networkId: home })),
        ...add('subnets', {
          name: 's',
          networkId: store,
          siteId: testId('sites', 1),
          purpose: 'node',
          prefix: '10.20.0.0/24',
        }),
        ...add('nodePools', {
          clusterId: testId('clusters', 1),
          name: 'p',
          nodesNow: 1,
          nodesMax: 1,
          nodesHorizon: 1,
          additionalInterfaceSubnetIds: [testId('subnets', 1)],
        }),
        ...add('allocations', ...ranges.map((each) => ({ clusterId: testId('clusters', 1), ...each }))),
        ...more,
      ]),
    );
  const service = { purpose: 'service' as const, prefix: '10.20.0.0/16' };

  test('a service range over that network is shadowed, and the chain names the interface', () => {
    const evaluation = world([service]);
    expect(evaluation.verdicts().map(({ kind, b }) => [kind, b.kind])).toEqual([['shadowed', 'subnets']]);
    const [finding] = evaluation.findingsInWords().filter(({ code }) => code === 'overlap.shadowed');
    expect(finding?.chain.slice(0, 3)).toEqual([
      'The service range of one 10.20.0.0/16 exists only inside its cluster, which is in network n1.',
      'Its nodes have an additional interface in network n2.',
      'The destination is in that same network.',
    ]);
  });

  test('so is one over what that network reaches', () => {
    const peered = [
      ...add('links', { name: 'p', kind: 'peering', networkIds: [store, behind] }),
      ...add('inUse', { prefix: '10.20.8.0/24', owner: 'far', networkId: behind }),
    ];
    expect(
      world([service], peered)
        .verdicts()
        .map(({ kind, b }) => [kind, b.kind]),
    ).toEqual([
      ['shadowed', 'subnets'],
      ['shadowed', 'inUse'],
    ]);
  });

  test('node ranges that are the same in both are two places on those nodes', () => {
    const evaluation = world([{ purpose: 'node', prefix: '10.20.0.0/24' }]);
    expect(evaluation.verdicts().map(({ kind }) => kind)).toEqual(['conflict']);
    const [finding] = evaluation.findingsInWords().filter(({ code }) => code === 'overlap.conflict');
    expect(finding?.chain.join(' ')).toContain('its cluster has nodes with an additional interface in network n2');
  });

  test('what stands on the nodes is no plan, though the networks are to be joined later too', () => {
    const later = add('links', { name: 'later', kind: 'peering', networkIds: [home, store], isPlanned: true });
    const evaluation = world([{ purpose: 'node', prefix: '10.20.0.0/24' }], later);
    expect(evaluation.verdicts().map(({ kind, isPlanned }) => [kind, isPlanned])).toEqual([['conflict', false]]);
    const [finding] = evaluation.findingsInWords().filter(({ code }) => code === 'overlap.conflict');
    expect([finding?.severity, finding?.chain.at(-1)]).toEqual([
      'error',
      'So on those nodes one address means two places: theirs, and the subnet s 10.20.0.0/24.',
    ]);
  });

  test('without the interface it is reuse, before an edit and after it', () => {
    const joined = world([service]);
    const apart = evaluate(
      applied(joined.plan, [setOperation('nodePools', testId('nodePools', 1), { additionalInterfaceSubnetIds: [] })]),
      joined,
    );
    expect(apart.verdicts()).toEqual([]);
    expect(apart.reuseGroups).toMatchObject([{ pairs: 1 }]);
    const again = evaluate(joined.plan, apart);
    expect(again.verdicts()).toHaveLength(1);
    expect(again.reuseGroups).toEqual([]);
  });
});

describe('one network’s attachment to a hub that stands can be planned', () => {
  const world = (isPlanned: boolean) =>
    evaluate(
      applied(ground(3), [
        ...add('links', { name: 'hub', kind: 'hub', networkIds: [1, 2, 3].map((n) => testId('networks', n)) }),
        ...add('attachments', { linkId: testId('links', 1), networkId: testId('networks', 2), isPlanned }),
        ...add(
          'inUse',
          ...[1, 2, 3].map((n) => ({ prefix: '10.0.0.0/24', owner: `o${n}`, networkId: testId('networks', n) })),
        ),
      ]),
    );
  const said = (evaluation: ReturnType<typeof world>) =>
    evaluation
      .verdicts()
      .map(({ a, b, isPlanned }) => `${a.label.at(-1)}${b.label.at(-1)}${isPlanned ? ' planned' : ''}`);

  test('what needs it is planned, what does not stands', () => {
    expect(said(world(false))).toEqual(['12', '13', '23']);
    expect(said(world(true))).toEqual(['12 planned', '13', '23 planned']);
  });
});

test('what a network between passes on is its owner’s: one conflict, not two', () => {
  const plan = applied(ground(3), [
    ...add(
      'links',
      { name: 'wan', kind: 'circuit', networkIds: [testId('networks', 1), testId('networks', 2)] },
      { name: 'up', kind: 'circuit', networkIds: [testId('networks', 2), testId('networks', 3)] },
    ),
    // Works advertises, edge passes on, and the cloud has the same range itself.
    ...add(
      'attachments',
      { linkId: testId('links', 1), networkId: testId('networks', 1), advertises: ['192.168.0.0/17'] },
      { linkId: testId('links', 2), networkId: testId('networks', 2), advertises: ['192.168.0.0/17'] },
    ),
    ...add('inUse', { prefix: '192.168.0.0/17', owner: 'cloud', networkId: testId('networks', 3) }),
  ]);
  const found = evaluate(plan).verdicts();
  expect(found.map(({ kind, a, b }) => [kind, a.label, b.label])).toEqual([
    ['conflict', 'range of cloud', 'prefix advertised by n1'],
  ]);
});

test('two overlays with one range conflict by the connection that joins them, translated they do not', () => {
  const overlapping = (translated: string[]) =>
    joined({ pods: ['10.244.0.0/16', '10.244.96.0/20'], members: [{ translated }, {}] });
  const ask = (plan: Plan) => evaluate(plan).ask(verdictOfPair)(testId('allocations', 2), testId('allocations', 5));
  expect(ask(overlapping([]))).toMatchObject({ kind: 'conflict', isPlanned: false });
  expect(ask(overlapping(['10.244.0.0/16 as 172.30.0.0/16']))).toMatchObject({ kind: 'conflict' });
  const both = joined({
    pods: ['10.244.0.0/16', '10.244.96.0/20'],
    members: [{ translated: ['10.244.0.0/16 as 172.30.0.0/16'] }, { translated: ['10.244.96.0/20 as 172.31.96.0/20'] }],
  });
  expect(ask(both)).toEqual({ kind: 'reuse' });
  const planned = applied(overlapping([]), [
    { op: 'set', kind: 'connections', id: testId('connections', 1), fields: { isPlanned: true } },
  ]);
  expect(ask(planned)).toMatchObject({ kind: 'conflict', isPlanned: true });
  // Harmless is not said beside it.
  const notes = evaluate(overlapping([]))
    .findingsInWords()
    .filter(({ code }) => code === 'overlap.reuse');
  expect(notes.map(({ detail }) => detail).join()).not.toContain('harmless');
});
