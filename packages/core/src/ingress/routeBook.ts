import { RE2JS } from 're2js';
import { addTo, DEFAULT_BACKEND, readCondition } from '../plan/index.js';
import type { Condition, IngressRoute } from '../plan/index.js';
import type { RouteLoss } from '../road/index.js';
import type { WildcardReach } from '../zones/index.js';
import { areUndated } from './attaches.js';

/** What a route is held against. */
export interface Call {
  /** In small letters. */
  readonly host: string;
  readonly path: string;
  readonly method: string;
  /** By name in small letters. */
  readonly headers: ReadonlyMap<string, string>;
  readonly query: ReadonlyMap<string, string>;
}

/** A route that a call was held against and that did not get it, with the reason. */
export interface Lost {
  readonly route: IngressRoute;
  /** Whether it matches, and another one came first. */
  readonly isMatch: boolean;
  readonly why: RouteLoss;
}

interface Entry {
  readonly route: IngressRoute;
  /** The path without a slash at its end. */
  readonly path: string;
  readonly headers: readonly Test[];
  readonly query: readonly Test[];
  /** Compiled when it is first needed; undefined for other path types. */
  pattern?: RE2JS | undefined;
}

interface Test extends Condition {
  readonly pattern: RE2JS | undefined;
}

/** The routes of one host, in the order in which they win. */
interface Bucket {
  readonly routes: readonly IngressRoute[];
  readonly exact: ReadonlyMap<string, readonly Entry[]>;
  readonly prefix: ReadonlyMap<string, readonly Entry[]>;
  readonly patterns: readonly Entry[];
}

/** Buckets that were made anew before they are put with the others. */
const MAX_APART = 64;

/** Wildcards never stand for more labels than a name has: 253 characters hold at most 127 (RFC 1035 2.3.4). */
const MAX_LABELS = 127;

/**
 * Routes compiled so that a call finds its own by host and path, whatever their number. Of an edit only the hosts it touches are compiled anew.
 * Order of the Gateway API (from memory of HTTPRoute's reference): host, exact path, longest prefix, method, most headers, most query
 * parameters, oldest, name, first rule. Order of an Ingress (from memory of its documentation): exact host before wildcard, longest path, Exact
 * before Prefix. Regular expressions are in neither: here they come after exact paths, longest first, which is the custom of some controllers.
 */
export class RouteBook {
  private constructor(
    private readonly reach: WildcardReach,
    private readonly base: ReadonlyMap<string, Bucket>,
    private readonly apart: ReadonlyMap<string, Bucket>,
  ) {}

  static of(routes: readonly IngressRoute[], reach: WildcardReach): RouteBook {
    const byHost = new Map<string, IngressRoute[]>();
    for (const route of routes)
      for (const host of hostsOf(route)) {
        addTo(byHost, host, route);
      }
    return new RouteBook(reach, new Map([...byHost].map(([host, own]) => [host, bucketOf(own)])), new Map());
  }

  /** The book after an edit. */
  after(gone: readonly IngressRoute[], come: readonly IngressRoute[]): RouteBook {
    const apart = new Map(this.apart);
    const left = new Set(gone.map(({ id }) => id));
    for (const host of new Set([...gone, ...come].flatMap(hostsOf))) {
      const kept = (this.bucket(host)?.routes ?? []).filter(({ id }) => !left.has(id));
      apart.set(host, bucketOf([...kept, ...come.filter((route) => hostsOf(route).includes(host))]));
    }
    return apart.size <= MAX_APART
      ? new RouteBook(this.reach, this.base, apart)
      : new RouteBook(this.reach, new Map([...this.base, ...apart]), new Map());
  }

  /** The route that gets a call, among those that `admits` takes; undefined when none does. */
  match(call: Call, admits: (route: IngressRoute) => boolean = () => true): IngressRoute | undefined {
    for (const host of this.hostKeys(call.host)) {
      const bucket = this.bucket(host);
      if (bucket === undefined || bucket.routes.length === 0) continue;
      const won = inBucket(bucket, call, admits);
      if (won !== undefined) return won.route;
      // An Ingress controller holds a call to the most specific host that has rules (common practice); a Gateway looks further.
      if (this.reach === 'one label' && bucket.routes.some(admits)) break;
    }
    // What no rule takes is for the default backend.
    return this.bucket(DEFAULT_KEY)?.routes.find(admits);
  }

