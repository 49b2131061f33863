import type { Address, Prefix } from '../address/index.js';
import type { Link, Route } from '../plan/index.js';
import type { Subject } from './place.js';

/** Where a route leads. */
export type NextHop =
  | { readonly kind: 'local' }
  | { readonly kind: 'pods'; readonly clusterId: string }
  | { readonly kind: 'link'; readonly link: Link; readonly toNetworkId: string | undefined }
  | { readonly kind: 'nat'; readonly id: string }
  | { readonly kind: 'firewall'; readonly id: string }
  | { readonly kind: 'internet' }
  | { readonly kind: 'drop' }
  | { readonly kind: 'gone'; readonly route: Route };

/** How routes are preferred among equally long ones. Source: common practice. */
export type Origin = 'local' | 'pods' | 'static' | 'learned';

/** Where a row comes from. */
export type RowSource =
  | { readonly is: 'held'; readonly name: string }
  | { readonly is: 'per node'; readonly clusterId: string }
  | { readonly is: 'own advertisement' }
  | { readonly is: 'entered'; readonly intent: string }
  | { readonly is: 'learned'; readonly networkId: string; readonly linkId: string };

/** A row of a route table, typed or derived. */
export interface RouteRow {
  readonly prefix: Prefix;
  readonly origin: Origin;
  /** How much the network prefers a learned route, by its attachment; 0 for all others. */
  readonly preference: number;
  /** Rank among learned routes, by the kinds of links that the profile prefers; 0 for all others. */
  readonly rank: number;
  readonly hop: NextHop;
  /** The entity it comes from. */
  readonly subject: Subject;
  readonly from: RowSource;
  readonly route?: Route;
}

/** Why a row lost to the one that decides. */
export type Loss = 'shorter' | 'origin' | 'preference' | 'rank' | 'same hop' | 'equal' | 'tie';

/**
 * What a look-up found: the row that decides, those that lost to it with the reason, those that are as good and lead to the
 * same network over another link, and one that is as good and leads elsewhere.
 */
export interface LookUp {
  readonly destination: Address;
  readonly row: RouteRow | undefined;
  readonly lost: readonly { readonly row: RouteRow; readonly why: Loss }[];
  readonly equal: readonly RouteRow[];
  readonly tie: RouteRow | undefined;
}

/** A look-up in a table of a network, or in its derived routes where it has no table. */
export interface TableLookUp {
  readonly networkId: string;
  readonly tableId: string | undefined;
  readonly found: LookUp;
}
