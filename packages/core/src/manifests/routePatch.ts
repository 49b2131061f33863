import { addTo, checkEntity, isSameValue, readBackendRef, withFallbacks } from '../plan/index.js';
import type { IngressRoute, ParentRef } from '../plan/index.js';
import type { Draft } from './paths.js';
import {
  filtersOf,
  gatewayParents,
  gatewayRules,
  httpRule,
  ingressRules,
  matchOf,
  parentObject,
  parentRefsOf,
  parentText,
  refsOf,
  routeRule,
  writeIngress,
} from './routeObjects.js';
import type { NamedGateway, PortByName, ReadRule, RuleProblem } from './routeObjects.js';
import { fields, list } from './upgrade.js';

type Written = Readonly<Record<string, unknown>>;

/** A place in the document that was read: what the plan read of it, and the rule of the plan that it is now. */
interface Place {
  readonly read: ReadRule | RuleProblem;
  /** Undefined where the plan has removed it. */
  readonly row: IngressRoute | undefined;
  /** Whether the plan never had it: such a place stays as it is. */
  readonly isRefused: boolean;
}

/** Whether what was read of a place is in no plan: it cannot be read, or the plan's own rules refuse it. */
function isRefused(read: ReadRule | RuleProblem, like: IngressRoute): boolean {
  if ('problem' in read) return true;
  const { id, clusterId, namespace, name } = like;
  const whole = { ...withFallbacks('ingressRoutes', { id, clusterId, namespace, name, rule: 1 }), ...read.fields };
  return checkEntity('ingressRoutes', whole).length > 0;
}

function placesOf(reads: readonly (ReadRule | RuleProblem)[], rows: readonly IngressRoute[]): Place[] {
  const byRule = new Map(rows.map((row) => [row.rule, row]));
  const [like] = rows as [IngressRoute];
  return reads.map((read, at) => ({ read, row: byRule.get(at + 1), isRefused: isRefused(read, like) }));
}

/** Whether a field is as it was read; of a place that the plan never had every one is. */
function isAsRead({ read, row, isRefused: isOut }: Place, names: readonly (keyof IngressRoute)[]): boolean {
  if (isOut || row === undefined || 'problem' in read) return true;
  return names.every((name) => !(name in read.fields) || isSameValue(read.fields[name], row[name]));
}

const isLeft = ({ row, isRefused: isOut }: Place) => isOut || row !== undefined;

/**
 * An HTTPRoute, TLSRoute or TCPRoute as it was read, with what the plan has changed of it since, place by place: what the
 * plan does not model, and rules that it could not take, stay.
 */
export function patchedRoute(original: Draft, rows: readonly IngressRoute[], gateway: NamedGateway | undefined): Draft {
  const [first] = rows;
  if (first === undefined || first.objectKind === 'Ingress') return original;
  const spec = fields(original['spec']);
  const reads = gatewayRules(original, first.objectKind);
  const places = placesOf(reads, rows);
  let at = 0;
  const rules = list(spec['rules']).flatMap((rule): unknown[] => {
    const written = fields(rule);
    const matches = list(written['matches']);
    const own = places.slice(at, at + Math.max(1, matches.length)).map((place, i) => ({ place, match: matches[i] }));
    at += own.length;
    return patchedRule(written, own);
  });
  const added = rows.filter(({ rule }) => rule > reads.length);
  const all = [...rules, ...added.map(routeRule)];
  const [place] = places.filter(isLeft);
  const hosts = place === undefined || isAsRead(place, ['hosts']) ? {} : { hostnames: [...first.hosts] };
  return {
    ...original,
    spec: { ...spec, ...parentsOf(original, first, gateway), ...hosts, rules: all },
  };
}

/** The gateways among the parents as the plan has them now, each with what the document says of it; other parents stay. */
function parentsOf(original: Draft, row: IngressRoute, gateway: NamedGateway | undefined): Written {
  const before = gatewayParents(original);
  const now = parentRefsOf(row, gateway);
  if (
    isSameValue(
      before.map(({ ref }) => parentText(ref)),
      now.map(parentText),
    )
  )
    return {};
  const all = list(fields(original['spec'])['parentRefs']);
  const left = [...before];
  const taken = (isIt: (ref: ParentRef) => boolean): Written => {
    const found = left.findIndex(({ ref }) => isIt(ref));
    const [each] = found < 0 ? [] : left.splice(found, 1);
    const { sectionName: _, namespace: __, ...kept } = fields(all[each?.at ?? -1]);
    return kept;
  };
  // Those that stay as they are are known before those whose listener alone has changed.
  const same = new Map(now.map((each) => [each, taken((ref) => parentText(ref) === parentText(each))]));
  const written = now.map((each) => {
    const known = same.get(each) ?? {};
    const kept =
      Object.keys(known).length > 0
        ? known
        : taken((ref) => ref.gateway === each.gateway && ref.namespace === each.namespace);
    return { ...kept, ...parentObject(row, each) };
  });
  const others = all.filter((_, at) => before.every((each) => each.at !== at));
  return { parentRefs: [...written, ...others] };
}

