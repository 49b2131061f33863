import { addresses, choice, decimal, flag, integer, note, reference, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { domain } from './zones.js';

const rate = (label: string, help: string) =>
  decimal({ label, help, unit: 'Mbit/s', min: 0.1, max: 1_000_000, decimals: 1, isOptional: true, empty: 'not said' });

/** A cluster in a connection: its gateways or relays, its id there, and the ranges it shows instead of its own. */
export const members = defineKind({
  kind: 'members',
  code: 'member',
  one: 'member of a connection',
  about: 'A cluster in a connection: its gateways or relays, its id there, and the ranges it shows instead of its own.',
  since: 9,
  unique: {
    by: ['connectionId', 'clusterId'],
    taken: {
      field: 'clusterId',
      code: 'member.twice',
      message: 'This cluster is a member of that connection already: a cluster cannot be joined with itself.',
      fix: 'Name another cluster, or change the member that is there.',
    },
  },
  fields: {
    connectionId: reference({
      label: 'Connection',
      help: 'What it is a member of.',
      to: 'connections',
      onRemoval: 'cascade',
    }),
    clusterId: reference({
      label: 'Cluster',
      help: 'The cluster that is joined.',
      to: 'clusters',
      onRemoval: 'cascade',
    }),
    memberId: text({
      label: 'Member id',
      help: 'The cluster id by which the others know it, as in names of single pods; once in a connection.',
      min: 1,
      max: 63,
      compare: 'exact',
    }),
    dnsSuffix: domain({
      label: 'DNS suffix',
      help: 'Below which others find services of only this member; empty for its id before the service domain.',
      min: 0,
    }),
    translated: texts({
      label: 'Translated ranges',
      help: 'Own ranges and those of the same size that the others see instead, each as 10.244.0.0/16 as 172.30.0.0/16.',
      min: 0,
      max: 16,
      maxLength: 100,
      form: 'translation',
      fallback: [],
    }),
    gateways: integer({
      label: 'Gateways',
      help: 'Gateway nodes, or relays of a connection by relays; the first carries, the others take over.',
      unit: 'gateways',
      min: 1,
      max: 16,
      fallback: 2,
    }),
    gatewayZones: texts({
      label: 'Gateway zones',
      help: 'The zone of each gateway in turn; empty for the zones of the cluster one after the other.',
      min: 0,
      max: 16,
      maxLength: 20,
      fallback: [],
    }),
    gatewayAddresses: addresses({
      label: 'Gateway addresses',
      help: 'Addresses that the others dial, one for each gateway: public ones, or of their node; empty for their nodes’ own.',
      min: 0,
      max: 16,
      fallback: [],
    }),
    dials: choice({
      label: 'Dials',
      help: 'Whether it dials the others, is dialled by them, or either. One side of each pair must dial.',
      options: ['either', 'dials', 'is dialled'],
      fallback: 'either',
    }),
    isHub: flag({
      label: 'Hub',
      help: 'Of the shape hub: the member that all others are joined with.',
      fallback: false,
    }),
    gatewayMbps: rate('Throughput', 'What one gateway or relay carries.'),
    plannedMbps: rate('Planned traffic', 'What it is to exchange with all others together.'),
    note: note(),
  },
});

/** A cluster in a connection. */
export type Member = EntityOfFields<(typeof members)['fields']>;
