import type { Address } from '../address/index.js';
import type { IcmpMessage, PortRange, Protocol } from '../plan/index.js';

/** What is known of a packet where it is looked at. */
export interface Packet {
  readonly source: Address;
  readonly destination: Address;
  readonly protocol: Protocol;
  /** The port of the service that is asked; 0 for protocols without ports. */
  readonly port: number;
  /** Ports that the asking side may use: what a rule without state must let answers back to. */
  readonly clientPorts: PortRange;
  /** Whether it is an answer, which comes from the service's port and goes to a client's. */
  readonly isAnswer: boolean;
  /** Of ICMP the message, where it is neither the request of an echo nor its reply. */
  readonly message?: IcmpMessage;
}

/** Client ports that hosts use on their own: the wider of the two customs. Source: common practice; RFC 6056 3.2 allows 1024 to 65535. */
export const HOST_PORTS: PortRange = { first: 32_768, last: 60_999 };

/** Ports that translation may choose. Source: RFC 6056 3.2, RFC 4787 4.2.2. */
export const TRANSLATED_PORTS: PortRange = { first: 1024, last: 65_535 };

/** The ports a packet may be sent to. */
export function destinationPorts({ isAnswer, clientPorts, port }: Packet): PortRange {
  return isAnswer ? clientPorts : { first: port, last: port };
}

/** The message of a packet of ICMP; undefined for another protocol. What asks by ICMP asks for an echo (RFC 1122 3.2.2.6). */
export function messageOf({ protocol, message, isAnswer }: Packet): IcmpMessage | undefined {
  if (protocol !== 'icmp') return undefined;
  return message ?? (isAnswer ? 'echo reply' : 'echo request');
}

/** The answer to a packet as it arrived. */
export function answerTo(packet: Packet): Packet {
  return { ...packet, source: packet.destination, destination: packet.source, isAnswer: !packet.isAnswer };
}
