import { LRUCache } from 'lru-cache';
import { certificateEnd, thisDay } from '@wide-lattice/core/naming';
import { byId, readHeaderChange, USUAL_BYTES, withPrefix } from '@wide-lattice/core/plan';
import type { HeaderChange, IngressRoute, UrlTarget } from '@wide-lattice/core/plan';
import { askAt } from '@wide-lattice/core/request';
import type { Answer, AnsweredBy, Stage } from '@wide-lattice/core/request';
import { LIMITS } from '../limits.js';
import type { World } from '../world.js';
import { Shares } from './shares.js';

/** What one call comes to. */
export type Outcome =
  | { readonly is: 'pod'; readonly by: AnsweredBy }
  | { readonly is: 'address'; readonly address: string }
  /** Without a status the connection ends without an answer. */
  | { readonly is: 'refused'; readonly status: number | undefined; readonly why: string }
  | { readonly is: 'sent on'; readonly status: number; readonly to: string };

/** What a load balancer does with requests that are alike. */
export interface Calls {
  readonly next: () => Outcome;
  readonly answer: Answer;
  /** The route whose limit counts them; undefined where none does. */
  readonly limit: IngressRoute | undefined;
  readonly changes: readonly HeaderChange[];
  /** Host and path as the pods see them. */
  readonly host: string;
  readonly path: string;
}

/** Status for what the plan does not say: the stand-in does not know how it would be answered. Source: RFC 9110 15.6.2. */
const NOT_IMPLEMENTED = 501;
/** Status for a request whose certificate a client accepted although it is not for its host. Source: RFC 9110 15.5.20. */
const MISDIRECTED = 421;

/** A load balancer at an address as a viewpoint meets it: each kind of request asked once, until the plan or what is stopped changes. */
export class Answers {
  private readonly known = new LRUCache<string, Calls>({ max: LIMITS.answers });
  private version = 0;

  constructor(
    private readonly world: World,
    private readonly viewpoint: string,
    private readonly address: string,
  ) {}

  /** What comes of a request; `key` stands for all of it that an answer can depend on. */
  of(key: string, request: () => UrlTarget): Calls {
    if (this.version !== this.world.version) {
      this.known.clear();
      this.version = this.world.version;
    }
    const known = this.known.get(key) ?? this.made(request());
    this.known.set(key, known);
    return known;
  }

  /** The names on the certificate that is shown for a host, and whether it has expired; undefined where TLS is not spoken. */
  certificateFor(request: UrlTarget): { readonly names: readonly string[]; readonly isExpired: boolean } | undefined {
    const answer = this.asked(request);
    if (answer === undefined) return undefined;
    const stage = answer.stages.findLast(({ about }) => about === 'certificate');
    if (stage === undefined) {
      // Passed on to pods as it is, which show what is right there; where no rule is for the host, a certificate for nobody.
      if (answer.verdict === 'pass') return { names: [request.host], isExpired: false };
      return answer.status === undefined ? undefined : nobody;
    }
    const { fact } = stage;
    if (fact.code === 'certificate.covers' || fact.code === 'certificate.other')
      return { names: fact.names, isExpired: this.isExpired(fact.certificate, stage) };
    return fact.code === 'certificate.unnamed' ? nobody : undefined;
  }

  private isExpired(name: string, { subject }: Stage): boolean {
    const { names, parts } = this.world.state;
    const listener = subject?.kind === 'listeners';
    const user = listener
      ? undefined
      : (byId(parts.gateways, subject?.id ?? '') ?? byId(parts.ingressRoutes, subject?.id ?? ''));
    const held = names.certificateOf(name, user?.clusterId ?? null, user?.namespace ?? '');
    return held !== undefined && !held.renewsItself && certificateEnd(held) <= thisDay();
  }

  private asked(request: UrlTarget): Answer | undefined {
    const viewpoint = this.world.viewpoint(this.viewpoint);
    if (viewpoint === undefined) return undefined;
    return askAt(this.world.state, { from: viewpoint.place, to: request, bytes: USUAL_BYTES }, this.address);
  }

  private made(request: UrlTarget): Calls {
    const answer = this.asked(request) ?? gone;
    const route = routeOf(answer, this.world.plan.ingressRoutes);
    const limit = answer.stages.some(({ fact }) => fact.code === 'limit.kept') ? route : undefined;
    const shares = sharesOf(answer);
    return {
      next: () => shares.next(),
      answer,
      limit,
      changes: route?.headerChanges.flatMap((text) => readHeaderChange(text) ?? []) ?? [],
      host: route === undefined || route.rewriteHost === '' ? request.host : route.rewriteHost,
      path: route === undefined ? request.path : pathAtPods(route, request.path),
    };
  }
}

/** Where the plan does not say which names a certificate has: one that is never anybody’s (RFC 6761 6.4). */
const nobody = { names: ['unknown.invalid'], isExpired: false };

const gone: Answer = {
  verdict: 'unknown',
  sentence: 'The viewpoint is no longer in the plan.',
  flows: [],
  status: undefined,
  stages: [],
  members: [],
  standby: [],
  addresses: [],
  sentTo: undefined,
  unanswered: [],
  via: [],
  seenAs: undefined,
  resolution: undefined,
};

function routeOf({ stages }: Answer, routes: readonly IngressRoute[]): IngressRoute | undefined {
  const stage = stages.findLast(({ about, subject }) => about !== 'members' && subject?.kind === 'ingressRoutes');
  return byId(routes, stage?.subject?.id ?? '');
}

/** A path after the rewriting of its route: a matched prefix is replaced, else the whole path. Source: Gateway API, HTTPPathModifier (from memory). */
function pathAtPods({ rewritePath, pathType, path: prefix }: IngressRoute, path: string): string {
  if (rewritePath === '') return path;
  return pathType === 'Prefix' ? withPrefix(rewritePath, path, prefix) : rewritePath;
}

/** Each way that calls go, with its share of them. */
function sharesOf(answer: Answer): Shares<Outcome> {
  const { members, addresses, unanswered, sentTo, status, verdict, sentence } = answer;
  if (sentTo !== undefined) return only({ is: 'sent on', status: status ?? 302, to: sentTo });
  const byPods = members.reduce((sum, { share }) => sum + share, 0);
  const lost = unanswered.reduce((sum, { share }) => sum + share, 0);
  const left = Math.max(0, 1 - byPods - lost) / addresses.length;
  const all: { readonly value: Outcome; readonly share: number }[] = [
    ...members.map((by) => ({ value: { is: 'pod', by } as const, share: by.share })),
    ...addresses.map((address) => ({ value: { is: 'address', address } as const, share: left })),
    ...unanswered.map((each) => ({
      value: { is: 'refused', status: each.status, why: each.description } as const,
      share: each.share,
    })),
  ].filter(({ share }) => share > 0);
  const [first] = all;
  if (first !== undefined && (verdict === 'pass' || unanswered.length > 0)) return new Shares(first.value, all);
  const isOther = answer.stages.some(({ fact }) => fact.code === 'certificate.other');
  const shown = status ?? (verdict === 'unknown' ? NOT_IMPLEMENTED : isOther ? MISDIRECTED : undefined);
  return only({ is: 'refused', status: shown, why: sentence });
}

function only(outcome: Outcome): Shares<Outcome> {
  return new Shares(outcome, []);
}
