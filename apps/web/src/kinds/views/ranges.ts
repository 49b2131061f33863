import type { ViewsOf } from '../kindView';
import { name, prefix } from './sharedFields';

/** The sheets at the stop ranges. */
export const rangesViews: ViewsOf<'pools' | 'allocations'> = {
  pools: {
    stop: 'ranges',
    tab: 'Pools',
    title: 'Address pools',
    empty: 'No pools yet. A pool is address space that ranges are taken from.',
    link: ({ id }) => `ranges?pool=${id}`,
    example: 'name,prefix,purpose,site,shared\nNorth space,10.64.0.0/12,node;pod,,no',
    fields: [
      name,
      { ...prefix, width: '11.4rem' },
      { field: 'purposes', width: '4.6rem' },
      { field: 'siteId', width: 'minmax(6rem, 1fr)', isExtra: true },
      { field: 'isShared', width: '5rem', isExtra: true },
    ],
  },
  allocations: {
    stop: 'ranges',
    tab: 'Ranges',
    title: 'Allocated ranges',
    empty: 'Nothing is allocated yet. Add a pool, then propose the ranges that the clusters need.',
    link: ({ clusterId }) => `clusters/${clusterId}`,
    example: 'cluster,purpose,zone,prefix\nkiosk-new,node,,10.24.0.0/28',
    fields: [
      { field: 'clusterId', width: 'minmax(7.5rem, 0.8fr)', isReadOnly: true },
      { field: 'purpose', width: '6.6rem', isReadOnly: true },
      { field: 'prefix', width: 'minmax(9rem, 1fr)' },
      { field: 'zone', width: '4rem', isExtra: true, isReadOnly: true },
      { field: 'turn', width: '3.6rem', isExtra: true, isReadOnly: true },
      { field: 'isPinned', width: '4.4rem', isExtra: true },
    ],
  },
};
