import { formatCount } from '@wide-lattice/core/working';
import {
  addressValue,
  contains,
  formatPrefix,
  intersect,
  overlaps,
  parent,
  parsePrefix,
  prefixSize,
  subtract,
} from '@wide-lattice/core/address';
import { growthRooms } from '@wide-lattice/core/allocation';
import { rangeOf } from '@wide-lattice/core/plan';
import { worstVerdict } from '@wide-lattice/core/verdicts';
import type { Prefix } from '@wide-lattice/core/address';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { Allocation, Plan, Purpose } from '@wide-lattice/core/plan';
import type { VerdictState } from '@wide-lattice/core/verdicts';

/** One block drawn on the ribbon; start and width are shares of the view, 0 to 1. */
export interface RibbonBlock {
  readonly key: string;
  readonly prefix: string;
  readonly start: number;
  readonly width: number;
  readonly what: Purpose | 'elsewhere' | 'pool' | 'block' | 'subnet' | 'room' | 'free' | 'several';
  readonly label: string;
  readonly detail: string;
  readonly clusterId: string | undefined;
  readonly verdict: VerdictState;
  /** An allocated range whose edges can be dragged: not pinned, of a cluster that is not built. */
  readonly canResize: boolean;
}

/** One line of the ribbon. */
export interface RibbonLane {
  readonly name: string;
  readonly blocks: readonly RibbonBlock[];
}

/** A stretch of address space to scale, from what holds to what is held: pools, blocks, subnets, ranges of others, of clusters. */
export interface RibbonView {
  readonly view: string;
  readonly lanes: readonly RibbonLane[];
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
  const verdictOf = (id: string) => worstVerdict(evaluation.verdictsOf(id));
  const network = (id: string | null) => plan.networks.find((each) => each.id === id)?.name ?? 'attached to no network';
  const pools = inView(plan.pools).map((pool) =>
    drawn(view, rangeOf(pool), { key: pool.id, what: 'pool', label: pool.name, detail: pool.purposes.join(', ') }),
  );
  const blocks = inView(plan.blocks).map((block) =>
    drawn(view, rangeOf(block), {
      key: block.id,
      what: 'block',
      label: network(block.networkId),
      detail: 'address block',
      verdict: verdictOf(block.id),
    }),
  );
  const subnets = inView(plan.subnets).map((subnet) =>
    drawn(view, rangeOf(subnet), {
      key: subnet.id,
      what: 'subnet',
      label: subnet.name,
      detail: `subnet for ${subnet.delegatedTo === '' ? subnet.purpose : subnet.delegatedTo} in ${network(subnet.networkId)}`,
      verdict: verdictOf(subnet.id),
    }),
  );
  const elsewhere = inView(plan.inUse).map((range) =>
    drawn(view, rangeOf(range), {
      key: range.id,
      what: 'elsewhere',
      label: range.owner,
      detail: network(range.networkId),
      verdict: verdictOf(range.id),
    }),
  );
  const allocations = inView(plan.allocations);
  const free = freeBlocks(plan, view, allocations);
  const rooms = roomBlocks(plan, view, allocations, free);
  const clusters = clusterBlocks(evaluation, view, allocations, verdictOf);
  const lanes: RibbonLane[] = [
    { name: 'Pools', blocks: wideEnough(pools) },
    { name: 'Blocks', blocks: wideEnough(blocks) },
    { name: 'Subnets', blocks: gather(subnets) },
    { name: 'In use', blocks: gather(elsewhere) },
    {
      name: 'Clusters',
      blocks: [
        ...wideEnough(free.map((block) => drawn(view, block, freeWords(block)))),
        ...wideEnough(rooms),
        ...gather(clusters),
      ],
    },
  ];
  // Blocks and subnets are lines only where there are some; the others tell by being empty.
  const isShown = ({ name, blocks: own }: RibbonLane) => own.length > 0 || (name !== 'Blocks' && name !== 'Subnets');
  return { view: formatPrefix(view), lanes: lanes.filter(isShown) };
}

