import type { Address, Prefix } from '../address/index.js';
import type { Encapsulation } from '../plan/index.js';
import type { Lack } from './lack.js';
import type { RouteRow } from './lookUp.js';
import type { Packet } from './packet.js';
import type { Spot, Subject } from './place.js';

/** pass: there and back; refused: a rule or device says no; broken: something is missing or wrong; unknown: the plan does not say. */
export type Verdict = 'pass' | 'refused' | 'broken' | 'unknown';

/** Verdicts, the worst first. */
export const worstFirst: readonly Verdict[] = ['broken', 'refused', 'unknown', 'pass'];

/** What network policies say of one call. */
export interface PolicyDecision {
  readonly isAllowed: boolean;
  readonly direction: 'ingress' | 'egress';
  /** The policies that decided; none where none selects the pod. */
  readonly policies: readonly { readonly id: string; readonly name: string }[];
  /** The workload that they select, and who is at the other end: a workload or an address. */
  readonly own: string;
  readonly peer: string;
  readonly protocol: string;
  readonly port: number;
}

/** Whether the sender of a packet that is too large hears of it. */
export interface Message {
  readonly isHeard: boolean;
  /** What the message met in place of the sender; undefined where it is heard, or where it comes to another machine. */
  readonly why: Failed | undefined;
}

/** What a packet that is too large was to go through. */
export type Narrow =
  | { readonly is: 'network' | 'link'; readonly id: string }
  | { readonly is: 'nodes'; readonly networkId: string; readonly layers: readonly Encapsulation[] }
  | { readonly is: 'tunnel'; readonly connectionId: string; readonly layers: readonly Encapsulation[] };

/** Why a packet went no further. */
export type Failure =
  | {
      readonly code: 'no-route';
      readonly networkId: string;
      readonly tableId: string | undefined;
      readonly zone: string;
    }
  | { readonly code: 'no-taker'; readonly networkId: string; readonly linkId: string }
  | {
      readonly code: 'route-drops' | 'hop-gone';
      readonly networkId: string;
      readonly routeId: string;
      readonly zone: string;
    }
  /** What the packet comes to stands in a zone that is lost, or in several that all are (empty). */
  | { readonly code: 'zone-lost'; readonly networkId: string; readonly at: string; readonly zone: string }
  /** The device that it comes to is lost. */
  | { readonly code: 'device-lost'; readonly networkId: string; readonly at: string }
  /** It stands in one of several zones, the plan does not say in which, and some of them are lost. */
  | { readonly code: 'zone-unsaid'; readonly networkId: string; readonly at: string }
  | {
      readonly code: 'ambiguous';
      readonly networkId: string;
      readonly between:
        | { readonly is: 'routes'; readonly rows: readonly [RouteRow, RouteRow] }
        | { readonly is: 'members'; readonly connectionId: string; readonly clusterIds: readonly [string, string] };
    }
  | { readonly code: 'loop'; readonly networkId: string; readonly hops: number | undefined }
  /** Of the ways that are as good so many were followed, and more are left. */
  | { readonly code: 'many-ways'; readonly followed: number }
  /** Nobody has the address there; with a lack, the plan does not say yet who has. */
  | {
      readonly code: 'nobody';
      readonly networkId: string;
      readonly lack: Lack | undefined;
      /** The subnet whose own address or broadcast it is; absent for others. */
      readonly endOf?: Prefix;
    }
  | { readonly code: 'private-source'; readonly networkId: string }
  | { readonly code: 'private-destination'; readonly networkId: string; readonly isFromInternet: boolean }
  /** A public address of a network that has no way to the internet, so that the internet has none to it. */
  | { readonly code: 'not-on-internet'; readonly networkId: string }
  | {
      readonly code: 'service-address';
      readonly networkId: string;
      readonly clusterId: string;
      readonly prefix: string;
      /** Whether it came there over a connection. */
      readonly isAcross: boolean;
    }
  | {
      readonly code: 'elsewhere';
      readonly networkId: string;
      readonly address: Address;
      readonly arrivedAt: string;
      readonly meant: string;
      readonly isBack: boolean;
    }
  | { readonly code: 'overlay-pod'; readonly networkId: string; readonly clusterId: string }
  | {
      readonly code: 'filter';
      readonly filterIds: readonly string[];
      readonly direction: 'in' | 'out';
      readonly ruleId: string | undefined;
      readonly port: number;
    }
  | {
      readonly code: 'firewall';
      readonly firewallId: string;
      readonly ruleId: string | undefined;
      readonly port: number;
      /** Whether it translated the question and holds the answer against its rules since it keeps no state. */
      readonly isOfAnswer: boolean;
    }
  /** An answer that comes from another address than was asked: whoever asked takes it for no answer. */
  | { readonly code: 'other-source'; readonly networkId: string; readonly asked: Address; readonly came: Address }
  | { readonly code: 'no-state' | 'avoided' | 'unsolicited'; readonly deviceId: string; readonly networkId: string }
  /** A device that translates to addresses of the other family, or two ends of two families. */
  | { readonly code: 'family'; readonly deviceId: string | undefined; readonly networkId: string }
  | {
      readonly code: 'no-gateway';
      readonly connectionId: string;
      readonly memberId: string;
      /** Undefined where the shape is hub and no member is the hub, or the tunnel is the reason. */
      readonly lack: Lack | undefined;
      readonly isHubMissing: boolean;
    }
  | {
      readonly code: 'too-big';
      readonly room: number;
      readonly bytes: number;
      readonly subject: Subject;
      readonly in: Narrow;
      /** Undefined where no message is sent. */
      readonly message: Message | undefined;
    }
  /** What carries IPv6 takes 1,280 bytes whole, or does not carry it. Source: RFC 8200 5. */
  | { readonly code: 'ipv6-narrow'; readonly room: number; readonly subject: Subject; readonly in: Narrow }
  | { readonly code: 'policy'; readonly policyIds: readonly string[]; readonly decision: PolicyDecision }
  | {
      readonly code: 'shadowed';
      readonly clusterId: string;
      readonly allocationId: string;
      readonly purpose: string;
      readonly prefix: string;
    };

