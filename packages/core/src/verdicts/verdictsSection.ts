import { byId, changedBetween } from '../plan/index.js';
import type { Allocation, Plan } from '../plan/index.js';
import { domains } from '../domains/index.js';
import { section } from '../section/index.js';
import type { Groups } from '../section/index.js';
import { rangesByCluster } from '../sizing/index.js';
import { advertisedUses } from './advertised.js';
import { furtherNetworks } from './furtherNetworks.js';
import type { FurtherNetworks } from './furtherNetworks.js';
import { useOfAllocation, useOfBlock, useOfInUse, useOfSubnet, usesOfPlan } from './use.js';
import type { Use } from './use.js';
import { VerdictSet } from './verdictSet.js';

type Parts = Pick<Plan, 'allocations' | 'clusters' | 'inUse' | 'subnets' | 'blocks' | 'networks'>;

/** Conflicts, shadowed destinations and reuse of all ranges. An edit is handed over range by range. */
export const verdicts = section({
  name: 'verdicts',
  reads: ['allocations', 'clusters', 'inUse', 'subnets', 'blocks', 'networks'],
  needs: { domains, ranges: rangesByCluster, advertised: advertisedUses, further: furtherNetworks },
  build: (parts, needed) => VerdictSet.of(needed.domains, [...usesOfPlan(parts, needed.further), ...needed.advertised]),
  follow: (last, parts, needed) =>
    last.needed.domains === needed.domains && last.parts.networks === parts.networks
      ? followed(last.value, { ...last.parts, ...last.needed }, { ...parts, ...needed })
      : undefined,
});

interface State extends Parts {
  readonly ranges: Groups<Allocation>;
  readonly advertised: readonly Use[];
  readonly further: FurtherNetworks;
}

function followed(set: VerdictSet, before: State, after: State): VerdictSet {
  const allocations = changedBetween(before.allocations, after.allocations);
  const clusters = changedBetween(before.clusters, after.clusters);
  const inUse = changedBetween(before.inUse, after.inUse);
  const subnets = changedBetween(before.subnets, after.subnets);
  const blocks = changedBetween(before.blocks, after.blocks);
  // A cluster's own edit can change what all its ranges are: where they live, whether they stay inside, what they are called.
  const touched = new Set([...clusters.gone, ...clusters.come].map(({ id }) => id));
  if (before.further !== after.further)
    for (const id of [...before.further.keys(), ...after.further.keys()])
      if (before.further.get(id)?.join() !== after.further.get(id)?.join()) touched.add(id);
  const ofTouched = ({ ranges }: State) => [...touched].flatMap((id) => ranges.get(id) ?? []);
  // They are made anew as a list; those that are the same are told apart below.
  const isAdvertisedSame = before.advertised === after.advertised;
  const gone = [
    ...inUse.gone,
    ...subnets.gone,
    ...blocks.gone,
    ...(isAdvertisedSame ? [] : before.advertised),
    ...allocations.gone,
    ...ofTouched(before),
  ];
  const held = new Map(gone.flatMap(({ id }) => set.find(id) ?? []).map((use) => [use.id, use]));
  const networkName = (id: string) => byId(after.networks, id)?.name ?? '';
  const useOf = (allocation: Allocation): Use[] => {
    const cluster = byId(after.clusters, allocation.clusterId);
    return cluster === undefined ? [] : [useOfAllocation(allocation, cluster, after.further.get(cluster.id))];
  };
  const come = new Map<string, Use>();
  for (const use of [
    ...inUse.come.map(useOfInUse),
    ...subnets.come.map(useOfSubnet),
    ...blocks.come.map((block) => useOfBlock(block, networkName(block.networkId))),
    ...(isAdvertisedSame ? [] : after.advertised),
    ...[...allocations.come, ...ofTouched(after)].flatMap(useOf),
  ]) {
    const old = held.get(use.id);
    // Most edits of a cluster leave its ranges as they were.
    if (old !== undefined && isSameUse(old, use)) held.delete(use.id);
    else come.set(use.id, use);
  }
  return set.with([...held.values()], [...come.values()]);
}

function isSameUse(a: Use, b: Use): boolean {
  return (
    a.prefix === b.prefix &&
    a.networkId === b.networkId &&
    a.furtherIds?.join() === b.furtherIds?.join() &&
    a.clusterId === b.clusterId &&
    a.isInternal === b.isInternal &&
    a.subnetAt === b.subnetAt &&
    a.purpose === b.purpose &&
    a.isMovable === b.isMovable &&
    a.lock === b.lock &&
    a.advertised?.linkIds.join() === b.advertised?.linkIds.join() &&
    a.label === b.label
  );
}
