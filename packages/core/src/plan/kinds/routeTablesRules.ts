import { byId } from '../collection.js';
import { grouped } from '../grouped.js';
import type { RouteTable } from './routeTables.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const routeTablesRules: KindRules<RouteTable> = {
  label: ({ name }) => name,
  about: ({ networkId, isMain, zone }, plan) =>
    `${isMain ? 'main ' : ''}route table of ${byId(plan.networks, networkId)?.name ?? ''}${zone === '' ? '' : `, zone ${zone}`}`,
  betweenFields: ({ isMain, zone }) =>
    isMain || zone === ''
      ? []
      : [
          wrong(
            'zone',
            'route-table.zone',
            `Only a main table is for a zone, and this one is for ${zone}.`,
            'Make it the main table of that zone, or leave the zone empty.',
          ),
        ],
  betweenEntities: (plan, { id, networkId, isMain, zone }) => {
    const others = grouped(plan.routeTables, 'networkId').get(networkId) ?? [];
    const twin = isMain ? others.find((other) => other.id !== id && other.isMain && other.zone === zone) : undefined;
    if (twin === undefined) return [];
    return [
      wrong(
        'isMain',
        'route-table.main-twice',
        `"${twin.name}" is the main table of that network and zone already.`,
        'Only one can be: change that one first.',
      ),
    ];
  },
};