const MATCH = ['path', 'pathType', 'method', 'headers', 'query'] as const;
const RULE = [
  'backends',
  'redirect',
  'redirectStatus',
  'rewriteHost',
  'rewritePath',
  'headerChanges',
  'mirror',
  'timeoutMs',
  'retries',
] as const;

/** A rule with its matches; where the plan treats these apart, a rule for each way of treating them. */
function patchedRule(rule: Written, own: readonly { readonly place: Place; readonly match: unknown }[]): unknown[] {
  const groups = new Map<string, { place: Place; match: unknown }[]>();
  for (const each of own.filter(({ place }) => isLeft(place))) {
    const { place } = each;
    const key = isAsRead(place, RULE) ? '' : JSON.stringify(RULE.map((name) => place.row?.[name]));
    addTo(groups, key, each);
  }
  return [...groups.values()].map((group) => {
    const [{ place }] = group as [{ place: Place; match: unknown }];
    const matches = group.map(({ place: at, match }) =>
      isAsRead(at, MATCH) || at.row === undefined ? match : patchedMatch(fields(match), at, at.row),
    );
    const hadNone = matches.length === 1 && matches[0] === undefined;
    return { ...changedRule(rule, place), ...(hadNone ? {} : { matches }) };
  });
}

/** A match with the parts of it that the plan has changed; of gRPC the path is its method. */
function patchedMatch(match: Written, place: Place, row: IngressRoute): Written {
  const now = matchOf(row);
  const parts = [
    [['path', 'pathType'], row.objectKind === 'GRPCRoute' ? 'method' : 'path'],
    ...(row.objectKind === 'GRPCRoute' ? [] : [[['method'], 'method'] as const]),
    [['headers'], 'headers'],
    [['query'], 'queryParams'],
  ] as const;
  const changed = parts.filter(([names]) => !isAsRead(place, names)).map(([, key]) => key);
  const kept = Object.entries(match).filter(([key]) => !changed.some((each) => each === key));
  return Object.fromEntries([...kept, ...changed.flatMap((key) => (key in now ? [[key, now[key]] as const] : []))]);
}

function changedRule(rule: Written, place: Place): Written {
  const { row } = place;
  if (row === undefined || isAsRead(place, RULE)) return rule;
  const changed: Record<string, unknown> = { ...rule };
  if (!isAsRead(place, ['backends'])) changed['backendRefs'] = patchedRefs(list(rule['backendRefs']), row);
  const filters = patchedFilters(list(rule['filters']), place, row);
  if (filters.length > 0) changed['filters'] = filters;
  else delete changed['filters'];
  const whole = httpRule(row);
  for (const [field, name] of [
    ['timeoutMs', 'timeouts'],
    ['retries', 'retry'],
  ] as const) {
    if (isAsRead(place, [field])) continue;
    changed[name] = whole[name] === undefined ? undefined : { ...fields(rule[name]), ...fields(whole[name]) };
  }
  return Object.fromEntries(Object.entries(changed).filter(([, value]) => value !== undefined));
}

/** Each service with what the document says of it beyond its weight. */
function patchedRefs(before: readonly unknown[], row: IngressRoute): Written[] {
  const keyOf = (ref: Written) => JSON.stringify([ref['namespace'] ?? '', ref['name'], ref['port']]);
  const known = new Map(before.map((each) => [keyOf(fields(each)), fields(each)]));
  return refsOf(row).map((ref) => {
    const { weight: _, ...kept } = known.get(keyOf(ref)) ?? {};
    return { ...kept, ...ref };
  });
}

const FILTERS = {
  RequestHeaderModifier: ['headerChanges'],
  RequestRedirect: ['redirect', 'redirectStatus'],
  URLRewrite: ['rewriteHost', 'rewritePath'],
  RequestMirror: ['mirror'],
} as const satisfies Readonly<Record<string, readonly (keyof IngressRoute)[]>>;

function patchedFilters(before: readonly unknown[], place: Place, row: IngressRoute): unknown[] {
  const now = new Map(filtersOf(row).map((each) => [String(each['type']), each]));
  let filters = [...before];
  for (const [type, names] of Object.entries(FILTERS)) {
    if (isAsRead(place, names)) continue;
    const at = filters.findIndex((each) => fields(each)['type'] === type);
    const made = now.get(type);
    if (made === undefined) filters = filters.filter((_, i) => i !== at);
    else if (at < 0) filters = [...filters, made];
    else filters = filters.map((each, i) => (i === at ? mergedFilter(fields(each), made, place) : each));
  }
  return filters;
}

