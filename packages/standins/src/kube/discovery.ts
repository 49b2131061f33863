import { groupBy } from '@wide-lattice/core/plan';
import { groupVersion, groupVersions, resources } from './resources.js';
import type { Resource } from './resources.js';

const VERBS = ['get', 'list', 'watch'] as const;

/** What the API says of itself, by path; undefined for a path that is none of it. Source: the Kubernetes API concepts (from memory). */
export function discovered(path: string, address: string): unknown {
  switch (path) {
    case '/version':
      return {
        major: '1',
        minor: '0',
        gitVersion: 'v1.0.0-stand-in',
        gitCommit: '',
        gitTreeState: 'clean',
        buildDate: '1970-01-01T00:00:00Z',
        goVersion: '',
        compiler: '',
        platform: '',
      };
    case '/api':
      return {
        kind: 'APIVersions',
        versions: ['v1'],
        serverAddressByClientCIDRs: [{ clientCIDR: '0.0.0.0/0', serverAddress: address }],
      };
    case '/apis':
      return { kind: 'APIGroupList', apiVersion: 'v1', groups: groups().map(groupObject) };
    case '/openapi/v3':
      return {
        paths: Object.fromEntries(
          [...groupVersions().values()].flatMap(([first]) => {
            const own = first === undefined ? '' : pathOf(first).slice(1);
            return own === '' ? [] : [[own, { serverRelativeURL: `/openapi/v3/${own}` }]];
          }),
        ),
      };
    case '/openapi/v2':
      return openApi2();
    default:
      return ofGroup(path);
  }
}

function ofGroup(path: string): unknown {
  const document = path.startsWith('/openapi/v3/');
  const own = document ? path.slice('/openapi/v3'.length) : path;
  const found = [...groupVersions().values()].find(([first]) => first !== undefined && pathOf(first) === own);
  const [first] = found ?? [];
  if (found !== undefined && first !== undefined) return document ? openApi3(found) : resourceList(first, found);
  const group = groups().find(([of]) => `/apis/${of}` === path);
  return group === undefined ? undefined : { ...groupObject(group), kind: 'APIGroup', apiVersion: 'v1' };
}

/** Where a version of a group is: "/api/v1", "/apis/apps/v1". */
function pathOf(resource: Resource): string {
  return resource.group === '' ? `/api/${resource.version}` : `/apis/${groupVersion(resource)}`;
}

type Group = readonly [group: string, versions: readonly string[]];

function groups(): Group[] {
  const named = resources.filter(({ group }) => group !== '');
  return [...groupBy(named, ({ group }) => group)].map(([group, own]) => [
    group,
    [...new Set(own.map(({ version }) => version))],
  ]);
}

function groupObject([name, versions]: Group) {
  const all = versions.map((version) => ({ groupVersion: `${name}/${version}`, version }));
  return { name, versions: all, preferredVersion: all[0] };
}

function resourceList(first: Resource, all: readonly Resource[]) {
  return {
    kind: 'APIResourceList',
    apiVersion: 'v1',
    groupVersion: groupVersion(first),
    resources: all.map(({ plural, kind, isNamespaced, shortNames }) => ({
      name: plural,
      singularName: kind.toLowerCase(),
      namespaced: isNamespaced,
      kind,
      verbs: VERBS,
      ...(shortNames.length === 0 ? {} : { shortNames }),
    })),
  };
}

/** An object whose fields are not described further: clients keep what they do not know. */
function schemaOf({ group, version, kind }: Resource) {
  return {
    type: 'object',
    properties: {
      apiVersion: { type: 'string' },
      kind: { type: 'string' },
      metadata: { type: 'object' },
    },
    'x-kubernetes-group-version-kind': [{ group, version, kind }],
    'x-kubernetes-preserve-unknown-fields': true,
  };
}

const schemaName = ({ group, version, kind }: Resource) => `${group === '' ? 'core' : group}.${version}.${kind}`;

function pathsOf(
  resource: Resource,
): readonly { readonly path: string; readonly params: readonly string[]; readonly verb: string }[] {
  const { plural, isNamespaced } = resource;
  const base = pathOf(resource);
  const inside = isNamespaced ? `${base}/namespaces/{namespace}/${plural}` : `${base}/${plural}`;
  const own = isNamespaced ? ['namespace'] : [];
  return [
    ...(isNamespaced ? [{ path: `${base}/${plural}`, params: [], verb: 'list' }] : []),
    { path: inside, params: own, verb: 'list' },
    { path: `${inside}/{name}`, params: [...own, 'name'], verb: 'get' },
  ];
}

/** What differs between the two forms of the document. */
interface Form {
  /** Where the schemas of kinds stand. */
  readonly schemasAt: string;
  readonly parameter: (name: string) => unknown;
  readonly response: (schema: unknown) => object;
}

/** The operations of some kinds by their paths. */
function operationsOf(all: readonly Resource[], { schemasAt, parameter, response }: Form) {
  return Object.fromEntries(
    all.flatMap((resource) => {
      const { group, version, kind } = resource;
      const one = { $ref: `#/${schemasAt}/${schemaName(resource)}` };
      const list = { type: 'object', properties: { items: { type: 'array', items: one } } };
      return pathsOf(resource).map(({ path, params, verb }) => {
        const get = {
          operationId: [verb, group.replaceAll('.', '_') || 'core', version, kind, ...params].join('_'),
          parameters: params.map(parameter),
          responses: { 200: { description: 'OK', ...response(verb === 'get' ? one : list) } },
          'x-kubernetes-action': verb,
          'x-kubernetes-group-version-kind': { group, version, kind },
        };
        return [path, { get }];
      });
    }),
  );
}

const schemasOf = (all: readonly Resource[]) =>
  Object.fromEntries(all.map((each) => [schemaName(each), schemaOf(each)]));

const info = { title: 'Wide Lattice stand-in', version: '1' };

/** Source: the OpenAPI Specification 3.0. */
function openApi3(all: readonly Resource[]) {
  const paths = operationsOf(all, {
    schemasAt: 'components/schemas',
    parameter: (name) => ({ name, in: 'path', required: true, schema: { type: 'string' } }),
    response: (schema) => ({ content: { 'application/json': { schema } } }),
  });
  return { openapi: '3.0.0', info, paths, components: { schemas: schemasOf(all) } };
}

/** Source: the OpenAPI Specification 2.0. */
function openApi2() {
  const paths = operationsOf(resources, {
    schemasAt: 'definitions',
    parameter: (name) => ({ name, in: 'path', required: true, type: 'string' }),
    response: (schema) => ({ schema }),
  });
  return { swagger: '2.0', info, paths, definitions: schemasOf(resources) };
}
