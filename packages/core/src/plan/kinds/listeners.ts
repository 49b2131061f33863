import { choice, integer, name, note, reference, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A secret that holds a certificate, and the names on it: what is known of certificates before they are issued. */
export const certificateName = () =>
  text({
    label: 'Certificate',
    help: 'What the certificate or the secret that holds it is called; empty for none.',
    min: 0,
    max: 120,
    compare: 'exact',
    fallback: '',
  });

/** The names that a certificate covers. */
export const certificateHosts = () =>
  texts({
    label: 'Subject names',
    formerly: ['Names on it'],
    help: 'Host names that the certificate covers; a wildcard such as *.skerryline.example covers one label.',
    min: 0,
    max: 100,
    maxLength: 253,
    form: 'host',
    fallback: [],
  });

/** A protocol and port of a load balancer, and the backend that it forwards to. */
export const listeners = defineKind({
  kind: 'listeners',
  code: 'listener',
  one: 'listener',
  about: 'A protocol and port of a load balancer, and the backend that it forwards to.',
  since: 7,
  unique: { by: ['balancerId', 'name'] },
  fields: {
    name: name('What the listener is called.'),
    balancerId: reference({ label: 'Load balancer', help: 'Where it listens.', to: 'balancers', onRemoval: 'cascade' }),
    protocol: choice({
      label: 'Protocol',
      help: 'https and tls end TLS here; tcp and udp pass everything on as it is.',
      options: ['http', 'https', 'tls', 'tcp', 'udp'],
      fallback: 'https',
    }),
    port: integer({ label: 'Port', help: 'The port it listens on.', unit: 'port', min: 1, max: 65_535, fallback: 443 }),
    certificate: certificateName(),
    certificateHosts: certificateHosts(),
    backendId: reference({
      label: 'Backend',
      help: 'Where calls go that no route decides; empty where only routes decide.',
      empty: 'none',
      to: 'backends',
      isOptional: true,
      onRemoval: 'drop',
    }),
    note: note(),
  },
});

/** A protocol and port of a load balancer, and the backend that it forwards to. */
export type Listener = EntityOfFields<(typeof listeners)['fields']>;
