import { byId } from '../collection.js';
import { notDnsLabels } from './dnsLabel.js';
import type { NetworkPolicy } from './networkPolicies.js';
import type { KindRules } from './rules.js';

export const networkPoliciesRules: KindRules<NetworkPolicy> = {
  label: ({ name, namespace }) => `${namespace}/${name}`,
  about: ({ clusterId }, plan) => `network policy in ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  betweenFields: notDnsLabels,
};
