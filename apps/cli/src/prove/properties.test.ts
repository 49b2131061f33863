import { Forwarding, trace } from '@wide-lattice/core/forwarding';
import type { Trace } from '@wide-lattice/core/forwarding';
import { readPacketQuestion } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { randomPlan } from './randomPlan.js';
import { decisionsOf, lookUpOf } from '@wide-lattice/core/road';

interface AskedWords {
  readonly words: string;
  readonly answer: Trace;
}

function answers(plan: Plan): AskedWords[] {
  const forwarding = Forwarding.of(plan);
  const places = [
    ...plan.clusters.flatMap(({ name }) => [`pod of ${name}`, `node of ${name}`]),
    ...plan.inUse.map(({ prefix, owner }) => `range ${prefix} (${owner})`),
  ];
  return places.flatMap((from) =>
    [...places.flatMap((to) => [`${to} tcp 80`, `${to} udp 53`]), 'the internet tcp 443', 'need registry'].flatMap(
      (to) => {
        const question = readPacketQuestion(plan, from, to, 576);
        return question.ok ? [{ words: `${from} > ${to}`, answer: trace(forwarding, question.value) }] : [];
      },
    ),
  );
}

/** The routes and rules that steps of an answer name as those that decided. */
function named({ flows }: Trace): Set<string> {
  const steps = flows.flatMap(({ forth, back }) => [...forth, ...back]);
  const rows = steps.flatMap((event) => lookUpOf(event)?.found.row?.subject.id ?? []);
  return new Set([...rows, ...steps.flatMap((event) => decisionsOf(event).flatMap(({ ruleId }) => ruleId ?? []))]);
}

test('removing a route or rule that no answer names changes no verdict', () => {
  let removed = 0;
  for (let seed = 1; seed <= 40; seed++) {
    const plan = randomPlan(seed);
    const before = answers(plan);
    const isNamed = new Set(before.flatMap(({ answer }) => [...named(answer)]));
    const without: Plan = {
      ...plan,
      routes: plan.routes.filter(({ id }) => isNamed.has(id)),
      filterRules: plan.filterRules.filter(({ id }) => isNamed.has(id)),
      firewallRules: plan.firewallRules.filter(({ id }) => isNamed.has(id)),
    };
    for (const kind of ['routes', 'filterRules', 'firewallRules'] as const)
      removed += plan[kind].length - without[kind].length;
    const verdicts = (of: readonly AskedWords[]) => of.map(({ words, answer }) => `${words}: ${answer.verdict}`);
    expect([seed, verdicts(answers(without))]).toEqual([seed, verdicts(before)]);
  }
  expect(removed).toBeGreaterThan(50);
});

test('the answer of an allowed stateful flow is allowed: nothing that keeps state refuses what it let through', () => {
  let seen = 0;
  for (let seed = 1; seed <= 60; seed++) {
    const plan = randomPlan(seed);
    const stateful = new Set(
      [...plan.filters, ...plan.firewalls].filter(({ isStateful }) => isStateful).map(({ id }) => id),
    );
    for (const { words, answer } of answers(plan)) {
      const [flow] = answer.flows;
      // A tunnel between nodes keeps no state: each direction is a packet of its own to the tunnel's port.
      if (
        flow === undefined ||
        flow.back.length === 0 ||
        [...flow.forth, ...flow.back].some(({ event }) => event === 'wrapped')
      )
        continue;
      const passed = new Set(
        flow.forth.flatMap((event) => decisionsOf(event).map(({ list }) => list.id)).filter((id) => stateful.has(id)),
      );
      const failure = flow.failed?.isBack === true ? flow.failed.failure : undefined;
      const refusing =
        failure?.code === 'filter' ? failure.filterIds : failure?.code === 'firewall' ? [failure.firewallId] : [];
      if (passed.size > 0) seen++;
      expect([seed, words, refusing.filter((id) => passed.has(id))]).toEqual([seed, words, []]);
    }
  }
  expect(seen).toBeGreaterThan(200);
});

test('an answer is the same however it was come to: compiled anew, or taken over from the state before', () => {
  for (let seed = 1; seed <= 25; seed++) {
    const plan = randomPlan(seed);
    const first = Forwarding.of(plan);
    answers(plan);
    const [rule] = plan.filterRules;
    const edited: Plan = { ...plan, filterRules: plan.filterRules.filter((each) => each !== rule) };
    const next = Forwarding.of(edited, first);
    for (const { words, answer } of answers(edited)) {
      const [from = '', to = ''] = words.split(' > ');
      const question = readPacketQuestion(edited, from, to, 576);
      if (question.ok) expect([words, trace(next, question.value)]).toEqual([words, answer]);
    }
  }
});
