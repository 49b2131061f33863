import { containsAddress, formatAddress, parseAddress } from '../address/index.js';
import { heldAddresses, isHeldBy } from '../allocation/index.js';
import type { AddressParts } from '../allocation/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

type Parts = AddressParts & Pick<Plan, 'sites' | 'profiles'>;

const devices = [
  ['bastions', 'bastion'],
  ['endpoints', 'private endpoint'],
  ['balancers', 'load balancer'],
] as const;

/** Devices at an address that the provider keeps, that the gateway has, or that somebody else holds; gateways outside their subnets. */
export function addressTaken(plan: Parts): Finding[] {
  return [
    ...devices.flatMap(([kind, what]) => plan[kind].flatMap((each) => deviceAt(plan, kind, what, each))),
    ...gatewayOutside(plan),
  ];
}

function deviceAt(
  plan: Parts,
  kind: (typeof devices)[number][0],
  what: string,
  { id, name, subnetId, address, ...rest }: Plan['balancers'][number] | Plan['bastions'][number],
): Finding[] {
  const subnet = byId(plan.subnets, subnetId);
  const profile = byId(plan.profiles, byId(plan.sites, subnet?.siteId ?? '')?.profileId ?? '');
  // The address of a public load balancer is of the provider's space.
  if (address === null || subnet === undefined || profile === undefined) return [];
  if ('side' in rest && rest.side === 'public') return [];
  const at = expectGood(parseAddress(address));
  const held = heldAddresses(plan, { prefix: rangeOf(subnet), networkId: subnet.networkId, profile }, id).find(
    // Of two devices the first is told of, once for both.
    (each) => isHeldBy(each, at) && (each.by !== 'device' || id < (each.id ?? '')),
  );
  if (held === undefined) return [];
  return [
    finding('address.taken', 'error', [{ kind, id }], {
      name,
      address,
      what,
      holder: held.what,
      isHeld: held.id !== undefined,
      subnet: subnet.name,
      prefix: subnet.prefix,
    }),
  ];
}

function gatewayOutside({ subnets }: Parts): Finding[] {
  return subnets.flatMap((subnet) => {
    if (subnet.gateway === null) return [];
    const gateway = expectGood(parseAddress(subnet.gateway));
    if (containsAddress(rangeOf(subnet), gateway)) return [];
    return [
      finding('gateway.outside', 'error', [{ kind: 'subnets', id: subnet.id }], {
        subnet: subnet.name,
        gateway: formatAddress(gateway),
        prefix: subnet.prefix,
      }),
    ];
  });
}
