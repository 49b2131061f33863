import {
  contains,
  formatPrefix,
  overlaps,
  parsePrefix,
  prefixSize,
  rangeOf,
  subtract,
  worstVerdict,
} from '@wide-lattice/core';
import type { Evaluation, Prefix, Purpose, VerdictState } from '@wide-lattice/core';

/** One block drawn on the ribbon; start and width are shares of the view, 0 to 1. */
export interface RibbonBlock {
  readonly key: string;
  readonly prefix: string;
  readonly start: number;
  readonly width: number;
  readonly what: Purpose | 'elsewhere' | 'pool' | 'free' | 'several';
  readonly label: string;
  readonly detail: string;
  readonly clusterId: string | undefined;
  readonly verdict: VerdictState;
}

/** A stretch of address space to scale: pools, ranges of others, ranges of clusters, free space. */
export interface RibbonView {
  readonly view: string;
  readonly pools: readonly RibbonBlock[];
  readonly elsewhere: readonly RibbonBlock[];
  readonly clusters: readonly RibbonBlock[];
  readonly free: readonly RibbonBlock[];
}

/** Narrower than this share of the view, blocks are drawn together as "n ranges". */
const NARROWEST = 1 / 250;

/** The ribbon of one prefix; undefined when the text is no prefix. */
export function ribbonView(evaluation: Evaluation, text: string): RibbonView | undefined {
  const parsed = parsePrefix(text);
  if (!parsed.ok) return undefined;
  const view = parsed.value;
  const { plan } = evaluation;
  const inView = <T extends { readonly prefix: string }>(items: readonly T[]) =>
    items.filter((item) => overlaps(view, rangeOf(item)));
  const pools = inView(plan.pools).map((pool) =>
    drawn(view, rangeOf(pool), { key: pool.id, what: 'pool', label: pool.name, detail: pool.purposes.join(', ') }),
  );
  const elsewhere = inView(plan.inUse).map((range) =>
    drawn(view, rangeOf(range), {
      key: range.id,
      what: 'elsewhere',
      label: range.owner,
      detail: plan.networks.find(({ id }) => id === range.networkId)?.name ?? 'attached to no network',
      verdict: verdictOf(evaluation, range.id),
    }),
  );
  const names = new Map(plan.clusters.map((cluster) => [cluster.id, cluster.name]));
  const clusters = inView(plan.allocations).map((allocation) =>
    drawn(view, rangeOf(allocation), {
      key: allocation.id,
      what: allocation.purpose,
      label: names.get(allocation.clusterId) ?? '',
      detail: `${allocation.purpose} range${allocation.zone === '' ? '' : `, zone ${allocation.zone}`}`,
      clusterId: allocation.clusterId,
      verdict: verdictOf(evaluation, allocation.id),
    }),
  );
  const taken = [...inView(plan.inUse), ...inView(plan.allocations)].map(rangeOf);
  const free = subtract(view, taken).map((block) =>
    drawn(view, block, { key: `free ${formatPrefix(block)}`, what: 'free', label: 'free', detail: '' }),
  );
  return {
    view: formatPrefix(view),
    pools: pools.filter(({ width }) => width >= NARROWEST),
    elsewhere: gather(elsewhere),
    clusters: gather(clusters),
    free: free.filter(({ width }) => width >= NARROWEST),
  };
}

function verdictOf(evaluation: Evaluation, id: string): RibbonBlock['verdict'] {
  return worstVerdict(evaluation.verdictsOf(id));
}

function drawn(
  view: Prefix,
  block: Prefix,
  what: Pick<RibbonBlock, 'key' | 'what' | 'label' | 'detail'> & Partial<Pick<RibbonBlock, 'clusterId' | 'verdict'>>,
): RibbonBlock {
  const isWider = contains(block, view);
  const share = (value: bigint) => Number((value * 1_000_000_000n) / prefixSize(view)) / 1_000_000_000;
  return {
    prefix: formatPrefix(block),
    start: isWider ? 0 : share(block.base - view.base),
    width: isWider ? 1 : share(prefixSize(block)),
    clusterId: undefined,
    verdict: 'clear',
    ...what,
  };
}

/** Draws neighbours that are too narrow to see as one block that says how many they are. */
function gather(blocks: readonly RibbonBlock[]): RibbonBlock[] {
  const sorted = [...blocks].sort((a, b) => a.start - b.start || b.width - a.width);
  const found: RibbonBlock[] = [];
  let narrow: RibbonBlock[] = [];
  const flush = () => {
    const first = narrow[0];
    const last = narrow.at(-1);
    if (first !== undefined && last !== undefined)
      found.push(narrow.length === 1 ? { ...first, width: NARROWEST } : together(narrow, first, last));
    narrow = [];
  };
  for (const block of sorted) {
    const previous = narrow.at(-1);
    if (block.width >= NARROWEST) {
      flush();
      found.push(block);
      continue;
    }
    if (previous !== undefined && block.start - (narrow[0]?.start ?? 0) > 4 * NARROWEST) flush();
    narrow.push(block);
  }
  flush();
  return found;
}

function together(blocks: readonly RibbonBlock[], first: RibbonBlock, last: RibbonBlock): RibbonBlock {
  const worst =
    blocks.find(({ verdict }) => verdict === 'conflict') ?? blocks.find(({ verdict }) => verdict !== 'clear');
  return {
    key: `several ${first.key}`,
    prefix: first.prefix,
    start: first.start,
    width: Math.max(NARROWEST, last.start + last.width - first.start),
    what: 'several',
    label: `${blocks.length} ranges`,
    detail: `${first.prefix} to ${last.prefix}`,
    clusterId: undefined,
    verdict: worst?.verdict ?? 'clear',
  };
}
