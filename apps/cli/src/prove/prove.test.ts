import { spawnSync } from 'node:child_process';
import { demoPlan } from '@wide-lattice/core/demo';
import { emptyPlan } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { testsOf } from './planTests.js';
import { askedOf, prove } from './prove.js';
import { random, randomPlan } from './randomPlan.js';
import { whyNot } from './shell.js';

const why = whyNot();
if (why !== undefined) process.stderr.write(`\n*** NOT PROVEN against the kernel: ${why}. ***\n\n`);
const inKernel = why === undefined ? test : test.skip;

// The full proof is the command `prove --suite`; a few seeds are tried with every test run.
inKernel.each([1, 5, 8, 36])(
  'the Linux kernel forwards, filters and translates as the plan of seed %i says',
  async (seed) => {
    const { sent, passing, disagreements } = await prove(randomPlan(seed), 90);
    expect(disagreements).toEqual([]);
    expect(sent).toBeGreaterThan(40);
    expect(passing).toBeGreaterThan(10);
  },
  120_000,
);

/** Names of the suites whose tests were sent, and how the kernel and the plan differ. */
async function sentTests(
  plan: Plan,
): Promise<{ readonly suites: string[]; readonly disagreements: readonly string[] }> {
  const questions = testsOf(plan);
  const { asked } = askedOf(plan, questions.length, undefined, questions);
  const { disagreements } = await prove(plan, questions.length, { questions });
  return { suites: asked.map(({ words }) => words.split(':')[0] ?? ''), disagreements };
}

inKernel(
  'tests that are generated from small plans end in the kernel as the plan says',
  async () => {
    const sent = new Map<string, number>();
    for (const seed of [2, 3, 7, 11, 14, 19]) {
      const { suites, disagreements } = await sentTests(randomPlan(seed));
      expect({ seed, disagreements }).toEqual({ seed, disagreements: [] });
      for (const suite of suites) sent.set(suite, (sent.get(suite) ?? 0) + 1);
    }
    for (const suite of ['within a node', 'between nodes', 'packet size', 'egress needs'])
      expect([suite, (sent.get(suite) ?? 0) > 2]).toEqual([suite, true]);
    expect((await sentTests(demoPlan())).disagreements).toEqual([]);
  },
  240_000,
);

inKernel(
  'the demo is forwarded as planned',
  async () => {
    expect((await prove(demoPlan(), 60)).disagreements).toEqual([]);
  },
  120_000,
);

inKernel(
  'a plan that says otherwise is caught: what is built here has none of its links',
  async () => {
    const plan = randomPlan(14);
    const { disagreements } = await prove(plan, 90, { built: { ...plan, links: [] } });
    expect(disagreements.length).toBeGreaterThan(3);
    expect(disagreements.join()).toContain('the kernel lets nothing through');
  },
  120_000,
);

// What the plan calls too narrow for IPv6 the kernel does, too: an interface loses its IPv6 addresses (RFC 8200 5).
inKernel.each([
  [1280, 1],
  [1279, 0],
])('an interface that takes %i bytes whole has %i IPv6 addresses of its own', (mtu, addresses) => {
  const [name, other] = [`wl${process.pid}xmtu`, `wl${process.pid}xend`];
  const ip = (words: string) => spawnSync('ip', words.split(' '), { encoding: 'utf8' });
  for (const each of [name, other]) ip(`netns add ${each}`);
  try {
    ip(`link add v1 netns ${name} type veth peer name v2 netns ${other}`);
    ip(`-n ${name} addr add fd00:1::1/64 dev v1 nodad`);
    ip(`-n ${name} link set v1 up`);
    ip(`-n ${name} link set v1 mtu ${mtu}`);
    const { stdout } = ip(`-n ${name} -6 -o addr show dev v1 to fd00:1::/64`);
    expect(stdout.split('\n').filter((line) => line !== '')).toHaveLength(addresses);
  } finally {
    for (const each of [name, other]) ip(`netns del ${each}`);
  }
});

inKernel('nothing is left behind', () => {
  const { stdout } = spawnSync('ip', ['netns', 'list'], { encoding: 'utf8' });
  expect(stdout.split('\n').filter((line) => line.startsWith(`wl${process.pid}x`))).toEqual([]);
});

test('random plans are the same for the same seed, and hold clusters of every pod network', () => {
  const numbers = random(7);
  expect([numbers(), numbers()]).toEqual([random(7)(), expect.any(Number)]);
  const shape = (seed: number) => randomPlan(seed).clusters.map(({ name, podMode }) => `${name} ${podMode}`);
  expect(shape(3)).toEqual(shape(3));
  const modes = new Set(
    Array.from({ length: 20 }, (_, i) => randomPlan(i).clusters.map(({ podMode }) => podMode)).flat(),
  );
  expect([...modes].sort()).toEqual(['native', 'overlay', 'routed']);
  expect(emptyPlan().clusters).toEqual([]);
});
