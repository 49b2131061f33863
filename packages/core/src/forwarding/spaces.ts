import { byId, changedBetween, groupBy, grouped } from '../plan/index.js';
import type { Cluster, InUseRange } from '../plan/index.js';
import { isSameList } from '../section/index.js';
import type { Near } from '../section/index.js';
import { withOtherRanges } from './forwardingParts.js';
import type { ForwardingParts, RangesOf } from './forwardingParts.js';
import { isSameInSpace, NetworkSpace } from './networkSpace.js';
import type { SpaceParts } from './networkSpace.js';

type Parts = Pick<ForwardingParts, 'clusters' | 'blocks' | 'subnets' | 'inUse'>;

const none: readonly never[] = [];

/** The space of each network, made when it is first asked for; of the state before, what an edit did not touch is taken over. */
export class Spaces {
  private readonly known = new Map<string, NetworkSpace>();
  private byNetwork: ReadonlyMap<string, readonly Cluster[]> | undefined;
  private inUse: ReadonlyMap<string, readonly InUseRange[]> | undefined;
  /** Of which networks an edit met the space; once it was asked for. */
  private touched: { readonly networks: Near } | undefined;

  constructor(
    private readonly parts: Parts,
    private readonly rangesOf: RangesOf,
    private before?: Spaces,
  ) {}

  /** Takes nothing more over from the state before, which can then be let go. */
  release(): void {
    this.before = undefined;
  }

  of(networkId: string): NetworkSpace {
    const known = this.known.get(networkId);
    if (known !== undefined) return known;
    const last = this.before?.known.get(networkId);
    const parts = last !== undefined && this.isUntouched(networkId) ? last.parts : this.partsOf(networkId);
    const space = last !== undefined && isSameSpace(last.parts, parts) ? last : new NetworkSpace(parts);
    this.known.set(networkId, space);
    return space;
  }

  /** Whether nothing that makes the space of a network is another object than before: asked once for all of them. */
  isUntouched(networkId: string): boolean {
    this.touched ??= { networks: this.touchedNetworks() };
    return this.touched.networks?.has(networkId) === false;
  }

  /** The networks of which something changed that their space is made of; any where it is not told by cluster. */
  private touchedNetworks(): Near {
    const was = this.before;
    const ranges = was === undefined ? undefined : withOtherRanges(was.rangesOf, this.rangesOf);
    const isSame = (['blocks', 'subnets', 'inUse'] as const).every((part) => was?.parts[part] === this.parts[part]);
    if (was === undefined || ranges === undefined || !isSame) return undefined;
    const { gone, come } = changedBetween(was.parts.clusters, this.parts.clusters);
    const resized = [was, this].flatMap(({ parts }) => [...ranges].flatMap((id) => byId(parts.clusters, id) ?? []));
    return new Set([...gone, ...come, ...resized].map(({ networkId }) => networkId));
  }

  private partsOf(networkId: string): SpaceParts {
    this.byNetwork ??= this.before?.parts.clusters === this.parts.clusters ? this.before.byNetwork : undefined;
    this.byNetwork ??= grouped(this.parts.clusters, 'networkId');
    this.inUse ??= groupBy(this.parts.inUse, (range) => range.networkId ?? '');
    return {
      blocks: grouped(this.parts.blocks, 'networkId').get(networkId) ?? none,
      subnets: grouped(this.parts.subnets, 'networkId').get(networkId) ?? none,
      inUse: this.inUse.get(networkId) ?? none,
      clusters: (this.byNetwork.get(networkId) ?? none).map((cluster) => ({
        cluster,
        ranges: this.rangesOf(cluster.id),
      })),
    };
  }
}

function isSameSpace(a: SpaceParts, b: SpaceParts): boolean {
  return (
    isSameList(a.blocks, b.blocks) &&
    isSameList(a.subnets, b.subnets) &&
    isSameList(a.inUse, b.inUse) &&
    a.clusters.length === b.clusters.length &&
    a.clusters.every(
      ({ cluster, ranges }, at) =>
        isSameInSpace(cluster, b.clusters[at]?.cluster) && isSameList(ranges, b.clusters[at]?.ranges ?? none),
    )
  );
}
