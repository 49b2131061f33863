import { formatRouteLoss } from '../english/index.js';
import fc from 'fast-check';
import { withFallbacks } from '../plan/index.js';
import type { IngressRoute } from '../plan/index.js';
import { isPattern, RouteBook } from './index.js';
import { certifies, commonHost, coversHost } from '../zones/index.js';
import type { Call } from './index.js';

let made = 0;
const route = (fields: Partial<IngressRoute>): IngressRoute =>
  withFallbacks('ingressRoutes', { id: `r${++made}`, clusterId: 'c', namespace: 'web', name: `r${made}`, ...fields });
const call = (
  host: string,
  path: string,
  more: { method?: string; headers?: Record<string, string>; query?: Record<string, string> } = {},
): Call => ({
  host,
  path,
  method: more.method ?? 'GET',
  headers: new Map(Object.entries(more.headers ?? {})),
  query: new Map(Object.entries(more.query ?? {})),
});
const winner = (routes: readonly IngressRoute[], of: Call, reach: 'one label' | 'labels' = 'labels') =>
  RouteBook.of(routes, reach).match(of)?.name;

describe('hosts', () => {
  // Documentation of Ingress, “Hostname wildcards” (from memory): *.foo.com matches bar.foo.com, not baz.bar.foo.com, not foo.com.
  test.each([
    ['*.foo.com', 'bar.foo.com', true],
    ['*.foo.com', 'baz.bar.foo.com', false],
    ['*.foo.com', 'foo.com', false],
    ['foo.com', 'foo.com', true],
    ['', 'any.example', true],
  ])('in an Ingress %p for %p: %p', (pattern, host, matches) => {
    expect(coversHost(pattern, host, 'one label')).toBe(matches);
  });
  // Gateway API, reference of Hostname (from memory): *.example.com matches test.example.com and foo.test.example.com, not example.com.
  test.each([
    ['*.example.com', 'test.example.com', true],
    ['*.example.com', 'foo.test.example.com', true],
    ['*.example.com', 'example.com', false],
    ['*.example.com', 'otherexample.com', false],
  ])('in the Gateway API %p for %p: %p', (pattern, host, matches) => {
    expect(coversHost(pattern, host, 'labels')).toBe(matches);
  });
  // Gateway API, hostnames of HTTPRoute (from memory): a listener test.example.com takes routes for test.example.com and *.example.com;
  // a listener *.example.com takes *.example.com, test.example.com and foo.test.example.com, but neither example.com nor test.example.net.
  test.each([
    ['test.example.com', 'test.example.com', 'test.example.com'],
    ['test.example.com', '*.example.com', 'test.example.com'],
    ['*.example.com', '*.example.com', '*.example.com'],
    ['*.example.com', 'test.example.com', 'test.example.com'],
    ['*.example.com', 'foo.test.example.com', 'foo.test.example.com'],
    ['*.example.com', '*.test.example.com', '*.test.example.com'],
    ['*.test.example.com', '*.example.com', '*.test.example.com'],
    ['*.example.com', 'example.com', undefined],
    ['*.example.com', 'test.example.net', undefined],
    ['', '*.example.com', '*.example.com'],
    ['a.example.com', 'b.example.com', undefined],
  ])('a listener for %p and a route for %p have %p in common', (listener, own, common) => {
    expect(commonHost(listener, own)).toBe(common);
  });
  // RFC 9525 6.3: a wildcard is the whole left-most label and stands for exactly one.
  test.each([
    [['*.example.net'], 'a.example.net', true],
    [['*.example.net'], 'a.b.example.net', false],
    [['*.example.net'], 'example.net', false],
    [['a.example.net', 'b.example.net'], 'b.example.net', true],
    [['A.Example.net'], 'a.example.net', true],
    [[], 'a.example.net', false],
  ])('a certificate for %j and %p: %p', (names, host, covers) => {
    expect(certifies(names, host)).toBe(covers);
  });
});

