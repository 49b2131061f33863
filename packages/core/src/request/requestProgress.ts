import { formatAddress } from '../address/index.js';
import type { Address } from '../address/index.js';
import { traceFlow } from '../forwarding/index.js';
import type { ResolvedTarget, FlowTrace, Host } from '../forwarding/index.js';
import type { Resolution } from '../naming/index.js';
import { joined } from './answer.js';
import type { Answer, AnsweredBy, Leg, Stage, Unanswered, Via } from './answer.js';
import type { IngressState, Lost } from '../ingress/index.js';
import { nameOf } from '../ingress/index.js';
import { worstFirst } from '../road/index.js';
import type { Choice, Instead, RequestFact, Subject, Verdict } from '../road/index.js';
import { formatFault, formatRequest, formatServed, formatUnanswered } from '../english/index.js';
import { beginning } from '../working/index.js';

/** Where a request ends before anybody answers it. */
export class Stopped extends Error {
  constructor(
    readonly verdict: Verdict,
    readonly status: number | undefined,
    message: string,
  ) {
    super(message);
  }
}

/** Who the other side sees as the client. */
interface Seen {
  readonly address: Address;
  /** What put it in place of the client's own; undefined where it is the client's. */
  readonly instead: Instead;
  /** Whether a load balancer of layer 7 hands the client's own on in a header. */
  readonly isTold: boolean;
}

/** From whom a road leads to whom. */
type Road = Pick<RequestFact & { readonly code: 'road.ends' }, 'from' | 'to' | 'protocol' | 'port'>;

/** The address by which pods of another cluster are called: their own as it is shown, or that of their service. */
export type SeenAt = Pick<ResolvedTarget, 'address'> & Partial<Pick<ResolvedTarget, 'port' | 'service'>>;

/** A request under way: what was decided so far, the roads that it took, who answers; what stops it ends it. */
export class RequestProgress {
  readonly stages: Stage[] = [];
  readonly legs: Leg[] = [];
  /** Ways beside the main road, with the share of the calls that takes each. */
  readonly others: { readonly flow: FlowTrace; readonly share: number }[] = [];
  /** Shares of the calls that end before anybody answers them. */
  readonly unanswered: Unanswered[] = [];
  members: AnsweredBy[] = [];
  /** Addresses that answer in place of pods. */
  readonly addresses: string[] = [];
  standby: AnsweredBy[] = [];
  readonly via: Via[] = [];
  seen: Seen;
  resolution: Resolution | undefined;
  /** The URL that the client is sent to instead; undefined where it is not. */
  sentTo: string | undefined;

  constructor(
    private readonly state: IngressState,
    private readonly from: Host,
    private readonly label: string,
    readonly bytes: number,
  ) {
    this.seen = { address: from.address, instead: undefined, isTold: false };
  }

  answered(run: () => void): Answer {
    try {
      run();
      const lost = [...this.unanswered, ...this.lostOnTheWay()];
      return lost.length === 0 ? this.result('pass', undefined, this.formatMembers()) : this.inPart(lost);
    } catch (error) {
      if (!(error instanceof Stopped)) throw error;
      return this.result(error.verdict, error.status, error.message);
    }
  }

  /** Runs what a share of the calls meets: where these end, the others go on. */
  attempt(share: number, run: () => void): void {
    try {
      run();
    } catch (error) {
      if (!(error instanceof Stopped)) throw error;
      this.unanswered.push({ share, verdict: error.verdict, status: error.status, description: error.message });
    }
  }

  private lostOnTheWay(): Unanswered[] {
    return this.others.flatMap(({ flow, share }) =>
      flow.verdict === 'pass'
        ? []
        : [
            {
              share,
              verdict: flow.verdict,
              status: undefined,
              description: formatFault(this.state.forwarding.parts, flow),
            },
          ],
    );
  }

  /** What the calls come to of which a part is not answered: the worst decides, and every part is told with its share. */
  private inPart(lost: readonly Unanswered[]): Answer {
    const sorted = [...lost].sort((a, b) => worstFirst.indexOf(a.verdict) - worstFirst.indexOf(b.verdict));
    const [worst] = sorted as [Unanswered];
    const statuses = new Set(lost.map(({ status }) => status));
    const isAll = this.members.length + this.addresses.length === 0;
    const told = sorted.map(({ share, description }) => formatUnanswered(share, description));
    const words = [...(isAll ? [] : [this.formatMembers()]), ...new Set(told)].join(' ');
    return this.result(worst.verdict, isAll && statuses.size === 1 ? worst.status : undefined, words);
  }

  private result(verdict: Verdict, status: number | undefined, sentence: string): Answer {
    const road = joined(this.legs, this.label, verdict);
    const flows = [...(road === undefined ? [] : [road]), ...this.others.map(({ flow }) => flow)];
    return {
      verdict,
      status,
      sentence: beginning(sentence),
      flows,
      stages: this.stages,
      members: this.members,
      standby: this.standby,
      addresses: this.addresses,
      sentTo: this.sentTo,
      unanswered: this.unanswered,
      via: this.via,
      resolution: this.resolution,
      seenAs: this.members.length === 0 ? undefined : this.sourceAtPods(),
    };
  }

