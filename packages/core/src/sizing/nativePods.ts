import type { Profile, Shape } from '../plan/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** Shapes below this many vCPU are capped lower. Source: common practice. */
const LARGE_VCPUS = 30;
const SMALL_CAP = 110;
const LARGE_CAP = 250;
const PREFIX_ADDRESSES = 16;

/**
 * Pods one node of a shape can hold when they take addresses from subnets: interfaces × (slots − 1) + 2, or with /28 prefixes
 * × 16, at most 110 below 30 vCPU and 250 above, and the shape's own cap. 0 where the provider offers no native pods.
 * Source: common practice; shapes with the same vCPU and memory can differ.
 */
export function nativePodsPerNode(shape: Shape, { nativeRule }: Pick<Profile, 'nativeRule'>): Figure {
  const { interfaces, slotsPerInterface, vcpus, podCap, name } = shape;
  const each = nativeRule === 'prefixes' ? PREFIX_ADDRESSES : 1;
  const byInterfaces = interfaces * (slotsPerInterface - 1) * each + 2;
  const cap = Math.min(podCap, vcpus < LARGE_VCPUS ? SMALL_CAP : LARGE_CAP);
  const value = nativeRule === 'none' ? 0 : Math.min(byInterfaces, cap);
  return figure(value, 'pods', () => ({
    title: `Pods on a node of shape ${name}`,
    formula:
      nativeRule === 'prefixes' ? 'interfaces × (slots − 1) × 16 + 2, capped' : 'interfaces × (slots − 1) + 2, capped',
    inputs: [
      { name: 'Interfaces', value: formatNumber(interfaces) },
      { name: 'Slots on each', value: formatNumber(slotsPerInterface) },
      { name: 'Cap', value: `${formatNumber(cap)} pods` },
    ],
    steps:
      nativeRule === 'none'
        ? ['The provider gives pods no addresses from subnets.']
        : [`${formatNumber(byInterfaces)} by its interfaces, ${formatNumber(value)} with the cap`],
    result: `${formatNumber(value)} pods`,
    source: { mark: 'C', text: 'Common practice: one address of each interface is its own' },
  }));
}
