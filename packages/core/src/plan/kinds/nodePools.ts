import { choice, flag, integer, name, optionalInteger, reference, references, surge, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

const nodes = (label: string, help: string, formerly: readonly string[] = []) =>
  integer({ label, formerly, help, unit: 'nodes', min: 0, max: 20_000 });

/** Nodes of one cluster that are alike and differ from its others; or pods without nodes, which take addresses straight from subnets. */
export const nodePools = defineKind({
  kind: 'nodePools',
  code: 'nodePool',
  one: 'node pool',
  about: 'Identical nodes of one cluster that differ from its others; or pods without nodes.',
  since: 3,
  unique: { by: ['clusterId', 'name'] },
  fields: {
    clusterId: reference({ label: 'Cluster', help: 'Whose nodes they are.', to: 'clusters', onRemoval: 'cascade' }),
    name: name('What the node pool is called.'),
    kind: choice({
      label: 'Runs',
      formerly: ['Holds'],
      help: 'Nodes; or pods without nodes, which take addresses straight from subnets: then the counts are pods.',
      options: ['nodes', 'pods'],
      fallback: 'nodes',
    }),
    shapeId: reference({
      label: 'Machine shape',
      help: 'Empty follows the cluster.',
      empty: 'as the cluster',
      to: 'shapes',
      isOptional: true,
    }),
    zones: texts({
      label: 'Zones',
      help: 'The zones it is spread over; empty for the cluster’s.',
      min: 0,
      max: 9,
      maxLength: 20,
      fallback: [],
    }),
    nodesNow: nodes('Now', 'Nodes today.'),
    nodesMin: integer({
      label: 'Min nodes',
      formerly: ['Least'],
      help: 'Fewest nodes it scales down to.',
      unit: 'nodes',
      min: 0,
      max: 20_000,
      fallback: 0,
    }),
    nodesMax: nodes('Max nodes', 'Most nodes it scales up to today.', ['Most']),
    nodesHorizon: nodes('At horizon', 'Most nodes at the horizon.'),
    surgePercent: surge(),
    podsPerNode: optionalInteger({
      label: 'Pods per node',
      help: 'Most pods one node may run; empty follows the cluster.',
      empty: 'as the cluster',
      unit: 'pods',
      min: 1,
      max: 1000,
    }),
    isPublic: flag({ label: 'Public', help: 'Its nodes have public addresses.', fallback: false }),
    labels: texts({
      label: 'Labels',
      help: 'Labels of its nodes, each as key=value.',
      min: 0,
      max: 32,
      maxLength: 320,
      form: 'label',
      fallback: [],
    }),
    taints: texts({
      label: 'Taints',
      help: 'Taints of its nodes, each as key=value:NoSchedule.',
      min: 0,
      max: 32,
      maxLength: 340,
      form: 'taint',
      fallback: [],
    }),
    additionalInterfaceSubnetIds: references({
      label: 'Additional interfaces',
      formerly: ['Further interfaces'],
      help: 'Subnets in which each of its nodes has an additional interface.',
      to: 'subnets',
      min: 0,
      max: 16,
      fallback: [],
    }),
  },
});

/** Nodes of one cluster that are alike and differ from its others, or pods without nodes. */
export type NodePool = EntityOfFields<(typeof nodePools)['fields']>;
