import type { Family } from '../address/index.js';
import type { Encapsulation } from '../plan/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { encapsulations } from './encapsulation.js';

/** Ethernet preamble 8, header 14, check sequence 4 and gap 12 around each packet on the wire (IEEE 802.3). */
const ETHERNET_BYTES = 38;

/** What everything that carries IPv6 has to take whole, in bytes. Source: RFC 8200 5. */
export const MIN_IPV6 = 1280;

/** Largest inner packet under an MTU through encapsulations, outermost first. Never below 0. */
export function largestPacket(mtu: number, layers: readonly Encapsulation[], outer: Family = 4): Figure {
  const sizes: { layer: Encapsulation; left: number }[] = [];
  let left = mtu;
  for (const layer of layers) {
    left = innerOf(left, layer, outer);
    sizes.push({ layer, left });
  }
  return figure(left, 'bytes', () => ({
    title: 'Largest packet that passes whole',
    formula: 'MTU − the headers of each layer; with ESP, ⌊what is left ÷ alignment⌋ × alignment − 2',
    inputs: [
      { name: 'MTU outside', value: `${formatNumber(mtu)} bytes` },
      ...layers.map((layer) => ({ name: 'Through', value: encapsulations[layer].name })),
    ],
    steps:
      sizes.length === 0
        ? ['Nothing wraps the packet.']
        : sizes.map(({ layer, left: inner }) => `${encapsulations[layer].name}: ${formatNumber(inner)} bytes inside`),
    result: `${formatNumber(left)} bytes`,
    source: encapsulations[layers[0] ?? 'none'].source,
  }));
}

function innerOf(mtu: number, layer: Encapsulation, outer: Family): number {
  const { overheadIpv4, overheadIpv6, trailer, alignment } = encapsulations[layer];
  const room = mtu - (outer === 4 ? overheadIpv4 : overheadIpv6) - trailer;
  const inner = alignment === 1 ? room : Math.floor(room / alignment) * alignment - 2;
  return Math.max(0, inner);
}

/** TCP payload of a full packet: the packet without its IP and TCP headers, 40 bytes or 60 with IPv6. Source: RFC 9293, RFC 8200. */
export function segmentSize(packet: number, family: Family): Figure {
  const headers = family === 4 ? 40 : 60;
  const value = Math.max(0, packet - headers);
  return figure(value, 'bytes', () => ({
    title: 'Largest TCP segment (MSS)',
    formula: `packet − ${headers}`,
    inputs: [{ name: 'Largest packet', value: `${formatNumber(packet)} bytes` }],
    steps: [`${formatNumber(packet)} − ${headers} = ${formatNumber(value)}`],
    result: `${formatNumber(value)} bytes`,
    source: { mark: 'S', text: 'RFC 9293 3.7.1, RFC 8200 3' },
  }));
}

/** Share of the wire that carries TCP payload in full packets, in percent. */
export function efficiency(mtu: number, segment: number): Figure {
  const wire = mtu + ETHERNET_BYTES;
  const value = Math.round((1000 * segment) / wire) / 10;
  return figure(value, '%', () => ({
    title: 'Efficiency on Ethernet',
    formula: 'TCP payload ÷ (MTU + 38)',
    inputs: [
      { name: 'TCP payload', value: `${formatNumber(segment)} bytes` },
      { name: 'MTU outside', value: `${formatNumber(mtu)} bytes` },
      { name: 'Preamble, header, check sequence, gap', value: `${ETHERNET_BYTES} bytes` },
    ],
    steps: [`${formatNumber(segment)} ÷ ${formatNumber(wire)} = ${value} %`],
    result: `${value} %`,
    source: { mark: 'S', text: 'IEEE 802.3: 8 + 14 + 4 + 12 bytes around each packet' },
  }));
}
