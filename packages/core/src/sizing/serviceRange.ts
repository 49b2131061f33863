import { addressBits, formatAddress, nthAddress, prefixSize } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { bitsFor } from './bits.js';

/** Host bits a service range may have. From memory: the Kubernetes API server refuses more. */
export const MAX_SERVICE_HOST_BITS = 20;

const memory = {
  mark: 'M',
  text: 'Documentation of the Kubernetes API on service address allocation (from memory)',
} as const;

/** Length of the service range: twice the services, since it cannot be changed later, and two of the cluster's own. */
export function serviceRangeLength(family: Family, services: number): Figure {
  const wanted = 2 * services + 2;
  const bits = family === 6 ? Math.max(16, bitsFor(wanted + 1)) : bitsFor(wanted + 2);
  const capped = Math.min(bits, MAX_SERVICE_HOST_BITS);
  const length = addressBits(family) - capped;
  return figure(length, 'bits', () => ({
    title: 'Service range needed',
    formula: '2 × services + API server + DNS, within usable addresses',
    inputs: [{ name: 'Services at horizon', value: formatNumber(services) }],
    steps: [
      `2 × ${formatNumber(services)} + 2 = ${formatNumber(wanted)} addresses`,
      family === 6 && bits === 16 ? 'IPv6: a /112 at least' : `2^${bits} = ${formatNumber(2 ** bits)} holds them`,
      ...(bits > capped ? [`At most ${MAX_SERVICE_HOST_BITS} host bits are allowed: /${length}.`] : []),
    ],
    result: `/${length}`,
    source: { mark: 'C', text: 'Common practice: doubled, because the range cannot be changed once the cluster runs' },
  }));
}

/** Addresses services can have: all but the first and, in IPv4, the last. Check: /24 gives 254, /20 4,094, /16 65,534. */
export function serviceUsable(range: Prefix): Figure {
  const size = Number(prefixSize(range));
  const value = Math.max(0, size - (range.family === 4 ? 2 : 1));
  return figure(value, 'services', () => ({
    title: 'Services the range holds',
    formula: range.family === 4 ? '2^(32 − length) − 2' : '2^(128 − length) − 1',
    inputs: [{ name: 'Length', value: `/${range.length}` }],
    steps: [`${formatNumber(size)} addresses, the first${range.family === 4 ? ' and the last' : ''} not used`],
    result: `${formatNumber(value)} services`,
    source: memory,
  }));
}

/** Where a service range's static band lies and what stands at its first addresses. */
export interface ServiceBands {
  /** The API server's own service: the first usable address. */
  readonly apiServer: string;
  /** Cluster DNS by custom: the tenth address; absent when the range is too small. */
  readonly clusterDns: string | undefined;
  readonly staticFirst: string;
  readonly staticLast: string;
  readonly last: string;
  readonly staticSize: Figure;
}

/** The static band: min(max(16, size / 16), 256) addresses from the bottom. Undefined when the range is too small for services. */
export function serviceBands(range: Prefix): ServiceBands | undefined {
  const size = Number(prefixSize(range));
  const usable = serviceUsable(range).value;
  if (usable < 1) return undefined;
  const wanted = Math.min(Math.max(16, Math.floor(size / 16)), 256);
  const staticSize = Math.min(wanted, usable);
  const at = (n: number) => {
    const address = nthAddress(range, n);
    return address === undefined ? '' : formatAddress(address);
  };
  return {
    apiServer: at(1),
    clusterDns: usable >= 10 ? at(10) : undefined,
    staticFirst: at(1),
    staticLast: at(staticSize),
    last: at(usable),
    staticSize: figure(staticSize, 'addresses', () => ({
      title: 'Static band of the service range',
      formula: 'min(max(16, size ÷ 16), 256) from the bottom',
      inputs: [{ name: 'Addresses in the range', value: formatNumber(size) }],
      steps: [
        `size ÷ 16 = ${formatNumber(Math.floor(size / 16))}`,
        `within 16 to 256: ${wanted}`,
        `${at(1)} to ${at(staticSize)}; automatic addresses start above it`,
      ],
      result: `${staticSize} addresses`,
      source: memory,
    })),
  };
}
