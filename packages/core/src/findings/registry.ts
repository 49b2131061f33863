import type { Plan, Pool } from '../plan/index.js';
import type { ClusterResult } from './clusterResult.js';
import type { Finding } from './finding.js';
import { attachmentDeaf } from './attachmentDeaf.js';
import { attachmentsFull } from './attachmentsFull.js';
import { clustersOverQuota } from './clustersOverQuota.js';
import { demandProblems } from './demandProblems.js';
import { limitBeforeHorizon } from './limitBeforeHorizon.js';
import { mtuBelowFloor, narrowLinks } from './mtu.js';
import { nativeNotOffered } from './nativeNotOffered.js';
import { networkLimits } from './networkLimits.js';
import { nodesOverQuota } from './nodesOverQuota.js';
import { nodePartTooWide } from './nodePartTooWide.js';
import { perNodeTooSmall } from './perNodeTooSmall.js';
import { peeringsOverQuota } from './peeringsOverQuota.js';
import { poolInUse } from './poolInUse.js';
import { poolOverlap } from './poolOverlap.js';
import { rangeMissing } from './rangeMissing.js';
import { rangeOutsideBlocks } from './rangeOutsideBlocks.js';
import { rangeOutsidePools } from './rangeOutsidePools.js';
import { specialSpace, widelyUsed } from './rangeSpace.js';
import { rangeStray } from './rangeStray.js';
import { rangeTooSmall } from './rangeTooSmall.js';
import { routesOverLimit } from './routesOverLimit.js';
import { runChecks } from './runs.js';
import { serviceRangeTooLarge } from './serviceRangeTooLarge.js';
import { rangeSubnetSize, subnetLimits } from './subnetLimits.js';

const clusterChecks = [
  rangeMissing,
  rangeTooSmall,
  rangeStray,
  perNodeTooSmall,
  routesOverLimit,
  serviceRangeTooLarge,
  nodePartTooWide,
  nodesOverQuota,
  mtuBelowFloor,
  nativeNotOffered,
  rangeOutsideBlocks,
  rangeSubnetSize,
  demandProblems,
  limitBeforeHorizon,
];

/** Everything found about one cluster and its own ranges, overlaps apart. */
export function checkCluster(result: ClusterResult, pools: readonly Pool[], expectsJoins: boolean): Finding[] {
  const { cluster, allocations } = result;
  return [
    ...clusterChecks.flatMap((check) => check(result)),
    ...rangeOutsidePools(result, pools),
    ...allocations.flatMap((range) => {
      const label = `${cluster.name}: the ${range.purpose} range`;
      return [...specialSpace('allocations', range, label), ...widelyUsed('allocations', range, label, expectsJoins)];
    }),
  ];
}

/** A check of the plan as a whole and the parts it reads: it holds until one of them changes. */
export interface PlanCheck {
  readonly reads: readonly (keyof Plan)[];
  readonly check: (plan: Plan) => Finding[];
}

/** The checks of the ground and of what clusters share. */
export const planChecks: readonly PlanCheck[] = [
  { reads: ['pools'], check: ({ pools }) => poolOverlap(pools) },
  { reads: ['pools', 'settings'], check: poolSpaceChecks },
  { reads: ['pools', 'inUse'], check: poolInUse },
  { reads: ['profiles', 'sites', 'networks', 'blocks', 'subnets', 'clusters'], check: networkLimits },
  { reads: ['profiles', 'sites', 'subnets'], check: subnetLimits },
  { reads: ['profiles', 'sites', 'clusters'], check: clustersOverQuota },
  { reads: ['profiles', 'sites', 'networks', 'links', 'subnets', 'clusters'], check: peeringsOverQuota },
  { reads: ['runs', 'clusters', 'allocations', 'inUse', 'sites', 'profiles'], check: runChecks },
  { reads: ['links', 'networks'], check: narrowLinks },
  { reads: ['nodePools', 'clusters', 'subnets', 'sites', 'profiles', 'shapes'], check: attachmentsFull },
  { reads: ['attachments', 'links', 'networks'], check: attachmentDeaf },
];

function poolSpaceChecks({ pools, settings }: Plan): Finding[] {
  return pools.flatMap((pool) => {
    const label = `Pool ${pool.name}`;
    return [...specialSpace('pools', pool, label), ...widelyUsed('pools', pool, label, settings.expectsJoins)];
  });
}
