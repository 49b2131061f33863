import { Random } from '../load/random.js';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { parseAddress, parsePrefix } from '../address/index.js';
import { readQuestion, readPolicyRule, readSelectorTerm, withFallbacks } from '../plan/index.js';
import type { NetworkPolicy, Plan, Workload } from '../plan/index.js';
import { expectGood } from '../result.js';
import { ask } from '../request/index.js';
import { IngressState, PolicySet } from './index.js';

const own = testId('clusters', 1);
const workload = (namespace: string, labels: string[], ports: string[] = ['http tcp 8080']): Workload =>
  withFallbacks('workloads', {
    id: `${namespace} ${labels.join()}`,
    clusterId: own,
    namespace,
    name: labels.join('-').replaceAll('=', '-'),
    labels,
    ports,
    replicasNow: 1,
    replicasHorizon: 1,
  });
const policy = (fields: Partial<NetworkPolicy>): NetworkPolicy =>
  withFallbacks('networkPolicies', {
    id: `p${JSON.stringify(fields)}`,
    clusterId: own,
    namespace: 'web',
    name: 'p',
    ...fields,
  });
const set = (policies: NetworkPolicy[], namespaceLabels: string[] = []) =>
  new PolicySet({ namespaceLabels, hasNodeCache: false }, policies);
const at = (text: string) => expectGood(parseAddress(text));

const web = workload('web', ['app=web']);
const shop = workload('shop', ['app=web', 'tier=a']);
const db = workload('web', ['app=db'], ['sql tcp 5432', 'admin tcp 9000']);

describe('words', () => {
  test('terms of selectors are read as the Kubernetes API writes them', () => {
    expect(
      ['app=web', 'app==web', 'app!=web', 'tier in (a, b)', 'tier notin (a)', 'tier', '!tier', 'app='].map(
        (text) => readSelectorTerm(text)?.how,
      ),
    ).toEqual(['in', 'in', 'not in', 'in', 'not in', 'exists', 'not exists', 'in']);
    expect(['', 'a b', 'tier in a', '-x=1', 'tier within (a)'].map(readSelectorTerm)).toEqual(Array(5).fill(undefined));
  });
  test.each([
    'pods all',
    'pods app=web, tier in (a, b) in namespaces team=x on tcp 80-90, udp 53, sctp',
    'namespaces all',
    '10.0.0.0/8 except 10.1.0.0/16 and 10.2.0.0/16',
    'anyone on tcp http',
    'fd00::/8 or pods app=x on tcp',
  ])('%p is a rule', (text) => {
    expect(readPolicyRule(text)).toBeDefined();
  });
  test.each([
    '',
    'nobody',
    'pods',
    '10.0.0.1/8',
    'pods app=x on 80',
    'pods app=x on tcp 0',
    'anyone on tcp 90-80',
    'pods app=x or',
  ])('%p is none', (text) => {
    expect(readPolicyRule(text)).toBeUndefined();
  });
});

