// The bring-up of a plan that has everything, and its drills and tests, against a bare event queue with as many events.
import { evaluate } from '@wide-lattice/core/evaluation';
import {
  bringUp,
  DrillRunner,
  drillsOf,
  runGraph,
  runTests,
  Suites,
  Times,
  usualWish,
} from '@wide-lattice/core/rehearsal';
import { finished } from '@wide-lattice/core/working';
import TinyQueue from 'tinyqueue';
import { withEverything } from './everythingOf.mjs';
import { organisation } from './organisation.mjs';
import { alternate, row, scaled, seeded } from './measure.mjs';

const CLUSTERS = scaled(1000, 10);
const plan = withEverything(organisation(CLUSTERS));
const evaluation = evaluate(plan);
evaluation.findings();

const wish = { ...usualWish, nodes: 'horizon' };
const run = finished(bringUp(evaluation, wish));
const random = seeded(7);
const times = Array.from({ length: run.events }, () => random());
const bare = () => {
  const queue = new TinyQueue([], (a, b) => a - b);
  for (const time of times) queue.push(time);
  let last = 0;
  while (queue.length > 0) last = queue.pop();
  return last;
};
const all = new Set(run.graph.tasks.keys());
const [whole, events, queue] = alternate(
  [
    () => finished(bringUp(evaluation, wish)),
    () => finished(runGraph(run.graph, new Times(plan), all, new Set())),
    bare,
  ],
  scaled(5, 1),
);
row(`${run.events} events of ${run.graph.tasks.length} steps`, events, 'a bare event queue with as many', queue);
row(`${CLUSTERS} clusters with everything brought up (${run.objects.length} objects)`, whole, 'its events', events);

const tests = new Suites(plan).of({ kind: 'plan' });
const [asked] = alternate([() => finished(runTests(evaluation, tests))], 1, { warmUp: 0 });
row(`${tests.length} tests of its connections`, asked, 'its bring-up', whole);

// The first drill asks what passes before; the others only what rests on their loss.
const runner = new DrillRunner(evaluation);
const drills = drillsOf(evaluation).filter(({ kind }) => kind === 'zone lost' || kind === 'link cut');
const [first] = alternate([() => finished(runner.run(drills[0]))], 1, { warmUp: 0 });
row('its first drill', first, 'its tests', asked);
const some = drills.slice(1, scaled(20, 4));
const [others] = alternate([() => some.forEach((drill) => finished(runner.run(drill)))], 1, { warmUp: 0 });
row(`each of ${some.length} others`, others / some.length, 'its tests', asked);
