import { formatPrefix, prefixAround } from '@wide-lattice/core/address';
import { Forwarding, nodeHost, podHost } from '@wide-lattice/core/forwarding';
import { addOperation, applyOperations, emptyPlan, newId, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import type { Cluster, EntityOf, Kind, Operation, Plan } from '@wide-lattice/core/plan';

/** Numbers from a seed, the same on every machine (mulberry32). */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** A small plan from a seed: networks on peerings or a hub, clusters of every pod network, ways out, firewalls and filters, right and wrong. */
export function randomPlan(seed: number): Plan {
  const next = random(seed);
  const chance = (share: number) => next() < share;
  const pick = <T>(items: readonly T[]): T => items[Math.floor(next() * items.length)] as T;
  let plan = emptyPlan({ name: `random ${seed}` });
  const add = <K extends Kind>(kind: K, fields: Partial<EntityOf[K]>): string => {
    const id = newId();
    const result = applyOperations(plan, [addOperation(kind, withFallbacks(kind, { id, ...fields }))]);
    // What the plan refuses is left out: the rest is a plan all the same.
    if (result.ok) plan = result.plan;
    return id;
  };
  const profileId = add('profiles', { name: 'p', reservedFirst: 1, reservedLast: 1, subnetScope: 'region' });
  const siteId = add('sites', { name: 's', kind: 'region', profileId, zones: ['a'] });
  const count = 2 + Math.floor(next() * 3);
  const networks = Array.from({ length: count }, (_, n) =>
    add('networks', { name: `n${n}`, mtu: pick([1500, 1500, 1400, 9000]) }),
  );
  // Half of the networks have IPv6 addresses of the internet, half unique local ones (RFC 4193).
  const isGlobal = networks.map(() => chance(0.5));
  const six = (n: number, part = '', length = 32) =>
    isGlobal[n] === true ? `2001:db8:${n + 1}${part}::/${Math.max(48, length)}` : `fd00:${n + 1}${part}::/${length}`;
  const isHub = chance(0.5);
  const links = isHub
    ? [add('links', { name: 'hub', kind: 'hub', networkIds: networks, mtu: pick([1500, 1450, 9000]) })]
    : networks.slice(1).map((id, i) =>
        add('links', {
          name: `l${i}`,
          kind: pick(['peering', 'circuit', 'tunnel']),
          networkIds: [networks[i] as string, id],
          mtu: pick([1500, 1300]),
        }),
      );
  const spaceOf = () => `10.${Math.floor(next() * count)}.0.0/16`;
  const sixOf = () => six(Math.floor(next() * count));
  const filter = (name: string, at: Partial<EntityOf['filters']>): void => {
    const mode = pick(['allow-only', 'ordered'] as const);
    const filterId = add('filters', {
      name,
      ...at,
      mode,
      isStateful: chance(0.6),
      defaultIn: pick(['deny', 'allow', 'allow']),
      defaultOut: pick(['allow', 'allow', 'deny']),
    });
    for (let i = 0; i < 4; i++)
      add('filterRules', {
        filterId,
        direction: pick(['in', 'in', 'out']),
        position: 10 * (i + 1),
        action: mode === 'ordered' ? pick(['allow', 'allow', 'deny']) : 'allow',
        protocol: pick(['tcp', 'udp', 'any']),
        peers: chance(0.5) ? pick([[spaceOf()], [sixOf()], [spaceOf(), sixOf()]]) : [],
      });
    add('filterRules', {
      filterId,
      direction: pick(['in', 'out']),
      position: 90,
      protocol: pick(['tcp', 'udp']),
      ports: pick([['4789'], ['6081'], ['80'], ['53', '4789'], ['1024-65535'], ['8080']]),
    });
  };
  networks.forEach((networkId, n) => {
    // Space of its own in which most addresses are nobody's.
    if (chance(0.4)) add('blocks', { networkId, prefix: `10.${n}.0.0/16` });
    const edge = add('subnets', {
      name: `edge${n}`,
      networkId,
      siteId,
      purpose: 'other',
      prefix: `10.${n}.255.0/28`,
      isPublic: true,
      internetEgress: 'direct',
    });
    const main = chance(0.8) ? add('routeTables', { name: `main${n}`, networkId, isMain: true }) : undefined;
    const behind = add('routeTables', { name: `behind${n}`, networkId });
    const set = applyOperations(plan, [{ op: 'set', kind: 'subnets', id: edge, fields: { routeTableId: behind } }]);
    if (set.ok) plan = set.plan;
    for (const prefix of ['0.0.0.0/0', '::/0'])
      if (chance(0.85)) add('routes', { routeTableId: behind, prefix, nextHop: 'internet' });
    const out = pick(['nat', 'firewall', 'firewall', 'link', 'internet', 'none'] as const);
    const nat =
      out === 'nat'
        ? add('natDevices', {
            name: `nat${n}`,
            subnetId: edge,
            publicAddresses: [`203.0.113.${10 + n}`, ...(chance(0.4) ? [`2001:db8:ffff::${10 + n}`] : [])],
          })
        : null;
    const wall =
      out === 'firewall' || chance(0.2)
        ? add('firewalls', {
            name: `wall${n}`,
            subnetId: edge,
            isStateful: chance(0.65),
            translates: chance(0.8),
            publicAddresses: [`203.0.113.${50 + n}`, ...(chance(0.4) ? [`2001:db8:ffff::${50 + n}`] : [])],
            defaultAction: pick(['deny', 'allow']),
          })
        : null;
    if (wall !== null)
      for (let i = 0; i < 3; i++)
        add('firewallRules', {
          firewallId: wall,
          position: 10 * (i + 1),
          action: pick(['allow', 'allow', 'deny']),
          protocol: pick(['tcp', 'udp', 'any']),
          sources: chance(0.4) ? pick([[spaceOf()], [sixOf()]]) : [],
          destinations: chance(0.4)
            ? [pick(['198.51.100.0/24', spaceOf(), '192.0.2.0/24', sixOf(), '2001:db8::/64'])]
            : [],
        });
    // What stands behind a device may be sent on in its own way, or in a circle.
    const [back] = links;
    for (const prefix of [spaceOf(), sixOf()])
      if (chance(0.3))
        add('routes', {
          routeTableId: behind,
          prefix,
          ...pick([
            { nextHop: 'link', linkId: back } as const,
            { nextHop: 'drop' } as const,
            { nextHop: 'internet' } as const,
            { nextHop: 'nat', natDeviceId: nat } as const,
          ]),
        });
    if (main === undefined) return;
    const linkId = links[Math.min(links.length - 1, n)] ?? null;
    for (const prefix of ['0.0.0.0/0', '::/0']) {
      // IPv6 may have a way out of its own.
      const way = prefix === '::/0' && chance(0.5) ? pick(['internet', 'link', 'none'] as const) : out;
      if (way === 'nat') add('routes', { routeTableId: main, prefix, nextHop: 'nat', natDeviceId: nat });
      if (way === 'firewall') add('routes', { routeTableId: main, prefix, nextHop: 'firewall', firewallId: wall });
      if (way === 'link') add('routes', { routeTableId: main, prefix, nextHop: 'link', linkId });
      if (way === 'internet') add('routes', { routeTableId: main, prefix, nextHop: 'internet' });
    }
    // Nodes of one network apart, by its firewall both ways.
    if (wall !== null && chance(0.5))
      for (const part of [0, 1])
        add('routes', {
          routeTableId: main,
          prefix: `10.${n}.${part}.0/25`,
          nextHop: 'firewall',
          firewallId: wall,
        });
    // A way to a part of the internet alone.
    if (chance(0.3)) add('routes', { routeTableId: main, prefix: '2001:db8:aaaa::/48', nextHop: 'internet' });
    if (chance(0.2))
      add('routes', {
        routeTableId: main,
        prefix: chance(0.5) ? spaceOf() : sixOf(),
        ...pick([{ nextHop: 'internet' } as const, { nextHop: 'nat', natDeviceId: nat } as const]),
      });
    // Another network through the firewall, as hubs do; or a part of it dropped.
    const other = Math.floor(next() * count);
    if (wall !== null && chance(0.6))
      add('routes', { routeTableId: main, prefix: `10.${other}.0.0/24`, nextHop: 'firewall', firewallId: wall });
    if (chance(0.4)) add('routes', { routeTableId: main, prefix: `10.${other}.16.0/20`, nextHop: 'drop' });
    if (chance(0.2)) add('routes', { routeTableId: main, prefix: `10.${other}.0.0/16`, nextHop: 'link', linkId });
    if (wall !== null && chance(0.4))
      add('routes', { routeTableId: main, prefix: six(other), nextHop: 'firewall', firewallId: wall });
  });
  if (chance(0.6)) {
    const [linkId] = links;
    add('attachments', {
      linkId: linkId,
      networkId: networks[0],
      advertises: [
        '10.0.0.0/16',
        ...(chance(0.7) ? ['0.0.0.0/0'] : []),
        ...(chance(0.6) ? [six(0)] : []),
        ...(chance(0.4) ? ['::/0'] : []),
      ],
    });
    if (chance(0.5))
      add('attachments', {
        linkId: linkId,
        networkId: networks[1],
        accepts: pick(['none', 'listed', 'all']),
        acceptsFromIds: [networks[0] as string],
      });
  }
  const clusters = 2 + Math.floor(next() * 2);
  for (let c = 0; c < clusters; c++) {
    const n = Math.floor(next() * count);
    const podMode = pick(['overlay', 'overlay', 'routed', 'native'] as const);
    const family = podMode === 'overlay' ? 'ipv4' : pick(['ipv4', 'ipv6', 'dual'] as const);
    const clusterId = add('clusters', {
      name: `c${c}`,
      siteId,
      networkId: networks[n],
      podMode,
      family,
      encapsulation: pick(['vxlan', 'geneve']),
      nodesNow: 2,
      nodesHorizon: 2,
      podsPerNode: 30,
      untranslated: chance(0.15) ? ['10.0.0.0/8'] : [],
    });
    if (family !== 'ipv6') {
      add('allocations', { clusterId, purpose: 'node', prefix: `10.${n}.${c}.0/24` });
      add('allocations', {
        clusterId,
        purpose: 'pod',
        prefix: podMode === 'overlay' ? '100.64.0.0/20' : `10.${n}.${16 * (c + 1)}.0/20`,
      });
    }
    if (family !== 'ipv4') {
      add('allocations', { clusterId, purpose: 'node', prefix: six(n, `:${c + 1}`, 64) });
      add('allocations', { clusterId, purpose: 'pod', prefix: six(n, `:${c + 1}00`, 56) });
    }
    if (chance(0.5)) filter(`f${c}`, { clusterIds: [clusterId] });
    // Some nodes are in a pool of their own, with a public address or with lists that the others do not have.
    const nodePoolId = chance(0.4)
      ? add('nodePools', {
          clusterId,
          name: 'apart',
          nodesNow: 1,
          nodesMax: 1,
          nodesHorizon: 1,
          isPublic: chance(0.65),
        })
      : undefined;
    if (nodePoolId !== undefined && chance(0.5)) filter(`p${c}`, { nodePoolIds: [nodePoolId] });
    if (chance(0.5)) continue;
    // The subnet that its nodes live in, with lists of its own.
    const subnetId = add('subnets', {
      name: `nodes${c}`,
      networkId: networks[n],
      siteId,
      purpose: 'node',
      prefix: family === 'ipv6' ? six(n, `:${c + 1}`, 64) : `10.${n}.${c}.0/24`,
    });
    for (let i = 0; i < pick([1, 1, 2]); i++) filter(`s${c}-${i}`, { subnetIds: [subnetId] });
  }
  const edges = plan.subnets.filter(({ name }) => name.startsWith('edge'));
  for (const { id, name } of edges) if (chance(0.25)) filter(`at ${name}`, { subnetIds: [id] });
  networks.forEach((networkId, n) => {
    if (chance(0.7)) add('inUse', { prefix: `10.${n}.200.0/24`, owner: `desk ${n}`, networkId });
    if (chance(0.4)) add('inUse', { prefix: six(n, ':e00', 64), owner: `bench ${n}`, networkId });
    if (chance(0.3))
      add('bastions', {
        name: `gate${n}`,
        subnetId: plan.subnets.find(({ name }) => name === `edge${n}`)?.id ?? '',
        address: `10.${n}.255.5`,
      });
  });
  add('needs', { name: 'mirror', prefixes: ['2001:db8:aaaa::/48'], protocol: 'tcp', ports: ['443'] });
  add('needs', { name: 'registry', prefixes: ['198.51.100.0/24'], protocol: 'tcp', ports: ['443'] });
  if (seed % 2 === 0) return bent(plan, random(seed + 1_000_000));
  return seed % 4 === 1 ? twofold(plan, random(seed + 2_000_000)) : plan;
}

/** A plan in which two networks have a second link beside the first, and each of them says which it prefers. */
function twofold(plan: Plan, next: () => number): Plan {
  const pick = <T>(items: readonly T[]): T => items[Math.floor(next() * items.length)] as T;
  const [first] = plan.links;
  const [one, other] = first?.networkIds ?? [];
  if (first === undefined || one === undefined || other === undefined) return plan;
  const linkId = newId();
  const beside = withFallbacks('links', {
    id: linkId,
    name: 'beside',
    kind: first.kind === 'hub' ? 'circuit' : pick([first.kind, first.kind, 'circuit'] as const),
    networkIds: [one, other],
    mtu: pick([1500, 1300]),
  });
  const preferences = [one, other].map((networkId) =>
    addOperation(
      'attachments',
      withFallbacks('attachments', { id: newId(), linkId, networkId, localPreference: pick([50, 90, 150, 200]) }),
    ),
  );
  const result = applyOperations(plan, [addOperation('links', beside), ...preferences]);
  return result.ok ? result.plan : plan;
}

/**
 * A plan whose answers go wrong, which is rare where all is drawn alike: firewalls without state that allow by default, nodes of
 * which a part is routed elsewhere, lists without state on nodes and where devices stand.
 */
function bent(plan: Plan, next: () => number): Plan {
  const chance = (share: number) => next() < share;
  const pick = <T>(items: readonly T[]): T => items[Math.floor(next() * items.length)] as T;
  let made = plan;
  const tried = (operation: Operation): void => {
    const result = applyOperations(made, [operation]);
    if (result.ok) made = result.plan;
  };
  // Half of them lose state on the way, half of them go around it.
  const isAround = chance(0.5);
  for (const { id } of plan.firewalls)
    tried(setOperation('firewalls', id, { isStateful: chance(isAround ? 0.7 : 0.35), defaultAction: 'allow' }));
  for (const { id } of plan.firewallRules) if (chance(0.6)) tried({ op: 'remove', kind: 'firewallRules', id });
  for (const { id } of plan.filters) if (chance(0.5)) tried(setOperation('filters', id, { isStateful: false }));
  const forwarding = Forwarding.of(plan);
  const machines = plan.clusters.flatMap((cluster) => machinesOf(forwarding, cluster));
  const ranges = plan.allocations.flatMap(({ prefix }) => (prefix.includes(':') ? [] : [prefix]));
  for (const table of plan.routeTables) {
    const [nat] = plan.natDevices.filter(({ subnetId }) => networkOf(plan, subnetId) === table.networkId);
    const [wall] = plan.firewalls.filter(({ subnetId }) => networkOf(plan, subnetId) === table.networkId);
    const toWall = wall === undefined ? [] : [{ nextHop: 'firewall', firewallId: wall.id } as const];
    const hops = [
      ...(isAround ? [...toWall, ...toWall] : [{ nextHop: 'drop' } as const]),
      ...(nat === undefined ? [] : [{ nextHop: 'nat', natDeviceId: nat.id } as const]),
      ...toWall,
    ];
    // A range, or one machine, is routed otherwise than all around it, so that its packets come and their answers go astray.
    for (const prefix of [...ranges, ...machines])
      if (hops.length > 0 && chance(0.2))
        tried(
          addOperation(
            'routes',
            withFallbacks('routes', { id: newId(), routeTableId: table.id, prefix, ...pick(hops) }),
          ),
        );
  }
  const closed = withFallbacks('filters', {
    id: newId(),
    name: 'closed',
    mode: 'ordered',
    isStateful: false,
    defaultIn: 'allow',
    defaultOut: 'allow',
    subnetIds: plan.subnets.filter(({ name }) => name.startsWith('edge') && chance(0.3)).map(({ id }) => id),
    nodePoolIds: plan.nodePools.filter(({ isPublic }) => isPublic && chance(0.7)).map(({ id }) => id),
  });
  tried(addOperation('filters', closed));
  // Answers of a service come to no port of its own.
  for (const [i, direction] of (['in', 'out'] as const).entries())
    tried(
      addOperation(
        'filterRules',
        withFallbacks('filterRules', {
          id: newId(),
          filterId: closed.id,
          direction,
          position: 10 * (i + 1),
          action: 'deny',
          protocol: pick(['tcp', 'udp']),
          ports: ['1024-65535'],
        }),
      ),
    );
  return made;
}

/** The nodes and pods of a cluster that questions come to, each as a prefix of its own. */
function machinesOf(forwarding: Forwarding, { id }: Cluster): string[] {
  const part = { clusterId: id, nodePoolId: null, zone: '' };
  const hosts = ([4, 6] as const).flatMap((family) => [
    nodeHost(forwarding, part, family),
    nodeHost(forwarding, part, family, 'other'),
    podHost(forwarding, part, family, 'first'),
    podHost(forwarding, part, family, 'other'),
  ]);
  return hosts.flatMap((host) =>
    host.ok ? [formatPrefix(prefixAround(host.value.address, host.value.address.family === 4 ? 32 : 128))] : [],
  );
}

function networkOf({ subnets }: Plan, subnetId: string): string {
  return subnets.find(({ id }) => id === subnetId)?.networkId ?? '';
}
