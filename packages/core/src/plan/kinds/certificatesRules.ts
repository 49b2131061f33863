import { byId } from '../collection.js';
import type { Certificate } from './certificates.js';
import type { KindRules } from './rules.js';
import { wrong } from './rules.js';
import { notName } from './zonesRules.js';

export const certificatesRules: KindRules<Certificate> = {
  label: ({ name, namespace }) => (namespace === '' ? name : `${namespace}/${name}`),
  about: ({ names, clusterId }, plan) =>
    `certificate of ${names[0] ?? ''}${clusterId === null ? '' : ` in ${byId(plan.clusters, clusterId)?.name ?? ''}`}`,
  betweenFields: ({ clusterId, namespace, issuerDomain, validDays, renewDays, names, issuerKind }) => [
    ...notName('issuerDomain', issuerDomain),
    ...((clusterId === null) !== (namespace === '')
      ? [
          wrong(
            'namespace',
            'certificate.namespace',
            clusterId === null
              ? 'A namespace is part of a cluster, and none is named.'
              : 'A secret of a cluster is in a namespace.',
            clusterId === null
              ? 'Name the cluster, or leave the namespace empty.'
              : 'Write the namespace of the secret.',
          ),
        ]
      : []),
    ...(renewDays >= validDays
      ? [
          wrong(
            'renewDays',
            'certificate.renew',
            `It would be renewed ${renewDays} days before its end, and is good for ${validDays}.`,
            'Renew it within its time.',
          ),
        ]
      : []),
    ...(issuerKind === 'public by HTTP' && names.some((each) => each.startsWith('*.'))
      ? [
          wrong(
            'issuerKind',
            'certificate.wildcard',
            'A wildcard is not validated by HTTP (RFC 8555 8.3 answers at one host).',
            'Have it issued by DNS.',
          ),
        ]
      : []),
  ],
};
