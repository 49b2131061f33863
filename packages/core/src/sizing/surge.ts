/** Nodes that run at once while an upgrade rolls: the nodes and the surge on top, rounded up. */
export function withSurge(nodes: number, surgePercent: number): number {
  return Math.ceil((nodes * (100 + surgePercent)) / 100);
}

/** Nodes at rest that leave room for the surge when `most` can run at once: the other way round, rounded down. */
export function atRest(most: number, surgePercent: number): number {
  return Math.floor((most * 100) / (100 + surgePercent));
}