// Documentation of the Kubernetes API, “Network Policies” (from memory): its rules, one by one.
describe('what the documentation says', () => {
  const allows = (
    policies: NetworkPolicy[],
    direction: 'ingress' | 'egress',
    pod: Workload,
    other: Workload | string,
    port = 8080,
    protocol = 'tcp',
    labels: string[] = [],
  ) =>
    set(policies, labels).judge(
      direction,
      pod,
      typeof other === 'string'
        ? { workload: undefined, address: at(other) }
        : { workload: other, address: at('10.0.0.9') },
      protocol,
      port,
    ).isAllowed;

  test('a pod that no policy selects allows all; selected, it allows nothing else than its rules', () => {
    expect(allows([], 'ingress', web, shop)).toBe(true);
    expect(allows([policy({ selector: ['app=db'] })], 'ingress', web, shop)).toBe(true);
    expect(allows([policy({ namespace: 'shop' })], 'ingress', web, shop)).toBe(true);
    expect(allows([policy({})], 'ingress', web, shop)).toBe(false);
    // It is isolated for that direction alone.
    expect(allows([policy({})], 'egress', web, shop)).toBe(true);
  });
  test('policies add up', () => {
    const none = policy({ name: 'none' });
    expect(allows([none, policy({ allowIn: ['namespaces all'] })], 'ingress', web, shop)).toBe(true);
  });
  test('directions default to ingress, and egress when there are rules for it', () => {
    const out = policy({ allowOut: ['pods app=db'] });
    expect([
      allows([out], 'egress', web, db),
      allows([out], 'egress', web, shop),
      allows([out], 'ingress', web, shop),
    ]).toEqual([true, false, false]);
    const onlyOut = policy({ directions: ['egress'] });
    expect([allows([onlyOut], 'egress', web, db), allows([onlyOut], 'ingress', web, shop)]).toEqual([false, true]);
  });
  test('pods alone are those of the policy’s namespace; with namespaces both must meet; as two peers either will do', () => {
    const by = (rule: string, other: Workload, labels: string[] = []) =>
      allows([policy({ allowIn: [rule] })], 'ingress', db, other, 5432, 'tcp', labels);
    expect([by('pods app=web', web), by('pods app=web', shop)]).toEqual([true, false]);
    const team = ['shop: team=x'];
    expect([
      by('pods tier=a in namespaces team=x', shop, team),
      by('pods tier=b in namespaces team=x', shop, team),
      by('pods app=web in namespaces team=x', web, team),
    ]).toEqual([true, false, false]);
    expect([
      by('pods app=web or namespaces team=x', shop, team),
      by('pods app=web or namespaces team=x', web, team),
    ]).toEqual([true, true]);
    expect(by('namespaces kubernetes.io/metadata.name=shop', shop)).toBe(true);
  });
  test('blocks are for addresses outside the cluster, with exceptions', () => {
    const rule = policy({ allowIn: ['192.0.2.0/24 except 192.0.2.128/25'] });
    expect(
      ['192.0.2.5', '192.0.2.200', '198.51.100.1'].map((address) => allows([rule], 'ingress', web, address)),
    ).toEqual([true, false, false]);
    expect(allows([policy({ allowIn: ['10.0.0.0/8'] })], 'ingress', web, shop)).toBe(false);
  });
  test('ports are those of the pod that is called: numbers, ranges, names', () => {
    const by = (ports: string, port: number, protocol = 'tcp') =>
      allows([policy({ allowIn: [`anyone on ${ports}`] })], 'ingress', db, web, port, protocol);
    expect([
      by('tcp 5432', 5432),
      by('tcp 5432', 5433),
      by('udp 5432', 5432),
      by('tcp 5000-6000', 5432),
      by('tcp', 1),
      by('tcp sql', 5432),
      by('tcp sql', 9000),
      by('tcp 1, udp 53', 53, 'udp'),
    ]).toEqual([true, false, false, true, true, true, false, true]);
    const out = policy({ allowOut: ['pods app=db on tcp admin'] });
    expect([allows([out], 'egress', web, db, 9000), allows([out], 'egress', web, db, 5432)]).toEqual([true, false]);
  });
});

