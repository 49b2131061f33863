// Requests against compiled routes, one route's edit, and a simulated hour. Prints ratios against references of the same run.
import Router from 'find-my-way';
import { IngressState, RouteBook } from '@wide-lattice/core/ingress';
import { NameState } from '@wide-lattice/core/naming';
import { Random, simulate } from '@wide-lattice/core/load';
import { emptyPlan, newId, withFallbacks } from '@wide-lattice/core/plan';
import { median, row, scaled } from './measure.mjs';

const random = new Random(12);
const HOSTS = scaled(500, 50);
const ROUTES = scaled(10_000, 500);
const route = (at, host, path, pathType) =>
  withFallbacks('ingressRoutes', {
    id: newId(),
    clusterId: 'c',
    namespace: 'n',
    name: `r${at}`,
    className: 'k',
    hosts: [host],
    path,
    pathType,
    backends: ['s 80'],
  });
const routes = Array.from({ length: ROUTES }, (_, at) =>
  route(at, `h${at % HOSTS}.example`, `/a${Math.floor(at / HOSTS)}/b${at % 7}`, at % 3 === 0 ? 'Exact' : 'Prefix'),
);
const none = new Map();
const calls = Array.from({ length: scaled(100_000, 2000) }, () => {
  const at = random.below(ROUTES);
  const more = random.below(2) === 0 ? '' : '/c/d';
  return {
    host: `h${at % HOSTS}.example`,
    path: `/a${Math.floor(at / HOSTS)}/b${at % 7}${more}`,
    method: 'GET',
    headers: none,
    query: none,
  };
});

const book = RouteBook.of(routes, 'one label');
const compiled = median(() => calls.forEach((call) => book.match(call)), 5);

// The rules one by one, as they are written down, in the leanest form.
const plain = routes.map(({ hosts, path, pathType }) => ({ host: hosts[0], path, isExact: pathType === 'Exact' }));
function scan({ host, path }) {
  let won;
  for (const each of plain) {
    if (each.host !== host) continue;
    const isMatch = path === each.path || (!each.isExact && path.startsWith(`${each.path}/`));
    if (isMatch && (won === undefined || each.isExact || each.path.length > won.path.length)) won = each;
  }
  return won;
}
const some = calls.filter((_, at) => at % 100 === 0);
for (const call of some)
  if (book.match(call)?.path !== scan(call)?.path) throw new Error(`${call.host}${call.path} differs`);
const linear = 100 * median(() => some.forEach(scan), 3);
row('100,000 requests against 10,000 routes', compiled, 'a linear scan (1 in 100, scaled up)', linear);

// The general-purpose router knows exact paths and a wildcard at the end; it gets the host as the first part of the path.
const router = Router();
for (const each of routes) {
  const path = `/${each.hosts[0]}${each.path}`;
  router.on('GET', path, () => each);
  if (each.pathType === 'Prefix') router.on('GET', `${path}/*`, () => each);
}
const paths = calls.map(({ host, path }) => `/${host}${path}`);
const library = median(() => paths.forEach((path) => router.find('GET', path)), 3);
row('the same', compiled, 'an HTTP router library where its rules suffice', library);

// One route's edit in a plan with 20,000 routes.
const many = Array.from({ length: scaled(20_000, 500) }, (_, at) =>
  route(at, `h${at % 4000}.example`, `/a${at % 50}`, 'Prefix'),
).sort((a, b) => (a.id < b.id ? -1 : 1));
const controller = withFallbacks('controllers', { id: newId(), clusterId: 'c', name: 'k', classes: ['k'] });
const plan = { ...emptyPlan(), controllers: [controller], ingressRoutes: many };
const names = NameState.of(plan);
const whole = median(() => new IngressState(plan, names.forwarding, names).bookOf(controller), 5);
let state = new IngressState(plan, names.forwarding, names);
state.bookOf(controller);
const EDITS = scaled(200, 10);
let last = plan;
const edits = median(() => {
  for (let at = 0; at < EDITS; at++) {
    const place = random.below(many.length);
    const ingressRoutes = [...last.ingressRoutes];
    ingressRoutes[place] = { ...ingressRoutes[place], path: `/new${at}` };
    last = { ...last, ingressRoutes };
    // No name of this plan follows from a route: it has no record controllers.
    state = new IngressState(last, names.forwarding, names, state);
    state.bookOf(controller);
  }
}, 3);
let copied = many;
const copying = median(() => {
  for (let at = 0; at < EDITS; at++) copied = [...many];
}, 3);
row('one route edited in a plan with 20,000', edits / EDITS, 'compiling all', whole);
if (copied.length !== many.length) throw new Error('nothing was copied');
row('the same without copying the list', (edits - copying) / EDITS, 'compiling all', whole);

// A simulated hour.
const members = Array.from({ length: 500 }, (_, at) => ({
  name: `m${at}`,
  group: 'g',
  zone: 'abc'[at % 3],
  weight: 1,
  serviceMs: 200,
  concurrency: 1,
  queue: 128,
}));
const scenario = {
  seed: 1,
  seconds: scaled(3600, 60),
  arrivals: { kind: 'poisson', perSecond: 1000, toPerSecond: 0, series: [] },
  clients: 10_000,
  method: 'least connections',
  members,
  startWith: 500,
  scaling: undefined,
  serviceTimes: 'exponential',
  limit: undefined,
  timeoutMs: 2000,
  retries: 1,
  detectSeconds: 10,
  lostCalls: 'fail',
  unanswered: 0,
  events: [{ at: scaled(1800, 30), kind: 'lose', what: 'zone', name: 'b' }],
};
let events = 0;
const hour = median(() => {
  const run = simulate(scenario);
  for (;;) {
    const next = run.next();
    if (next.done) {
      events = next.value.events;
      return;
    }
  }
}, 1);
// The bound: as many events put into a sorted order once.
const sorted = median(() => Float64Array.from({ length: events }, () => random.next()).sort(), 1);
console.log(
  `${Math.round(events / hour).toLocaleString('en-US')} events a millisecond, ${events.toLocaleString('en-US')} in all`,
);
row('an hour of 1,000 requests a second at 500 members, a zone lost', hour, 'sorting as many numbers', sorted);
