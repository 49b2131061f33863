import type { Filter } from './filters.js';
import type { KindRules } from './rules.js';

export const filtersRules: KindRules<Filter> = {
  label: ({ name }) => name,
  about: ({ mode, isStateful, clusterIds, nodePoolIds, subnetIds, endpointIds }) => {
    const count = clusterIds.length + nodePoolIds.length + subnetIds.length + endpointIds.length;
    return `${mode} filter, ${isStateful ? 'stateful' : 'stateless'}, attached to ${count}`;
  },
};
