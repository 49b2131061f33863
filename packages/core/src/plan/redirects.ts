/** Where a redirect sends clients; parts that are left out are those of the request (Gateway API, HTTPRequestRedirectFilter, from memory). */
export interface Redirect {
  readonly scheme: 'http' | 'https' | undefined;
  readonly host: string | undefined;
  readonly port: number | undefined;
  /** Undefined for the path of the request; with `isPrefix` what takes the place of the matched prefix. */
  readonly path: string | undefined;
  readonly isPrefix: boolean;
}

/** The parts of a request in place of which a redirect stands. */
const SCHEME = '{scheme}';
const HOST = '{host}';
const PATH = '{path}';
const REST = '{rest}';

const form = /^(?:(https?|\{scheme\}):\/\/([^\s/:{}]+|\{host\})(?::(\d{1,5}))?)?(\{path\}|\/[^\s{}]*(?:\{rest\})?)?$/;

/**
 * Reads a redirect: a URL or a path, in which {scheme}, {host} and {path} stand for those of the request and {rest} for
 * its path after the matched prefix; undefined for what is none.
 */
export function readRedirect(text: string): Redirect | undefined {
  const parts = form.exec(text);
  if (parts === null || text === '') return undefined;
  const [, scheme, host, port, path] = parts;
  const isPrefix = path?.endsWith(REST) === true;
  return {
    scheme: scheme === 'http' || scheme === 'https' ? scheme : undefined,
    host: host === HOST ? undefined : host,
    port: port === undefined ? undefined : Number(port),
    path: path === PATH ? undefined : isPrefix ? path.slice(0, -REST.length) : path,
    isPrefix,
  };
}

/** Writes a redirect as it is read. */
export function writeRedirect({ scheme, host, port, path, isPrefix }: Redirect): string {
  const where = path === undefined ? PATH : `${path}${isPrefix ? REST : ''}`;
  if (scheme === undefined && host === undefined && port === undefined) return where;
  return `${scheme ?? SCHEME}://${host ?? HOST}${port === undefined ? '' : `:${port}`}${where}`;
}

/** The URL that a client is sent to, with what of it is that of the request; its query always is (common practice). */
export function redirectOf(
  redirect: Redirect,
  request: {
    readonly scheme: 'http' | 'https';
    readonly host: string;
    readonly port: number;
    readonly path: string;
    /** Without the question mark. */
    readonly query: string;
    /** The prefix that the rule matched. */
    readonly prefix: string;
  },
): string {
  const scheme = redirect.scheme ?? request.scheme;
  const usual = scheme === 'https' ? 443 : 80;
  // Without a port of its own the usual one of a new scheme holds, else that of the request.
  const port = redirect.port ?? (redirect.scheme === undefined ? request.port : usual);
  const path =
    redirect.path === undefined
      ? request.path
      : redirect.isPrefix
        ? withPrefix(redirect.path, request.path, request.prefix)
        : redirect.path;
  const query = request.query === '' ? '' : `?${request.query}`;
  return `${scheme}://${redirect.host ?? request.host}${port === usual ? '' : `:${port}`}${path}${query}`;
}

/**
 * A path with another prefix in place of the one that a rule matched. Check values: those of the Gateway API reference on ReplacePrefixMatch
 * (from memory).
 */
export function withPrefix(by: string, path: string, prefix: string): string {
  return `${by.replace(/\/$/, '')}${path.slice(prefix.replace(/\/$/, '').length)}` || '/';
}