// Documentation of Ingress, “Examples” of path types (from memory): kind, paths, request path, matches.
describe('paths of an Ingress', () => {
  test.each([
    ['Prefix', ['/'], '/any/path', true],
    ['Exact', ['/foo'], '/foo', true],
    ['Exact', ['/foo'], '/bar', false],
    ['Exact', ['/foo'], '/foo/', false],
    ['Exact', ['/foo/'], '/foo', false],
    ['Prefix', ['/foo'], '/foo', true],
    ['Prefix', ['/foo'], '/foo/', true],
    ['Prefix', ['/foo/'], '/foo', true],
    ['Prefix', ['/foo/'], '/foo/', true],
    ['Prefix', ['/aaa/bb'], '/aaa/bbb', false],
    ['Prefix', ['/aaa/bbb'], '/aaa/bbb', true],
    ['Prefix', ['/aaa/bbb/'], '/aaa/bbb', true],
    ['Prefix', ['/aaa/bbb'], '/aaa/bbb/', true],
    ['Prefix', ['/aaa/bbb'], '/aaa/bbb/ccc', true],
    ['Prefix', ['/aaa/bbb'], '/aaa/bbbxyz', false],
    ['Prefix', ['/', '/aaa'], '/aaa/ccc', '/aaa'],
    ['Prefix', ['/', '/aaa', '/aaa/bbb'], '/aaa/bbb', '/aaa/bbb'],
    ['Prefix', ['/', '/aaa', '/aaa/bbb'], '/ccc', '/'],
    ['Prefix', ['/aaa'], '/ccc', false],
  ] as const)('%s %j for %p: %p', (pathType, paths, path, wanted) => {
    const routes = paths.map((own) => route({ pathType, path: own, name: own }));
    const won = winner(routes, call('a.example', path), 'one label');
    expect(typeof wanted === 'string' ? won : won !== undefined).toBe(wanted);
  });
  test('of Prefix /foo and Exact /foo the exact one is preferred', () => {
    expect(
      winner(
        [route({ path: '/foo', name: 'prefix' }), route({ path: '/foo', pathType: 'Exact', name: 'exact' })],
        call('', '/foo'),
        'one label',
      ),
    ).toBe('exact');
  });
  test('the most precise host with rules decides, and is not left for another', () => {
    const routes = [
      route({ hosts: ['a.b.example'], path: '/x', name: 'exact' }),
      route({ hosts: ['*.b.example'], name: 'wild' }),
      route({ name: 'every' }),
    ];
    const at = (host: string, path: string) => winner(routes, call(host, path), 'one label');
    expect([
      at('a.b.example', '/x'),
      at('a.b.example', '/y'),
      at('c.b.example', '/'),
      at('d.c.b.example', '/'),
    ]).toEqual(['exact', undefined, 'wild', 'every']);
  });
});

// Gateway API, precedence in HTTPRoute (from memory): host, exact path, longest prefix, method, most headers, most query parameters, oldest,
// namespace/name in the order of the alphabet, first rule.
describe('order of the Gateway API', () => {
  const asked = call('a.b.example', '/pay/now', {
    method: 'GET',
    headers: { version: '2', canary: 'yes' },
    query: { lang: 'is' },
  });
  const better: readonly [string, Partial<IngressRoute>, Partial<IngressRoute>][] = [
    [
      'a host before a wildcard, whatever the path',
      { hosts: ['a.b.example'], path: '/' },
      { hosts: ['*.b.example'], path: '/pay/now', pathType: 'Exact' },
    ],
    ['a longer wildcard before a shorter', { hosts: ['*.b.example'] }, { hosts: ['*.example'], path: '/pay' }],
    [
      'an exact path before a prefix',
      { path: '/pay/now', pathType: 'Exact' },
      { path: '/pay/now', method: 'GET', headers: ['version=2'] },
    ],
    [
      'a longer prefix before a shorter',
      { path: '/pay' },
      { path: '/', method: 'GET', headers: ['version=2', 'canary=yes'] },
    ],
    ['a method before headers', { method: 'GET' }, { headers: ['version=2', 'canary=yes'] }],
    [
      'more headers before fewer',
      { headers: ['version=2', 'canary=yes'] },
      { headers: ['version=2'], query: ['lang=is'] },
    ],
    ['more query parameters before fewer', { query: ['lang=is'], age: 9 }, { age: 1 }],
    ['the older before the younger', { age: 1, name: 'z' }, { age: 2, name: 'a' }],
    ['names in the order of the alphabet', { namespace: 'a', name: 'z' }, { namespace: 'b', name: 'a' }],
    ['the earlier rule', { name: 'same', rule: 1 }, { name: 'same', rule: 2 }],
  ];
  test.each(better)('%s', (_, first, second) => {
    const [a, b] = [route(first), route(second)];
    for (const routes of [
      [a, b],
      [b, a],
    ]) {
      const book = RouteBook.of(routes, 'labels');
      expect(book.match(asked)).toBe(a);
      expect(book.explain(asked, a)).toMatchObject([{ route: b, isMatch: true }]);
    }
  });
  test('names of headers ignore case, those of parameters do not; values are exact or match as a whole', () => {
    const at = (fields: Partial<IngressRoute>) => winner([route({ name: 'it', ...fields })], asked) === 'it';
    expect([
      at({ headers: ['Version=2'] }),
      at({ headers: ['version=3'] }),
      at({ headers: ['version~[12]'] }),
      at({ headers: ['canary~y'] }),
      at({ query: ['Lang=is'] }),
      at({ query: ['lang~i.'] }),
    ]).toEqual([true, false, true, false, false, true]);
  });
  test('what no rule of a precise host takes is left to a wider one', () => {
    expect(
      winner([route({ hosts: ['a.b.example'], path: '/other' }), route({ hosts: ['*.example'], name: 'wide' })], asked),
    ).toBe('wide');
  });
  test('a refusal names the reason of each route for the host', () => {
    const routes = [
      route({ path: '/other' }),
      route({ pathType: 'Exact', path: '/pay' }),
      route({ method: 'POST' }),
      route({ headers: ['version=3'] }),
      route({ pathType: 'RegularExpression', path: '/[0-9]+' }),
      route({ pathType: 'RegularExpression', path: '([' }),
    ];
    expect(
      RouteBook.of(routes, 'labels')
        .explain(asked, undefined)
        .map(({ why }) => formatRouteLoss(why))
        .sort(),
    ).toEqual([
      '([ is not a regular expression',
      'it is for POST',
      'its path is exactly /pay',
      'the header version is not 3',
      'the path does not begin with /other',
      'the path does not match /[0-9]+',
    ]);
  });
});

