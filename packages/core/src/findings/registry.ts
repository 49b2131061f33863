import type { Plan, Pool } from '../plan/index.js';
import { forwarding } from '../forwarding/index.js';
import { naming } from '../naming/index.js';
import { section } from '../section/index.js';
import type { AnySection, Looks, SectionGiving } from '../section/index.js';
import { demand, expectsMergers, rangesByCluster, siteShares } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import type { Finding } from './finding.js';
import { balancerFindings, policiesWithoutNames, routeMisfits } from './balancerFindings.js';
import { certificateFindings } from './certificateFindings.js';
import { recordControllerFindings } from './recordControllerFindings.js';
import { selfRunFindings, unansweredHosts } from './nameFindings.js';
import { recordFindings } from './recordFindings.js';
import { resolverFindings, searchFindings } from './resolverFindings.js';
import { targetFindings } from './targetFindings.js';
import { overlappingZones, zoneFindings } from './zoneFindings.js';
import { entryFindings } from './entryFindings.js';
import { egressFindings } from './egressFindings.js';
import { brokenExpectations } from './expectations.js';
import { addressTaken } from './addressTaken.js';
import { asymmetricPaths } from './asymmetric.js';
import { ingressFindings } from './ingressFindings.js';
import { mtuFiltered } from './mtuFiltered.js';
import { missingOpenings } from './openings.js';
import { wantedCells } from './reachFindings.js';
import { uselessInFilters, uselessInFirewalls } from './rulesUseless.js';
import { attachmentDeaf } from './attachmentDeaf.js';
import { attachmentsFull } from './attachmentsFull.js';
import { clustersOverQuota } from './clustersOverQuota.js';
import { demandProblems } from './demandProblems.js';
import { connectionFindings, exportFindings } from './connectionFindings.js';
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
import { rangePurpose } from './rangePurpose.js';
import { rangeStray } from './rangeStray.js';
import { rangeTooSmall } from './rangeTooSmall.js';
import { routesOverLimit } from './routesOverLimit.js';
import { reservationChecks } from './reservations.js';
import { serviceRangeTooLarge } from './serviceRangeTooLarge.js';
import { serviceBalancers } from './serviceBalancers.js';
import { rangeSubnetSize, subnetLimits } from './subnetLimits.js';
import { subnetShared } from './subnetShared.js';

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
  subnetShared,
  demandProblems,
  limitBeforeHorizon,
];

/** Everything found about one cluster and its own ranges, overlaps apart. */
export function checkCluster(result: ClusterResult, pools: readonly Pool[], joinsLikely: boolean): Finding[] {
  const { cluster, allocations } = result;
  const found: Finding[] = [];
  for (const check of clusterChecks) for (const each of check(result)) found.push(each);
  for (const each of rangeOutsidePools(result, pools)) found.push(each);
  for (const range of allocations) {
    const owner = { is: 'range', cluster: cluster.name, purpose: range.purpose } as const;
    found.push(...specialSpace('allocations', range, owner), ...widelyUsed('allocations', range, owner, joinsLikely));
  }
  return found;
}

/** A check of the plan as a whole: a section that gives findings, and holds until what it reads changes. */
type PlanCheck = AnySection & { readonly build: (...from: never) => readonly Finding[] };

function check<const R extends keyof Plan>(
  name: string,
  reads: readonly R[],
  build: (parts: Pick<Plan, R>) => readonly Finding[],
): PlanCheck {
  return section({ name, reads, needs: {}, build });
}

/** A check that looks at one subject at a time. */
function fromSection(name: string, looks: SectionGiving<Looks<Finding>>): PlanCheck {
  return section({ name, reads: [], needs: { looks }, build: (_, needed): readonly Finding[] => needed.looks.found });
}

/** Who holds single addresses of subnets. */
const holders = ['subnets', 'clusters', 'reservations', 'inUse', 'bastions', 'endpoints', 'balancers'] as const;

