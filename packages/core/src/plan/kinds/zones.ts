import { choice, flag, integer, name, note, optionalInteger, references, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A full domain name, as text; empty where it may be. */
export const domain = (of: { label: string; help: string; min: 0 | 1; group?: string; since?: 8 }) =>
  text({ max: 253, compare: 'exact', isDomain: true, ...of, ...(of.min === 0 ? { fallback: '' } : {}) });

/** Seconds, at most the largest TTL. Source: RFC 2181 8. */
const seconds = (label: string, help: string, fallback: number) =>
  integer({ label, help, unit: 's', min: 0, max: 2_147_483_647, fallback, group: 'Start of authority' });

/** A DNS zone: the names below one, and where they are answered. */
export const zones = defineKind({
  kind: 'zones',
  code: 'zone',
  one: 'zone',
  about: 'A DNS zone: the names below one, and where they are answered.',
  since: 8,
  unique: { by: ['name'] },
  fields: {
    name: name(
      'What the zone is called; two with one domain name, such as a public one and its private twin, are told apart by it.',
    ),
    apex: domain({
      label: 'Domain name',
      help: 'The name that the zone begins at, such as skerryline.example.',
      min: 1,
    }),
    side: choice({
      label: 'Side',
      help: 'Public zones answer everybody; private ones the networks that they are attached to.',
      options: ['public', 'private'],
      fallback: 'private',
    }),
    networkIds: references({
      label: 'Attached to',
      help: 'Networks that a private zone answers in.',
      to: 'networks',
      min: 0,
      max: 200,
      onRemoval: 'drop',
      fallback: [],
    }),
    nameServers: texts({
      label: 'Name servers',
      help: 'Names of its servers: the NS records at its apex.',
      min: 0,
      max: 13,
      maxLength: 253,
      form: 'host',
      fallback: [],
    }),
    serverTtl: optionalInteger({
      label: 'TTL of the NS records',
      help: 'Of the NS records at its apex; empty for the default TTL.',
      empty: 'default',
      unit: 's',
      min: 0,
      max: 2_147_483_647,
      since: 13,
    }),
    isDelegated: flag({
      label: 'Delegated',
      help: 'A parent zone outside the plan names its servers. Where the plan holds the parent, its NS records decide.',
      fallback: true,
    }),
    ttl: integer({
      label: 'Default TTL',
      help: 'Of records without one of their own.',
      unit: 's',
      min: 0,
      max: 2_147_483_647,
      fallback: 3600,
    }),
    primary: domain({
      label: 'Primary server',
      help: 'The server named by the SOA; empty for the first name server.',
      min: 0,
      group: 'Start of authority',
    }),
    mailbox: domain({
      label: 'Mailbox',
      help: 'Who answers for the zone, with a dot for the @: hands.skerryline.example.',
      min: 0,
      group: 'Start of authority',
    }),
    serial: integer({
      label: 'Serial',
      help: 'Grows with each change.',
      unit: '',
      min: 0,
      max: 4_294_967_295,
      fallback: 1,
      group: 'Start of authority',
    }),
    handedOut: text({
      label: 'Handed out',
      help: 'A mark of what the zone held when its file was read or written last: where it holds something else, the serial grows with the next file.',
      min: 0,
      max: 16,
      compare: 'exact',
      fallback: '',
      isHidden: true,
      since: 13,
    }),
    refresh: seconds('Refresh', 'How often further servers ask whether the zone changed.', 3600),
    retry: seconds('Retry', 'How soon they ask again after no answer.', 600),
    expire: seconds('Expire', 'How long they answer without having reached the primary one.', 604_800),
    cutOverTarget: optionalInteger({
      label: 'Cut-over target',
      formerly: ['Cut-over aim'],
      help: 'Within how long names of the zone must be able to move; empty for no aim.',
      empty: 'none',
      unit: 's',
      min: 0,
      max: 2_147_483_647,
    }),
    minimum: seconds('Negative TTL', 'How long resolvers may cache that a name does not exist.', 300),
    note: note(),
  },
});

/** A DNS zone: the names below one, and where they are answered. */
export type Zone = EntityOfFields<(typeof zones)['fields']>;