describe('random worlds', () => {
  const random = new Random(17);
  const pick = <T>(all: readonly T[]): T => all[random.below(all.length)] as T;
  const times = <T>(most: number, make: () => T): T[] => Array.from({ length: random.below(most + 1) }, make);
  const pod = () => ({
    namespace: pick(['web', 'shop']),
    labels: [...pick([[], ['app=web']]), ...pick([[], ['tier=a'], ['tier=b']])],
  });
  const term = () => pick(['app=web', 'tier=a', 'tier in (a, b)', 'tier notin (a)', 'app', '!tier']);
  const peer = () =>
    pick([
      'anyone',
      `pods ${term()}${pick(['', ' in namespaces team=x', ' in namespaces all'])}`,
      pick(['namespaces team=x', '10.0.0.0/8', '10.0.0.0/8 except 10.1.0.0/16']),
    ]);
  const rule = () => {
    const who = [peer(), ...times(1, peer)];
    const ports = pick(['', ' on tcp 80', ' on tcp 80-90, udp 53', ' on tcp http']);
    return `${who.includes('anyone') ? 'anyone' : who.join(' or ')}${ports}`;
  };
  const policyFields = (): Partial<NetworkPolicy> => ({
    namespace: pick(['web', 'shop']),
    selector: times(2, term),
    directions: pick([[], ['ingress' as const], ['egress' as const], ['ingress' as const, 'egress' as const]]),
    allowIn: times(2, rule),
    allowOut: times(2, rule),
  });

  /** An evaluator of its own: reads the words anew, and asks one policy, rule, peer and port after the other. */
  function slowly(
    all: readonly Partial<NetworkPolicy>[],
    direction: 'ingress' | 'egress',
    pod: Workload,
    other: Workload | undefined,
    address: string,
    protocol: string,
    port: number,
  ): boolean {
    const has = (own: readonly string[], text: string): boolean => {
      const value = (key: string) => own.find((each) => each.split('=')[0] === key)?.split('=')[1];
      if (text === 'all') return true;
      if (text.startsWith('!')) return value(text.slice(1)) === undefined;
      const several = /^(\S+) (in|notin) \((.*)\)$/.exec(text);
      if (several !== null)
        return (several[2] === 'in') === (several[3] ?? '').split(', ').includes(value(several[1] ?? '') ?? '\n');
      return text.includes('=') ? own.includes(text) : value(text) !== undefined;
    };
    const inBlock = (text: string) => {
      const bits = (ip: string) =>
        ip
          .split('.')
          .map((part) => Number(part).toString(2).padStart(8, '0'))
          .join('');
      const within = (block: string) =>
        bits(address).startsWith(bits(block.split('/')[0] ?? '').slice(0, Number(block.split('/')[1])));
      const [block = '', except] = text.split(' except ');
      return within(block) && (except === undefined || !within(except));
    };
    const selecting = all.filter(({ namespace, selector = [], directions = [], allowOut = [] }) => {
      const types = directions.length > 0 ? directions : allowOut.length > 0 ? ['ingress', 'egress'] : ['ingress'];
      return (
        types.includes(direction) && namespace === pod.namespace && selector.every((text) => has(pod.labels, text))
      );
    });
    if (selecting.length === 0) return true;
    for (const { namespace, allowIn = [], allowOut = [] } of selecting)
      for (const text of direction === 'ingress' ? allowIn : allowOut) {
        const [who = '', ports] = text.split(' on ');
        const isPeer =
          who === 'anyone' ||
          who.split(' or ').some((peer) => {
            if (/^\d/.test(peer)) return other === undefined && inBlock(peer);
            if (other === undefined) return false;
            const [own, where] = peer.startsWith('namespaces ')
              ? ['all', peer.slice(11)]
              : peer.slice(5).split(' in namespaces ');
            const isThere =
              where === undefined
                ? other.namespace === namespace
                : where === 'all' || (where === 'team=x' && other.namespace === 'shop');
            return isThere && has(other.labels, own ?? '');
          });
        const called = direction === 'ingress' ? pod : other;
        const isPort =
          ports === undefined ||
          ports.split(', ').some((each) => {
            const [proto, at = ''] = each.split(' ');
            if (proto !== protocol) return false;
            if (at === 'http') return called !== undefined && port === 8080;
            const [first, last = first] = at.split('-').map(Number);
            return port >= (first ?? 0) && port <= (last ?? 0);
          });
        if (isPeer && isPort) return true;
      }
    return false;
  }

  test('in 100,000 worlds an evaluator of its own comes to the same', () => {
    const told = { pass: 0, refused: 0 };
    for (let n = 0; n < 100_000; n++) {
      const all = times(4, policyFields);
      const [of, other] = [pod(), random.below(3) === 0 ? undefined : pod()];
      const asked = workload(of.namespace, of.labels);
      const called = other === undefined ? undefined : workload(other.namespace, other.labels);
      const [direction, address] = [pick(['ingress', 'egress'] as const), pick(['10.2.0.1', '10.1.0.1', '192.0.2.1'])];
      const [protocol, port] = pick([
        ['tcp', 80] as const,
        ['tcp', 90] as const,
        ['tcp', 8080] as const,
        ['udp', 53] as const,
        ['udp', 80] as const,
      ]);
      const judged = set(
        all.map((fields) => policy(fields)),
        ['shop: team=x'],
      ).judge(direction, asked, { workload: called, address: at(address) }, protocol, port);
      const wanted = slowly(all, direction, asked, called, address, protocol, port);
      told[wanted ? 'pass' : 'refused']++;
      if (judged.isAllowed !== wanted)
        expect({ n, all, of, other, direction, address, protocol, port, isAllowed: judged.isAllowed }).toBe(wanted);
    }
    expect(Math.min(told.pass, told.refused)).toBeGreaterThan(20_000);
  });
});

