import { freeAddressIn } from '../allocation/index.js';
import type { ProposalMaker } from './proposal.js';
import { formatProposed } from '../english/index.js';

/** A private endpoint for each hosted API that is to answer privately, in an endpoint subnet of the cluster’s network. */
export function proposeApiEndpoints(maker: ProposalMaker): void {
  for (const cluster of maker.plan.clusters) {
    if (cluster.controlPlane !== 'hosted' || cluster.apiEndpoint === 'public') continue;
    if (maker.plan.endpoints.some(({ clusterId }) => clusterId === cluster.id)) continue;
    const subnet = maker.plan.subnets.find(
      ({ networkId, siteId, purpose }) =>
        networkId === cluster.networkId && siteId === cluster.siteId && purpose === 'endpoint',
    );
    const address = subnet === undefined ? undefined : freeAddressIn(maker.plan, subnet.id);
    // Without a subnet for endpoints the API answers in the node subnets, as it is sized for.
    if (subnet === undefined || address === undefined) continue;
    const intent = formatProposed('egress.api', { cluster: cluster.name });
    maker.group(`the ${intent}`, () => {
      maker.want(
        'endpoints',
        {
          name: `${cluster.name}-api`,
          subnetId: subnet.id,
          address,
          serves: 'cluster API',
          clusterId: cluster.id,
          intent,
        },
        (each) => each.clusterId === cluster.id,
      );
    });
  }
}
