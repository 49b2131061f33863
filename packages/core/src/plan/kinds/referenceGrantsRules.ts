import { byId } from '../collection.js';
import { notDnsLabels } from './dnsLabel.js';
import type { ReferenceGrant } from './referenceGrants.js';
import type { KindRules } from './rules.js';

export const referenceGrantsRules: KindRules<ReferenceGrant> = {
  label: ({ name, namespace }) => `${namespace}/${name}`,
  about: ({ clusterId }, plan) => `reference grant in ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  betweenFields: notDnsLabels,
};
