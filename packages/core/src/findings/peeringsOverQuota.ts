import type { Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';
import { profilesByNetwork } from './profilesByNetwork.js';

/** More peerings on a network than its provider allows; planned ones count. */
export function peeringsOverQuota(
  plan: Pick<Plan, 'profiles' | 'sites' | 'networks' | 'links' | 'subnets' | 'clusters'>,
): Finding[] {
  const counts = new Map<string, number>();
  for (const link of plan.links) {
    if (link.kind !== 'peering') continue;
    for (const id of link.networkIds) counts.set(id, (counts.get(id) ?? 0) + 1);
  }
  const least = Math.min(...plan.profiles.map(({ peeringsPerNetwork }) => peeringsPerNetwork));
  const suspects = [...counts].filter(([, count]) => count > least).map(([id]) => id);
  const profiles = profilesByNetwork(plan, new Set(suspects));
  return plan.networks.flatMap((network) => {
    const count = counts.get(network.id) ?? 0;
    return (profiles.get(network.id) ?? [])
      .filter(({ peeringsPerNetwork }) => count > peeringsPerNetwork)
      .map((profile) =>
        finding(
          'peerings.over-quota',
          'error',
          [{ kind: 'networks', id: network.id }],
          { network: network.name, count, quota: profile.peeringsPerNetwork, profile: profile.name },
          { part: `${network.id} ${profile.id}` },
        ),
      );
  });
}
