import { prefix } from '@wide-lattice/core/address';
import { ask } from '@wide-lattice/core/request';
import { evaluate } from '@wide-lattice/core/evaluation';
import { IngressState, PolicySet } from '@wide-lattice/core/ingress';
import { runTests, Suites } from '@wide-lattice/core/rehearsal';
import type { TestResult } from '@wide-lattice/core/rehearsal';
import { finished } from '@wide-lattice/core/working';
import { unevenness } from '@wide-lattice/core/load';
import { addOperation, applyOperations, emptyPlan, newId, readQuestion, withFallbacks } from '@wide-lattice/core/plan';
import type { ClusterService, EntityOf, Kind, NetworkPolicy, Operation, Plan, Workload } from '@wide-lattice/core/plan';
import { KernelCluster, MACHINES } from './proveServices.js';
import type { KernelPod, KernelService } from './proveServices.js';
import { random } from './randomPlan.js';
import { whyNot } from './shell.js';

const inKernel = whyNot() === undefined ? test : test.skip;

const clusterId = newId();
const workload = (name: string, namespace: string, replicas: number): Workload =>
  withFallbacks('workloads', {
    id: newId(),
    clusterId,
    namespace,
    name,
    labels: [`app=${name}`, 'all=yes'],
    ports: ['tcp 8080', 'tcp 9090'],
    replicasNow: replicas,
    replicasHorizon: replicas,
  });
const [a, b] = [workload('a', 'web', 2), workload('b', 'web', 1)];
const pods: readonly KernelPod[] = [
  { name: 'pa1', address: '10.10.1.2', node: 'n1', workload: a },
  { name: 'pa2', address: '10.10.1.3', node: 'n1', workload: a },
  { name: 'pb', address: '10.10.2.2', node: 'n2', workload: b },
];
const caller: KernelPod = {
  name: 'pc',
  address: '10.10.2.9',
  node: 'n2',
  workload: { ...workload('c', 'web', 1), labels: ['app=c'] },
};
const CALLS = 600;

/** The same cluster in a plan; the client stands in a network that a peering joins. */
function planWith(externalPolicy: ClusterService['externalPolicy']): Plan {
  const ids = { profile: newId(), site: newId(), network: newId(), outside: newId(), service: newId() };
  const add = <K extends Kind>(kind: K, fields: Partial<EntityOf[K]>): Operation =>
    addOperation(kind, withFallbacks(kind, { id: newId(), ...fields }));
  const operations = [
    add('profiles', { id: ids.profile, name: 'p', reservedFirst: 1, reservedLast: 1, subnetScope: 'zone' } as never),
    add('sites', { id: ids.site, name: 's', kind: 'region', profileId: ids.profile, zones: ['z'] } as never),
    add('networks', { id: ids.network, name: 'n' }),
    add('networks', { id: ids.outside, name: 'outside' }),
    add('links', { name: 'l', kind: 'peering', networkIds: [ids.network, ids.outside] }),
    add('inUse', { prefix: '192.0.2.0/24', owner: 'client', networkId: ids.outside }),
    add('clusters', {
      id: clusterId,
      name: 'c',
      siteId: ids.site,
      networkId: ids.network,
      podMode: 'routed',
      nodesNow: 2,
      nodesHorizon: 2,
    }),
    add('allocations', { clusterId, purpose: 'node', prefix: '10.9.0.0/24' }),
    add('allocations', { clusterId, purpose: 'pod', prefix: '10.10.0.0/16' }),
    add('allocations', { clusterId, purpose: 'service', prefix: '10.96.0.0/24' }),
    ...[a, b, caller.workload].map((each) => addOperation('workloads', each)),
    add('services', {
      id: ids.service,
      clusterId,
      namespace: 'web',
      name: 's',
      type: 'NodePort',
      selector: ['all=yes'],
      ports: ['tcp 80 to 8080 node 30080'],
      externalPolicy,
    }),
  ];
  const applied = applyOperations(emptyPlan(), operations);
  if (!applied.ok) throw new Error(JSON.stringify(applied.problems));
  return applied.plan;
}

