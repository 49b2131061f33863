import { recordTypes } from '../../zones/index.js';
import { choice, note, optionalInteger, reference, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** Characters of a value: room for keys of 4,096 bits and more in several strings. */
export const MAX_VALUE = 4000;

/** One record of a zone, entered by hand. */
export const records = defineKind({
  kind: 'records',
  code: 'dnsRecord',
  one: 'record',
  about: 'One record of a DNS zone, entered by hand.',
  since: 8,
  unique: {
    by: ['zoneId', 'name', 'type', 'value'],
    taken: {
      field: 'value',
      code: 'record.twice',
      message: 'The zone has that record already.',
      fix: 'Change that one instead.',
    },
  },
  fields: {
    zoneId: reference({ label: 'Zone', help: 'The zone it is in.', to: 'zones', onRemoval: 'cascade' }),
    name: text({
      label: 'Name',
      help: 'Below the zone’s domain name; @ for that name itself, *.apps for every name below apps.',
      min: 1,
      max: 200,
      compare: 'exact',
      isDomain: true,
    }),
    type: choice({
      label: 'Type',
      help: 'What the record says.',
      options: [...recordTypes],
      fallback: 'A',
    }),
    value: text({
      label: 'Value',
      help: 'An address, a full name, or what the type asks for, such as 10 mail.skerryline.example.',
      min: 1,
      max: MAX_VALUE,
      compare: 'exact',
    }),
    ttl: optionalInteger({
      label: 'TTL',
      help: 'How long resolvers may cache it; empty for the default of the zone.',
      empty: 'zone’s',
      unit: 's',
      min: 0,
      max: 2_147_483_647,
    }),
    target: choice({
      label: 'Target',
      help: 'Whether what it leads to is in this plan, where it is checked, or elsewhere.',
      options: ['in this plan', 'elsewhere'],
      fallback: 'in this plan',
    }),
    note: note(),
  },
});

/** One record of a zone, entered by hand. */
export type DnsRecord = EntityOfFields<(typeof records)['fields']>;
