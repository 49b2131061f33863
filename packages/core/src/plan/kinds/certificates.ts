import { choice, date, flag, integer, name, note, reference, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { domain } from './zones.js';

/** A certificate: the names on it, who issues it, and how long it is good. */
export const certificates = defineKind({
  kind: 'certificates',
  code: 'certificate',
  one: 'certificate',
  about: 'A certificate: the names on it, who issues it, and how long it is good.',
  since: 8,
  unique: { by: ['clusterId', 'namespace', 'name'] },
  fields: {
    name: name('What listeners and routes call it; in a cluster, the name of its secret.'),
    clusterId: reference({
      label: 'Cluster',
      help: 'The cluster that holds it in a secret; empty for one at a load balancer.',
      empty: 'none',
      to: 'clusters',
      isOptional: true,
      onRemoval: 'cascade',
    }),
    namespace: text({
      label: 'Namespace',
      help: 'The namespace of its secret.',
      min: 0,
      max: 63,
      compare: 'exact',
      fallback: '',
    }),
    names: texts({
      label: 'Subject names',
      formerly: ['Names on it'],
      help: 'Host names that it covers; a wildcard stands for one label.',
      min: 1,
      max: 100,
      maxLength: 253,
      form: 'host',
    }),
    issuerKind: choice({
      label: 'Issuer kind',
      help: 'Publicly, after a record or a page showed whose the names are, or by an authority of one’s own.',
      options: ['public by DNS', 'public by HTTP', 'private'],
      fallback: 'public by DNS',
    }),
    issuerDomain: domain({
      label: 'Issuer',
      help: 'The domain name by which CAA records allow the issuer, such as ca.harbourtrust.example.',
      min: 0,
    }),
    validFrom: date({ label: 'Valid from', help: 'The day it was or will be issued.' }),
    validDays: integer({
      label: 'Validity',
      help: 'Days from then on.',
      unit: 'days',
      min: 1,
      max: 10_000,
      fallback: 90,
    }),
    renewDays: integer({
      label: 'Renewal lead',
      help: 'Days before its end at which it is renewed.',
      unit: 'days',
      min: 0,
      max: 1000,
      fallback: 30,
    }),
    renewsItself: flag({ label: 'Automatic renewal', help: 'It is renewed without anyone’s action.', fallback: true }),
    note: note(),
  },
});

/** A certificate: the names on it, who issues it, and how long it is good. */
export type Certificate = EntityOfFields<(typeof certificates)['fields']>;
