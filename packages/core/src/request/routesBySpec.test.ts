import { Random } from '../load/random.js';
import { DEFAULT_BACKEND, withFallbacks } from '../plan/index.js';
import type { IngressRoute } from '../plan/index.js';
import { RouteBook } from '../ingress/index.js';
import type { Call } from '../ingress/index.js';

/*
 * A second matcher, written from the words of the specifications and not from the first one. Gateway API, HTTPRoute: hostnames (the route with the
 * most characters in a matching name that is no wildcard, then in a matching name), HTTPRouteRule.matches (exact path, longest prefix, method,
 * most headers, most query parameters; then the oldest route, the first by namespace and name, the first rule). Kubernetes documentation of
 * Ingress: hostname wildcards (one label), path types (element by element), multiple matches (longest path, Exact before Prefix), default
 * backend. Both from memory. That an Ingress leaves no call to a wider host is common practice.
 */

type Reach = 'one label' | 'labels';

function hostMatches(pattern: string, host: string, reach: Reach): boolean {
  if (pattern === '') return true;
  const [want, have] = [pattern.toLowerCase().split('.'), host.split('.')];
  if (want[0] !== '*') return want.join('.') === host;
  const rest = want.slice(1);
  const over = have.length - rest.length;
  if (over < 1 || (reach === 'one label' && over > 1)) return false;
  return rest.every((label, at) => have[over + at] === label);
}

/** The better of two names that match comes first: a whole name by its characters, then a wildcard by its own. */
function hostOrder(pattern: string): [number, number] {
  return pattern === '' ? [0, 0] : pattern.startsWith('*') ? [0, pattern.length] : [pattern.length, pattern.length];
}

function pathMatches({ path, pathType }: IngressRoute, asked: string): boolean {
  if (pathType === 'Exact') return path === asked;
  const elements = (text: string) => {
    const all = text.split('/').slice(1);
    return all.at(-1) === '' ? all.slice(0, -1) : all;
  };
  const [want, have] = [elements(path), elements(asked)];
  return want.length <= have.length && want.every((element, at) => element === have[at]);
}

function asks(texts: readonly string[], valueOf: (name: string) => string | undefined): boolean {
  return texts.every((text) => {
    const at = text.indexOf('=');
    return at > 0 && valueOf(text.slice(0, at)) === text.slice(at + 1);
  });
}

interface Candidate {
  readonly route: IngressRoute;
  readonly host: string;
}

function before(a: Candidate, b: Candidate): boolean {
  const keys = ({ route, host }: Candidate): (number | string)[] => {
    const [whole, any] = hostOrder(host);
    return [
      -whole,
      -any,
      route.pathType === 'Exact' ? 0 : 1,
      -route.path.length,
      route.method === 'any' ? 1 : 0,
      -route.headers.length,
      -route.query.length,
      // Without a day of creation a route counts as the youngest.
      route.age === 0 ? Infinity : route.age,
      `${route.namespace}/${route.name}`,
      route.rule,
    ];
  };
  const [x, y] = [keys(a), keys(b)];
  const at = x.findIndex((key, i) => key !== y[i]);
  return at >= 0 && (x[at] as number) < (y[at] as number);
}

function bySpec(routes: readonly IngressRoute[], call: Call, reach: Reach): IngressRoute | undefined {
  const fitting = routes
    .filter(({ pathType }) => pathType !== DEFAULT_BACKEND)
    .flatMap((route) =>
      (route.hosts.length === 0 ? [''] : route.hosts)
        .filter((host) => hostMatches(host, call.host, reach))
        .map((host): Candidate => ({ route, host })),
    );
  const best = fitting.map(({ host }) => hostOrder(host)).sort((a, b) => b[0] - a[0] || b[1] - a[1])[0];
  const held = reach === 'one label' ? fitting.filter(({ host }) => hostOrder(host).join() === best?.join()) : fitting;
  const matching = held.filter(
    ({ route }) =>
      pathMatches(route, call.path) &&
      (route.method === 'any' || route.method === call.method) &&
      asks(route.headers, (name) => call.headers.get(name.toLowerCase())) &&
      asks(route.query, (name) => call.query.get(name)),
  );
  const won = matching.reduce<Candidate | undefined>(
    (first, each) => (first === undefined || before(each, first) ? each : first),
    undefined,
  );
  return won?.route ?? routes.find(({ pathType }) => pathType === DEFAULT_BACKEND);
}

const hosts = ['a.b.example', 'c.b.example', '*.b.example', '*.example', 'b.example', '*.a.b.example', 'A.B.example'];
const paths = ['/', '/x', '/x/', '/x/y', '/xy', '/x/y/z', '/x/y/', '/y'];
const asked = [...paths, '/x/y/z/w', '/q', '/x//y'];

function world(random: Random, reach: Reach): IngressRoute[] {
  const pick = <T>(all: readonly T[]): T => all[random.below(all.length)] as T;
  const some = (all: readonly string[]) => all.filter(() => random.below(3) === 0);
  const routes = Array.from({ length: 1 + random.below(9) }, (_, n) =>
    withFallbacks('ingressRoutes', {
      id: `r${n}`,
      clusterId: 'c',
      objectKind: reach === 'labels' ? 'HTTPRoute' : 'Ingress',
      namespace: pick(['web', 'shop']),
      name: pick(['front', 'back', 'front-2']),
      rule: n,
      age: random.below(3),
      hosts: [...new Set(Array.from({ length: random.below(3) }, () => pick(hosts)))],
      path: pick(paths),
      pathType: pick(['Exact', 'Prefix', 'Prefix'] as const),
      method: reach === 'labels' ? pick(['any', 'any', 'GET', 'POST'] as const) : 'any',
      headers: reach === 'labels' ? some(['v=1', 'W=1']) : [],
      query: reach === 'labels' ? some(['q=1', 'Q=2']) : [],
    }),
  );
  return reach === 'one label' && random.below(4) === 0
    ? [...routes, withFallbacks('ingressRoutes', { id: 'd', clusterId: 'c', pathType: DEFAULT_BACKEND })]
    : routes;
}

const WORLDS = 50_000;

test.each(['one label', 'labels'] as const)(
  `in ${WORLDS} worlds a matcher of its own gives every call to the same route, wildcards for %s`,
  (reach) => {
    const random = new Random(reach.length);
    const won = { some: 0, none: 0 };
    for (let n = 0; n < WORLDS; n++) {
      const routes = world(random, reach);
      const pick = <T>(all: readonly T[]): T => all[random.below(all.length)] as T;
      const call: Call = {
        host: pick([
          'a.b.example',
          'c.b.example',
          'd.b.example',
          'x.y.example',
          'b.example',
          'z.a.b.example',
          'other.test',
        ]),
        path: pick(asked),
        method: pick(['GET', 'POST']),
        headers: new Map(['v', 'w'].flatMap((name) => (random.below(2) === 0 ? [[name, pick(['1', '2'])]] : []))),
        query: new Map(['q', 'Q'].flatMap((name) => (random.below(2) === 0 ? [[name, pick(['1', '2'])]] : []))),
      };
      const wanted = bySpec(routes, call, reach);
      if (wanted === undefined) won.none++;
      else won.some++;
      const got = RouteBook.of(routes, reach).match(call);
      // Compared first: a message for each of so many would take longer than all the rest.
      if (got !== wanted) expect({ n, call, got, routes }).toEqual({ n, call, got: wanted, routes });
    }
    expect(Math.min(won.some, won.none)).toBeGreaterThan(WORLDS / 10);
  },
);
