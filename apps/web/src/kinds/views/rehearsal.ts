import type { ViewsOf } from '../kindView';
import { note } from './sharedFields';

/** The sheets at the stop rehearsal. */
export const rehearsalViews: ViewsOf<'buildTimes' | 'confirmations'> = {
  buildTimes: {
    stop: 'rehearsal',
    tab: 'Build times',
    title: 'Build times',
    empty:
      'No build times of your own: every step takes its usual time. Add those that you measured, for one provider or for all.',
    link: ({ id }) => `rehearsal?show=buildTimes&row=${id}`,
    example: 'step,duration,at once\nhosted control plane,900,2',
    fields: [
      { field: 'step', width: 'minmax(9rem, 1fr)' },
      { field: 'profileId', width: 'minmax(7rem, 1fr)' },
      { field: 'seconds', width: '6rem' },
      { field: 'atOnce', width: '5.4rem' },
      { ...note, isExtra: true },
    ],
  },
  confirmations: {
    stop: 'rehearsal',
    tab: 'Confirmations',
    title: 'Prerequisites confirmed by hand',
    empty: 'Nothing is confirmed yet. Prerequisites on the right lists what only people can know, site by site.',
    link: ({ id }) => `rehearsal?show=confirmations&row=${id}`,
    example: 'site,confirmed,confirmed by,confirmed on\nBasalt hall,permissions,Network team,2026-12-01',
    fields: [
      { field: 'siteId', width: 'minmax(8rem, 1fr)' },
      { field: 'what', width: '9rem' },
      { field: 'confirmedBy', width: 'minmax(7rem, 1fr)' },
      { field: 'confirmedOn', width: '6.6rem' },
      { ...note, isExtra: true },
    ],
  },
};
