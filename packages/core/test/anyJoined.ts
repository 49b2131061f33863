import fc from 'fast-check';
import { setOperation } from '../src/plan/index.js';
import type { Connection, Member, Operation, Plan, ServiceExport } from '../src/plan/index.js';
import { joined, served } from './connections.js';
import { add, applied, testId } from './worlds.js';

const six = { minLength: 6, maxLength: 6 } as const;

/** The export of shop/basket by the nth member. */
export const exported = (n: number, fields: Partial<ServiceExport> = {}): Partial<ServiceExport> => ({
  memberId: testId('members', n),
  namespace: 'shop',
  name: 'basket',
  ...fields,
});

/** Small random worlds of clusters that are joined: overlapping and translated ranges, filters, who dials, hubs, zones, each kind. */
export const anyJoined: fc.Arbitrary<Plan> = fc
  .record({
    count: fc.integer({ min: 2, max: 6 }),
    /** Members of one network are alike where their filters are. */
    networks: fc.constantFrom(1, 2, 6, 6),
    way: fc.constantFrom<Connection['method']>('tunnels', 'tunnels', 'relays', 'flat'),
    tunnel: fc.constantFrom<Connection['tunnel']>('wireguard', 'esp-gcm', 'esp-gcm-nat', 'vxlan'),
    shape: fc.constantFrom<Connection['shape']>('full mesh', 'full mesh', 'hub'),
    rendezvous: fc.constantFrom('', '10.2.0.200'),
    pods: fc.array(fc.constantFrom('10.244.0.0/16', '', '', ''), six),
    translated: fc.array(fc.boolean(), six),
    modes: fc.array(fc.constantFrom('overlay' as const, 'routed' as const), six),
    dials: fc.array(fc.constantFrom<Member['dials']>('either', 'either', 'either', 'dials', 'is dialled'), six),
    gateways: fc.array(fc.integer({ min: 1, max: 3 }), six),
    hub: fc.integer({ min: 0, max: 6 }),
    filters: fc.array(
      fc.record({
        isAny: fc.boolean(),
        at: fc.integer({ min: 1, max: 6 }),
        ports: fc.constantFrom('51820', '4789', '4500', '500', '443', '1-65535'),
        isOut: fc.nat({ max: 3 }).map((n) => n === 0),
      }),
      { maxLength: 6 },
    ),
    mtu: fc.constantFrom(1500, 1400, 9000),
    peering: fc.boolean(),
  })
  .map((w): Plan => {
    const pod = (i: number) => w.pods[i] || `10.${101 + i}.0.0/16`;
    const plan = joined({
      count: w.count,
      pods: [0, 1, 2, 3, 4, 5].map(pod),
      clusters: w.modes.map((podMode, i) => ({ podMode, networkId: testId('networks', 1 + (i % w.networks)) })),
      connection: { method: w.way, tunnel: w.tunnel, shape: w.shape, rendezvous: w.rendezvous },
      members: w.dials.map((dials, i) => ({
        dials,
        gateways: w.gateways[i] ?? 1,
        isHub: w.hub === i + 1,
        translated: w.translated[i] === true ? [`${pod(i)} as 172.${16 + i}.0.0/16`] : [],
      })),
      exports: [exported(1, { weight: 2 }), exported(2, { rank: 2 })],
      more: [...served(1, 'basket'), ...served(2, 'basket')],
    });
    const closed = [...new Set(w.filters.map(({ at }) => Math.min(at, w.count)))];
    const more: Operation[] = [
      setOperation('sites', testId('sites', 1), { zones: ['a', 'b', 'c'] }),
      setOperation('links', testId('links', 1), { mtu: w.mtu }),
      ...add(
        'filters',
        ...closed.map((n) => ({
          id: testId('filters', n),
          name: `f${n}`,
          clusterIds: [testId('clusters', n)],
          mode: 'ordered' as const,
          defaultOut: 'allow' as const,
          defaultIn: 'deny' as const,
        })),
      ),
      ...add(
        'filterRules',
        ...w.filters.map(({ at, ports, isOut, isAny }, i) => ({
          filterId: testId('filters', Math.min(at, w.count)),
          direction: isOut ? ('out' as const) : ('in' as const),
          position: 10 + i,
          action: isOut ? ('deny' as const) : ('allow' as const),
          protocol: isAny && !isOut ? ('any' as const) : ('udp' as const),
          ports: isAny && !isOut ? [] : [ports],
          peers: [],
        })),
      ),
      ...(w.peering
        ? add('links', {
            id: testId('links', 2),
            name: 'second',
            kind: 'peering',
            networkIds: [testId('networks', 1), testId('networks', 2)],
          })
        : []),
    ];
    return applied(plan, more);
  });
