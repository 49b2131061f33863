import { KUBELET_PORT, POD_PORT } from '../forwarding/index.js';
import type { Host } from '../forwarding/index.js';
import type { MatrixColumn } from './matrix.js';

/** What a column counts: machines of ranges in use, nodes or pods of other clusters. */
export type Several = 'in use' | 'node' | 'pod';

/** How a column that counts is asked and told. */
export interface SeveralTargets {
  readonly kind: Several;
  readonly port: number;
  readonly wordsOf: (target: Host) => string;
}

type SeveralKind = 'in use' | 'nodes' | 'pods';

/** The columns that are about many targets, which are counted. */
export const severalOf: Readonly<
  Record<SeveralKind, SeveralTargets> & Partial<Record<MatrixColumn['kind'], SeveralTargets>>
> = {
  'in use': { kind: 'in use', port: 443, wordsOf: ({ label }) => `range ${label} tcp 443` },
  nodes: {
    kind: 'node',
    port: KUBELET_PORT,
    wordsOf: ({ cluster }) => `node of ${cluster?.name ?? ''} tcp ${KUBELET_PORT}`,
  },
  pods: { kind: 'pod', port: POD_PORT, wordsOf: ({ cluster }) => `pod of ${cluster?.name ?? ''} tcp ${POD_PORT}` },
};
