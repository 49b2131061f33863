import { isExpired, thisDay } from '@wide-lattice/core/naming';
import { byId, readHeaderChange, USUAL_BYTES, withPrefix } from '@wide-lattice/core/plan';
import type { HeaderChange, IngressRoute, UrlTarget } from '@wide-lattice/core/plan';
import { askAt } from '@wide-lattice/core/request';
import type { Answer, AnsweredBy, Stage } from '@wide-lattice/core/request';
import { Remembered } from '../remembered.js';
import { VANTAGE_GONE } from '../vantages.js';
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
  readonly sentence: string;
  /** What they pass before their pods, by name. */
  readonly via: readonly string[];
  /** The client’s address as the pods see it; undefined where none answers. */
  readonly seenAs: string | undefined;
  /** Whether something between client and pods answers in HTTP itself. */
  readonly speaksHttp: boolean;
  /** The route whose limit counts them; undefined where none does. */
  readonly limit: IngressRoute | undefined;
  readonly changes: readonly HeaderChange[];
  /** Host and path as the pods see them. */
  readonly host: string;
  readonly path: string;
}

/** A certificate by the names on it. */
export interface Shown {
  readonly names: readonly string[];
  readonly isExpired: boolean;
}

/** Status for what the plan does not say: the stand-in does not know how it would be answered. Source: RFC 9110 15.6.2. */
const NOT_IMPLEMENTED = 501;
/** Status for a request whose certificate a client accepted although it is not for its host. Source: RFC 9110 15.5.20. */
const MISDIRECTED = 421;

/** A load balancer at an address as a vantage meets it: each kind of request asked once, until the plan or what is stopped changes. */
export class Answers {
  private readonly known: Remembered<Calls>;

  constructor(
    private readonly world: World,
    private readonly vantage: string,
    private readonly address: string,
  ) {
    this.known = new Remembered(world);
  }

  /** What comes of a request; `key` stands for all of it that an answer can depend on. */
  of(key: string, request: () => UrlTarget): Calls {
    return this.known.of(key, () => this.made(request()));
  }

  /** The certificate that is shown for a host; undefined where TLS is not spoken. */
  certificateFor(request: UrlTarget): Shown | undefined {
    const answer = this.asked(request);
    if (answer === undefined) return undefined;
    const stage = answer.stages.findLast(({ about }) => about === 'certificate');
    if (stage === undefined) {
      // Passed on to pods as it is, which show what is right there; where no rule is for the host, one that covers no name.
      if (answer.verdict === 'pass') return { names: [request.host], isExpired: false };
      return answer.status === undefined ? undefined : coversNoName;
    }
    const { fact } = stage;
    if (fact.code === 'certificate.covers' || fact.code === 'certificate.other')
      return { names: fact.names, isExpired: this.hasExpired(fact.certificate, stage) };
    return fact.code === 'certificate.unnamed' ? coversNoName : undefined;
  }

  /** Of a certificate that the plan holds: by its name, where the listener, gateway or route that shows it is. */
  private hasExpired(name: string, { subject }: Stage): boolean {
    const { names, parts } = this.world.state;
    const id = subject?.id ?? '';
    const user = byId(parts.gateways, id) ?? byId(parts.ingressRoutes, id);
    const held = names.certificateOf(name, user?.clusterId ?? null, user?.namespace ?? '');
    return held !== undefined && isExpired(held, thisDay());
  }

  private asked(request: UrlTarget): Answer | undefined {
    const vantage = this.world.vantage(this.vantage);
    if (vantage === undefined) return undefined;
    return askAt(this.world.state, { from: vantage.place, to: request, bytes: USUAL_BYTES }, this.address);
  }

  private made(request: UrlTarget): Calls {
    const { host, path } = request;
    const answer = this.asked(request);
    if (answer === undefined) {
      const refused: Outcome = { is: 'refused', status: NOT_IMPLEMENTED, why: VANTAGE_GONE };
      const unchanged = { speaksHttp: true, limit: undefined, changes: [], host, path };
      return { next: () => refused, sentence: VANTAGE_GONE, via: [], seenAs: undefined, ...unchanged };
    }
    const route = routeOf(answer, this.world.plan.ingressRoutes);
    const shares = sharesOf(answer);
    return {
      next: () => shares.next(),
      sentence: answer.sentence,
      via: answer.via.map(({ name }) => name),
      seenAs: answer.seenAs,
      speaksHttp:
        answer.via.some(({ what }) => what === 'controller') ||
        answer.stages.some(({ fact }) => fact.code === 'listener.takes'),
      limit: answer.stages.some(({ fact }) => fact.code === 'limit.kept') ? route : undefined,
      changes: route?.headerChanges.flatMap((text) => readHeaderChange(text) ?? []) ?? [],
      host: route === undefined || route.rewriteHost === '' ? host : route.rewriteHost,
      path: route === undefined ? path : pathAtPods(route, path),
    };
  }
}

/** Where the plan does not say which names a certificate has: one that is never anybody’s (RFC 6761 6.4). */
const coversNoName: Shown = { names: ['unknown.invalid'], isExpired: false };

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
  const only = (outcome: Outcome) => new Shares(outcome, []);
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
