/** The stops of the work that exist so far, with their place among all ten. */
export const stops = [
  { place: 1, name: 'Ground', path: 'ground', about: 'sites, networks, links, ranges in use' },
  { place: 2, name: 'Demand', path: 'demand', about: 'clusters and what they need' },
  { place: 3, name: 'Ranges', path: 'ranges', about: 'pools and allocated ranges' },
  { place: 4, name: 'Pod network', path: 'pod-network', about: 'overlay, routed or native pods' },
  { place: 10, name: 'Handover', path: 'handover', about: 'files for those who build' },
] as const;
