import type { Address } from '../../address/index.js';
import { byId } from '../../plan/index.js';
import type { Member, PortRange } from '../../plan/index.js';
import { Journal, TRANSLATED_PORTS } from '../../road/index.js';
import type { Failed, Failure, Packet, RuleDecision, Spot, Subject, TableLookUp } from '../../road/index.js';
import type { ForwardingState } from '../forwardingState.js';
import type { Host } from '../machine.js';
import type { Station } from './station.js';

/** A service that a packet from another cluster is for: its gateway picks the pod. */
export interface ExportedService {
  readonly address: Address;
  readonly port: number;
  readonly pod: Host;
  readonly podPort: number;
}

/** What the first packet of a flow left behind, by which its answers are known. */
export interface FlowState {
  /** Who asked, and whom: an address does not tell which node pool a machine is of. */
  readonly origin: Host;
  readonly target: Host | undefined;
  /** Whether what is asked for is outside the asking cluster, whatever its own ranges say. */
  readonly isOutside: boolean;
  /** The address that was asked first. */
  readonly asked: Address;
  /** Translations, by the device or node that made them: what the source was, and what it became. */
  readonly translations: Map<string, { readonly before: Address; readonly after: Address; readonly ports: PortRange }>;
  /** The service that is asked in another cluster: its address and port there, and the pod that answers. */
  readonly service?: ExportedService | undefined;
  /** Filters that keep state and let the flow pass: "id place direction". */
  readonly seen: Set<string>;
  /** Every firewall on the way there: one that translates leaves the answers of what it has passed as they are. */
  readonly passed: Set<string>;
  /** Stateful firewalls on the way there, in their order. */
  readonly firewalls: Set<string>;
  /** Which of several ways that are as good its packets take. */
  readonly turns: Turns;
}

/** Every way through the choices that packets of a flow meet, one after the other: of each choice first the first, then the others. */
export class Turns {
  private readonly taken: { at: number; of: number }[] = [];
  private met = 0;

  /** Which of so many it is this time. */
  choose(of: number): number {
    if (of < 2) return 0;
    const known = this.taken[this.met] ?? { at: 0, of };
    this.taken[this.met++] = known;
    return known.at;
  }

  /** Goes on to the next way; false when all were taken. */
  next(): boolean {
    this.met = 0;
    for (let last = this.taken.pop(); last !== undefined; last = this.taken.pop()) {
      if (last.at + 1 === last.of) continue;
      this.taken.push({ at: last.at + 1, of: last.of });
      return true;
    }
    return false;
  }
}

/** The state of a flow that has not begun. */
export function newFlow(
  origin: Host,
  target: Host | undefined,
  isOutside: boolean,
  asked: Address,
  service?: ExportedService,
  turns = new Turns(),
): FlowState {
  return {
    origin,
    target,
    isOutside,
    asked,
    service,
    turns,
    translations: new Map(),
    seen: new Set(),
    passed: new Set(),
    firewalls: new Set(),
  };
}

/** What a station does with a packet: hands it on, delivers it, or ends it. */
export type Next =
  | { readonly does: 'go'; readonly to: Station; readonly isCarried: boolean }
  | { readonly does: 'arrive'; readonly host: Host }
  | { readonly does: 'stop'; readonly failed: Failed };

/** A packet inside another one. */
export interface Carried {
  readonly inner: Packet;
  /** The node that takes the outer headers off. */
  readonly other: Host;
  readonly clusterId: string;
  readonly onward: Station;
}

/** Takes a packet on from a station to where it ends. */
export type Follow = (
  trip: Trip,
  first: Station,
) => { readonly ok: true; readonly host: Host } | { readonly ok: false; readonly failed: Failed };

/** One packet on its way, with its flow and its journal. */
export class Trip {
  readonly journal: Journal;
  /** Stateful firewalls that this packet passed. */
  readonly firewalls = new Set<string>();
  /** The packet that is underway inside another one between two nodes of a cluster, and where it goes on from there. */
  carried: Carried | undefined;
  /** Tables that were looked up, with the addresses of the packet there. */
  readonly been = new Set<string>();

