import type { Instead, NameReason } from '../road/index.js';
import { beginning, formatCount, formatNames, formatNumber } from '../working/index.js';
import { formatNameReason } from './nameReasons.js';
import type { Names } from './names.js';
import { formatInstead, formatShare } from './requestFacts.js';

/** Shares from which on it is all of the calls. */
const ALL = 0.9999;

/** Who answers a request. */
export interface Served {
  /** Who asks. */
  readonly from: string;
  /** Workloads by their names with the namespace, the cluster where it has to be told, and the share of 0 to 1. */
  readonly by: readonly { readonly workload: string; readonly cluster: string | undefined; readonly share: number }[];
  readonly addresses: readonly string[];
  /** What the backend sees as the client; undefined where it is the client’s own address. */
  readonly instead: Instead;
  /** Whether the client’s own goes along in a header. */
  readonly isTold: boolean;
}

/** Who answers a request, and whom the backend sees. */
export function formatServed({ from, by, addresses, instead, isTold }: Served): string {
  const pods = by.map(
    ({ workload, cluster, share }) =>
      `${workload}${cluster === undefined ? '' : ` of ${cluster}`}${share < ALL ? ` (${formatShare(share)})` : ''}`,
  );
  const header = isTold ? ', and the client’s address in a header' : '';
  const source = instead === undefined ? '' : ` The backend sees ${formatInstead(instead)} as the client${header}.`;
  return `${from} is served by ${formatNames([...pods, ...new Set(addresses)])}.${source}`;
}

/** What becomes of a share of the calls that is not answered. */
export function formatUnanswered(share: number, why: string): string {
  return share >= ALL ? why : `${formatShare(share)} of the calls are not answered: ${why}`;
}

/** How a client that is sent on comes to no end. */
export type Astray =
  | { readonly is: 'loop'; readonly status: number | undefined; readonly to: string; readonly isSame: boolean }
  | { readonly is: 'many'; readonly count: number; readonly most: number }
  | { readonly is: 'no URL'; readonly why: string };

/** The same in a sentence: a loop is a sentence of its own, the rest continues one that says where the client is sent. */
export function formatAstray(astray: Astray): string {
  switch (astray.is) {
    case 'loop':
      return `Status ${astray.status ?? ''}: the client is sent to ${astray.to}, which it asked for${astray.isSame ? '' : ' before'}: a loop.`;
    case 'many':
      return `That is redirect number ${astray.count}: clients follow ${astray.most}.`;
    case 'no URL':
      return `That is no URL: ${astray.why}`;
  }
}

/** What a question for a name comes to. */
export interface NameAnswered {
  readonly asker: string;
  readonly asked: string;
  /** The name that was answered in the end. */
  readonly name: string;
  /** Undefined where it is answered; a code, or empty where the plan does not know. */
  readonly ended: string | undefined;
  readonly values: readonly string[];
  /** Seconds. */
  readonly ttl: number;
  readonly isRemembered: boolean;
  readonly why: NameReason;
  /** For a pod: the questions that it sends, and for how many names. */
  readonly sent: { readonly queries: number; readonly names: number } | undefined;
  readonly steps: number;
}

/** What a question for a name comes to, and why. */
export function formatNameAnswered(names: Names, answered: NameAnswered): string {
  const { asker, asked, name, ended, values, ttl, isRemembered, why, sent, steps } = answered;
  const who = beginning(asker);
  const sentFor = sent?.names === 1 ? 'for one name' : `for ${sent?.names ?? 0} names of the search list`;
  const count = sent === undefined ? '' : ` ${formatCount(sent.queries, 'query', 'queries')}, ${sentFor}.`;
  const rest = count || (steps > 1 ? ` ${steps} steps.` : '');
  const said = formatNameReason(names, why);
  if (ended === undefined)
    return `${who} gets ${values.join(', ')} for ${name}, TTL ${formatNumber(ttl)} s. ${said}${rest}`;
  const gets = ended === '' ? 'an answer that the plan does not know' : ended;
  const remembered = isRemembered ? ` Negative TTL ${formatNumber(ttl)} s.` : '';
  return `${who} gets ${gets} for ${asked}. ${said}${remembered}${rest}`;
}
