import { date, decimal, flag, integer, note, reference, references, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { keptFields, namespace } from './workloads.js';

/** A service of one cluster that the other members of a connection use: a ServiceExport of the Kubernetes multi-cluster API. */
export const serviceExports = defineKind({
  kind: 'serviceExports',
  code: 'serviceExport',
  one: 'exported service',
  about: 'A service of one cluster that the other members of a connection use.',
  since: 9,
  unique: {
    by: ['memberId', 'namespace', 'name'],
    taken: {
      field: 'name',
      code: 'export.twice',
      message: 'This member exports that service already.',
      fix: 'Change that export instead.',
    },
  },
  fields: {
    memberId: reference({
      label: 'Exported by',
      help: 'The cluster, as a member of a connection.',
      to: 'members',
      onRemoval: 'cascade',
    }),
    namespace: namespace(
      'The namespace of the service; the same namespace and name is the same service in all members.',
    ),
    name: text({ label: 'Service', help: 'The name of the service.', min: 1, max: 63, compare: 'exact' }),
    weight: integer({
      label: 'Weight',
      help: 'Its part of the calls among the members of one rank; 0 for none.',
      unit: '',
      min: 0,
      max: 1000,
      fallback: 1,
    }),
    rank: integer({
      label: 'Failover order',
      help: 'Calls go to the lowest number that answers: 1 first, 2 when none of 1 is left.',
      unit: '',
      min: 1,
      max: 9,
      fallback: 1,
    }),
    usedByIds: references({
      label: 'Used by',
      help: 'Clusters that may use it; empty for all members.',
      to: 'clusters',
      min: 0,
      max: 2000,
      onRemoval: 'drop',
      fallback: [],
    }),
    mirrorsPods: flag({
      label: 'Pod by pod',
      help: 'Of a headless service: its pods are exported under their host names, and relays mirror each.',
      fallback: true,
    }),
    maxRoundTripMs: decimal({
      label: 'Round trip at most',
      help: 'What its clients allow; empty for any.',
      empty: 'any',
      unit: 'ms',
      min: 0.1,
      max: 10_000,
      decimals: 1,
      isOptional: true,
    }),
    createdOn: date({
      label: 'Exported on',
      help: 'Of two exports that contradict one another the older one decides.',
    }),
    preserved: keptFields(),
    note: note(),
  },
});

/** A service that other members use. */
export type ServiceExport = EntityOfFields<(typeof serviceExports)['fields']>;