/** Why a tunnel or link between two gateways does not come up, apart from what its packets met. */
export type TunnelFault =
  | { readonly is: 'no dialler'; readonly from: string; readonly to: string; readonly doBothDial: boolean }
  | { readonly is: 'translated'; readonly device: string }
  /** Packets of one end do not come to the other one; dialled at an address where one of them dials. */
  | { readonly is: 'lost'; readonly from: string; readonly to: string; readonly at: Address | undefined };

/** A failure with the packet that met it, on the way there or back. */
export interface Failed {
  readonly failure: Failure;
  readonly spot: Spot;
  readonly packet: Packet;
  /** The cluster between whose nodes the packet was underway inside another one. */
  readonly tunnelOf: string | undefined;
  /** The tunnel of a connection that did not come up for it. */
  readonly tunnel?: { readonly connectionId: string; readonly fault: TunnelFault; readonly failed: Failed | undefined };
}

/** Why something is not reached: what a packet met, or what the plan does not say. */
export type Reason = Failed | Lack;

/** The code of a reason. */
export function codeOfReason(why: Reason | undefined): Failure['code'] | Lack['code'] | undefined {
  return why === undefined ? undefined : 'failure' in why ? why.failure.code : why.code;
}

/** What tells reasons apart, whoever met them: the code and the entities that decided, without addresses and clusters. */
export function causeOf(why: Reason | undefined): string {
  const facts: object = why === undefined ? {} : 'failure' in why ? why.failure : why;
  return Object.entries(facts)
    .filter(([name, value]) => !own.has(name) && typeof value !== 'object')
    .map(([name, value]) => `${name} ${String(value)}`)
    .concat('filterIds' in facts && Array.isArray(facts.filterIds) ? facts.filterIds : [])
    .concat(why !== undefined && 'tunnel' in why ? (why.tunnel?.connectionId ?? '') : [])
    .join(' ');
}

/** What differs from cluster to cluster though the cause is one. */
const own: ReadonlySet<string> = new Set(['clusterId', 'allocationId', 'prefix', 'bytes']);

/** Broken where nobody is left, unknown where the plan does not say. */
export function verdictOfLack({ code }: Lack): Verdict {
  return code === 'host.zone-lost' ? 'broken' : 'unknown';
}

/** Refused where a rule decided, unknown where the plan does not say, else broken. */
export function verdictOf({ failure }: Pick<Failed, 'failure'>): Verdict {
  switch (failure.code) {
    case 'filter':
    case 'firewall':
    case 'route-drops':
    case 'unsolicited':
    case 'private-destination':
    case 'policy':
      return 'refused';
    case 'ambiguous':
    case 'service-address':
    case 'many-ways':
    case 'zone-unsaid':
      return 'unknown';
    case 'no-route':
    case 'no-taker':
    case 'hop-gone':
    case 'zone-lost':
    case 'device-lost':
    case 'loop':
    case 'nobody':
    case 'private-source':
    case 'not-on-internet':
    case 'family':
    case 'no-state':
    case 'avoided':
    case 'other-source':
    case 'too-big':
    case 'ipv6-narrow':
    case 'shadowed':
    case 'elsewhere':
    case 'overlay-pod':
    case 'no-gateway':
      return 'broken';
  }
}