/** A status alone leaves the rest of a redirect as it is written. */
function mergedFilter(before: Written, made: Written, place: Place): Written {
  const isStatusAlone = made['type'] === 'RequestRedirect' && isAsRead(place, ['redirect']);
  if (!isStatusAlone) return made;
  const { statusCode } = fields(made['requestRedirect']);
  return { ...before, requestRedirect: { ...fields(before['requestRedirect']), statusCode } };
}

/** An Ingress as it was read, with what the plan has changed of it since, path by path. */
export function patchedIngress(original: Draft, rows: readonly IngressRoute[], portByName: PortByName): Draft {
  const [first] = rows;
  if (first === undefined) return original;
  const spec = fields(original['spec']);
  const reads = ingressRules(original, portByName);
  const places = placesOf(reads, rows);
  let at = 0;
  const moved: IngressRoute[] = rows.filter(({ rule }) => rule > reads.length);
  const rules = list(spec['rules']).flatMap((rule): unknown[] => {
    const written = fields(rule);
    const http = fields(written['http']);
    const before = list(http['paths']);
    const paths = before.flatMap((path): unknown[] => {
      const place = places[at++];
      if (place === undefined || !isLeft(place)) return [];
      if (place.row !== undefined && !isAsRead(place, ['hosts'])) {
        moved.push(place.row);
        return [];
      }
      return [patchedPath(fields(path), place)];
    });
    return paths.length === 0 && before.length > 0 ? [] : [{ ...written, http: { ...http, paths } }];
  });
  const byDefault = spec['defaultBackend'] === undefined ? undefined : places[at];
  const others = fields(writeIngress(moved)['spec']);
  const className =
    first.className === (readClass(reads) ?? first.className) ? {} : { ingressClassName: first.className };
  const { defaultBackend: _, rules: __, ...rest } = spec;
  const own =
    byDefault !== undefined && isLeft(byDefault) ? patchedBackend(spec['defaultBackend'], byDefault) : undefined;
  return {
    ...original,
    spec: {
      ...rest,
      ...className,
      ...tlsOf(spec, places, moved),
      ...(own === undefined
        ? others['defaultBackend'] === undefined
          ? {}
          : { defaultBackend: others['defaultBackend'] }
        : { defaultBackend: own }),
      ...(spec['rules'] === undefined && moved.length === 0 ? {} : { rules: [...rules, ...list(others['rules'])] }),
    },
  };
}

function readClass(reads: readonly (ReadRule | RuleProblem)[]): string | undefined {
  return reads.flatMap((each) => ('problem' in each ? [] : [each.fields.className ?? '']))[0];
}

function patchedPath(path: Written, place: Place): Written {
  const { row } = place;
  if (row === undefined || place.isRefused) return path;
  return {
    ...path,
    ...(isAsRead(place, ['path']) ? {} : { path: row.path }),
    ...(isAsRead(place, ['pathType']) ? {} : { pathType: row.pathType }),
    backend: patchedBackend(path['backend'], place),
  };
}

function patchedBackend(before: unknown, place: Place): unknown {
  const { row } = place;
  const ref = row === undefined || isAsRead(place, ['backends']) ? undefined : readBackendRef(row.backends[0] ?? '');
  return ref === undefined ? before : { service: { name: ref.service, port: { number: ref.port } } };
}

/** Secrets by host: hosts whose certificate has changed move to the entry of the new one. */
function tlsOf(spec: Written, places: readonly Place[], moved: readonly IngressRoute[]): Written {
  const rows = [
    ...places.flatMap((place) =>
      place.row === undefined || isAsRead(place, ['certificate', 'hosts']) ? [] : [place.row],
    ),
    ...moved,
  ];
  const changed = new Map(rows.flatMap((row) => row.hosts.map((host) => [host, row.certificate] as const)));
  if (changed.size === 0) return {};
  const before = list(spec['tls']).map(fields);
  const left = before
    .map((entry) => ({ ...entry, hosts: list(entry['hosts']).filter((host) => !changed.has(String(host))) }))
    .filter((entry, i) => entry.hosts.length > 0 || list(before[i]?.['hosts']).length === 0);
  const tls: Record<string, unknown>[] = left;
  for (const [host, secretName] of changed) {
    if (secretName === '') continue;
    const known = tls.find((entry) => entry['secretName'] === secretName && Array.isArray(entry['hosts']));
    if (known === undefined) tls.push({ hosts: [host], secretName });
    else known['hosts'] = [...list(known['hosts']), host];
  }
  return tls.length === 0 ? { tls: undefined } : { tls };
}