function freeWords(block: Prefix) {
  return { key: `free ${formatPrefix(block)}`, what: 'free', label: 'free', detail: '' } as const;
}

function freeBlocks({ inUse, subnets }: Plan, view: Prefix, allocations: readonly Allocation[]): Prefix[] {
  return subtract(view, [...inUse, ...subnets, ...allocations].map(rangeOf));
}

/** Room to grow that is still free, beside the ranges that want it. */
function roomBlocks(
  plan: Plan,
  view: Prefix,
  allocations: readonly Allocation[],
  free: readonly Prefix[],
): RibbonBlock[] {
  return growthRooms(plan, allocations).flatMap(({ allocation, grown, room }) =>
    room
      .filter((part) => overlaps(view, part))
      .flatMap((part) => intersect(part, free))
      .map((part) =>
        drawn(view, part, {
          key: `room ${allocation.id} ${formatPrefix(part)}`,
          what: 'room',
          label: 'room',
          detail: `room for ${allocation.prefix} to grow to ${formatPrefix(grown)}`,
        }),
      ),
  );
}

function clusterBlocks(
  { plan }: Evaluation,
  view: Prefix,
  allocations: readonly Allocation[],
  verdictOf: (id: string) => VerdictState,
): RibbonBlock[] {
  const clusters = new Map(plan.clusters.map((cluster) => [cluster.id, cluster]));
  return allocations.map((allocation) => {
    const cluster = clusters.get(allocation.clusterId);
    return drawn(view, rangeOf(allocation), {
      key: allocation.id,
      what: allocation.purpose,
      label: cluster?.name ?? '',
      detail: `${allocation.purpose} range${allocation.zone === '' ? '' : `, zone ${allocation.zone}`}`,
      clusterId: allocation.clusterId,
      verdict: verdictOf(allocation.id),
      canResize: !allocation.isPinned && cluster?.isBuilt !== true,
    });
  });
}

function wideEnough(blocks: readonly RibbonBlock[]): RibbonBlock[] {
  return blocks.filter(({ width }) => width >= NARROWEST);
}

type Words = Pick<RibbonBlock, 'key' | 'what' | 'label' | 'detail'> &
  Partial<Pick<RibbonBlock, 'clusterId' | 'verdict' | 'canResize'>>;

function drawn(view: Prefix, block: Prefix, words: Words): RibbonBlock {
  const isWider = contains(block, view);
  const share = (value: bigint) => Number((value * 1_000_000_000n) / prefixSize(view)) / 1_000_000_000;
  return {
    prefix: formatPrefix(block),
    start: isWider ? 0 : share(addressValue(block) - addressValue(view)),
    width: isWider ? 1 : share(prefixSize(block)),
    clusterId: undefined,
    verdict: 'clear',
    canResize: false,
    ...words,
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

/** The smallest prefix that holds both. */
function around(first: string, last: string): string {
  const [low, high] = [parsePrefix(first), parsePrefix(last)];
  if (!low.ok || !high.ok) return first;
  let found = low.value;
  for (let wider = parent(found); wider !== undefined && !contains(found, high.value); wider = parent(found))
    found = wider;
  return formatPrefix(found);
}

function together(blocks: readonly RibbonBlock[], first: RibbonBlock, last: RibbonBlock): RibbonBlock {
  const worst =
    blocks.find(({ verdict }) => verdict === 'conflict') ?? blocks.find(({ verdict }) => verdict !== 'clear');
  return {
    key: `several ${first.key}`,
    prefix: around(first.prefix, last.prefix),
    start: first.start,
    width: Math.max(NARROWEST, last.start + last.width - first.start),
    what: 'several',
    label: formatCount(blocks.length, 'range'),
    detail: `${first.prefix} to ${last.prefix}`,
    clusterId: undefined,
    verdict: worst?.verdict ?? 'clear',
    canResize: false,
  };
}