  /** A controller calls the pods itself; without one they see what nodes and load balancers let through. */
  private sourceAtPods(): string {
    const isByController = this.via.some(({ what }) => what === 'controller');
    const last = this.legs.at(-1)?.flow.forth.at(-1)?.packet.source ?? this.seen.address;
    return formatAddress(isByController ? last : this.seen.address);
  }

  private formatMembers(): string {
    const areMany = new Set(this.members.map(({ cluster }) => cluster)).size > 1;
    return formatServed({
      from: this.from.label,
      by: this.members.map(({ workload, share, cluster }) => ({
        workload: nameOf(workload),
        cluster: areMany || cluster !== this.from.cluster?.name ? cluster : undefined,
        share,
      })),
      addresses: this.addresses,
      instead: this.seen.instead,
      isTold: this.seen.isTold,
    });
  }

  // What can stop a request.

  stop(
    verdict: Verdict,
    status: number | undefined,
    about: Stage['about'],
    fact: RequestFact,
    subject?: Subject,
    lost: readonly Lost[] = [],
  ): Stopped {
    const outcome = verdict === 'refused' ? 'refused' : verdict === 'unknown' ? 'open' : 'broken';
    const description = this.stage(about, outcome, fact, subject, lost);
    return new Stopped(verdict, status, `${status === undefined ? '' : `Status ${status}: `}${description}`);
  }

  /** Tells what was decided; gives the sentence of it. */
  stage(
    about: Stage['about'],
    outcome: Stage['outcome'],
    fact: RequestFact,
    subject?: Subject,
    lost: readonly Lost[] = [],
  ): string {
    const description = formatRequest(this.state.forwarding.parts, fact);
    this.stages.push({ about, outcome, fact, description, lost, ...(subject === undefined ? {} : { subject }) });
    return description;
  }

  /** A road that does not come to who is called. */
  failed({ verdict, failed }: FlowTrace, road: Road, code: 'road.ends' | 'road.ends-as-client' = 'road.ends'): Stopped {
    return new Stopped(verdict, undefined, formatRequest(this.state.forwarding.parts, { code, ...road, failed }));
  }

  /** Follows packets from one machine to another; what they meet stops the request. Where a service of another cluster is asked, its address is called. */
  leg(
    from: Host,
    to: Host,
    protocol: 'tcp' | 'udp',
    port: number,
    isOutside: boolean,
    chosen?: Choice,
    seen?: SeenAt,
  ): void {
    const flow = this.flowOf(from, to, protocol, port, isOutside, seen);
    this.legs.push({ flow, chosen });
    if (flow.verdict !== 'pass') throw this.failed(flow, { from: from.label, to: to.label, protocol, port });
  }

  /** From a load balancer to a member. Where it leaves the client’s address as it is, filters on the way see that one. */
  fromBalancer(
    from: Host,
    to: Host,
    protocol: 'tcp' | 'udp',
    port: number,
    chosen: Choice | undefined,
    isOutside = true,
    seen?: SeenAt,
  ): void {
    if (
      from.kind === 'balancer' &&
      this.seen.instead === undefined &&
      !isSameAddress(this.seen.address, from.address)
    ) {
      const asClient = { ...from, address: this.seen.address };
      const flow = traceFlow(
        this.state.forwarding,
        asClient,
        { address: to.address, protocol, port, host: to, isOutside: true, label: `${from.label} to ${to.label}` },
        this.bytes,
      );
      // Its answers go back through the load balancer, which the way from its own address shows.
      if (flow.failed !== undefined && !flow.failed.isBack) {
        this.legs.push({ flow, chosen });
        throw this.failed(flow, { from: from.label, to: to.label, protocol, port }, 'road.ends-as-client');
      }
    }
    this.leg(from, to, protocol, port, isOutside, chosen, seen);
  }

  /** The same for further ways of which each gets a part: kept beside the main road, and the worst decides in the end. */
  further(
    from: Host,
    to: Host,
    protocol: 'tcp' | 'udp',
    port: number,
    isOutside: boolean,
    share: number,
    seen?: SeenAt,
  ): void {
    this.others.push({ flow: this.flowOf(from, to, protocol, port, isOutside, seen), share });
  }

  private flowOf(
    from: Host,
    to: Host,
    protocol: 'tcp' | 'udp',
    port: number,
    isOutside: boolean,
    seen: SeenAt | undefined,
  ): FlowTrace {
    const aim = {
      address: to.address,
      protocol,
      port,
      host: to,
      isOutside,
      label: `${from.label} to ${to.label}`,
      ...seen,
    };
    return traceFlow(this.state.forwarding, from, aim, this.bytes);
  }
}

function isSameAddress(a: Address, b: Address): boolean {
  return formatAddress(a) === formatAddress(b);
}
