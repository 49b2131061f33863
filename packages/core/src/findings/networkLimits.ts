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
    finding(
      'block.size',
      'error',
      [{ kind: 'blocks', id: block.id }],
      {
        prefix: block.prefix,
        network: network.name,
        profile: profile.name,
        largest: profile.largestBlock,
        smallest: profile.smallestBlock,
      },
      { part: `${block.id} ${profile.id}` },
    ),
  ];
}

function blockCount(blocks: readonly Block[], network: Network, profile: Profile): Finding[] {
  return ([4, 6] as const).flatMap((family) => {
    const count = blocks.filter((block) => rangeOf(block).family === family).length;
    if (count <= profile.blocksPerNetwork) return [];
    return [
      finding(
        'block.count',
        'error',
        [{ kind: 'networks', id: network.id }],
        { network: network.name, count, family, profile: profile.name, most: profile.blocksPerNetwork },
        { part: `${network.id} ${profile.id} ${family}` },
      ),
    ];
  });
}
