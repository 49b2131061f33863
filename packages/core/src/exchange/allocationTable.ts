import { addressBits, familyName, prefixSize } from '../address/index.js';
import type { Evaluation } from '../evaluation/index.js';
import { rangeOf } from '../plan/index.js';
import { worstVerdict } from '../verdicts/index.js';
import { rowsAsCsv } from './rowsAsCsv.js';

/**
 * The allocation table of all clusters, or of some by their ids, as CSV (RFC 4180): one row a needed or allocated range. Cells that a spreadsheet
 * would take for a formula get a leading apostrophe.
 */
export function allocationTableCsv(evaluation: Evaluation, clusterIds?: ReadonlySet<string>): string {
  const chosen = evaluation.clusters.filter(({ cluster }) => clusterIds?.has(cluster.id) ?? true);
  const rows = chosen.flatMap(({ cluster, site, network, figures, allocations }) => {
    const common = { cluster: cluster.name, site: site.name, network: network.name, podNetwork: cluster.podMode };
    const missing = figures.needs.filter(({ ranges }) => ranges.length === 0);
    return [
      ...allocations.map((allocation) => {
        const range = rangeOf(allocation);
        const need = figures.needs.find((filled) => filled.ranges.includes(allocation))?.need;
        return {
          ...common,
          purpose: allocation.purpose,
          zone: allocation.zone,
          family: familyName(range.family),
          prefix: allocation.prefix,
          addresses:
            addressBits(range.family) - range.length > 53
              ? `2^${addressBits(range.family) - range.length}`
              : prefixSize(range).toString(),
          needed: need === undefined ? 'none' : `/${need.length.value}`,
          pinned: allocation.isPinned ? 'yes' : 'no',
          verdict: worstVerdict(evaluation.verdictsOf(allocation.id)),
        };
      }),
      ...missing.map(({ need }) => ({
        ...common,
        purpose: need.purpose,
        zone: need.zone,
        family: familyName(need.family),
        prefix: '',
        addresses: '',
        needed: `/${need.length.value}`,
        pinned: 'no',
        verdict: 'missing',
      })),
    ];
  });
  const columns = [
    'cluster',
    'site',
    'network',
    'podNetwork',
    'purpose',
    'zone',
    'family',
    'prefix',
    'addresses',
    'needed',
    'pinned',
    'verdict',
  ];
  return rowsAsCsv(columns, rows);
}
