import { bad, good } from '../../result.js';
import { MAX_LABEL, MAX_NAME } from '../../zones/index.js';
import type { Result } from '../../result.js';
import { formatNumber } from '../../working/index.js';

/** A request for a URL. */
export interface UrlTarget {
  readonly kind: 'url';
  readonly scheme: 'http' | 'https';
  /** In small letters; an IPv6 address without brackets. */
  readonly host: string;
  readonly port: number;
  /** Begins with a slash. */
  readonly path: string;
  /** Without the question mark. */
  readonly query: string;
  readonly method: string;
  /** Names in small letters. */
  readonly headers: readonly { readonly name: string; readonly value: string }[];
  /** Requests per minute of one client; 0 for one request. */
  readonly perMinute: number;
}

const methods = ['GET', 'HEAD', 'POST', 'PUT', 'DELETE', 'CONNECT', 'OPTIONS', 'TRACE', 'PATCH'];
const token = /^[!#$%&'*+.^_`|A-Za-z0-9-]+$/;
/** More than any one client asks. */
const MAX_PER_MINUTE = 60_000_000;

/** Whether words are meant as a request: they hold a scheme. */
export function isUrlText(words: string): boolean {
  return /(?:^|\s)[a-z][a-z0-9+.-]*:\/\//i.test(words);
}

/** Reads "https://host/path", with a method before it, and "with name: value" and "at 40 per minute" behind it where there are some. */
export function readUrl(words: string): Result<UrlTarget> {
  const found =
    /^(?:([A-Za-z]+)\s+)?(\S+:\/\/\S*)(?:\s+with\s+(.+?))?(?:\s+at\s+([\d,]+)\s+(?:a|per)\s+minute)?$/i.exec(
      words.trim(),
    );
  if (found === null)
    return bad(
      'url.form',
      `“${words.trim()}” is not a request.`,
      'Write https://host/path; before it a method such as POST, behind it “with name: value” for headers and “at 40 per minute”.',
    );
  const [, typedMethod = 'GET', typed = '', typedHeaders, often] = found;
  const method = typedMethod.toUpperCase();
  if (!methods.includes(method))
    return bad(
      'url.method',
      `“${typedMethod}” is not an HTTP method.`,
      `Use ${methods.slice(0, 5).join(', ')} or another of HTTP.`,
    );
  const url = parsed(typed);
  if (url === undefined) return bad('url.form', `“${typed}” is no URL.`, 'Write https://host/path.');
  if (url.protocol !== 'http:' && url.protocol !== 'https:')
    return bad('url.scheme', `“${url.protocol}//” is not a supported scheme.`, 'Use http:// or https://.');
  const host = url.hostname.replace(/^\[|\]$/g, '').toLowerCase();
  const hostProblem = longHost(host);
  if (hostProblem !== undefined) return hostProblem;
  const headers = readHeaders(typedHeaders ?? '');
  if (!headers.ok) return headers;
  const perMinute = often === undefined ? 0 : Number(often.replaceAll(',', ''));
  if (perMinute > MAX_PER_MINUTE)
    return bad(
      'url.often',
      `${often ?? ''} requests per minute of one client are beyond what is answered.`,
      `Use at most ${formatNumber(MAX_PER_MINUTE)}.`,
    );
  const scheme = url.protocol === 'https:' ? 'https' : 'http';
  const port = url.port === '' ? (scheme === 'https' ? 443 : 80) : Number(url.port);
  return good({
    kind: 'url',
    scheme,
    host,
    port,
    path: url.pathname,
    query: url.search.slice(1),
    method,
    headers: headers.value,
    perMinute,
  });
}

/** A request in the words that read back as it. */
export function writeUrl({ scheme, host, port, path, query, method, headers, perMinute }: UrlTarget): string {
  const isUsual = port === (scheme === 'https' ? 443 : 80);
  const where = host.includes(':') ? `[${host}]` : host;
  const url = `${scheme}://${where}${isUsual ? '' : `:${port}`}${path}${query === '' ? '' : `?${query}`}`;
  const sent = headers.map(({ name, value }) => `${name}: ${value}`).join(', ');
  return `${method === 'GET' ? '' : `${method} `}${url}${sent === '' ? '' : ` with ${sent}`}${perMinute === 0 ? '' : ` at ${perMinute} per minute`}`;
}

function parsed(text: string): URL | undefined {
  // The host is held against its lengths before anything else reads it.
  return URL.canParse(text) ? new URL(text) : undefined;
}

function longHost(host: string): ReturnType<typeof bad> | undefined {
  if (host.length > MAX_NAME)
    return bad(
      'url.host',
      `The host “${host.slice(0, 40)}…” has ${host.length} characters.`,
      `A name has at most ${MAX_NAME} (RFC 1035 2.3.4).`,
    );
  const label = host.split('.').find((each) => each.length > MAX_LABEL);
  if (label === undefined) return undefined;
  return bad(
    'url.host',
    `The label “${label.slice(0, 40)}…” has ${label.length} characters.`,
    'A label has at most 63 (RFC 1035 2.3.4).',
  );
}

function readHeaders(text: string): Result<UrlTarget['headers']> {
  const headers: { name: string; value: string }[] = [];
  for (const each of text.split(/,(?=\s*[^\s,:]+:)/)) {
    if (each.trim() === '') continue;
    const at = each.indexOf(':');
    const name = each.slice(0, at).trim();
    if (at < 0 || !token.test(name))
      return bad(
        'url.header',
        `“${each.trim()}” is not a header.`,
        'Write it as name: value, several with commas between.',
      );
    headers.push({ name: name.toLowerCase(), value: each.slice(at + 1).trim() });
  }
  return good(headers);
}
