import type { Cluster, Profile } from '../plan/index.js';

/** Extra nodes while an upgrade rolls: a share of the nodes, and what the provider adds at least. */
export interface Surge {
  readonly percent: number;
  readonly least: number;
}

/** The surge of a cluster under its provider's rule. */
export function surgeOf(cluster: Cluster, profile: Profile): Surge {
  return { percent: cluster.surgePercent, least: profile.leastSurge };
}

/** Nodes that run at once while an upgrade rolls: the nodes and the surge on top, rounded up. */
export function withSurge(nodes: number, { percent, least }: Surge): number {
  return nodes + Math.max(Math.ceil((nodes * percent) / 100), nodes === 0 ? 0 : least);
}

/** Nodes at rest that leave room for the surge when `most` can run at once: the other way round, rounded down; never below 0. */
export function atRest(most: number, { percent, least }: Surge): number {
  return Math.max(0, Math.min(Math.floor((most * 100) / (100 + percent)), most - least));
}

/** "10 %", "10 %, at least 1 node". */
export function saySurge({ percent, least }: Surge): string {
  return least === 0 ? `${percent} %` : `${percent} %, at least ${least} ${least === 1 ? 'node' : 'nodes'}`;
}