  constructor(
    readonly forwarding: ForwardingState,
    packet: Packet,
    readonly bytes: number,
    readonly flow: FlowState,
    private readonly follow: Follow,
  ) {
    this.journal = new Journal(packet);
  }

  /** The cluster between whose nodes the packet is underway inside another one. */
  get tunnelOf(): string | undefined {
    return this.carried?.clusterId;
  }

  get packet(): Packet {
    return this.journal.packet;
  }

  /** The network with an id. */
  mtuOf(networkId: string): number {
    return byId(this.forwarding.parts.networks, networkId)?.mtu ?? 0;
  }

  spotOfNetwork(networkId: string): Spot {
    return { kind: 'network', name: byId(this.forwarding.parts.networks, networkId)?.name ?? '' };
  }

  /** Whether the address is that of the exporting side of the service that is asked, for the cluster of a member. */
  serviceOf({ clusterId }: Member): ExportedService | undefined {
    const { service } = this.flow;
    return service?.pod.cluster?.id === clusterId ? service : undefined;
  }

  /** Follows another packet of the flow from a station, beside this one: what it meets is not written here. */
  beside(packet: Packet, first: Station): ReturnType<Follow> {
    const trip = new Trip(this.forwarding, packet, 0, { ...this.flow, turns: new Turns() }, this.follow);
    trip.journal.write(this.journal.spot, { event: 'sent' });
    return this.follow(trip, first);
  }

  /** Puts another source there and remembers it for the answer. */
  translate(
    spot: Spot,
    key: string,
    after: Address,
    translation: { readonly by: 'node' | 'own' } | { readonly by: 'device'; readonly shown: string | undefined },
    subject?: Subject,
  ): void {
    const came = this.packet;
    this.flow.translations.set(key, { before: came.source, after, ports: came.clientPorts });
    this.journal.change(
      spot,
      { ...came, source: after, clientPorts: TRANSLATED_PORTS },
      { event: 'translated', translation, ...(subject === undefined ? {} : { subject }) },
    );
  }

  /** Ends the packet here, and writes it. */
  stop(failure: Failure, more: Stop = {}): Next {
    return { does: 'stop', failed: this.failed(failure, more) };
  }

  /** The same as what failed. */
  failed(
    failure: Failure,
    { spot = this.journal.spot, lookUp, decisions, tunnel, packet = this.packet }: Stop = {},
  ): Failed {
    const isRefusal = failure.code === 'filter' || failure.code === 'firewall' || failure.code === 'policy';
    this.journal.write(spot, {
      event: isRefusal ? 'refused' : 'dropped',
      failure,
      ...(tunnel === undefined ? {} : { within: { tunnel } }),
      ...(lookUp === undefined ? {} : { lookUp }),
      ...(decisions === undefined ? {} : { decisions }),
    });
    return { failure, spot, packet, tunnelOf: this.tunnelOf, ...(tunnel === undefined ? {} : { tunnel }) };
  }
}

interface Stop {
  readonly spot?: Spot;
  readonly lookUp?: TableLookUp;
  readonly decisions?: readonly RuleDecision[];
  readonly tunnel?: NonNullable<Failed['tunnel']>;
  readonly packet?: Packet;
}

/** Hands the packet on to a station. */
export function go(to: Station): Next {
  return { does: 'go', to, isCarried: false };
}

/** Hands it on where something else carried it there, so that no list sees it. */
export function carried(to: Station): Next {
  return { does: 'go', to, isCarried: true };
}

/** The place of a machine. */
export function spotOf({ kind, label }: Host): Spot {
  return { kind, name: label };
}

/** Whether two addresses are one. */
export function isSame(a: Address, b: Address): boolean {
  return a.family === b.family && a.w0 === b.w0 && a.w1 === b.w1 && a.w2 === b.w2 && a.w3 === b.w3;
}
