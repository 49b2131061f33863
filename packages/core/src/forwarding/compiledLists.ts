import { addTo } from '../plan/index.js';
import type { Filter, FilterRule, FirewallRule } from '../plan/index.js';
import { portRanges } from './ruleList.js';
import type { RuleList } from './ruleList.js';

/** A filter with its rules compiled for each direction. */
export interface CompiledFilter {
  readonly filter: Filter;
  readonly in: RuleList;
  readonly out: RuleList;
}

/** What a rule says beside its prefixes. */
export function compiledRule({ id, position, action, protocol, ports, icmp }: FilterRule | FirewallRule) {
  return { id, position, action, protocol, ports: portRanges(ports), icmp };
}

/** Rules in the order in which they are asked. */
export function inPlace<R extends { readonly position: number }>(rules: readonly R[]): R[] {
  return [...rules].sort((a, b) => a.position - b.position);
}

/** What a filter is attached to. */
export function attachedTo(filter: Filter): readonly string[] {
  return [
    ...filter.clusterIds,
    ...filter.nodePoolIds,
    ...filter.subnetIds,
    ...filter.endpointIds,
    ...filter.balancerIds,
  ];
}

/** The filters that are attached to each entity, in the order of the plan. */
export function attachmentsOf(filters: readonly Filter[]): ReadonlyMap<string, readonly Filter[]> {
  const found = new Map<string, Filter[]>();
  for (const filter of filters)
    for (const id of attachedTo(filter)) {
      addTo(found, id, filter);
    }
  return found;
}
