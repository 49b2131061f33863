import type { Severity } from '@wide-lattice/core/findings';
import type { SheetStop } from '../kinds/kindView';
import type { CountedFindings } from '../worker/slices/findingSlices';

/** A stop of the work, with its place. */
export interface Stop {
  readonly place: number;
  readonly name: string;
  readonly path: SheetStop | 'handover';
  readonly about: string;
}

/** The stops, in the order of the work. */
export const stops: readonly Stop[] = [
  { place: 1, name: 'Ground', path: 'ground', about: 'sites, networks, links, ranges in use' },
  { place: 2, name: 'Demand', path: 'demand', about: 'clusters and what they need' },
  { place: 3, name: 'Ranges', path: 'ranges', about: 'pools and allocated ranges' },
  { place: 4, name: 'Pod network', path: 'pod-network', about: 'overlay, routed or native pods' },
  { place: 5, name: 'Egress', path: 'egress', about: 'ways out, filters, what must be reached' },
  { place: 6, name: 'Ingress', path: 'ingress', about: 'workloads, services, who answers' },
  { place: 7, name: 'DNS', path: 'dns', about: 'zones, records, certificates, resolvers' },
  { place: 8, name: 'Cross-cluster', path: 'cross-cluster', about: 'clusters joined by tunnels, relays, or flat' },
  { place: 9, name: 'Rehearsal', path: 'rehearsal', about: 'brought up, tested and broken before it is built' },
  { place: 10, name: 'Handover', path: 'handover', about: 'files for those who build' },
];

/** How many findings of the worst severity there are at a stop; undefined when nothing is wrong there. */
export function worstAt(
  path: Stop['path'],
  { byStop }: CountedFindings,
): { readonly severity: Severity; readonly count: number } | undefined {
  if (path === 'handover') return undefined;
  for (const severity of ['error', 'warning'] as const) {
    const count = byStop[path]?.[severity] ?? 0;
    if (count > 0) return { severity, count };
  }
  return undefined;
}
