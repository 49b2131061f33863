import type { Family, Prefix } from '../address/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure, Source } from '../working/index.js';
import type { Counts } from './counts.js';
import type { Resident } from './residents.js';
import type { Sizing } from './sizing.js';

/** One way to raise a limit, with what it costs. */
export interface Raise {
  /** "A /22 instead of the /23 of zone n1." */
  readonly words: string;
  /** IPv4 addresses it takes on top. */
  readonly addresses: number;
  /** What it costs per month on top; null when the price is not known. */
  readonly monthly: number | null;
  /** Whether the cluster has to be built anew for it. */
  readonly isRebuild: boolean;
  /** Whether somebody else has to agree: the provider, for a quota. */
  readonly isAsked: boolean;
}

/** What others at a cluster's site hold. */
export interface Neighbours {
  /** Clusters at the site, this one included. */
  readonly clusters: number;
  /** Public addresses that the others take at the horizon. */
  readonly publicAddresses: number;
}

/** What limits are counted from besides the cluster's own demand. */
export interface LimitContext {
  readonly sizing: Sizing;
  /** The ranges that serve one need, subnets in their turn. */
  readonly rangesOf: (purpose: 'node' | 'pod' | 'service', zone: string, family: Family) => readonly HeldRange[];
  readonly neighbours: Neighbours;
}

/** A range with who else lives in it. */
export interface HeldRange {
  readonly range: Prefix;
  readonly others: readonly Resident[];
}

/** What can stop growth. */
export type LimitCode =
  | 'node-subnets'
  | 'pod-subnets'
  | 'pod-range'
  | 'service-range'
  | 'nodes-per-cluster'
  | 'pods-per-cluster'
  | 'machine-shape'
  | 'routes-per-table'
  | 'balancer-members'
  | 'clusters-per-site'
  | 'node-ports'
  | 'snat-ports'
  | 'public-addresses';

/** A capacity and what a number of nodes asks of it. The limit is the most nodes whose demand it holds. */
export interface Bound {
  readonly code: LimitCode;
  /** How it is shown. */
  readonly name: string;
  /** What it is in a sentence: "addresses in the node subnet of zone n1". */
  readonly what: string;
  readonly capacity: Figure;
  /** Never falls as nodes are added. */
  readonly demandOf: (counts: Counts, total: number) => number;
  readonly formula: string;
  readonly source: Source;
  readonly raises: (target: number) => readonly Raise[];
  /** The first month in which what is asked and what others take are more than there is, where others live in it too and grow. */
  readonly monthFull?: () => Figure;
}

/** 65,536 − 1,024 ports of one public address and destination. Source: common practice. */
export const SNAT_PORTS = 64_512;

/** A rule of the trade without a published source. */
export const common = (text: string): Source => ({ mark: 'C', text: `Common practice: ${text}` });

/** A rule written from memory of a published source. */
export const memory = (text: string): Source => ({ mark: 'M', text: `${text} (from memory)` });

/** A capacity that is given, not computed. */
export function given(value: number, unit: string, title: string, name: string, source: Source): Figure {
  return figure(value, unit, () => ({
    title,
    formula: 'given',
    inputs: [{ name, value: formatNumber(value) }],
    steps: [],
    result: `${formatNumber(value)} ${unit}`,
    source,
  }));
}

/** Something that grows with the nodes, at this many: its count at the horizon in proportion, rounded up. */
export function withNodes({ growth }: Sizing, atHorizon: number, total: number): number {
  return growth.nodesHorizon === 0 ? atHorizon : Math.ceil((atHorizon * total) / growth.nodesHorizon);
}
