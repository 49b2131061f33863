import type { Encapsulation, Kind } from '../plan/index.js';
import type { LookUp } from './routeRow.js';
import type { Packet } from './packet.js';

/** What happens to a packet at a place. */
export type Event =
  | 'sent'
  | 'routed'
  | 'allowed'
  | 'refused'
  | 'translated'
  | 'wrapped'
  | 'unwrapped'
  | 'crossed'
  | 'chosen'
  | 'resolved'
  | 'delivered'
  | 'dropped';

/** A place on the way where something is decided. */
export interface Lane {
  readonly kind:
    | 'pod'
    | 'node'
    | 'machine'
    | 'subnet'
    | 'network'
    | 'link'
    | 'NAT device'
    | 'firewall'
    | 'endpoint'
    | 'bastion'
    | 'balancer'
    | 'resolver'
    | 'internet';
  readonly name: string;
}

/** An entity of the plan that a step is about. */
export interface StepSubject {
  readonly kind: Kind;
  readonly id: string;
}

/** What a list of rules decided at a step. */
export interface RuleDecision {
  readonly list: StepSubject;
  /** The rule that decided; undefined for the default, and for answers that pass by state. */
  readonly ruleId: string | undefined;
  readonly why: 'rule' | 'default' | 'state';
  readonly port: number;
  readonly direction: 'in' | 'out' | undefined;
}

/** One step of a packet's way. */
export interface Step {
  readonly lane: Lane;
  readonly event: Event;
  /** What happened, in a sentence. */
  readonly say: string;
  /** The packet as it leaves the step, without what wraps it. */
  readonly packet: Packet;
  /** The packet as it came, where the step changed it. */
  readonly before?: Packet;
  /** The table that was looked up. */
  readonly lookUp?: { readonly networkId: string; readonly tableId: string | undefined; readonly found: LookUp };
  readonly decisions?: readonly RuleDecision[];
  /** What wraps the packet when it leaves the step, outermost first. */
  readonly wraps: readonly Encapsulation[];
  /** Largest packet that has passed whole up to here, in bytes. */
  readonly room: number;
  readonly subject?: StepSubject;
}

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
  | {
      readonly code:
        | 'ambiguous'
        | 'loop'
        | 'nobody'
        | 'private-source'
        | 'private-destination'
        | 'service-address'
        | 'elsewhere'
        | 'overlay-pod';
      readonly networkId: string;
    }
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
    }
  | { readonly code: 'no-state' | 'avoided' | 'unsolicited'; readonly deviceId: string; readonly networkId: string }
  | { readonly code: 'no-gateway'; readonly connectionId: string; readonly memberId: string }
  | { readonly code: 'too-big'; readonly room: number; readonly subject: StepSubject }
  | { readonly code: 'policy'; readonly policyIds: readonly string[]; readonly direction: 'ingress' | 'egress' }
  | { readonly code: 'shadowed'; readonly clusterId: string; readonly allocationId: string };

/** A failure with the packet that met it, on the way there or back. */
export interface Failed {
  readonly failure: Failure;
  readonly say: string;
  readonly packet: Packet;
  /** The cluster between whose nodes the packet was underway inside another one. */
  readonly tunnelOf: string | undefined;
}
