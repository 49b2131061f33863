import type { Encapsulation } from '../plan/index.js';
import type { Source } from '../working/index.js';

/** What wraps a packet, and what that takes. */
export interface EncapsulationRule {
  readonly name: string;
  /** Bytes of headers before the inner packet, the outer IPv4 or IPv6 header included. */
  readonly overheadIpv4: number;
  readonly overheadIpv6: number;
  /** Bytes after the inner packet that do not depend on its size. */
  readonly trailer: number;
  /** The inner packet with its 2 bytes of padding length and next header is filled up to a multiple of this; 1 for none. */
  readonly alignment: number;
  readonly source: Source;
}

const plain = (name: string, bytes: number, source: Source): EncapsulationRule => ({
  name,
  overheadIpv4: bytes,
  // The outer IPv6 header is 20 bytes longer (RFC 8200 3, RFC 791 3.1).
  overheadIpv6: bytes + 20,
  trailer: 0,
  alignment: 1,
  source,
});

/** SPI and sequence number 8, initialisation vector, and with NAT traversal a UDP header of 8 before them. */
const esp = (name: string, iv: number, icv: number, alignment: number, nat: boolean): EncapsulationRule => ({
  name,
  overheadIpv4: 20 + (nat ? 8 : 0) + 8 + iv,
  overheadIpv6: 40 + (nat ? 8 : 0) + 8 + iv,
  trailer: icv,
  alignment,
  source: {
    mark: 'S',
    text: `RFC 4303 2${alignment === 4 ? ', RFC 4106' : ', RFC 3602, RFC 4868'}${nat ? ', RFC 3948' : ''}`,
  },
});

/** The rule of each encapsulation. */
export const encapsulations: Readonly<Record<Encapsulation, EncapsulationRule>> = {
  none: { ...plain('none', 0, { mark: 'S', text: 'nothing is added' }), overheadIpv6: 0 },
  vxlan: plain('VXLAN', 50, { mark: 'S', text: 'RFC 7348 5: inner Ethernet 14, VXLAN 8, UDP 8, IP 20' }),
  geneve: plain('Geneve without options', 50, {
    mark: 'S',
    text: 'RFC 8926 3.4: inner Ethernet 14, Geneve 8, UDP 8, IP 20',
  }),
  ipip: plain('IP in IP', 20, { mark: 'S', text: 'RFC 2003, RFC 2473' }),
  gre: plain('GRE', 24, { mark: 'S', text: 'RFC 2784: GRE 4, IP 20' }),
  wireguard: plain('WireGuard', 60, {
    mark: 'M',
    text: 'protocol paper, from memory: IP 20, UDP 8, header and tag 32',
  }),
  'esp-gcm': esp('ESP, AES-GCM', 8, 16, 4, false),
  'esp-gcm-nat': esp('ESP, AES-GCM, NAT traversal', 8, 16, 4, true),
  'esp-cbc': esp('ESP, AES-CBC with SHA-256', 16, 16, 16, false),
  'esp-cbc-nat': esp('ESP, AES-CBC with SHA-256, NAT traversal', 16, 16, 16, true),
};