const service = (externalPolicy: KernelService['externalPolicy']): KernelService => ({
  clusterAddress: '10.96.0.9',
  port: 80,
  nodePort: 30_080,
  targetPort: 8080,
  externalPolicy,
  pods,
});

/** What the plan says of a call: who answers, by workload, and the client’s address that they see. */
function planned(externalPolicy: ClusterService['externalPolicy'], from: string) {
  const plan = planWith(externalPolicy);
  const question = readQuestion(plan, from, 'service web/s of c tcp 80', 200);
  if (!question.ok) throw new Error(question.problem.message);
  const { verdict, members, seenAs, sentence } = ask(IngressState.of(plan), question.value);
  if (verdict !== 'pass') throw new Error(sentence);
  return { shares: new Map(members.map(({ workload: { name }, share }) => [name, share])), seenAs };
}

async function counted(kernel: KernelCluster, from: string, to: readonly string[], port: number) {
  const by = new Map<string, number>();
  const seen = new Set<string>();
  for (let at = 0; at < CALLS; at += 50) {
    const answers = await Promise.all(
      Array.from({ length: 50 }, (_, i) => kernel.call(from, to[i % to.length] ?? '', port)),
    );
    for (const answer of answers) {
      if (answer === undefined) continue;
      const name = [...pods, caller].find((pod) => pod.name === answer.by)?.workload.name ?? '';
      by.set(name, (by.get(name) ?? 0) + 1);
      seen.add(answer.seen);
    }
  }
  const all = [...by.values()].reduce((sum, each) => sum + each, 0);
  return { shares: new Map([...by].map(([name, count]) => [name, count / all])), seen: [...seen].sort(), all };
}

/** Five standard deviations of a share over so many calls. */
const within = (share: number, all: number) => 5 * Math.sqrt((share * (1 - share)) / all);

inKernel(
  'services in the kernel: members in the shares of the plan, and the client’s address that it says',
  async () => {
    const kernel = await KernelCluster.start([...pods, caller]);
    try {
      kernel.serve(service('cluster'));
      // By the cluster address, from a pod: nobody changes the source.
      const inside = await counted(kernel, 'pc', ['10.96.0.9'], 80);
      const expected = planned('cluster', 'pod of c, workload web/c');
      for (const [name, share] of expected.shares)
        expect(Math.abs((inside.shares.get(name) ?? 0) - share)).toBeLessThan(within(share, inside.all));
      expect(inside.seen).toEqual([caller.address]);

      // By NodePort with the policy cluster: the node’s own address in place of the client’s.
      const through = await counted(kernel, 'client', [MACHINES.n1, MACHINES.n2], 30_080);
      const byNode = planned('cluster', 'range 192.0.2.0/24 (client)');
      for (const [name, share] of byNode.shares)
        expect(Math.abs((through.shares.get(name) ?? 0) - share)).toBeLessThan(within(share, through.all));
      expect(through.seen).toEqual([MACHINES.n1, MACHINES.n2]);
      expect(byNode.seenAs).toBe(MACHINES.n1);

      // With the policy local: the client’s own, and pods share by node: two on n1, one on n2.
      kernel.serve(service('local'));
      const local = await counted(kernel, 'client', [MACHINES.n1, MACHINES.n2], 30_080);
      expect(local.seen).toEqual([MACHINES.client]);
      expect(planned('local', 'range 192.0.2.0/24 (client)').seenAs).toBe('192.0.2.1');
      // The lone pod on n2 gets a half instead of a third: the factor that is told.
      const lone = local.shares.get('b') ?? 0;
      expect(Math.abs(lone / (1 / 3) - unevenness([2, 1]))).toBeLessThan(3 * within(0.5, local.all));
      // A node without a pod of it answers nothing.
      kernel.serve({ ...service('local'), pods: pods.slice(0, 2) });
      expect(await kernel.call('client', MACHINES.n2, 30_080)).toBeUndefined();
    } finally {
      kernel.end();
    }
  },
  120_000,
);

