import type { Cluster, Need } from '../plan/index.js';
import type { ForwardingParts } from '../forwarding/index.js';
import type { Reason, Verdict } from '../road/index.js';

/** What the columns of the matrix are about. */
export type MatrixColumn =
  | { readonly kind: 'api'; readonly label: string }
  | { readonly kind: 'internet'; readonly label: string }
  | { readonly kind: 'need'; readonly label: string; readonly need: Need }
  | { readonly kind: 'name servers' | 'time servers'; readonly label: string }
  | { readonly kind: 'in use' | 'nodes' | 'pods'; readonly label: string };

/** One cell: a verdict, or how many of several targets pass; undefined where the column is not about the cluster. */
export interface MatrixCell {
  readonly verdict: Verdict;
  /** What decides, of several targets of the first that does not pass; undefined when it passes. It may be that of a cluster that is alike. */
  readonly why: Reason | undefined;
  /** The question behind it, in the words of the question bar. */
  readonly from: string;
  readonly to: string;
  readonly passes: number;
  readonly of: number;
}

/** Every cluster by every column. */
export interface Matrix {
  readonly columns: readonly MatrixColumn[];
  readonly rows: readonly { readonly cluster: Cluster; readonly cells: readonly (MatrixCell | undefined)[] }[];
}

/** The columns that a plan has: its own API, the internet, needs, servers of the networks, ranges in use, other clusters. */
export function matrixColumns(parts: ForwardingParts): MatrixColumn[] {
  const has = (field: 'nameServers' | 'timeServers') => parts.networks.some((network) => network[field].length > 0);
  return [
    { kind: 'api', label: 'Own API' },
    ...parts.needs.map((need): MatrixColumn => ({ kind: 'need', label: need.name, need })),
    ...(has('nameServers') ? [{ kind: 'name servers', label: 'Name servers' } as const] : []),
    ...(has('timeServers') ? [{ kind: 'time servers', label: 'Time servers' } as const] : []),
    { kind: 'internet', label: 'Internet' },
    ...(parts.inUse.length > 0 ? [{ kind: 'in use', label: 'Ranges in use' } as const] : []),
    { kind: 'nodes', label: 'Other nodes' },
    { kind: 'pods', label: 'Other pods' },
  ];
}
