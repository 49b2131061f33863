import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { bitsFor } from './bits.js';

/** Length of the IPv4 subnet that holds entry addresses (load balancers, endpoints) and the provider's reserved ones. Source: common practice. */
export function entrySubnetLength(entryAddresses: number, reserved: number): Figure {
  const wanted = entryAddresses + reserved;
  const length = 32 - bitsFor(wanted);
  return figure(length, 'bits', () => ({
    title: 'Entry subnet needed',
    formula: '32 − ⌈log2(entry + reserved)⌉',
    inputs: [
      { name: 'Entry addresses', value: sayNumber(entryAddresses) },
      { name: 'Reserved by the provider', value: sayNumber(reserved) },
    ],
    steps: [
      `${sayNumber(entryAddresses)} + ${reserved} = ${sayNumber(wanted)} addresses`,
      `2^${32 - length} = ${sayNumber(2 ** (32 - length))} holds them`,
    ],
    result: `/${length}`,
    source: { mark: 'C', text: 'Common practice: load balancers in subnets of their own' },
  }));
}
