import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writePlanFile } from '@wide-lattice/core/exchange';
import type { Plan } from '@wide-lattice/core/plan';
import { Coverage, ENOUGH } from './coverage.js';
import { prove } from './prove.js';
import { testsOf } from './planTests.js';
import { randomPlan } from './randomPlan.js';
import { whyNot } from './shell.js';

/** What the model leaves out, said with every proof. */
const limits = [
  'Echoes by ICMP, and pods with IPv6 addresses in an overlay, are not sent; messages that a packet is too large are.',
  'Encapsulations other than VXLAN and Geneve, and encryption between nodes, are not built; Geneve runs in a VXLAN device on its own port.',
  'Links with encapsulation are built as links of the packet size that is left inside.',
  'Service ranges are built as routes to nowhere on the nodes of their cluster.',
  'Flows over ways that are as good are not sent: the kernel takes one of them.',
  'Services, network policies and tunnels of connections are proved by tests of their own; load balancers and names are not built.',
];

/** Proves one plan by every place to every other, or by the tests that are generated from it; prints what was sent and where the kernel differs. Exit code: 0 when it agrees everywhere, 1 when not, 3 when it cannot be tried here. */
export async function provePlan(plan: Plan, areTests: boolean, print: (line: string) => void): Promise<0 | 1 | 3> {
  const why = whyNot();
  if (why !== undefined) {
    print(`NOT PROVEN: ${why}. Run it as root on Linux with ip and nft.`);
    return 3;
  }
  const { sent, passing, disagreements, noise, notes } = await prove(
    plan,
    undefined,
    areTests ? { questions: testsOf(plan) } : {},
  );
  for (const note of notes) print(`not compared: ${note}`);
  for (const each of disagreements) print(`DIFFERS  ${each}`);
  for (const each of noise) print(`noise, gone when sent again: ${each}`);
  for (const limit of limits) print(`not modelled: ${limit}`);
  print(
    `${sent} flows sent, ${passing} of them passed as planned; ${disagreements.length} disagreements with the kernel.`,
  );
  return disagreements.length === 0 ? 0 : 1;
}

/** Questions that are asked of each random plan. */
const RANDOM_QUESTIONS = 160;

/** Proves random plans by their seeds; a plan that the kernel disagrees with is written to a file in `folder`. */
export async function proveRandom(
  seeds: readonly number[],
  folder: string,
  print: (line: string) => void,
): Promise<0 | 1 | 3> {
  const why = whyNot();
  if (why !== undefined) {
    print(`NOT PROVEN: ${why}. Run it as root on Linux with ip and nft.`);
    return 3;
  }
  let flows = 0;
  let passing = 0;
  let differing = 0;
  let noise = 0;
  const coverage = new Coverage();
  for (const [at, seed] of seeds.entries()) {
    const plan = randomPlan(seed);
    const proof = await prove(plan, RANDOM_QUESTIONS, { met: coverage });
    noise += proof.noise.length;
    flows += proof.sent;
    passing += proof.passing;
    differing += proof.disagreements.length;
    if ((at + 1) % 10 === 0) print(`${at + 1} of ${seeds.length} plans, ${flows} flows, ${differing} disagreements`);
    if (proof.disagreements.length === 0) continue;
    const file = join(folder, `disagreement-${seed}.yaml`);
    writeFileSync(file, writePlanFile(plan, 'yaml'));
    print(`seed ${seed}, written to ${file}:`);
    for (const each of proof.disagreements) print(`DIFFERS  ${each}`);
  }
  for (const limit of limits) print(`not modelled: ${limit}`);
  const rows = coverage.rows();
  const rare = rows.filter((row) => row.flows < ENOUGH);
  print(`met by ${ENOUGH} flows or more: ${rows.length - rare.length} things with a verdict; by fewer: ${rare.length}`);
  for (const { what, verdict, flows: few } of rare) print(`rarely met: ${what}, ${verdict}: ${few}`);
  if (noise > 0) print(`${noise} differences were gone when sent again: noise of a busy machine.`);
  print(
    `${seeds.length} random plans${seeds.length === 0 ? '' : ` from seed ${seeds[0] ?? 0}`}: ${flows} flows sent, ${passing} of them passed as planned; ${differing} disagreements with the kernel.`,
  );
  return differing === 0 ? 0 : 1;
}
