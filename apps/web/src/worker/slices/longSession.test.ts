/** @jest-environment node */
import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import { applyOperations, kinds, rulesOf, setOperation } from '@wide-lattice/core/plan';
import type { Entity, Kind, Operation, Plan } from '@wide-lattice/core/plan';
import { finished } from '@wide-lattice/core/working';
import { SliceHost } from '../sliceHost';
import { slices } from './index';

// Made by the tests' set-up.
const { collectGarbage } = globalThis as unknown as { readonly collectGarbage: () => void };

/** What the pages of all stops ask of the worker, again after every edit. */
function askAll(host: SliceHost): void {
  const { plan } = host;
  const [cluster, zone, table, connection] = [
    plan.clusters[0],
    plan.zones[0],
    plan.routeTables[0],
    plan.connections[0],
  ].map((each) => each?.id ?? '');
  slices.board(host);
  slices.find(host, '10.28.4.9');
  finished(slices.findings(host));
  finished(slices.findingCounts(host));
  finished(slices.uses(host, ''));
  finished(slices.uses(host.made, ''));
  slices.faults(host);
  slices.drill(
    host,
    slices
      .faults(host)
      .slice(0, 1)
      .map(({ key }) => key),
  );
  slices.siteMap(host);
  slices.valueSheets(host, connection ?? '');
  slices.cluster(host, cluster ?? '', []);
  slices.costs(host, 'now');
  finished(slices.vantages(host, ''));
  slices.keptRecords(host);
  slices.queryLoad(host, cluster ?? '');
  slices.zoneText(host, zone ?? '');
  slices.trace(host, `pod of ${plan.clusters[0]?.name}`, 'the internet tcp 443', 1400, '');
  slices.matrix(host, 0, plan.clusters.length);
  slices.routeTable(host, table ?? '');
  slices.expectations(host);
  slices.dependentsOf(host, table ?? '');
  slices.addressPlan(host);
  slices.diagram(host);
  slices.reach(host);
  slices.entryPoints(host, '');
  slices.roomOnNodes(host, cluster ?? '');
  slices.podNetwork(host, cluster ?? '');
  slices.lockedDecisions(host);
  slices.pools(host);
  slices.ranges(host);
  slices.utilisation(host);
  slices.ribbon(host, '10.0.0.0/8', []);
  slices.trace(host, 'the internet', 'https://tickets.skerryline.example/basket', 1400, '');
}

/** An edit of one entity of a kind: another text or number in a field of it that may have one. */
function editOf(plan: Plan, kind: Kind, round: number): Operation | undefined {
  const entity = (plan[kind] as readonly Entity[])[0] as (Entity & Readonly<Record<string, unknown>>) | undefined;
  if (entity === undefined) return undefined;
  for (const [field, rule] of Object.entries(rulesOf(kind))) {
    const value =
      rule.type === 'text' && rule.min === 0
        ? `round ${round}`.slice(0, rule.max)
        : rule.type === 'integer'
          ? rule.min + (round % 2)
          : undefined;
    if (value === undefined || value === entity[field]) continue;
    const operation = setOperation(kind, entity.id, { [field]: value } as never);
    if (applyOperations(plan, [operation]).ok) return operation;
  }
  return undefined;
}

/** Edits in turns; gives what was replaced, held weakly, by the kind that was edited and the round. */
function session(rounds: number) {
  let host = new SliceHost(evaluate(demoPlan()));
  askAll(host);
  const replaced: { readonly what: string; readonly round: number; readonly held: WeakRef<object> }[] = [];
  const edited = new Set<Kind>();
  for (let round = 0; round < rounds; round++)
    // The last round is short: what was built last is there to be followed from.
    for (const kind of round < rounds - 1 ? kinds : kinds.slice(0, 6)) {
      const operation = editOf(host.plan, kind, round);
      if (operation === undefined) continue;
      const applied = applyOperations(host.plan, [operation]);
      if (!applied.ok) throw new Error(JSON.stringify(applied.problems));
      edited.add(kind);
      host = new SliceHost(evaluate(applied.plan, host.evaluation));
      // All of it now and then, as pages are looked at between edits.
      if (edited.size % 3 === 0 || round === rounds - 1) askAll(host);
      else finished(slices.findingCounts(host));
      for (const [what, held] of [
        [kind, host.plan[kind]],
        [`plan after ${kind}`, host.plan],
        [`evaluation after ${kind}`, host.evaluation],
      ] as const)
        replaced.push({ what, round, held: new WeakRef(held) });
    }
  return { host, replaced, edited };
}

test('a long session keeps nothing of what its edits replaced', async () => {
  const ROUNDS = 3;
  const { host, replaced, edited } = session(ROUNDS);
  // What was read through a weak reference stays until the turn ends.
  await new Promise((resolve) => setTimeout(resolve));
  collectGarbage();
  expect(edited.size).toBeGreaterThan(30);
  // The last round's own may be in use still; of the rounds before, only what no later edit replaced is.
  const present = new Set<object | undefined>([undefined, ...kinds.map((kind) => host.plan[kind])]);
  const kept = replaced.filter(({ round, held }) => round < ROUNDS - 2 && !present.has(held.deref()));
  expect(kept.map(({ what }) => what)).toEqual([]);
  expect(host.plan.clusters.length).toBeGreaterThan(0);
});
