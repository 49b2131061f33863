import type { FindingCode } from '../english/index.js';
import type { Evaluation } from '../evaluation/index.js';
import { inWords } from '../findings/index.js';
import type { DescribedFinding } from '../findings/index.js';
import { byId, confirmable, grouped } from '../plan/index.js';
import type { Confirmation, Site } from '../plan/index.js';
import { isInScope } from './scope.js';
import type { Scope } from './scope.js';

/** What must hold before anything is built, as far as the plan can tell. */
export type ToldBefore = 'addresses' | 'quotas' | 'names' | 'images and services';

const toldBy: Partial<Readonly<Record<FindingCode, ToldBefore>>> = {
  'range.missing': 'addresses',
  'overlap.conflict': 'addresses',
  'reservation.taken': 'addresses',
  'clusters.over-quota': 'quotas',
  'nodes.over-quota': 'quotas',
  'peerings.over-quota': 'quotas',
  'name.self-run': 'names',
  'need.unreached': 'images and services',
};

/** One prerequisite that fails, with the finding that says so and its fixes. */
export interface FailedPrerequisite {
  readonly about: ToldBefore;
  readonly finding: DescribedFinding;
}

/** One thing that only people can know, at every site of the scope. */
export interface Confirmable {
  readonly what: Confirmation['what'];
  readonly confirmed: readonly Confirmation[];
  /** Sites at which it is not confirmed. */
  readonly open: readonly Site[];
}

/** What must hold before a scope is built. */
export interface Prerequisites {
  readonly failed: readonly FailedPrerequisite[];
  readonly confirmable: readonly Confirmable[];
  /** Whether all of them hold. */
  readonly areMet: boolean;
}

/** What must hold before the clusters of a scope are built: what the plan can tell fails or holds; the rest is confirmed by hand, site by site. */
export function prerequisitesOf(evaluation: Evaluation, scope: Scope): Prerequisites {
  const { plan } = evaluation;
  const clusters = plan.clusters.filter((cluster) => isInScope(scope, cluster));
  const siteIds = new Set(clusters.map(({ siteId }) => siteId));
  const inScope = new Set(clusters.flatMap(({ id, networkId }) => [id, networkId]));
  for (const id of siteIds) inScope.add(id);
  const ranges = grouped(plan.allocations, 'clusterId');
  for (const { id } of clusters) for (const range of ranges.get(id) ?? []) inScope.add(range.id);
  const failed = evaluation.findings().flatMap((finding): FailedPrerequisite[] => {
    const about = toldBy[finding.code];
    if (about === undefined || !finding.subjects.some(({ id }) => inScope.has(id))) return [];
    return [{ about, finding: inWords(plan, finding) }];
  });
  const sites = [...siteIds].flatMap((id) => byId(plan.sites, id) ?? []);
  const known = grouped(plan.confirmations, 'what');
  const byHand = confirmable.map((what): Confirmable => {
    const confirmed = (known.get(what) ?? []).filter(({ siteId }) => siteIds.has(siteId));
    const where = new Set(confirmed.map(({ siteId }) => siteId));
    return { what, confirmed, open: sites.filter(({ id }) => !where.has(id)) };
  });
  const areMet = failed.length === 0 && byHand.every(({ open }) => open.length === 0);
  return { failed, confirmable: byHand, areMet };
}
