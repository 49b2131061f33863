import { grouped, rangeOf } from '../plan/index.js';
import type { Block, Network, Plan, Profile } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';
import { profilesByNetwork } from './profilesByNetwork.js';

/** Address blocks that the provider cannot make: too small, too large, or too many for one network. */
export function networkLimits(
  plan: Pick<Plan, 'profiles' | 'sites' | 'networks' | 'blocks' | 'subnets' | 'clusters'>,
): Finding[] {
  const owners = new Set(plan.blocks.map(({ networkId }) => networkId));
  const profiles = profilesByNetwork(plan, owners);
  return plan.networks.flatMap((network) => {
    const blocks = grouped(plan.blocks, 'networkId').get(network.id) ?? [];
    return (profiles.get(network.id) ?? []).flatMap((profile) => [
      ...blocks.flatMap((block) => blockSize(block, network, profile)),
      ...blockCount(blocks, network, profile),
    ]);
  });
}

function blockSize(block: Block, network: Network, profile: Profile): Finding[] {
  const { family, length } = rangeOf(block);
  if (family === 6 || (length <= profile.smallestBlock && length >= profile.largestBlock)) return [];
  return [
    finding('block.size', 'error', [{ kind: 'blocks', id: block.id }], {
      title: `${block.prefix} cannot be an address block of ${network.name} under ${profile.name}`,
      detail: `There, a block is a /${profile.largestBlock} to a /${profile.smallestBlock}. Split it, or choose another size.`,
      part: `${block.id} ${profile.id}`,
    }),
  ];
}

function blockCount(blocks: readonly Block[], network: Network, profile: Profile): Finding[] {
  return ([4, 6] as const).flatMap((family) => {
    const count = blocks.filter((block) => rangeOf(block).family === family).length;
    if (count <= profile.blocksPerNetwork) return [];
    return [
      finding('block.count', 'error', [{ kind: 'networks', id: network.id }], {
        title: `${network.name} has ${count} IPv${family} address blocks, and ${profile.name} allows ${profile.blocksPerNetwork}`,
        detail: 'Merge neighbouring blocks into one, or move part of the clusters to another network.',
        part: `${network.id} ${profile.id} ${family}`,
      }),
    ];
  });
}
