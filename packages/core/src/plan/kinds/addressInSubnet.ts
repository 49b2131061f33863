import { containsAddress, parseAddress } from '../../address/index.js';
import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { rangeOf } from '../rangeOf.js';
import { wrong } from './rules.js';
import type { FieldProblem } from './rules.js';

/** An address that does not lie in the subnet it is said to be in. */
export function addressOutside(
  plan: Plan,
  { address, subnetId }: { readonly address: string; readonly subnetId: string },
  field = 'address',
): FieldProblem[] {
  const subnet = byId(plan.subnets, subnetId);
  const parsed = parseAddress(address);
  if (subnet === undefined || !parsed.ok || containsAddress(rangeOf(subnet), parsed.value)) return [];
  return [
    wrong(
      field,
      'address.outside-subnet',
      `${address} is not in the subnet ${subnet.name}, ${subnet.prefix}.`,
      'Choose an address in it, or another subnet.',
    ),
  ];
}