describe('judged by the trace', () => {
  const plan: Plan = applied(ground(1), [
    ...add('clusters', cluster('c', { podMode: 'routed', nodesNow: 2, nodesHorizon: 2 })),
    ...add(
      'allocations',
      { clusterId: own, purpose: 'node', prefix: '10.9.0.0/24' },
      { clusterId: own, purpose: 'pod', prefix: '10.10.0.0/20' },
      { clusterId: own, purpose: 'service', prefix: '10.96.0.0/20' },
    ),
    ...add(
      'workloads',
      {
        clusterId: own,
        namespace: 'web',
        name: 'front',
        labels: ['app=front'],
        ports: ['tcp 80'],
        replicasNow: 2,
        replicasHorizon: 2,
      },
      {
        clusterId: own,
        namespace: 'web',
        name: 'db',
        labels: ['app=db'],
        ports: ['sql tcp 5432'],
        replicasNow: 1,
        replicasHorizon: 1,
      },
    ),
    ...add('services', {
      clusterId: own,
      namespace: 'web',
      name: 'db',
      selector: ['app=db'],
      ports: ['tcp 5432 to sql'],
    }),
    ...add('networkPolicies', {
      clusterId: own,
      namespace: 'web',
      name: 'db',
      selector: ['app=db'],
      allowIn: ['pods app=front on tcp sql'],
    }),
  ]);
  const answer = (from: string, to: string) =>
    ask(IngressState.of(plan), expectGood(readQuestion(plan, from, to, 576)));

  test('a pod of a workload is let through or refused, and the policy is named', () => {
    expect(answer('pod of c, workload web/front', 'pod of c, workload web/db tcp 5432').verdict).toBe('pass');
    const refused = answer('pod of c, workload web/front', 'pod of c, workload web/db tcp 80');
    expect([refused.verdict, refused.sentence]).toEqual(['refused', expect.stringContaining('network policy web/db')]);
    expect(answer('node of c', 'pod of c, workload web/db tcp 5432').verdict).toBe('refused');
    expect(answer('pod of c, workload web/db', 'pod of c, workload web/front tcp 80').verdict).toBe('pass');
    expect(answer('pod of c, workload web/front', 'service web/db of c').verdict).toBe('pass');
  });
  test('where no workload is named and it depends on it, nothing is decided', () => {
    const { verdict, sentence } = answer('pod of c', 'pod of c tcp 5432');
    expect([verdict, sentence.includes('It depends on the workload')]).toEqual(['unknown', true]);
  });
  test('a prefix is read as it is written', () => {
    expect(readPolicyRule('10.0.0.0/8')?.peers).toEqual([
      { kind: 'block', prefix: expectGood(parsePrefix('10.0.0.0/8')), except: [] },
    ]);
  });
});