  /** The routes for a call's host that did not get it, nearest first, with the reason; `admits` are those that may. */
  explain(call: Call, won: IngressRoute | undefined, admits: (route: IngressRoute) => boolean = () => true): Lost[] {
    const seen = new Set<string>(won === undefined ? [] : [won.id]);
    const lost: Lost[] = [];
    for (const host of this.hostKeys(call.host)) {
      for (const route of this.bucket(host)?.routes ?? []) {
        if (seen.has(route.id)) continue;
        seen.add(route.id);
        const why = mismatch(entryOf(route), call);
        if (why !== undefined) lost.push({ route, isMatch: false, why });
        else if (!admits(route)) lost.push({ route, isMatch: true, why: { code: 'other-listener' } });
        else if (won !== undefined) lost.push({ route, isMatch: true, why: whyFirst(won, route, call.host) });
        else lost.push({ route, isMatch: true, why: { code: 'host.own-rules' } });
      }
    }
    return lost.sort((a, b) => Number(b.isMatch) - Number(a.isMatch));
  }

  /** A route of another object that matches a call as precisely as the one that gets it, where nobody knows which of the two is older. */
  undecided(call: Call, won: IngressRoute, admits: (route: IngressRoute) => boolean = () => true) {
    for (const host of [...this.hostKeys(call.host), DEFAULT_KEY]) {
      const routes = this.bucket(host)?.routes ?? [];
      if (!routes.includes(won)) continue;
      return routes.find(
        (each) =>
          areUndated(each, won) &&
          each.pathType === won.pathType &&
          precision.every(({ of }) => of(each) === of(won)) &&
          admits(each) &&
          mismatch(entryOf(each), call) === undefined,
      );
    }
    return undefined;
  }

  /** The routes for a host, those of the most specific name first, whatever their paths. */
  routesFor(host: string): readonly IngressRoute[] {
    return [...this.hostKeys(host)].flatMap((key) => this.bucket(key)?.routes ?? []);
  }

  /** Whether any route is for this host by name, by a wildcard, or for every host. */
  hasHost(host: string): 'exact' | 'wildcard' | 'every' | undefined {
    const found = [...this.hostKeys(host)].find((key) => (this.bucket(key)?.routes.length ?? 0) > 0);
    if (found === undefined) return (this.bucket(DEFAULT_KEY)?.routes.length ?? 0) > 0 ? 'every' : undefined;
    return found === '' ? 'every' : found.startsWith('*.') ? 'wildcard' : 'exact';
  }

  /** Every host that routes name. */
  hosts(): string[] {
    return [...new Set([...this.base.keys(), ...this.apart.keys()])].filter(
      (host) => host !== DEFAULT_KEY && (this.bucket(host)?.routes.length ?? 0) > 0,
    );
  }

  private bucket(host: string): Bucket | undefined {
    return this.apart.get(host) ?? this.base.get(host);
  }

  /** The hosts under which a call is looked up, most specific first. */
  private *hostKeys(host: string): Generator<string> {
    if (host !== '') yield host;
    let rest = host;
    for (let labels = 0; labels < MAX_LABELS; labels++) {
      const at = rest.indexOf('.');
      if (at < 0) break;
      rest = rest.slice(at + 1);
      yield `*.${rest}`;
      if (this.reach === 'one label') break;
    }
    yield '';
  }
}

/** Where default backends are kept: no host has a space in it. */
const DEFAULT_KEY = 'default backend';

function hostsOf({ hosts, pathType }: IngressRoute): readonly string[] {
  if (pathType === DEFAULT_BACKEND) return [DEFAULT_KEY];
  return hosts.length === 0 ? [''] : hosts.map((host) => host.toLowerCase());
}

function bucketOf(routes: readonly IngressRoute[]): Bucket {
  const sorted = [...routes].sort(byOrder);
  const exact = new Map<string, Entry[]>();
  const prefix = new Map<string, Entry[]>();
  const patterns: Entry[] = [];
  for (const route of sorted) {
    const entry = entryOf(route);
    if (route.pathType === 'RegularExpression') {
      patterns.push(entry);
      continue;
    }
    const [map, key] = route.pathType === 'Exact' ? [exact, route.path] : [prefix, entry.path];
    addTo(map, key, entry);
  }
  return { routes: sorted, exact, prefix, patterns };
}

function entryOf(route: IngressRoute): Entry {
  const tests = (texts: readonly string[]): Test[] =>
    texts.flatMap((text) => {
      const condition = readCondition(text);
      return condition === undefined
        ? []
        : [{ ...condition, pattern: condition.how === 'matches' ? compiled(condition.value) : undefined }];
    });
  return { route, path: withoutSlash(route.path), headers: tests(route.headers), query: tests(route.query) };
}

function inBucket(bucket: Bucket, call: Call, admits: (route: IngressRoute) => boolean): Entry | undefined {
  const first = (entries: readonly Entry[] | undefined) =>
    entries?.find((entry) => restMismatch(entry, call) === undefined && admits(entry.route));
  const exact = first(bucket.exact.get(call.path));
  if (exact !== undefined) return exact;
  const pattern =
    bucket.patterns.length === 0
      ? undefined
      : first(bucket.patterns.filter((entry) => matchesPattern(entry, call.path)));
  if (pattern !== undefined) return pattern;
  for (let path = withoutSlash(call.path); ; path = path.slice(0, path.lastIndexOf('/'))) {
    const found = first(bucket.prefix.get(path));
    if (found !== undefined) return found;
    if (path === '') return undefined;
  }
}

