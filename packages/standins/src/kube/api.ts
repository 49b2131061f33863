import { createServer } from 'node:https';
import type { Server } from 'node:https';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { byId, labelMap, meets, readSelectorTerm } from '@wide-lattice/core/plan';
import type { SelectorTerm } from '@wide-lattice/core/plan';
import type { Authority } from '../entry/authority.js';
import { LIMITS, LOOPBACK } from '../limits.js';
import { closed, listening } from '../listening.js';
import { sendJson } from '../sendJson.js';
import type { World } from '../world.js';
import { mayRead, userOf } from './access.js';
import type { Access, Role } from './access.js';
import { discovered } from './discovery.js';
import { groupVersion, resources } from './resources.js';
import type { KubeObject, Resource } from './resources.js';
import { ObjectStore } from './store.js';
import type { KubeEvent } from './store.js';
import { tableOf } from './tables.js';
import type { Included } from './tables.js';

/** Seconds that a watch runs where the client says nothing; it is asked again then. */
const WATCH_SECONDS = 1800;

/** What a path asks for. */
interface Asked {
  readonly resource: Resource;
  /** Undefined for all. */
  readonly namespace: string | undefined;
  readonly name: string | undefined;
}

/** What is said to a client that cannot be answered. Source: the Kubernetes API conventions, "Response Status Kind" (from memory). */
class Refusal extends Error {
  constructor(
    readonly code: number,
    readonly reason: string,
    message: string,
  ) {
    super(message);
  }
}

/** The Kubernetes API of one cluster for reads: discovery, lists, single objects, watches, tables. */
export class ClusterApi {
  private readonly store: ObjectStore;

  private constructor(
    private readonly world: World,
    private readonly clusterId: string,
    private readonly access: Access,
    private readonly server: Server,
    private readonly port: number,
  ) {
    this.store = new ObjectStore(world, clusterId);
    server.on('request', (request: IncomingMessage, response: ServerResponse) => {
      this.handle(request, response);
    });
    server.maxConnections = LIMITS.connections;
    server.on('tlsClientError', (_, socket) => socket.destroy());
  }

  /** Errors: the port is in use. */
  static async at(
    port: number,
    world: World,
    clusterId: string,
    access: Access,
    authority: Authority,
  ): Promise<ClusterApi> {
    const server = createServer(await authority.issue([LOOPBACK, 'localhost'], false));
    await listening(server, port);
    return new ClusterApi(world, clusterId, access, server, port);
  }

  async stop(): Promise<void> {
    await closed(this.server);
  }

  private handle(request: IncomingMessage, response: ServerResponse): void {
    const { method = 'GET', url = '/' } = request;
    request.resume();
    response.on('error', () => response.destroy());
    let status = 200;
    try {
      const base = `https://${LOOPBACK}`;
      if (!URL.canParse(url, base)) throw new Refusal(400, 'BadRequest', `"${url}" is not a path`);
      this.answer(method, new URL(url, base), request, response);
    } catch (error) {
      // One request that fails must not end the others.
      const refusal = error instanceof Refusal ? error : new Refusal(500, 'InternalError', String(error));
      status = refusal.code;
      sendJson(response, status, statusOf(refusal));
    }
    const name = byId(this.world.plan.clusters, this.clusterId)?.name ?? '';
    this.world.log.note(`client of ${name}`, `${method} ${url} (API)`, String(status), '');
  }

  private answer(method: string, asked: URL, request: IncomingMessage, response: ServerResponse): void {
    const { pathname } = asked;
    if (['/healthz', '/livez', '/readyz'].includes(pathname)) {
      response.writeHead(200, { 'content-type': 'text/plain' }).end('ok');
      return;
    }
    const role = this.access.roleOf(request.headers.authorization, this.clusterId);
    if (role === undefined)
      throw new Refusal(
        401,
        'Unauthorized',
        'Unauthorized: the token is none of this start. Download the kubeconfig again.',
      );
    const said = discovered(pathname, `${LOOPBACK}:${this.port}`);
    if (said !== undefined && method === 'GET') {
      sendJson(response, 200, said);
      return;
    }
    const found = readPath(pathname);
    if (found === undefined) throw new Refusal(404, 'NotFound', 'the server could not find the requested resource');
    this.allowed(role, method, found, asked);
    if (found.name !== undefined) this.one(found, request, response);
    else if (['true', '1'].includes(asked.searchParams.get('watch') ?? ''))
      this.watch(found, asked.searchParams, request, response);
    else this.list(found, asked.searchParams, request, response);
  }

