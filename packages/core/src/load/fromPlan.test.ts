import { demoPlan } from '../demo/index.js';
import { ask } from '../request/index.js';
import { IngressState } from '../ingress/index.js';
import { readQuestion } from '../plan/index.js';
import { expectGood } from '../result.js';
import { checkScenario, groupsOf, membersOf, simulate, USUAL_SERVICE_MS } from './index.js';

const plan = demoPlan();
const groups = (to: string) =>
  groupsOf(ask(IngressState.of(plan), expectGood(readQuestion(plan, 'pod of shared-services', to, 576))).members);

test('what answers a URL is what a load falls on, with its shares', () => {
  expect(
    groups('http://tide.models.skerryline.example/').map(({ name, replicas, share, serviceMs }) => [
      name,
      replicas,
      Math.round(1000 * share),
      serviceMs,
    ]),
  ).toEqual([
    ['models/tide-v1', 18, 900, 250],
    ['models/tide-v2', 2, 100, 200],
  ]);
});

test('pods weigh their part of the share, and are spread over the zones in turn', () => {
  const members = membersOf(groups('http://tide.models.skerryline.example/'), ['e1', 'e2', 'e3']);
  expect(members).toHaveLength(20);
  const sum = (group: string) =>
    members.filter((each) => each.group === group).reduce((all, { weight }) => all + weight, 0);
  expect(sum('models/tide-v1') / sum('models/tide-v2')).toBeCloseTo(9, 9);
  expect(members.filter(({ group, zone }) => group === 'models/tide-v1' && zone === 'e2')).toHaveLength(6);
});

test('a service time that is not entered is taken as usual, and it is told', () => {
  const [first] = groups('http://10.43.255.20/');
  expect(first).toMatchObject({ name: 'ops/berth-board', serviceMs: USUAL_SERVICE_MS, isAssumed: true });
});

test('by weights the simulation shares as the route says', () => {
  const members = membersOf(groups('http://tide.models.skerryline.example/'), ['e1']);
  const scenario = expectGood(
    checkScenario({
      seed: 3,
      seconds: 600,
      arrivals: { kind: 'poisson', perSecond: 40, toPerSecond: 0, series: [] },
      clients: 50,
      method: 'weights',
      members,
      startWith: members.length,
      scaling: undefined,
      serviceTimes: 'constant',
      limit: undefined,
      timeoutMs: undefined,
      retries: 0,
      detectSeconds: 0,
      lostCalls: 'fail',
      unanswered: 0,
      events: [],
    }),
  );
  const run = simulate(scenario);
  let next = run.next();
  while (next.done !== true) next = run.next();
  const { members: done, total } = next.value;
  const share =
    done.filter(({ group }) => group === 'models/tide-v1').reduce((sum, { answered }) => sum + answered, 0) /
    total.answered;
  // Five standard deviations of 0.9 over 24,000 requests.
  expect(Math.abs(share - 0.9)).toBeLessThan(5 * Math.sqrt((0.9 * 0.1) / total.answered));
});
