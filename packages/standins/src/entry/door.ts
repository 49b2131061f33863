import { createServer as createHttpServer } from 'node:http';
import type { IncomingMessage, Server as HttpServer, ServerResponse } from 'node:http';
import { createServer as createHttpsServer } from 'node:https';
import type { Server as HttpsServer } from 'node:https';
import { createServer } from 'node:net';
import type { Server } from 'node:net';
import type { IngressRoute, UrlTarget } from '@wide-lattice/core/plan';
import { formatCount } from '@wide-lattice/core/working';
import { LIMITS } from '../limits.js';
import { closed, listening } from '../listening.js';
import { sendJson } from '../sendJson.js';
import type { World } from '../world.js';
import { Answers } from './answers.js';
import type { Calls, Outcome } from './answers.js';
import type { Authority } from './authority.js';
import type { Pods } from './pods.js';
import { RateLimits } from './rateLimits.js';

/** The first octet of a TLS handshake. Source: RFC 8446 5.1. */
const HANDSHAKE = 22;

const BAD_GATEWAY = 502;

const methods: ReadonlySet<string> = new Set([
  ...['GET', 'HEAD', 'POST', 'PUT', 'DELETE', 'CONNECT', 'OPTIONS', 'TRACE', 'PATCH'],
]);

/** Where a load balancer of the plan answers, and for whom. */
export interface DoorPlace {
  readonly vantage: string;
  readonly address: string;
  /** The port that clients of the plan call. */
  readonly port: number;
}

/** A listener of a load balancer at one port of loopback: HTTP and TLS as its routes, limits and certificates have it. */
export class Door {
  private readonly answers: Answers;
  private readonly limits = new RateLimits();
  private readonly front: Server;
  private readonly http: HttpServer;
  private readonly https: HttpsServer;

  private constructor(
    private readonly world: World,
    private readonly pods: Pods,
    private readonly place: DoorPlace,
    authority: Authority,
  ) {
    this.answers = new Answers(world, place.vantage, place.address);
    this.http = createHttpServer((request, response) => {
      this.handle('http', request, response);
    });
    this.https = createHttpsServer(
      {
        SNICallback: (name, done) => {
          const shown = this.answers.certificateFor(this.urlOf('https', name.toLowerCase(), 'GET', '/', []));
          if (shown === undefined) {
            done(new Error(`No TLS is spoken for ${name}.`));
            return;
          }
          authority.contextFor(shown.names, shown.isExpired).then(
            (context) => {
              done(null, context);
            },
            (error: unknown) => {
              done(error instanceof Error ? error : new Error(String(error)));
            },
          );
        },
      },
      (request, response) => {
        this.handle('https', request, response);
      },
    );
    for (const each of [this.http, this.https]) each.on('clientError', (_, socket) => socket.destroy());
    this.https.on('tlsClientError', (_, socket) => socket.destroy());
    // What comes in says by its first octet whether it speaks TLS; the listener then says what it makes of it.
    this.front = createServer((socket) => {
      socket.on('error', () => socket.destroy());
      socket.setTimeout(60_000, () => socket.destroy());
      socket.once('readable', () => {
        const first = socket.read(1) as Buffer | null;
        if (first === null) {
          socket.destroy();
          return;
        }
        socket.unshift(first);
        (first[0] === HANDSHAKE ? this.https : this.http).emit('connection', socket);
      });
    });
    this.front.maxConnections = LIMITS.connections;
  }

  /** Errors: the port is in use. */
  static async at(port: number, world: World, pods: Pods, place: DoorPlace, authority: Authority): Promise<Door> {
    const door = new Door(world, pods, place, authority);
    const first = await authority.issue([place.address], false);
    door.https.setSecureContext(first);
    await listening(door.front, port);
    return door;
  }

  async stop(): Promise<void> {
    await closed(this.front);
    this.http.closeAllConnections();
    this.https.closeAllConnections();
  }

  private handle(scheme: 'http' | 'https', request: IncomingMessage, response: ServerResponse): void {
    drain(request);
    const { method = 'GET', url = '/', headers } = request;
    const host = hostOf(headers.host);
    if (host === undefined) {
      sendJson(response, 400, { why: 'The request has no Host header.' });
      return;
    }
    if (!methods.has(method)) {
      sendJson(response, 501, { why: `${method} is not a method that routes know.` });
      return;
    }
    const { said, why } = this.told(scheme, host, request, response);
    const from = this.world.vantage(this.place.vantage)?.label ?? '';
    this.world.log.note(from, `${method} ${scheme}://${host}${url}`, said, why);
  }

  /** Answers a request. One that fails must not end the others. */
  private told(scheme: 'http' | 'https', host: string, request: IncomingMessage, response: ServerResponse) {
    try {
      const calls = this.callsOf(scheme, host, request);
      const { limit } = calls;
      const wait = limit === undefined ? 0 : this.limits.take(limit, request.socket.remoteAddress ?? '', Date.now());
      const outcome: Outcome =
        limit !== undefined && wait > 0 ? { is: 'refused', status: 429, why: tooMany(limit, wait) } : calls.next();
      if (wait > 0) response.setHeader('retry-after', wait);
      const said = this.respond(outcome, calls, request, response);
      return { said, why: outcome.is === 'refused' ? outcome.why : calls.sentence };
    } catch (error) {
      const why = String(error);
      sendJson(response, 500, { why });
      return { said: '500', why };
    }
  }

