/** Extra nodes while an upgrade rolls: a share of the nodes, and what the provider adds at least. */
export interface Surge {
  readonly percent: number;
  readonly least: number;
}

/** Nodes that run at once while an upgrade rolls: the nodes and the surge on top, rounded up. */
export function withSurge(nodes: number, { percent, least }: Surge): number {
  return nodes + Math.max(Math.ceil((nodes * percent) / 100), nodes === 0 ? 0 : least);
}

/** "10 %", "10 %, at least 1 node". */
export function formatSurge({ percent, least }: Surge): string {
  return least === 0 ? `${percent} %` : `${percent} %, at least ${least} ${least === 1 ? 'node' : 'nodes'}`;
}