  private allowed(role: Role, method: string, { resource, namespace, name }: Asked, { searchParams }: URL): void {
    const verb = verbs[method] ?? (name !== undefined ? 'get' : searchParams.has('watch') ? 'watch' : 'list');
    if (verbs[method] === undefined && mayRead(role, resource, namespace, name)) return;
    const where = namespace === undefined ? 'at the cluster scope' : `in the namespace "${namespace}"`;
    const what = name === undefined ? resource.plural : `${resource.plural} "${name}"`;
    throw new Refusal(
      403,
      'Forbidden',
      `${what} is forbidden: User "${userOf(role)}" cannot ${verb} resource "${resource.plural}" in API group "${resource.group}" ${where}`,
    );
  }

  private one({ resource, namespace, name }: Asked, request: IncomingMessage, response: ServerResponse): void {
    const found = this.store
      .ofKind(resource.kind)
      .find(({ metadata }) => metadata.name === name && metadata.namespace === namespace);
    if (found === undefined) {
      const what = `${resource.plural}${resource.group === '' ? '' : `.${resource.group}`}`;
      throw new Refusal(404, 'NotFound', `${what} "${name ?? ''}" not found`);
    }
    const table = wantsTable(request);
    sendJson(response, 200, table ? tableOf(resource.kind, [found], {}, includedIn(request)) : found);
  }

  private list(asked: Asked, query: URLSearchParams, request: IncomingMessage, response: ServerResponse): void {
    const { resource } = asked;
    const fits = selectorOf(asked, query);
    const all = this.store.ofKind(resource.kind).filter(fits);
    const version = String(this.store.version);
    const from = startOf(query.get('continue'), version);
    const limit = countIn(query, 'limit') ?? 0;
    const page = limit === 0 ? all.slice(from) : all.slice(from, from + limit);
    const left = all.length - from - page.length;
    const metadata = {
      resourceVersion: version,
      ...(left === 0
        ? {}
        : {
            continue: Buffer.from(`${version} ${from + page.length}`).toString('base64url'),
            remainingItemCount: left,
          }),
    };
    sendJson(
      response,
      200,
      wantsTable(request)
        ? tableOf(resource.kind, page, metadata, includedIn(request))
        : {
            kind: `${resource.kind}List`,
            apiVersion: groupVersion(resource),
            metadata,
            // Items of a list leave out what the list says.
            items: page.map(({ apiVersion: _, kind: __, ...rest }) => rest),
          },
    );
  }

  private watch(asked: Asked, query: URLSearchParams, request: IncomingMessage, response: ServerResponse): void {
    const { kind } = asked.resource;
    // Whatever is wrong with the question is told before the answer begins.
    const fits = selectorOf(asked, query);
    const seconds = Math.min(WATCH_SECONDS, countIn(query, 'timeoutSeconds') ?? WATCH_SECONDS);
    const said = query.get('resourceVersion') ?? '';
    const isFresh = said === '' || said === '0';
    const missed = isFresh ? [] : this.store.since(countIn(query, 'resourceVersion') ?? 0);
    if (missed === undefined)
      throw new Refusal(410, 'Expired', `too old resource version: ${said} (${this.store.version})`);
    const included = wantsTable(request) ? includedIn(request) : undefined;
    const write = (type: string, object: unknown) => response.write(`${JSON.stringify({ type, object })}\n`);
    const tell = ({ type, object }: Pick<KubeEvent, 'type' | 'object'>) => {
      if (object.kind === kind && fits(object))
        write(type, included === undefined ? object : tableOf(kind, [object], {}, included));
    };
    response.writeHead(200, { 'content-type': 'application/json' });
    response.flushHeaders();
    if (isFresh) for (const object of this.store.ofKind(kind)) tell({ type: 'ADDED', object });
    for (const event of missed) tell(event);
    const stop = this.store.watch(tell);
    const timer = setTimeout(() => {
      if (query.get('allowWatchBookmarks') === 'true') write('BOOKMARK', this.bookmark(asked.resource));
      response.end();
    }, seconds * 1000);
    response.once('close', () => {
      clearTimeout(timer);
      stop();
    });
  }

  private bookmark(resource: Resource) {
    const { kind } = resource;
    return { kind, apiVersion: groupVersion(resource), metadata: { resourceVersion: String(this.store.version) } };
  }
}

/** What methods do that are no reads. */
const verbs: Readonly<Record<string, string>> = { POST: 'create', PUT: 'update', PATCH: 'patch', DELETE: 'delete' };