/** The checks of the ground and of what clusters share. */
export const planChecks: readonly PlanCheck[] = [
  check('pools that overlap', ['pools'], ({ pools }) => poolOverlap(pools)),
  section({
    name: 'space of pools',
    reads: ['pools'],
    needs: { expectsMergers },
    build: ({ pools }, needed): readonly Finding[] =>
      pools.flatMap((pool) => {
        const owner = { is: 'pool', pool: pool.name } as const;
        return [...specialSpace('pools', pool, owner), ...widelyUsed('pools', pool, owner, needed.expectsMergers)];
      }),
  }),
  check('pools in use', ['pools', 'inUse'], poolInUse),
  check('limits of networks', ['profiles', 'sites', 'networks', 'blocks', 'subnets', 'clusters'], networkLimits),
  check('limits of subnets', ['profiles', 'sites', 'subnets'], subnetLimits),
  section({
    name: 'clusters over quota',
    reads: ['sites', 'profiles'],
    needs: { siteShares },
    build: clustersOverQuota,
  }),
  check('peerings over quota', ['profiles', 'sites', 'networks', 'links', 'subnets', 'clusters'], peeringsOverQuota),
  check('reserved addresses', [...holders, 'allocations', 'sites', 'profiles'], reservationChecks),
  check('addresses of devices', [...holders, 'sites', 'profiles'], addressTaken),
  check('narrow links', ['links', 'networks'], narrowLinks),
  section({
    name: 'additional interfaces',
    reads: ['nodePools', 'subnets', 'sites', 'profiles'],
    needs: { demand },
    build: attachmentsFull,
  }),
  section({
    name: 'purposes of subnets',
    reads: ['clusters', 'subnets'],
    needs: { ranges: rangesByCluster },
    build: rangePurpose,
    follow: ({ value }, parts, needed) => {
      const found = rangePurpose(parts, needed);
      return found.length === value.length && found.every((each, i) => each === value[i]) ? value : found;
    },
  }),
  check('deaf attachments', ['attachments', 'links', 'networks'], attachmentDeaf),
  fromSection('workloads and services', ingressFindings),
  check('services without balancer', ['services', 'clusters', 'backends', 'controllers'], serviceBalancers),
  fromSection('entryPoints', entryFindings),
  fromSection('unanswered hosts', unansweredHosts),
  fromSection('names of self-run', selfRunFindings),
  fromSection('zones', zoneFindings),
  fromSection('servers in records', targetFindings),
  fromSection('records', recordFindings),
  check('overlapping zones', ['zones', 'networks', 'links'], overlappingZones),
  check('record controllers', ['recordControllers', 'zones'], recordControllerFindings),
  fromSection('search lists', searchFindings),
  section({ name: 'resolvers', reads: [], needs: { naming }, build: resolverFindings }),
  section({ name: 'certificates', reads: [], needs: { naming }, build: certificateFindings }),
  connectionFindings,
  fromSection('exports', exportFindings),
  fromSection('load balancers', balancerFindings),
  fromSection('routes', routeMisfits),
  fromSection('policies', policiesWithoutNames),
  section({
    name: 'unreached',
    reads: [],
    needs: { wanted: wantedCells },
    build: (_, needed): readonly Finding[] => needed.wanted.found,
  }),
  brokenExpectations,
  fromSection('useless firewall rules', uselessInFirewalls),
  fromSection('useless filter rules', uselessInFilters),
  section({
    name: 'asymmetric paths',
    reads: ['clusters', 'firewalls'],
    needs: { forwarding },
    build: asymmetricPaths,
  }),
  fromSection('narrow ways', mtuFiltered),
  fromSection('missing openings', missingOpenings),
  section({
    name: 'ways out',
    reads: [
      'networks',
      'subnets',
      'clusters',
      'nodePools',
      'sites',
      'profiles',
      'routeTables',
      'routes',
      'natDevices',
      'firewalls',
    ],
    needs: { forwarding, demand },
    build: egressFindings,
  }),
];