test('a regular expression that backtracks without end elsewhere is answered at once', () => {
  // (a+)+b over many a's takes exponential time where it is tried by backtracking. Source: any text on catastrophic backtracking.
  expect(
    winner([route({ pathType: 'RegularExpression', path: '/(a+)+b' })], call('', `/${'a'.repeat(20_000)}`)),
  ).toBeUndefined();
  expect([isPattern('(a+)+b'), isPattern('(['), isPattern('(?=x)')]).toEqual([true, false, false]);
});

test('prefixes that differ by a slash alone stand in one order, whatever stands beside them', () => {
  // By hand: /x/ is longer than /x, so it wins; a third route, older than one and with fewer headers than the other, must not turn that round.
  const routes = [
    route({ path: '/x/' }),
    route({ path: '/', pathType: 'Exact', age: 1 }),
    route({ path: '/x', headers: ['w=1'] }),
  ];
  const asked = { ...call('', '/x/y'), headers: new Map([['w', '1']]) };
  for (const [a, b, c] of [
    [0, 1, 2],
    [0, 2, 1],
    [1, 0, 2],
    [1, 2, 0],
    [2, 0, 1],
    [2, 1, 0],
  ] as const)
    expect(RouteBook.of([routes[a]!, routes[b]!, routes[c]!], 'labels').match(asked)?.path).toBe('/x/');
});

describe('random routes', () => {
  const hosts = ['', 'a.b.example', 'c.b.example', '*.b.example', '*.example', 'b.example'];
  const paths = ['/', '/x', '/x/', '/x/y', '/xy', '/x/y/z'];
  const some = fc.record({
    hosts: fc.uniqueArray(fc.constantFrom(...hosts.slice(1)), { maxLength: 2 }),
    path: fc.constantFrom(...paths),
    pathType: fc.constantFrom('Exact' as const, 'Prefix' as const),
    method: fc.constantFrom('any' as const, 'any' as const, 'POST' as const),
    headers: fc.subarray(['v=1', 'w=1']),
    age: fc.integer({ min: 0, max: 3 }),
  });
  const asks = fc.record({
    host: fc.constantFrom('a.b.example', 'c.b.example', 'd.b.example', 'x.y.example', 'b.example', 'other.test'),
    path: fc.constantFrom(...paths, '/q', '/x/y/z/w'),
    method: fc.constantFrom('GET', 'POST'),
    headers: fc.dictionary(fc.constantFrom('v', 'w'), fc.constantFrom('1', '2')),
  });

  test('after any edits a book answers as one made anew', () => {
    const edits = fc.array(fc.record({ gone: fc.nat(), come: some }), { maxLength: 90 });
    fc.assert(
      fc.property(
        fc.array(some, { minLength: 1, maxLength: 12 }),
        edits,
        fc.array(asks, { minLength: 1, maxLength: 8 }),
        (all, changes, calls) => {
          let routes = all.map((fields) => route(fields));
          let book = RouteBook.of(routes, 'labels');
          for (const { gone, come } of changes) {
            const left = routes[gone % routes.length] as IngressRoute;
            const fresh = { ...route(come), id: left.id };
            routes = routes.map((each) => (each === left ? fresh : each));
            book = book.after([left], [fresh]);
          }
          const anew = RouteBook.of(routes, 'labels');
          for (const { headers, ...asked } of calls) {
            const of = { ...asked, headers: new Map(Object.entries(headers)), query: new Map<string, string>() };
            expect(book.match(of)?.name).toBe(anew.match(of)?.name);
          }
          expect(book.hosts().sort()).toEqual(anew.hosts().sort());
        },
      ),
      { numRuns: 100 },
    );
  });
});
