import { joined, served } from '../../test/connections.js';
import { add, testId } from '../../test/worlds.js';
import { Forwarding } from '../forwarding/index.js';
import type { ClusterService, NetworkPolicy, Plan, Workload } from '../plan/index.js';
import { ConnectionState } from './index.js';

const joinsOf = (plan: Plan) => new ConnectionState(plan, Forwarding.of(plan));
const only = <T>(list: readonly T[]): T => {
  const [one] = list;
  if (one === undefined) throw new Error('none');
  return one;
};

describe('whether anybody stands behind an exported service', () => {
  const plan = joined({ more: served(2, 'web') });
  /** What is said of the service when it, or its workload, is another one. */
  const said = (service: Partial<ClusterService>, workload: Partial<Workload> = {}) => {
    const other = {
      ...plan,
      services: plan.services.map((each) => ({ ...each, ...service })),
      workloads: plan.workloads.map((each) => ({ ...each, ...workload })),
    };
    return joinsOf(other).faultOf(only(other.services));
  };
  test.each<[string, Partial<ClusterService>, Partial<Workload>, string | undefined]>([
    ['a named port that is there', {}, {}, undefined],
    [
      'a container that states no ports listens on any number',
      { ports: ['web tcp 80 to 8080'] },
      { ports: [] },
      undefined,
    ],
    ['and on no name', {}, { ports: [] }, 'The pods behind shop/web do not listen on http.'],
    [
      'a port of another protocol',
      { ports: ['udp 53 to 8080'] },
      {},
      'The pods behind shop/web do not listen on 8080.',
    ],
    ['one of two ports is enough', { ports: ['web tcp 80 to http', 'more tcp 81 to 9999'] }, {}, undefined],
    [
      'a label without a value is one with an empty value',
      { selector: ['app=web', 'public'] },
      { labels: ['app=web', 'public='] },
      undefined,
    ],
    ['no pods', {}, { replicasNow: 0 }, 'No pod is behind shop/web.'],
    ['a selector that finds nobody', { selector: ['app=else'] }, {}, 'No pod is behind shop/web.'],
    ['pods of another namespace', {}, { namespace: 'else' }, 'No pod is behind shop/web.'],
    ['no selector', { selector: [] }, {}, 'No pod is behind shop/web.'],
  ])('%s', (_, service, workload, expected) => {
    expect(said(service, workload)).toBe(expected);
  });
});

describe('network policies of who is asked', () => {
  const closing: Partial<NetworkPolicy> = {
    clusterId: testId('clusters', 2),
    namespace: 'shop',
    name: 'closed',
    selector: ['app=web'],
    directions: ['ingress'],
  };
  const refused = (
    allowIn: readonly string[],
    translated: readonly string[] = [],
    method: 'tunnels' | 'relays' = 'tunnels',
  ) => {
    const plan = joined({
      connection: { method },
      members: [{ translated: [...translated] }],
      more: [...served(2, 'web'), ...add('networkPolicies', { ...closing, allowIn: [...allowIn] })],
    });
    const connected = joinsOf(plan);
    const [from, to] = connected.membersOf(testId('connections', 1));
    if (from === undefined || to === undefined) throw new Error('no members');
    return connected.refusedBy(connected.pair(only(plan.connections), from, to), only(plan.services)) !== undefined;
  };
  test('see callers at their own address, or at the translated one', () => {
    // Pods of the first cluster: 10.101.0.0/16.
    expect(refused([])).toBe(true);
    expect(refused(['10.101.0.0/16 on tcp 8080'])).toBe(false);
    expect(refused(['10.101.0.0/16 on tcp 9090'])).toBe(true);
    const shown = ['10.101.0.0/16 as 172.30.0.0/16'];
    expect(refused(['10.101.0.0/16 on tcp 8080'], shown)).toBe(true);
    expect(refused(['172.30.0.0/16 on tcp 8080'], shown)).toBe(false);
  });
  test('and behind relays a pod of their own cluster', () => {
    expect(refused(['10.101.0.0/16 on tcp 8080'], [], 'relays')).toBe(true);
    expect(refused(['10.102.0.0/16 on tcp 8080'], [], 'relays')).toBe(false);
  });
});
