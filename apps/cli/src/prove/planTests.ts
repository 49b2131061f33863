import { readPlace, readTarget } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { Suites } from '@wide-lattice/core/rehearsal';
import type { Asking } from './prove.js';

/**
 * The tests that are generated from a plan, as questions about packets; services, names and requests are left out. Tests of packet sizes are
 * sent by UDP: TCP would cut what it sends to what fits.
 */
export function testsOf(plan: Plan): Asking[] {
  return new Suites(plan).of({ kind: 'plan' }).flatMap(({ suite, from, to, bytes }) => {
    const [place, target] = [readPlace(plan, from), readTarget(plan, to)];
    if (!place.ok || !target.ok) return [];
    const isOfSize = suite === 'packet size' && 'service' in target.value;
    return {
      from: place.value,
      to: isOfSize ? { ...target.value, service: { protocol: 'udp', port: 53 } } : target.value,
      words: `${suite}: ${from} to ${to}`,
      ...(isOfSize ? { bytes } : {}),
    };
  });
}
