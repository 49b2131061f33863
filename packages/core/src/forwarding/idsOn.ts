import { decisionsOf, lookUpOf, subjectOf } from '../road/index.js';
import type { FlowTrace } from './trace.js';

/** Everything that the packets of flows met and that could decide otherwise: entities, route tables, links, devices, lists of rules. */
export function idsOn(flows: readonly Pick<FlowTrace, 'forth' | 'back' | 'failed'>[]): Set<string> {
  const ids = new Set<string>();
  for (const { forth, back, failed } of flows) {
    for (const event of [...forth, ...back]) {
      const subject = subjectOf(event);
      const lookUp = lookUpOf(event);
      if (subject !== undefined) ids.add(subject.id);
      if (lookUp?.tableId !== undefined) ids.add(lookUp.tableId);
      const hop = lookUp?.found.row?.hop;
      if (hop?.kind === 'link') ids.add(hop.link.id);
      if (hop?.kind === 'nat' || hop?.kind === 'firewall') ids.add(hop.id);
      for (const { list } of decisionsOf(event)) ids.add(list.id);
    }
    if (failed !== undefined && 'filterIds' in failed.failure) for (const id of failed.failure.filterIds) ids.add(id);
  }
  return ids;
}
