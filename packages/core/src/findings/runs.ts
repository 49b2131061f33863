import { compareAddresses, containsAddress } from '../address/index.js';
import { heldAddresses, subnetsForRuns } from '../allocation/index.js';
import { byId, rangeOf, addressSpan } from '../plan/index.js';
import type { AddressParts } from '../allocation/index.js';
import type { Plan, Run } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

type Parts = AddressParts & Pick<Plan, 'allocations' | 'sites' | 'profiles'>;

/** Address runs that do not lie in one subnet of their cluster, or on addresses that somebody else holds. */
export function runChecks(plan: Parts): Finding[] {
  return plan.runs.flatMap((run) => runFinding(plan, run));
}

function runFinding(plan: Parts, run: Run): Finding[] {
  const cluster = byId(plan.clusters, run.clusterId);
  const site = cluster === undefined ? undefined : byId(plan.sites, cluster.siteId);
  const profile = site === undefined ? undefined : byId(plan.profiles, site.profileId);
  if (cluster === undefined || profile === undefined) return [];
  const subjects = [
    { kind: 'runs', id: run.id },
    { kind: 'clusters', id: cluster.id },
  ] as const;
  const { first, last } = addressSpan(run);
  const subnet = subnetsForRuns(cluster, plan.allocations)
    .map(rangeOf)
    .find((each) => containsAddress(each, first) && containsAddress(each, last));
  if (subnet === undefined)
    return [
      finding('run.outside', 'error', subjects, {
        run: run.name,
        count: run.count,
        first: run.first,
        cluster: cluster.name,
      }),
    ];
  const held = heldAddresses(plan, { prefix: subnet, networkId: cluster.networkId, profile }, run.id).find(
    // A device among them is told of by its own finding.
    (each) =>
      each.by !== 'device' && compareAddresses(each.last, first) >= 0 && compareAddresses(each.first, last) <= 0,
  );
  if (held === undefined) return [];
  return [
    finding('run.taken', 'error', subjects, { run: run.name, count: run.count, first: run.first, holder: held.what }),
  ];
}
