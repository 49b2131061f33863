import type { Address } from '../address/index.js';
import type { Encapsulation } from '../plan/index.js';
import type { Failed, Failure, PolicyDecision } from './failure.js';
import type { TableLookUp } from './lookUp.js';
import type { Packet } from './packet.js';
import type { Spot, Subject } from './place.js';

/** What a list of rules decided. */
export interface RuleDecision {
  readonly list: Subject;
  /** The rule that decided; undefined for the default, and for answers that pass by state. */
  readonly ruleId: string | undefined;
  readonly why: 'rule' | 'default' | 'state';
  readonly port: number;
  readonly direction: 'in' | 'out' | undefined;
}

/** How addresses of a packet are exchanged, and by whom. */
export type Translation =
  /** A node puts its address in place of that of a pod in an overlay, and takes it back of the answer. */
  | { readonly by: 'node' | 'node back' }
  /** A device puts a public address there, undefined while it is not decided, and takes it back of the answer. */
  | { readonly by: 'device'; readonly shown: string | undefined }
  | { readonly by: 'device back' }
  /** The provider gives a machine its own public address, and takes it back. */
  | { readonly by: 'own' | 'own back' }
  /** A gateway shows an address of its cluster as the others see it, or finds which of its own is meant. */
  | { readonly by: 'shown'; readonly clusterId: string }
  | { readonly by: 'known'; readonly clusterId: string }
  /** An answer comes from the address of the service that was asked. */
  | { readonly by: 'service back' };

/** Who picked where a call goes on. */
export type Choice =
  | { readonly by: 'gateway' }
  | { readonly by: 'backend'; readonly name: string; readonly to: string }
  | { readonly by: 'backend nodes'; readonly name: string; readonly method: string }
  | { readonly by: 'health'; readonly name: string }
  | { readonly by: 'service'; readonly name: string }
  | { readonly by: 'relay'; readonly name: string }
  | { readonly by: 'link'; readonly dialler: string };

/** A record as it was answered. */
export interface AnsweredRecord {
  readonly value: string;
  /** Seconds. */
  readonly ttl: number;
}

/** A question for a name and how it ended at a server; the outcome is one of naming. */
export interface NameQuestion {
  readonly name: string;
  readonly type: string;
  readonly ended?: { readonly code: string; readonly records: readonly AnsweredRecord[] };
}

/** What happened at a place. */
export type Happening =
  | { readonly event: 'sent'; readonly question?: NameQuestion }
  | { readonly event: 'routed'; readonly lookUp: TableLookUp; readonly subject: Subject }
  | { readonly event: 'allowed'; readonly decisions: readonly RuleDecision[]; readonly subject?: Subject }
  | { readonly event: 'allowed'; readonly policy: PolicyDecision; readonly subject: Subject }
  | {
      readonly event: 'refused' | 'dropped';
      readonly failure: Failure;
      /** The tunnel that did not come up for it. */
      readonly within?: Pick<Failed, 'tunnel'>;
      readonly lookUp?: TableLookUp;
      readonly decisions?: readonly RuleDecision[];
    }
  | { readonly event: 'translated'; readonly translation: Translation; readonly subject?: Subject }
  | {
      readonly event: 'wrapped';
      readonly layers: readonly Encapsulation[];
      /** To the node at an address, or to the gateway of another cluster by its name. */
      readonly to: Address | string;
      /** Bytes that fit inside. */
      readonly inside: number;
      readonly subject: Subject;
    }
  | { readonly event: 'unwrapped' }
  | { readonly event: 'crossed'; readonly toNetworkId: string; readonly fits: number; readonly subject: Subject }
  | { readonly event: 'chosen'; readonly choice: Choice }
  | { readonly event: 'resolved' | 'dropped'; readonly question: NameQuestion }
  | { readonly event: 'delivered' };

/** What happens to a packet at a place. */
export type EventKind = Happening['event'];

/** One event on the road of a packet, a request or a question for a name. */
export type RoadEvent = Happening & {
  readonly spot: Spot;
  /** The packet as it leaves, without what wraps it. */
  readonly packet: Packet;
  /** The packet as it came, where it was changed. */
  readonly before?: Packet;
  /** What wraps the packet when it leaves, outermost first. */
  readonly wraps: readonly Encapsulation[];
  /** Largest packet that has passed whole up to here, in bytes. */
  readonly room: number;
};

/** The entity that an event is about. */
export function subjectOf(event: RoadEvent): Subject | undefined {
  return 'subject' in event ? event.subject : undefined;
}

/** The table that was looked up. */
export function lookUpOf(event: RoadEvent): TableLookUp | undefined {
  return 'lookUp' in event ? event.lookUp : undefined;
}

/** What lists of rules decided. */
export function decisionsOf(event: RoadEvent): readonly RuleDecision[] {
  return 'decisions' in event ? (event.decisions ?? none) : none;
}

const none: readonly RuleDecision[] = [];