/** Reads "/api/v1/namespaces/shop/pods/basket-0" and "/apis/apps/v1/deployments". */
function readPath(path: string): Asked | undefined {
  const [root, ...parts] = path.split('/').slice(1).map(decoded);
  const [version = '', group = ''] =
    root === 'api' ? [parts.shift()] : [parts.splice(0, 2)].flatMap(([a, b]) => [b, a]);
  if (root !== 'api' && root !== 'apis') return undefined;
  const own = resources.filter((each) => each.group === group && each.version === version);
  const isInside = parts[0] === 'namespaces' && parts.length > 2;
  const namespace = isInside ? parts[1] : undefined;
  const [plural, name, ...rest] = isInside ? parts.slice(2) : parts;
  const resource = own.find((each) => each.plural === plural);
  if (resource === undefined || rest.length > 0 || (isInside && !resource.isNamespaced)) return undefined;
  // Of a kind in namespaces one object is asked for in its own.
  if (name !== undefined && resource.isNamespaced && !isInside) return undefined;
  return { resource, namespace, name: name === '' ? undefined : name };
}

function decoded(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

/** Fields by which objects can be selected beside their names, by kind. Source: the Kubernetes API concepts, "Field selectors" (from memory). */
const selectable: Readonly<Record<string, readonly string[]>> = {
  Pod: ['spec.nodeName', 'status.phase'],
  Service: ['spec.type', 'spec.clusterIP'],
  Namespace: ['status.phase'],
};

function selectorOf({ resource, namespace }: Asked, query: URLSearchParams): (object: KubeObject) => boolean {
  const terms = labelTerms(query.get('labelSelector') ?? '');
  const fields = (query.get('fieldSelector') ?? '')
    .split(',')
    .filter(Boolean)
    .map((text) => fieldTerm(text, resource));
  return (object) => {
    const { metadata } = object;
    if (namespace !== undefined && metadata.namespace !== namespace) return false;
    const labels = Object.entries((metadata['labels'] ?? {}) as Readonly<Record<string, string>>);
    return (
      meets(labelMap(labels.map(([key, value]) => `${key}=${value}`)), terms) && fields.every((fits) => fits(object))
    );
  };
}

function labelTerms(text: string): SelectorTerm[] {
  if (text === '') return [];
  // Commas between brackets part values, not terms.
  return text.split(/,(?![^(]*\))/).map((part) => {
    const term = readSelectorTerm(part);
    if (term !== undefined) return term;
    throw new Refusal(400, 'BadRequest', `unable to parse requirement: "${part}"`);
  });
}

function fieldTerm(text: string, { kind, isNamespaced }: Resource): (object: KubeObject) => boolean {
  const found = /^([^=!]+)(==?|!=)(.*)$/.exec(text);
  const [, path = '', how = '', value = ''] = found ?? [];
  const known = ['metadata.name', ...(isNamespaced ? ['metadata.namespace'] : []), ...(selectable[kind] ?? [])];
  if (found === null) throw new Refusal(400, 'BadRequest', `invalid field selector: "${text}"`);
  if (!known.includes(path)) throw new Refusal(400, 'BadRequest', `field label not supported: ${path}`);
  return (object) => {
    const held = path
      .split('.')
      .reduce<unknown>((at, key) => (at as Readonly<Record<string, unknown>> | undefined)?.[key], object);
    return ((held ?? '') === value) === (how !== '!=');
  };
}

function countIn(query: URLSearchParams, name: string): number | undefined {
  const text = query.get(name);
  if (text === null || text === '') return undefined;
  if (!/^\d{1,12}$/.test(text)) throw new Refusal(400, 'BadRequest', `${name} must be a whole number, not "${text}"`);
  return Number(text);
}

/** Where a page begins; one of an older version cannot be gone on with. */
function startOf(token: string | null, version: string): number {
  if (token === null || token === '') return 0;
  const [of, at = ''] = Buffer.from(token, 'base64url').toString().split(' ');
  if (!/^\d+$/.test(at)) throw new Refusal(400, 'BadRequest', 'continue key is not valid');
  if (of !== version)
    throw new Refusal(
      410,
      'Expired',
      'The provided continue parameter is too old: the list has changed. Start it again.',
    );
  return Number(at);
}

function wantsTable({ headers }: IncomingMessage): boolean {
  return /as=Table/.test(headers.accept ?? '');
}

function includedIn({ url = '/' }: IncomingMessage): Included {
  const said = new URL(url, `https://${LOOPBACK}`).searchParams.get('includeObject');
  return said === 'None' || said === 'Object' ? said : 'Metadata';
}

function statusOf({ code, reason, message }: Refusal) {
  return { kind: 'Status', apiVersion: 'v1', metadata: {}, status: 'Failure', message, reason, code };
}