function matchesPattern(entry: Entry, path: string): boolean {
  entry.pattern ??= compiled(entry.route.path);
  return entry.pattern?.matches(path) ?? false;
}

/**
 * A regular expression that is run in time linear to what it reads, so that none runs without end; undefined when it is none.
 * It must match the whole text.
 */
function compiled(text: string): RE2JS | undefined {
  try {
    return RE2JS.compile(text);
  } catch {
    return undefined;
  }
}

/** Whether a text is a regular expression that can be run. */
export function isPattern(text: string): boolean {
  return compiled(text) !== undefined;
}

/** Why a route for a call's host does not match it; undefined when it does. */
function mismatch(entry: Entry, call: Call): RouteLoss | undefined {
  const { pathType, path } = entry.route;
  if (pathType === 'Exact' && call.path !== path) return { code: 'path.exact', path };
  if (pathType === 'RegularExpression' && !matchesPattern(entry, call.path))
    return { code: entry.pattern === undefined ? 'path.no-pattern' : 'path.pattern', path };
  if (pathType === 'Prefix' && !isUnderPath(withoutSlash(call.path), entry.path)) return { code: 'path.prefix', path };
  return restMismatch(entry, call);
}

function restMismatch({ route, headers, query }: Entry, call: Call): RouteLoss | undefined {
  if (route.method !== 'any' && route.method !== call.method) return { code: 'method', method: route.method };
  const header = headers.find((test) => !passes(test, call.headers.get(test.name.toLowerCase())));
  if (header !== undefined) return { code: 'header', ...asked(header) };
  const parameter = query.find((test) => !passes(test, call.query.get(test.name)));
  return parameter === undefined ? undefined : { code: 'parameter', ...asked(parameter) };
}

function passes({ how, value, pattern }: Test, given: string | undefined): boolean {
  if (given === undefined) return false;
  return how === 'is' ? given === value : (pattern?.matches(given) ?? false);
}

/** What a test asks for. */
function asked({ name, how, value }: Test) {
  return { name, value, isPattern: how !== 'is' };
}

/** Prefixes match whole path elements: /aaa/bb is no prefix of /aaa/bbb. */
function isUnderPath(path: string, prefix: string): boolean {
  return path === prefix || path.startsWith(`${prefix}/`);
}

function withoutSlash(path: string): string {
  return path.endsWith('/') ? path.slice(0, -1) : path;
}

interface OrderPart {
  readonly of: (route: IngressRoute) => number | string;
  readonly why: RouteLoss;
}

/** The parts of the order that come after host and path type, most telling first: what a rule asks for. */
const precision: readonly OrderPart[] = [
  // Of prefixes that differ by a slash at their end alone, the longer one is written more precisely.
  { of: ({ path }) => -path.length, why: { code: 'path.longer' } },
  { of: ({ method }) => (method === 'any' ? 1 : 0), why: { code: 'method.named' } },
  { of: ({ headers }) => -headers.length, why: { code: 'headers.more' } },
  { of: ({ query }) => -query.length, why: { code: 'parameters.more' } },
];

/** Which of two rules that ask for the same comes first. */
const order: readonly OrderPart[] = [
  ...precision,
  { of: ({ age }) => (age === 0 ? Number.MAX_SAFE_INTEGER : age), why: { code: 'older' } },
  { of: ({ namespace, name }) => `${namespace}/${name}`, why: { code: 'alphabet' } },
  { of: ({ rule }) => rule, why: { code: 'rule.earlier' } },
];

/** Which of two rules for one host comes first, both matching: below 0 for `a`. */
export function byOrder(a: IngressRoute, b: IngressRoute): number {
  for (const { of } of order) {
    const [x, y] = [of(a), of(b)];
    if (x !== y) return x < y ? -1 : 1;
  }
  return 0;
}

/** Why one matching route comes before another. */
function whyFirst(won: IngressRoute, other: IngressRoute, host: string): RouteLoss {
  const specific = (route: IngressRoute) => {
    const own = hostsOf(route);
    return own.includes(host) ? 2 : own.some((each) => each !== '') ? 1 : 0;
  };
  if (specific(won) !== specific(other)) return { code: 'host.more-precise' };
  if (won.pathType !== other.pathType)
    return {
      code:
        won.pathType === 'Exact'
          ? 'path.is-exact'
          : won.pathType === 'RegularExpression'
            ? 'path.pattern-first'
            : 'path.longer',
    };
  return order.find(({ of }) => of(won) !== of(other))?.why ?? { code: 'first' };
}
