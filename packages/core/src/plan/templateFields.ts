import type { Cluster } from './kinds/clusters.js';

/** The fields of a cluster that a template may fix, its network and shape apart. */
export const templateFields = [
  'podMode',
  'encapsulation',
  'encryption',
  'podNeeds',
  'mtuFloor',
  'family',
  'controlPlane',
  'controlNodes',
  'apiEndpoint',
  'zoneCount',
  'nodesNow',
  'nodesHorizon',
  'podsPerNode',
  'perNodeLength',
  'services',
  'surgePercent',
  'entryAddresses',
  'hasEntrySubnets',
] as const satisfies readonly (keyof Cluster)[];
