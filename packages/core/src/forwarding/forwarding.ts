import type { Address } from '../address/index.js';
import { grouped } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { changedIds, isSameBut } from './changedIds.js';
import { Crossings, NO_FAULTS } from './crossings.js';
import type { Faults } from './crossings.js';
import { rangesIn } from './forwardingParts.js';
import type { ForwardingParts, RangesOf } from './forwardingParts.js';
import type { ForwardingState, Ground } from './forwardingState.js';
import { groundOf } from './ground.js';
import { internetAddresses } from './host.js';
import { Links } from './links.js';
import { Lists } from './lists.js';
import type { NetworkSpace } from './networkSpace.js';
import { Routes } from './routes.js';
import { Spaces } from './spaces.js';
import { TunnelBook } from './tunnelBook.js';

const ofClusters: ReadonlySet<string> = new Set(['clusters', 'nodePools']);

/**
 * How packets are forwarded in a plan: the space of each network, its tables with typed and derived rows, filters and firewalls.
 * Each is compiled when it is first asked for; of the state before, what an edit did not touch is taken over.
 */
export class Forwarding implements ForwardingState {
  private readonly spaces: Spaces;
  private readonly grounds = new Map<string, Ground>();
  private standIns: readonly Address[] | undefined;
  private areOthersSame: boolean | undefined;
  readonly crossings: Crossings;
  readonly links: Links;
  readonly routes: Routes;
  readonly lists: Lists;
  readonly tunnels: TunnelBook;

  constructor(
    readonly parts: ForwardingParts,
    readonly rangesOf: RangesOf,
    private before?: Forwarding,
    readonly faults: Faults = NO_FAULTS,
  ) {
    const changed = before === undefined ? undefined : changedIds(before, this);
    // What no rule has a part in is the same, also where nobody has asked for it since.
    const same = changed === undefined ? undefined : before;
    this.spaces = same?.spaces ?? new Spaces(parts, rangesOf, before?.spaces);
    this.links = same?.links ?? new Links(parts);
    this.routes = same?.routes ?? new Routes(parts, this.spaces, this.links, before?.routes);
    this.lists = new Lists(parts, rangesOf, before?.lists, changed);
    this.standIns = same?.standIns;
    const isSame = same?.parts.connections === parts.connections && same.parts.members === parts.members;
    this.crossings = same !== undefined && isSame ? same.crossings : new Crossings(parts, rangesOf);
    // Tunnels rest on devices, and on nodes and devices that a lost zone takes along.
    const isSameGround = (['zones', 'devices'] as const).every(
      (what) => faults[what] === same?.faults[what] || faults[what].size + (same?.faults[what].size ?? 0) === 0,
    );
    this.tunnels = new TunnelBook(this, isSameGround ? same?.tunnels : undefined, changed);
  }

  /** Forwarding of a plan that nobody evaluates, such as one with a change tried out. */
  static of(plan: Plan, before?: Forwarding): Forwarding {
    return new Forwarding(plan, rangesIn(grouped(plan.allocations, 'clusterId')), before);
  }

  /** The same state in a drill. */
  with(faults: Faults, parts: ForwardingParts = this.parts): Forwarding {
    return new Forwarding(parts, this.rangesOf, this, faults);
  }

  get internet(): readonly Address[] {
    this.standIns ??= internetAddresses(this, 4);
    return this.standIns;
  }

  /** Compiles nothing more from the state before, which can then be let go. */
  release(): void {
    this.before = undefined;
    this.spaces.release();
    this.routes.release();
  }

  /** The space of a network. */
  space(networkId: string): NetworkSpace {
    return this.spaces.of(networkId);
  }

  /** What decides about packets within a network: the same object as in the state before while nothing of it is another. */
  groundOf(networkId: string): Ground {
    const known = this.grounds.get(networkId);
    if (known !== undefined) return known;
    const last = this.before?.grounds.get(networkId);
    const made = groundOf(this, networkId, last, last !== undefined && this.isOnGround(networkId));
    this.grounds.set(networkId, made);
    return made;
  }

  /** Whether an edit was only of clusters or ranges, and met nothing of a network: its links alone may bring something else. */
  private isOnGround(networkId: string): boolean {
    this.areOthersSame ??= this.before !== undefined && isSameBut(this.before, this, ofClusters);
    return this.areOthersSame && this.spaces.isUntouched(networkId);
  }
}
