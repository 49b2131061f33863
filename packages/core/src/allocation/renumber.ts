import { formatPrefix, parsePrefix, prefixSize } from '../address/index.js';
import { addOperation, applyOperations, byId, newId, rangeOf, withFallbacks } from '../plan/index.js';
import type { Allocation, Cluster, Operation, Plan, Pool } from '../plan/index.js';
import { expectGood } from '../result.js';
import { isInternalRange } from '../verdicts/index.js';
import { freePrivateSpace } from './privateSpace.js';
import type { ProposedRange } from './proposal.js';
import { propose } from './propose.js';

/** One way to end a conflict, with all it takes as one change. */
export interface Renumbering {
  readonly title: string;
  /** What it disturbs, in words. */
  readonly disturbs: string;
  /** 0: nothing built; 1: a link is not made; 2: a new pool; 3: rebuild of one cluster; 4: rebuild and a new pool. */
  readonly rank: number;
  readonly ranges: readonly ProposedRange[];
  readonly operations: readonly Operation[];
}

/**
 * Ways to end the overlaps of some ranges, those that disturb least first. Ranges that are pinned never move; those of built
 * clusters only with a rebuild. `linkIds` are planned links that the overlap needs: not making them is a way too.
 */
export function renumberings(plan: Plan, rangeIds: readonly string[], linkIds: readonly string[] = []): Renumbering[] {
  const moves = rangeIds
    .flatMap((id) => byId(plan.allocations, id) ?? [])
    .filter((range) => !range.isPinned)
    .flatMap((range) => movesOf(plan, range));
  const unmade = linkIds
    .flatMap((id) => byId(plan.links, id) ?? [])
    .map((link): Renumbering => ({
      title: `Do not make the link ${link.name}`,
      disturbs: 'The networks it was to join stay apart.',
      rank: 1,
      ranges: [],
      operations: [
        ...plan.attachments
          .filter(({ linkId }) => linkId === link.id)
          .map(({ id }): Operation => ({ op: 'remove', kind: 'attachments', id })),
        { op: 'remove', kind: 'links', id: link.id },
      ],
    }));
  const moved = ({ ranges }: Renumbering) =>
    ranges.reduce((sum, { after }) => sum + prefixSize(expectGood(parsePrefix(after))), 0n);
  return [...moves, ...unmade].sort(
    (a, b) =>
      a.rank - b.rank || (moved(a) < moved(b) ? -1 : moved(a) > moved(b) ? 1 : 0) || (a.title < b.title ? -1 : 1),
  );
}

function movesOf(plan: Plan, range: Allocation): Renumbering[] {
  const cluster = byId(plan.clusters, range.clusterId);
  if (cluster === undefined) return [];
  const what = `the ${range.purpose} range of ${cluster.name}`;
  const rebuild = cluster.isBuilt
    ? `${cluster.name} is built: it has to be rebuilt, and its ${cluster.nodesNow} nodes moved over.`
    : '';
  const found: Renumbering[] = [];
  const within = propose(plan, { move: [range.id], isRebuild: true });
  const [to] = within.ranges;
  if (to !== undefined)
    found.push({
      title: `Move ${what} to ${to.after} in ${to.poolName}`,
      disturbs: rebuild === '' ? 'Nothing that is built.' : rebuild,
      rank: cluster.isBuilt ? 3 : 0,
      ranges: within.ranges,
      operations: within.operations,
    });
  const pool = newPool(plan, range, cluster);
  const added = pool === undefined ? undefined : applyOperations(plan, [addOperation('pools', pool)]);
  if (pool === undefined || added?.ok !== true) return found;
  const out = propose(added.plan, { move: [range.id], isRebuild: true });
  const [there] = out.ranges;
  if (there === undefined || there.poolName !== pool.name) return found;
  found.push({
    title: `Move ${what} to ${there.after} in a new pool ${pool.prefix}`,
    disturbs: `A new pool has to be agreed and advertised.${rebuild === '' ? '' : ` ${rebuild}`}`,
    rank: cluster.isBuilt ? 4 : 2,
    ranges: out.ranges,
    operations: [addOperation('pools', pool), ...out.operations],
  });
  return found;
}

/** A pool in private space that nothing in the plan touches, four times as large as the range, for its site alone so that it is asked first. */
function newPool(plan: Plan, range: Allocation, cluster: Cluster): Pool | undefined {
  const { family, length } = rangeOf(range);
  const wanted = Math.min(family === 4 ? 24 : 56, Math.max(4, length - 2));
  const prefix = freePrivateSpace(plan, family, wanted);
  if (prefix === undefined) return undefined;
  const text = formatPrefix(prefix);
  return withFallbacks('pools', {
    id: newId(),
    name: `New space ${text}`,
    prefix: text,
    purposes: [range.purpose],
    siteId: cluster.siteId,
    isShared: isInternalRange(cluster, range.purpose),
  });
}
