import { byId } from '../collection.js';
import type { NodePool } from './nodePools.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';
import { zoneProblem } from './sitesRules.js';

export const nodePoolsRules: KindRules<NodePool> = {
  label: ({ name }) => name,
  about: ({ clusterId, kind, nodesHorizon }, plan) =>
    `node pool of ${byId(plan.clusters, clusterId)?.name ?? ''}, ${nodesHorizon} ${kind} at the horizon`,
  betweenFields: ({ nodesMin, nodesMax, nodesNow }) => {
    if (nodesMax < nodesMin)
      return [
        wrong(
          'nodesMax',
          'pool.bounds',
          `Most (${nodesMax}) is below least (${nodesMin}).`,
          'Raise most, or lower least.',
        ),
      ];
    if (nodesNow >= nodesMin && nodesNow <= nodesMax) return [];
    return [
      wrong(
        'nodesNow',
        'pool.now',
        `${nodesNow} nodes now lie outside least and most: ${nodesMin} to ${nodesMax}.`,
        'Change the count, or the bounds.',
      ),
    ];
  },
  betweenEntities: (plan, { clusterId, zones, additionalInterfaceSubnetIds }) => {
    const site = byId(plan.sites, byId(plan.clusters, clusterId)?.siteId ?? '');
    if (site === undefined) return [];
    const elsewhere = additionalInterfaceSubnetIds
      .flatMap((id) => byId(plan.subnets, id) ?? [])
      .find(({ siteId }) => siteId !== site.id);
    return [
      ...zones.flatMap((zone) => zoneProblem(plan, site.id, zone, 'zones')).slice(0, 1),
      ...(elsewhere === undefined
        ? []
        : [
            wrong(
              'additionalInterfaceSubnetIds',
              'attachment.elsewhere',
              `The subnet ${elsewhere.name} is not at ${site.name}.`,
              'An interface can only be in a subnet of its own site: choose one there.',
            ),
          ]),
    ];
  },
};