const peers = ['anyone', 'pods app=a', 'pods app=b in namespaces all', 'pods all', '192.0.2.0/24', 'pods app=c'];
const ports = ['', ' on tcp 8080', ' on tcp 8080-9000', ' on tcp 9090'];

/** Policies of a seed, in the words that both read. */
function policiesOf(seed: number): NetworkPolicy[] {
  const next = random(seed);
  const one = <T>(items: readonly T[]): T => items[Math.floor(next() * items.length)] as T;
  const rules = () => [...new Set(Array.from({ length: Math.floor(next() * 3) }, () => `${one(peers)}${one(ports)}`))];
  return Array.from({ length: 1 + Math.floor(next() * 3) }, (_, i) =>
    withFallbacks('networkPolicies', {
      id: newId(),
      clusterId,
      namespace: one(['web', 'web', 'other']),
      name: `p${i}`,
      selector: one([[], ['app=a'], ['app=b']]),
      directions: one([[], ['ingress' as const], ['egress' as const], ['ingress' as const, 'egress' as const]]),
      allowIn: rules(),
      allowOut: rules(),
    }),
  );
}

inKernel(
  'network policies in the kernel: what passes and what does not, as the plan says',
  async () => {
    const all = [...pods, caller].map((pod, i) =>
      i === 3 ? { ...pod, workload: { ...pod.workload, namespace: 'other' } } : pod,
    );
    const kernel = await KernelCluster.start(all);
    const outcomes = { passing: 0, refused: 0 };
    try {
      for (let seed = 1; seed <= 14; seed++) {
        const policies = policiesOf(seed);
        kernel.hold(policies);
        const set = new PolicySet({ namespaceLabels: [], hasNodeCache: false }, policies);
        const asked = ['client', ...all.map(({ name }) => name)].flatMap((from) =>
          all.filter(({ name }) => name !== from).flatMap((to) => [8080, 9090].map((port) => ({ from, to, port }))),
        );
        const answers = await Promise.all(
          asked.map(async ({ from, to, port }) => {
            const source = all.find(({ name }) => name === from);
            const address = (text: string) => prefix(`${text}/32`);
            const out =
              source === undefined ||
              set.judge('egress', source.workload, { workload: to.workload, address: address(to.address) }, 'tcp', port)
                .isAllowed;
            const into = set.judge(
              'ingress',
              to.workload,
              { workload: source?.workload, address: address(source?.address ?? MACHINES.client) },
              'tcp',
              port,
            ).isAllowed;
            const expected = out && into;
            let answer = await kernel.call(from, to.address, port);
            // A busy machine can be late: what was to pass is asked again before it counts.
            for (let again = 0; again < 3 && expected && answer === undefined; again++)
              answer = await kernel.call(from, to.address, port);
            if (expected) outcomes.passing++;
            else outcomes.refused++;
            return `${from} to ${to.name} ${port}: ${(answer !== undefined) === expected ? 'as planned' : `planned ${expected ? 'to pass' : 'to be refused'} under ${policies.map(({ namespace, selector, directions, allowIn, allowOut }) => JSON.stringify([namespace, selector, directions, allowIn, allowOut])).join(' ')}`}`;
          }),
        );
        expect(answers.filter((each) => !each.endsWith('as planned'))).toEqual([]);
      }
      expect(outcomes.passing).toBeGreaterThan(100);
      expect(outcomes.refused).toBeGreaterThan(100);
    } finally {
      kernel.end();
    }
  },
  120_000,
);

/** Calls to a service go to one pod at random: so many show each of three with more certainty than 1 in 10,000. */
const TRIES = 24;

interface KernelCall {
  readonly from: string;
  readonly to: string;
  readonly port: number;
  readonly tries: number;
}

const nodes = ['n1', 'n2'] as const;

