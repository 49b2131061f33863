import { comparePrefixes, contains, formatPrefix } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { groupBy, rangeOf } from '../plan/index.js';
import type { Allocation, Block, Cluster, InUseRange, Subnet } from '../plan/index.js';
import { oncePer } from '../section/index.js';
import { RowLookup } from './rowLookup.js';

/** Something that holds addresses in a network. */
export interface Holder {
  readonly kind: 'nodes' | 'pods' | 'entry' | 'subnet' | 'in use' | 'block';
  readonly prefix: Prefix;
  /** The entity in the plan. */
  readonly subject: { readonly kind: 'allocations' | 'subnets' | 'inUse' | 'blocks'; readonly id: string };
  readonly label: string;
  readonly cluster?: SpaceCluster;
  readonly allocation?: Allocation;
  readonly subnet?: Subnet;
}

const ofSpace = ['id', 'name', 'podMode', 'siteId'] as const satisfies readonly (keyof Cluster)[];

/** What of a cluster has a part in the space of its network: the space stays the same object while only other fields change. */
export type SpaceCluster = Pick<Cluster, (typeof ofSpace)[number]>;

/** Whether two states of a cluster are one for the space of their network. */
export function isSameInSpace(a: SpaceCluster, b: SpaceCluster | undefined): boolean {
  return a === b || (b !== undefined && ofSpace.every((field) => a[field] === b[field]));
}

/** What a network's own space is made of. */
export interface SpaceParts {
  readonly blocks: readonly Block[];
  readonly subnets: readonly Subnet[];
  readonly inUse: readonly InUseRange[];
  /** Its clusters with their ranges. */
  readonly clusters: readonly { readonly cluster: SpaceCluster; readonly ranges: readonly Allocation[] }[];
}

/** The destinations that a network has by itself: who holds which of its addresses. */
export class NetworkSpace {
  readonly holders: readonly Holder[];
  /** Local routes: the outermost of what lies in the network itself. */
  readonly local: readonly Holder[];
  /** Pod ranges of its clusters that are routed, a prefix per node. */
  readonly routed: readonly Holder[];
  /** What it advertises when it lists nothing: its local routes and the pod ranges that are routed in it. */
  readonly advertised: readonly Prefix[];
  private readonly lookup: RowLookup;
  private shared: readonly string[] | undefined;

  constructor(readonly parts: SpaceParts) {
    this.holders = holdersOf(parts);
    const isRouted = ({ kind, cluster }: Holder) => kind === 'pods' && cluster?.podMode === 'routed';
    this.routed = this.holders.filter(isRouted);
    this.local = outermost(this.holders.filter((holder) => !isRouted(holder)));
    this.advertised = [...this.local, ...this.routed].map(({ prefix }) => prefix);
    this.lookup = new RowLookup(this.holders.map(({ prefix }) => prefix));
  }

  /** Who holds an address: the innermost, or undefined. */
  holderOf(address: Address): Holder | undefined {
    return this.holders[this.lookup.best(address)];
  }

  /** Whether a prefix lies in something that the network holds itself. */
  holds(prefix: Prefix): boolean {
    return this.lookup.all(prefix).some((row) => (this.holders[row] as Holder).prefix.length <= prefix.length);
  }

  /** Clusters that live in a subnet together with others. */
  get sharing(): readonly string[] {
    if (this.shared !== undefined) return this.shared;
    const byRange = groupBy(
      this.holders.filter(({ cluster }) => cluster !== undefined),
      ({ prefix }) => formatPrefix(prefix),
    );
    const together = [...byRange.values()].map((all) => new Set(all.map(({ cluster }) => cluster?.id ?? '')));
    this.shared = [...new Set(together.flatMap((ids) => (ids.size > 1 ? [...ids] : [])))];
    return this.shared;
  }

  /** The ranges of clusters that are one subnet with this one, itself included, in one order. */
  livingIn(prefix: Prefix): readonly Holder[] {
    return this.lookup
      .all(prefix)
      .map((row) => this.holders[row] as Holder)
      .filter((holder) => holder.cluster !== undefined && holder.prefix.length === prefix.length);
  }

  /** Who holds any part of a prefix: the same objects while nothing of them is another. */
  around(prefix: Prefix): readonly Holder[] {
    const holders = (rows: readonly number[]) => rows.map((row) => this.holders[row] as Holder);
    return [
      ...holders(this.lookup.all(prefix)).filter((holder) => holder.prefix.length <= prefix.length),
      ...holders(this.lookup.inside(prefix)).filter((holder) => holder.prefix.length > prefix.length),
    ];
  }

  /** The subnet around an address, if one is planned there. */
  subnetOf(address: Address): Subnet | undefined {
    for (const row of this.lookup.all(address)) {
      const { subnet } = this.holders[row] as Holder;
      if (subnet !== undefined) return subnet;
    }
    return undefined;
  }
}

function holdersOf({ blocks, subnets, inUse, clusters }: SpaceParts): Holder[] {
  // Of equal prefixes the first wins a look-up: a cluster's range before the subnet it fills.
  return [
    ...clusters.flatMap(({ cluster, ranges }) => ranges.flatMap((range) => holderOfRange(cluster, range))),
    ...subnets.map(holderOfSubnet),
    ...inUse.map(holderOfUse),
    ...blocks.map(holderOfBlock),
  ];
}

// Of what did not change a holder is the same object in every space.
const holderOfSubnet = oncePer((subnet: Subnet): Holder => ({
  kind: 'subnet',
  prefix: rangeOf(subnet),
  subject: { kind: 'subnets', id: subnet.id },
  label: `subnet ${subnet.name}`,
  subnet,
}));
const holderOfUse = oncePer((range: InUseRange): Holder => ({
  kind: 'in use',
  prefix: rangeOf(range),
  subject: { kind: 'inUse', id: range.id },
  label: range.owner,
}));
const holderOfBlock = oncePer((block: Block): Holder => ({
  kind: 'block',
  prefix: rangeOf(block),
  subject: { kind: 'blocks', id: block.id },
  label: `address block ${block.prefix}`,
}));
const holders = new WeakMap<Allocation, Holder>();

/** A cluster's range as far as its network knows of it: overlay pods and services are inside the cluster only. */
function holderOfRange(cluster: SpaceCluster, allocation: Allocation): readonly Holder[] {
  const { purpose } = allocation;
  if (purpose === 'service' || (purpose === 'pod' && cluster.podMode === 'overlay')) return [];
  const known = holders.get(allocation);
  if (known?.cluster === cluster) return [known];
  const kinds = { node: 'nodes', pod: 'pods', entry: 'entry' } as const;
  const holder: Holder = {
    kind: kinds[purpose],
    prefix: rangeOf(allocation),
    subject: { kind: 'allocations', id: allocation.id },
    label: `${purpose} range of ${cluster.name}${allocation.zone === '' ? '' : ` in ${allocation.zone}`}`,
    cluster,
    allocation,
  };
  holders.set(allocation, holder);
  return [holder];
}

/** Those that lie in no other, the widest first: of equal ones the first. */
function outermost(holders: readonly Holder[]): Holder[] {
  // In this order a prefix stands right before what lies in it.
  const nested = [...holders].sort((a, b) => comparePrefixes(a.prefix, b.prefix));
  const found = new Set<Holder>();
  let outer: Prefix | undefined;
  for (const holder of nested) {
    if (outer !== undefined && contains(outer, holder.prefix)) continue;
    outer = holder.prefix;
    found.add(holder);
  }
  return holders.filter((holder) => found.has(holder)).sort((a, b) => a.prefix.length - b.prefix.length);
}
