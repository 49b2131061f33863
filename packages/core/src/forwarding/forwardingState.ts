import type { Address, Family, Prefix } from '../address/index.js';
import type { Connection, Member } from '../plan/index.js';
import type { Failed, Found, RoadEvent, TunnelFault } from '../road/index.js';
import type { Crossing, Crossings, Faults } from './crossings.js';
import type { ForwardingParts, RangesOf } from './forwardingParts.js';
import type { Links } from './links.js';
import type { Lists } from './lists.js';
import type { Host } from './machine.js';
import type { NetworkSpace } from './networkSpace.js';
import type { Routes } from './routes.js';

/** A gateway node or a relay of a member. */
export interface Gateway {
  readonly member: Member;
  /** From 0. */
  readonly index: number;
  readonly host: Host;
  /** Where the others dial it. */
  readonly address: Address;
}

/** A tunnel or a link between relays of two members, dialled by one side: whether it comes up, and the way that its packets take. */
export interface Tunnel {
  readonly connection: Connection;
  /** Who dials, and who is dialled; of a tunnel that nobody may dial, the two in the order of their ids. */
  readonly from: Gateway;
  readonly to: Gateway;
  readonly isUp: boolean;
  /** Why it does not come up: nobody may dial, a device on the way translates what it cannot, or a packet was lost. */
  readonly fault: TunnelFault | undefined;
  readonly failed: (Failed & { readonly isBack: boolean }) | undefined;
  /** What the outer packets meet from who dials to who is dialled, and back. */
  readonly forth: readonly RoadEvent[];
  readonly back: readonly RoadEvent[];
  /** Largest outer packet that passes whole, and the largest inside it. */
  readonly room: number;
  readonly inner: number;
  /** Ids of everything that it rests on. */
  readonly dependsOn: ReadonlySet<string>;
}

/** Tunnels between members as packets meet them. */
export interface Tunnels {
  crossingsTo(clusterId: string, destination: Address): readonly Crossing[];
  addressFor(from: Host, asked: Host): Address;
  gatewayOf(member: Member, index: number, family?: Family): Found<Gateway>;
  carrying(member: Member, family?: Family): Found<Gateway>;
  between(connection: Connection, one: Member, other: Member): Found<Tunnel>;
}

/** What decides about packets between two machines of one network, by identity. */
export interface Ground {
  /** The same object while such packets go the same way, apart from who holds their addresses. */
  readonly mark: object;
  readonly space: NetworkSpace;
  readonly of: readonly unknown[];
  /** Its tables and links as they were when it was seen what they lead elsewhere. */
  readonly routing: readonly unknown[];
  /** Destinations of its own that some route leads out of the network, or to a device. */
  readonly astray: readonly Prefix[];
}

/** What packets are followed in: everything that decides about them, compiled. */
export interface ForwardingState {
  readonly parts: ForwardingParts;
  readonly rangesOf: RangesOf;
  /** What is gone in a drill. */
  readonly faults: Faults;
  /** Connections as packets meet them. */
  readonly crossings: Crossings;
  readonly links: Links;
  readonly routes: Routes;
  readonly lists: Lists;
  readonly tunnels: Tunnels;
  /** The addresses that stand for the internet. */
  readonly internet: readonly Address[];
  space(networkId: string): NetworkSpace;
  groundOf(networkId: string): Ground;
}
