import type { SheetField } from '../shared/EntitySheet';

/** The sheet of clusters at the stop Demand. */
export const clusterFields: readonly SheetField<'clusters'>[] = [
  { field: 'name', width: 'minmax(9rem, 1.4fr)' },
  { field: 'siteId', width: 'minmax(7rem, 1fr)' },
  { field: 'networkId', width: 'minmax(6rem, 0.8fr)' },
  { field: 'podMode', width: '5.5rem', label: 'Pods by' },
  { field: 'nodesNow', width: '6.2rem' },
  { field: 'nodesHorizon', width: '6.4rem', label: 'At horizon' },
  { field: 'podsPerNode', width: '6.8rem' },
  { field: 'services', width: '5.4rem' },
  { field: 'templateId', width: 'minmax(6.5rem, 0.8fr)', isExtra: true },
  { field: 'family', width: '5rem', isExtra: true },
  { field: 'zoneCount', width: '4.6rem', isExtra: true },
  { field: 'surgePercent', width: '5rem', isExtra: true },
  { field: 'growth', width: '6.4rem', isExtra: true },
  { field: 'growthPerYear', width: '7.6rem', isExtra: true },
  { field: 'growthSteps', width: 'minmax(7rem, 1fr)', isExtra: true },
  { field: 'controlPlane', width: '7.4rem', isExtra: true },
  { field: 'controlNodes', width: '7.2rem', isExtra: true },
  { field: 'controlShapeId', width: '7.4rem', isExtra: true },
  { field: 'apiEndpoint', width: '6.8rem', isExtra: true },
  { field: 'nodePortServices', width: '9.4rem', isExtra: true },
  { field: 'balancerServices', width: '10.6rem', isExtra: true },
  { field: 'headlessServices', width: '9rem', isExtra: true },
  { field: 'hasPublicBalancers', width: '8.4rem', isExtra: true },
  { field: 'entryAddresses', width: '8rem', isExtra: true },
  { field: 'hasEntrySubnets', width: '7.4rem', isExtra: true },
  { field: 'natAddresses', width: '7.4rem', isExtra: true },
  { field: 'snatPorts', width: '6.6rem', isExtra: true },
  { field: 'zoneGb', width: '7.6rem', isExtra: true },
  { field: 'outGb', width: '7.6rem', isExtra: true },
  { field: 'perNodeLength', width: '7.8rem', isExtra: true },
  { field: 'isBuilt', width: '4.2rem', isExtra: true },
];

/** The sheet of node pools. */
export const nodePoolFields: readonly SheetField<'nodePools'>[] = [
  { field: 'name', width: 'minmax(7rem, 1fr)' },
  { field: 'clusterId', width: 'minmax(7rem, 1fr)' },
  { field: 'kind', width: '4.4rem' },
  { field: 'shapeId', width: 'minmax(7rem, 0.9fr)' },
  { field: 'zones', width: '4.6rem' },
  { field: 'nodesNow', width: '3.8rem' },
  { field: 'nodesMin', width: '4.2rem' },
  { field: 'nodesMax', width: '4.2rem' },
  { field: 'nodesHorizon', width: '5.8rem' },
  { field: 'surgePercent', width: '4.6rem', isExtra: true },
  { field: 'podsPerNode', width: '6.6rem', isExtra: true },
  { field: 'isPublic', width: '4.6rem', isExtra: true },
  { field: 'labels', width: 'minmax(7rem, 1fr)', isExtra: true },
  { field: 'taints', width: 'minmax(9rem, 1fr)', isExtra: true },
  { field: 'attachmentSubnetIds', width: 'minmax(8rem, 1fr)', isExtra: true },
];

/** The sheet of cluster templates. */
export const templateFields: readonly SheetField<'templates'>[] = [
  { field: 'name', width: 'minmax(7rem, 0.8fr)' },
  { field: 'basedOnId', width: '6.4rem' },
  { field: 'namePattern', width: '7rem' },
  { field: 'networkId', width: '5.6rem' },
  { field: 'shapeId', width: 'minmax(6rem, 0.6fr)', label: 'Shape' },
  { field: 'fixes', width: 'minmax(10rem, 1.6fr)' },
  { field: 'poolIds', width: 'minmax(5rem, 0.6fr)' },
];