  private callsOf(scheme: 'http' | 'https', host: string, { method = 'GET', url = '/', headers }: IncomingMessage) {
    const told: { name: string; value: string }[] = [];
    for (const name of this.world.headersRead) {
      const value = headers[name];
      if (value !== undefined) told.push({ name, value: Array.isArray(value) ? value.join(', ') : value });
    }
    const key = [`${scheme} ${method} ${host} ${url}`, ...told.map(({ name, value }) => `${name}: ${value}`)].join(
      '\n',
    );
    return this.answers.of(key, () => this.urlOf(scheme, host, method, url, told));
  }

  /** Sends what a call comes to; gives it in a few words. */
  private respond(outcome: Outcome, calls: Calls, request: IncomingMessage, response: ServerResponse): string {
    const { via } = calls;
    switch (outcome.is) {
      case 'sent on':
        response.setHeader('location', outcome.to);
        sendJson(response, outcome.status, { sentTo: outcome.to, via });
        return `${outcome.status} to ${outcome.to}`;
      case 'refused':
        if (outcome.status === undefined) {
          request.socket.destroy();
          return 'no answer';
        }
        sendJson(response, outcome.status, { why: outcome.why, via });
        return String(outcome.status);
      case 'address':
        if (this.world.isStopped(outcome.address)) return silent(outcome.address, calls, request, response);
        sendJson(response, 200, { member: outcome.address, via, request: asSeen(calls, request) });
        return `200 from ${outcome.address}`;
      case 'pod': {
        const { workload, cluster, port } = outcome.by;
        const { pod, answers } = this.pods.next(workload);
        if (!answers) return silent(pod, calls, request, response);
        sendJson(response, 200, {
          pod,
          workload: `${workload.namespace}/${workload.name}`,
          cluster,
          port,
          askedFrom: this.world.vantage(this.place.vantage)?.label ?? '',
          seenAs: calls.seenAs,
          via,
          request: asSeen(calls, request),
        });
        return `200 from ${pod}`;
      }
    }
  }

  private urlOf(
    scheme: 'http' | 'https',
    host: string,
    method: string,
    target: string,
    headers: UrlTarget['headers'],
  ): UrlTarget {
    const { port } = this.place;
    const at = target.indexOf('?');
    const path = at < 0 ? target : target.slice(0, at);
    const query = at < 0 ? '' : target.slice(at + 1);
    return { kind: 'url', scheme, host, port, path: normal(path), query, method, headers, perMinute: 0 };
  }
}

/**
 * What a client gets of a member that does not answer while health checks have not found that: of what speaks HTTP in between a status
 * (RFC 9110 15.6.3), else the end of its connection.
 */
function silent(
  member: string,
  { via, speaksHttp }: Calls,
  request: IncomingMessage,
  response: ServerResponse,
): string {
  if (speaksHttp)
    sendJson(response, BAD_GATEWAY, { why: `${member} does not answer. Health checks have not found that yet.`, via });
  else request.socket.destroy();
  return `${speaksHttp ? String(BAD_GATEWAY) : 'no answer'}: ${member} is stopped`;
}

/** A path as a URL has it: without dot segments, and of an absolute target the path alone. */
function normal(path: string): string {
  const text = path.startsWith('/') ? `http://host.invalid${path}` : path;
  return URL.canParse(text) ? new URL(text).pathname : '/';
}

/** The host of a Host header, without its port and in small letters; undefined where there is none. */
function hostOf(header: string | undefined): string | undefined {
  const found = /^(?:\[([\da-f:.]+)\]|([^\s:/[\]]+))\.?(?::\d+)?$/i.exec(header ?? '');
  return (found?.[1] ?? found?.[2])?.toLowerCase().replace(/\.$/, '');
}

/** Reads what a client sends and throws it away; too much ends the connection. */
function drain(request: IncomingMessage): void {
  let read = 0;
  request.on('data', (chunk: Buffer) => {
    read += chunk.length;
    if (read > LIMITS.bodyBytes) request.destroy();
  });
  request.on('error', () => undefined);
}

/** The request as pods get it. */
function asSeen({ changes, host, path }: Calls, request: IncomingMessage) {
  const headers = new Map<string, string | string[] | undefined>(Object.entries(request.headers));
  headers.set('host', host);
  for (const { does, name, value } of changes) {
    const key = name.toLowerCase();
    const before = headers.get(key);
    if (does === 'remove') headers.delete(key);
    else headers.set(key, does === 'set' || before === undefined ? value : [before, value].flat().join(', '));
  }
  return { method: request.method, host, path, headers: Object.fromEntries(headers) };
}

function tooMany({ namespace, name, rateLimitPerMinute }: IngressRoute, wait: number): string {
  const most = formatCount(rateLimitPerMinute ?? 0, 'request');
  return `The route ${namespace}/${name} admits ${most} per minute from one client. Try again in ${wait} s.`;
}