function podsIn(text: string): KernelPod[] {
  const name = /workload web\/(\w+)/.exec(text)?.[1];
  return [...pods, caller].filter(({ workload: own }) => name === undefined || own.name === name);
}

/** What a generated test comes to in the kernel: from each pod or node that it may mean, to each. */
function kernelCalls({ suite, from, to }: TestResult): KernelCall[] {
  if (suite === 'NodePorts') {
    const noNode = /^[\d.]+(?= tcp)/.exec(to)?.[0];
    const at = noNode === undefined ? nodes.map((node) => MACHINES[node]) : [noNode];
    return nodes.flatMap((node) =>
      at
        .filter((each) => each !== MACHINES[node])
        .map((each) => ({ from: node, to: each, port: 30_080, tries: TRIES })),
    );
  }
  // A pod whose workload has no other would call itself, which no policy can forbid.
  if (suite === 'services')
    return podsIn(from)
      .filter(({ name }) => name !== 'pb')
      .map(({ name }) => ({ from: name, to: '10.96.0.9', port: 80, tries: TRIES }));
  if (suite !== 'policies that block' && suite !== 'within a node') return [];
  return podsIn(from).flatMap((one) =>
    podsIn(to)
      .filter((other) => other !== one && (suite === 'policies that block' || other.node === one.node))
      .map(({ address }) => ({ from: one.name, to: address, port: 8080, tries: 1 })),
  );
}

/** Whether every try of a call is answered; one that is not is tried again where it should be, since a busy machine can be late. */
async function isAnswered(kernel: KernelCluster, { from, to, port, tries }: KernelCall, expected: boolean) {
  const call = async () => (await kernel.call(from, to, port)) !== undefined;
  const answers = await Promise.all(Array.from({ length: tries }, call));
  for (let again = 0; again < 3 * tries && expected && answers.includes(false); again++)
    answers[answers.indexOf(false)] = await call();
  return answers.every((each) => each);
}

/** How the kernel answers a generated test otherwise than the plan; undefined where it agrees. */
async function otherwise(kernel: KernelCluster, test: TestResult): Promise<string | undefined> {
  const expected = test.asked === 'pass';
  let isHeard = true;
  for (const call of kernelCalls(test)) {
    // A service picks among the other pods.
    kernel.serve({ ...service('cluster'), pods: pods.filter(({ name }) => name !== call.from) });
    // The worst of the ways answers a test.
    isHeard &&= await isAnswered(kernel, call, expected);
  }
  return isHeard === expected ? undefined : `${test.suite}: ${test.from} to ${test.to}: ${test.sentence}`;
}

inKernel(
  'tests that are generated from a cluster with policies end in the kernel as they do in the plan',
  async () => {
    const kernel = await KernelCluster.start([...pods, caller]);
    const met = new Map<string, number>();
    try {
      for (let seed = 1; seed <= 12; seed++) {
        const policies = policiesOf(seed);
        kernel.hold(policies);
        const held = applyOperations(
          planWith('cluster'),
          policies.map((policy) => addOperation('networkPolicies', policy)),
        );
        if (!held.ok) throw new Error(held.problems[0]?.message);
        const results = finished(runTests(evaluate(held.plan), new Suites(held.plan).of({ kind: 'plan' })));
        for (const test of results.filter((each) => kernelCalls(each).length > 0)) {
          if (test.asked === undefined || test.asked === 'unknown') continue;
          expect([seed, await otherwise(kernel, test)]).toEqual([seed, undefined]);
          const key = `${test.suite} ${test.asked}`;
          met.set(key, (met.get(key) ?? 0) + 1);
        }
      }
      expect([...met.keys()].sort()).toEqual(
        expect.arrayContaining([
          'NodePorts broken',
          'NodePorts pass',
          'NodePorts refused',
          'policies that block refused',
          'services pass',
          'within a node pass',
        ]),
      );
    } finally {
      kernel.end();
    }
  },
  240_000,
);
