import type { ViewsOf } from '../kindView';

/** The sheets at the stop pod-network. */
export const podNetworkViews: ViewsOf<'rebuilds'> = {
  rebuilds: {
    stop: 'pod-network',
    tab: 'Rebuilds',
    title: 'Rebuilds',
    empty: 'No rebuilds: no locked decision of a built cluster has been changed.',
    link: () => 'ledger',
    example:
      'cluster,changes,reason,decided on,decided by\nkiosk-new,Pod network: overlay to routed,Pods must be reachable,2026-11-23,Network team',
    fields: [
      { field: 'clusterId', width: 'minmax(7rem, 1fr)' },
      { field: 'what', width: 'minmax(12rem, 2fr)' },
      { field: 'reason', width: 'minmax(10rem, 2fr)' },
      { field: 'decidedOn', width: '6.6rem' },
      { field: 'decidedBy', width: 'minmax(7rem, 1fr)' },
    ],
  },
};
