import { addressFurther, containsAddress, formatAddress } from '../address/index.js';
import { heldInSubnet } from '../allocation/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Plan, Subnet } from '../plan/index.js';
import { compareAddresses } from '../address/index.js';
import type { ProposalMaker } from './proposal.js';

/** A private endpoint for each hosted API that is to answer privately, in an endpoint subnet of the cluster’s network. */
export function proposeApiEndpoints(maker: ProposalMaker): void {
  for (const cluster of maker.plan.clusters) {
    if (cluster.controlPlane !== 'hosted' || cluster.apiEndpoint === 'public') continue;
    if (maker.plan.endpoints.some(({ clusterId }) => clusterId === cluster.id)) continue;
    const subnet = maker.plan.subnets.find(({ networkId, siteId, purpose }) => networkId === cluster.networkId && siteId === cluster.siteId && purpose === 'endpoint'); // prettier-ignore
    const address = subnet === undefined ? undefined : freeAddress(maker.plan, subnet);
    // Without a subnet for endpoints the API answers in the node subnets, as it is sized for.
    if (subnet === undefined || address === undefined) continue;
    const intent = `API of ${cluster.name} is private`;
    maker.group(`the ${intent}`, () => {
      maker.want('endpoints', { name: `${cluster.name}-api`, subnetId: subnet.id, address, serves: 'cluster API', clusterId: cluster.id, intent }, (each) => each.clusterId === cluster.id); // prettier-ignore
    });
  }
}

/** The lowest address of a subnet that nobody holds; undefined when it is full. */
export function freeAddress(plan: Plan, subnet: Subnet): string | undefined {
  const profile = byId(plan.profiles, byId(plan.sites, subnet.siteId)?.profileId ?? '');
  const range = rangeOf(subnet);
  if (profile === undefined || range.family === 6) return undefined;
  const held = heldInSubnet(plan, range, profile);
  const taken = new Set([...plan.endpoints, ...plan.bastions].map(({ address }) => address));
  for (let at = 0; at < 2 ** Math.min(16, 32 - range.length); at++) {
    const address = addressFurther(range, at);
    if (!containsAddress(range, address)) return undefined;
    const isHeld = held.some(
      ({ first, last }) => compareAddresses(first, address) <= 0 && compareAddresses(address, last) <= 0,
    );
    if (!isHeld && !taken.has(formatAddress(address))) return formatAddress(address);
  }
  return undefined;
}
