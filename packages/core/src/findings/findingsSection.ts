import { domains } from '../domains/index.js';
import type { Domains } from '../domains/index.js';
import type { Cluster, Network } from '../plan/index.js';
import { bySubject, oncePer, section, together, unless, valuesIn } from '../section/index.js';
import type { Alongside } from '../section/index.js';
import { clusters, expectsMergers } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { connectionVerdicts, isPairwise, verdicts } from '../verdicts/index.js';
import type { ReuseGroup, Verdict, VerdictSet } from '../verdicts/index.js';
import { markOf } from './finding.js';
import type { Finding, FindingMark } from './finding.js';
import { overlapMark, reuseFinding, verdictFinding } from './overlapFindings.js';
import { hiddenParts } from './hiddenParts.js';
import { inRank, rank } from './ranked.js';
import type { Ranked } from './ranked.js';
import { checkCluster, planChecks } from './registry.js';

/** What was found about each cluster and its own ranges. */
const ownFindings = bySubject({
  name: 'own findings',
  reads: ['pools'],
  needs: { expectsMergers, clusters },
  subjects: (_, needed) => needed.clusters.items,
  dependsOn: ({ id }, { pools }, needed) => [needed.clusters.of(id), pools, needed.expectsMergers],
  near: (was, is) =>
    together(
      unless([was.parts.pools, is.parts.pools], [was.needed.expectsMergers, is.needed.expectsMergers]),
      valuesIn(was.needed.clusters, is.needed.clusters),
    ),
  look: ({ id }, { pools }, needed): readonly Finding[] =>
    checkCluster(needed.clusters.of(id) as ClusterResult, pools, needed.expectsMergers),
});

/** How a verdict is said. */
const overlapFindings = section({
  name: 'overlap findings',
  reads: ['networks'],
  needs: { domains },
  build: ({ networks }: { readonly networks: readonly Network[] }, needed: { readonly domains: Domains }) =>
    oncePer((verdict: Verdict) => verdictFinding(verdict, networks, needed.domains)),
});

/** All overlaps by severity: they can be many, and most edits leave every range where it is. */
const rankedOverlaps = section({
  name: 'ranked overlaps',
  reads: [],
  needs: { verdicts, asFinding: overlapFindings },
  build: (_, needed): Ranked => rank(needed.verdicts.verdicts().map(needed.asFinding)),
});

/** Notes on ranges that are used more than once. */
const reuseNotes = section({
  name: 'reuse notes',
  reads: [],
  needs: { verdicts, byConnections: connectionVerdicts },
  build: (_, needed): ReuseNotes => reuseNotesOf(needed.verdicts, needed.byConnections, new WeakMap()),
  follow: ({ value, needed: last }, _, needed) =>
    last.byConnections === needed.byConnections
      ? reuseNotesOf(needed.verdicts, needed.byConnections, value.known)
      : undefined,
});

interface ReuseNotes {
  readonly known: WeakMap<ReuseGroup, Finding>;
  readonly ranked: Ranked;
}

function reuseNotesOf(
  set: VerdictSet,
  byConnections: ReadonlyMap<string, readonly Verdict[]>,
  known: WeakMap<ReuseGroup, Finding>,
): ReuseNotes {
  const notes = set.reuseGroups().map((group) => {
    const note = known.get(group) ?? reuseFinding(group, set.usesWithin(group.outermost), byConnections);
    known.set(group, note);
    return note;
  });
  return { known, ranked: rank(notes) };
}

/** What one check found; most edits leave what most of them found. */
const rankOf = oncePer((found: readonly Finding[]) => rank(found));

/** The checks of the plan as a whole, by their names. */
const ofPlan = section({
  name: 'findings by plan',
  reads: [],
  needs: Object.fromEntries(planChecks.map((check) => [check.name, check])),
  build: (_, needed): readonly Ranked[] => Object.values(needed as Record<string, readonly Finding[]>).map(rankOf),
});

interface Overlapping {
  readonly clusters: Alongside<Cluster, ClusterResult>;
  readonly verdicts: VerdictSet;
  readonly hidden: ReadonlyMap<string, Finding>;
}

/** The verdicts of a cluster's ranges, each once; all that hides parts of one summary is that summary's one finding. */
function overlapsOf(clusterId: string, { clusters, verdicts: set, hidden }: Overlapping) {
  const pairs = new Set<Verdict>();
  const ofSummaries = new Set<Finding>();
  for (const { id } of clusters.of(clusterId)?.allocations ?? []) {
    for (const verdict of set.verdictsOf(id)) {
      const finding = isPairwise(verdict) ? undefined : hidden.get(verdict.b.id);
      if (isPairwise(verdict)) pairs.add(verdict);
      else if (finding !== undefined) ofSummaries.add(finding);
    }
  }
  return { pairs: [...pairs], hidden: [...ofSummaries] };
}

/** Findings about one cluster, overlaps of its ranges included: a question, since few clusters are looked at. */
export const findingsOfCluster = section({
  name: 'findings of a cluster',
  reads: [],
  needs: { clusters, verdicts, own: ownFindings, asFinding: overlapFindings, hidden: hiddenParts },
  build:
    (_, needed) =>
    (clusterId: string): readonly Finding[] => {
      const { pairs, hidden } = overlapsOf(clusterId, needed);
      return inRank([
        rank([...pairs.map(needed.asFinding), ...hidden, ...(needed.own.looks.of(clusterId)?.found ?? [])]),
      ]);
    },
});

/** Every finding: errors first, then warnings, then notes. */
export const findings = section({
  name: 'findings',
  reads: [],
  needs: { overlaps: rankedOverlaps, hidden: hiddenParts, ofPlan, own: ownFindings, reuse: reuseNotes },
  build: (_, needed): readonly Finding[] =>
    inRank([
      needed.overlaps,
      rank([...needed.hidden.values()]),
      ...needed.ofPlan,
      rankOf(needed.own.found),
      needed.reuse.ranked,
    ]),
});

/** The marks of every finding, in no order: what frames and summaries count. */
export const findingMarks = section({
  name: 'finding marks',
  reads: [],
  needs: { verdicts, hidden: hiddenParts, ofPlan, own: ownFindings, reuse: reuseNotes },
  build: (_, needed): readonly FindingMark[] => [
    ...needed.verdicts.unordered().map(overlapMark),
    ...[...needed.hidden.values()].map(markOf),
    ...inRank([...needed.ofPlan, needed.reuse.ranked]).map(markOf),
    ...needed.own.found.map(markOf),
  ],
});

/** The marks of what is found about one cluster, overlaps of its ranges included: a question. */
export const marksOfCluster = section({
  name: 'marks of a cluster',
  reads: [],
  needs: { clusters, verdicts, own: ownFindings, hidden: hiddenParts },
  build:
    (_, needed) =>
    (clusterId: string): readonly FindingMark[] => {
      const { pairs, hidden } = overlapsOf(clusterId, needed);
      return [...pairs.map(overlapMark), ...[...hidden, ...(needed.own.looks.of(clusterId)?.found ?? [])].map(markOf)];
    },
});
