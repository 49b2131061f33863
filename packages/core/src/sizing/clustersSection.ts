import { byId } from '../plan/index.js';
import type { Allocation, Block, Cluster, Network, Plan } from '../plan/index.js';
import { Alongside, followGroups, inGroups, placesBefore, section } from '../section/index.js';
import type { Groups } from '../section/index.js';
import { clusterFigures } from './clusterFigures.js';
import type { ClusterResult } from './clusterResult.js';
import { demand } from './demandSection.js';
import type { Neighbours } from './bound.js';
import { rangesByCluster, residents, residentsBeside } from './residents.js';
import type { Resident, Residents } from './residents.js';
import { siteShares } from './siteShares.js';
import type { Sizing } from './sizing.js';

const networkOf = ({ networkId }: Block) => networkId;

/** The address blocks of each network. */
const blocksByNetwork = section({
  name: 'blocks by network',
  reads: ['blocks'],
  needs: {},
  build: ({ blocks }) => inGroups(blocks, networkOf),
  follow: (last, { blocks }) => followGroups(last.value, [last.parts.blocks, blocks], networkOf),
});

interface Beside {
  readonly ranges: Groups<Allocation>;
  readonly blocks: Groups<Block>;
  readonly residents: Residents;
}

/** One result for each cluster, in the order of the plan. */
export const clusters = section({
  name: 'clusters',
  reads: ['clusters', 'networks'],
  needs: { demand, siteShares, ranges: rangesByCluster, blocks: blocksByNetwork, residents },
  build: (plan, needed): Alongside<Cluster, ClusterResult> =>
    new Alongside(
      plan.clusters,
      plan.clusters.map((_, at) => {
        const sizing = needed.demand.values[at] as Sizing;
        return resultOf(plan, sizing, needed.siteShares.of(sizing, at), needed);
      }),
    ),
  follow: (last, plan, needed) => {
    const places = placesBefore(last.value.items, plan.clusters);
    const isShareAlike = last.needed.siteShares === needed.siteShares;
    const isNetworkAlike = last.parts.networks === plan.networks;
    // Most edits leave most of what stands beside the clusters as it was; only what differs is looked at for each of them.
    const isRangeAlike = last.needed.ranges === needed.ranges;
    const isBlockAlike = last.needed.blocks === needed.blocks;
    const areResidentsAlike = last.needed.residents === needed.residents;
    const results = plan.clusters.map((cluster, at) => {
      const sizing = needed.demand.values[at] as Sizing;
      const known = last.value.values[places[at] as number];
      if (known?.sizing === sizing) {
        const isAlike =
          (isRangeAlike || known.allocations === rangesOf(cluster, needed)) &&
          (isBlockAlike || known.blocks === blocksOf(cluster, needed)) &&
          // With the same ranges and residents, nobody came or went.
          (areResidentsAlike || isSameBeside(known, needed)) &&
          (isShareAlike || isSameShare(known.neighbours, needed.siteShares.of(sizing, at))) &&
          (isNetworkAlike || known.network === byId(plan.networks, cluster.networkId));
        if (isAlike) return known;
      }
      return resultOf(plan, sizing, needed.siteShares.of(sizing, at), needed);
    });
    return new Alongside(plan.clusters, results);
  },
});

const none: readonly never[] = [];
const alone: ReadonlyMap<string, readonly Resident[]> = new Map();

function rangesOf({ id }: Cluster, { ranges }: Beside): readonly Allocation[] {
  return ranges.get(id) ?? none;
}

function blocksOf({ networkId }: Cluster, { blocks }: Beside): readonly Block[] {
  return blocks.get(networkId) ?? none;
}

/** Whether nobody came, went or takes more in the subnets of a cluster. */
function isSameBeside({ allocations, beside }: ClusterResult, { residents: now }: Beside): boolean {
  return allocations.every((range) => beside.get(range.id) === now.get(range.id));
}

function besideOf(
  allocations: readonly Allocation[],
  { residents: now }: Beside,
): ReadonlyMap<string, readonly Resident[]> {
  const own = allocations.flatMap((range): [string, readonly Resident[]][] => {
    const others = residentsBeside(now, range);
    return others.length === 0 ? [] : [[range.id, others]];
  });
  return own.length === 0 ? alone : new Map(own);
}

function isSameShare(a: Neighbours, b: Neighbours): boolean {
  return a.clusters === b.clusters && a.publicAddresses === b.publicAddresses;
}

function resultOf(
  { networks }: Pick<Plan, 'networks'>,
  sizing: Sizing,
  neighbours: Neighbours,
  beside: Beside,
): ClusterResult {
  const { cluster, site, profile } = sizing;
  const [allocations, blocks] = [rangesOf(cluster, beside), blocksOf(cluster, beside)];
  // The plan's integrity was checked when it was made: what a cluster refers to is there.
  const network = byId(networks, cluster.networkId) as Network;
  const residentsOfIt = besideOf(allocations, beside);
  const figures = clusterFigures({ sizing, allocations, neighbours, beside: residentsOfIt });
  return { cluster, site, network, profile, blocks, allocations, sizing, neighbours, beside: residentsOfIt, figures };
}
