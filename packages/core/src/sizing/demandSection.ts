import { changedBetween } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import { Alongside, placesBefore, section } from '../section/index.js';
import { horizon } from './settingsSections.js';
import type { Sizing } from './sizing.js';
import { sizingOf } from './sizingOf.js';

/** What each cluster's sizes follow from, in the order of the plan. */
export const demand = section({
  name: 'demand',
  reads: ['clusters', 'nodePools', 'sites', 'profiles', 'shapes', 'services'],
  needs: { horizon },
  build: (parts, needed): Alongside<Cluster, Sizing> => {
    const plan = { ...parts, settings: { horizonMonths: needed.horizon } };
    return new Alongside(
      parts.clusters,
      parts.clusters.map((cluster) => sizingOf(plan, cluster)),
    );
  },
  follow: (last, parts, needed) => {
    const isGroundAlike = (['sites', 'profiles', 'shapes'] as const).every((part) => last.parts[part] === parts[part]);
    if (!isGroundAlike || last.needed.horizon !== needed.horizon) return undefined;
    const plan = { ...parts, settings: { horizonMonths: needed.horizon } };
    const pools = changedBetween(last.parts.nodePools, parts.nodePools);
    const services = changedBetween(last.parts.services, parts.services);
    const touched = [...pools.gone, ...pools.come, ...services.gone, ...services.come];
    const changed = new Set(touched.map(({ clusterId }) => clusterId));
    const places = placesBefore(last.value.items, parts.clusters);
    const sizings = parts.clusters.map((cluster, at) => {
      const known = last.value.values[places[at] as number];
      return known === undefined || changed.has(cluster.id) ? sizingOf(plan, cluster) : known;
    });
    return new Alongside(parts.clusters, sizings);
  },
});
