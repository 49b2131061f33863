import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { grouped } from '../grouped.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';
import type { Site } from './sites.js';

export const sitesRules: KindRules<Site> = {
  label: ({ name }) => name,
  about: ({ kind, zones }) => `${kind}, zones ${zones.join(', ')}`,
  // Ranges of clusters that lose their zone become a finding; a subnet cannot be without its place.
  betweenEntities: (plan, { id, zones }) => {
    const left = (grouped(plan.subnets, 'siteId').get(id) ?? []).find(
      ({ zone }) => zone !== '' && !zones.includes(zone),
    );
    if (left === undefined) return [];
    return [
      wrong(
        'zones',
        'zone.in-use',
        `The subnet "${left.name}" is in zone ${left.zone}.`,
        'Keep that zone, or move the subnet first.',
      ),
    ];
  },
};

/** A zone that its site does not have, said at the field that names it; an empty one is none in particular. */
export function zoneProblem(plan: Plan, siteId: string, zone: string, field = 'zone'): FieldProblem[] {
  const site = byId(plan.sites, siteId);
  if (zone === '' || site === undefined || site.zones.includes(zone)) return [];
  return [
    wrong(
      field,
      'zone.missing',
      `There is no zone "${zone}" at ${site.name}.`,
      `Its zones are ${site.zones.join(', ')}.`,
    ),
  ];
}
