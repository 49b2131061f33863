import type { Hop, Mend, MendStep, NamedFor, Opened, ServiceNamed } from '../reach/index.js';
import { formatNumber } from '../working/index.js';

/** Cells and ranges that are named before the others are counted. */
const MAX_CELLS = 4;
const MAX_RANGES = 3;

/** A change that lets a packet pass: what it does, and what else would pass with it. */
export function formatMend({ steps, opens }: Pick<Mend, 'steps' | 'opens'>): {
  readonly steps: readonly string[];
  readonly opens: string;
} {
  return { steps: steps.map(formatMendStep), opens: formatOpened(opens) };
}

function formatMendStep(step: MendStep): string {
  switch (step.do) {
    case 'filter rule': {
      const peers = `${step.direction === 'in' ? 'in from' : 'out to'} ${formatNamed(step.peers)}`;
      return `Add rule ${step.position} to the filter ${step.filter}: allow ${formatServiceNamed(step.service)} ${peers}.`;
    }
    case 'firewall rule': {
      const ends = `from ${formatNamed(step.from)} to ${formatNamed(step.to)}`;
      return `Add rule ${step.position} to the firewall ${step.firewall}: allow ${formatServiceNamed(step.service)} ${ends}.`;
    }
    case 'route': {
      const to = `${step.prefix} to ${formatHopNamed(step.hop)}`;
      if (step.isTableNew) return `Add the main route table ${step.table} with a route ${to}.`;
      return `Add the route ${to} to the table ${step.table}${step.isForAnswers ? ', so that answers pass it too' : ''}.`;
    }
    case 'next hop':
      return `Let the route ${step.prefix} of ${step.table} lead to ${formatHopNamed(step.hop)}.`;
    case 'remove route':
      return 'Remove the static route that drops it.';
    case 'learn':
      return `Let ${step.network} accept the routes of ${step.from} over ${step.link}.`;
    case 'advertise':
      return `Let ${step.network} advertise ${step.prefix} over ${step.link}.`;
    case 'translate': {
      const where = `take it out of “Untranslated”, where it is in ${step.outOf.join(', ')}`;
      return `Let the nodes of ${step.cluster} translate to ${formatNamed(step.to)}: ${where}.`;
    }
    case 'mtu': {
      const sizes = `from ${formatNumber(step.before)} to ${formatNumber(step.after)} bytes`;
      return `Lower the MTU of the network ${step.network} ${sizes}, so that its machines send packets that fit.`;
    }
  }
}

const hopNames = { nat: 'the NAT device', firewall: 'the firewall', link: 'the link' } as const;

function formatHopNamed({ is, name }: Hop): string {
  return `${hopNames[is]} ${name}`;
}

function formatServiceNamed({ protocol, ports, icmp }: ServiceNamed): string {
  return [protocol, ...ports, ...icmp].join(' ');
}

function formatNamed(named: NamedFor): string {
  if (named.is === 'internet') return 'the internet';
  return named.is === 'set' ? `the set ${named.set}` : named.prefixes.join(', ');
}

function formatOpened({ cells, countedUpTo, wide }: Opened): string {
  return [formatCells(cells, countedUpTo), ...formatWide(wide)].join(' ');
}

function formatCells(cells: Opened['cells'], countedUpTo: number): string {
  if (cells === undefined) return `What else it opens is counted for up to ${countedUpTo} clusters.`;
  if (cells.length === 0) return 'It opens nothing else that the matrix shows.';
  const shown = cells
    .slice(0, MAX_CELLS)
    .map(({ cluster, label }) => `${cluster} to ${label}`)
    .join('; ');
  const more = cells.length - MAX_CELLS;
  return `It opens in the matrix: ${shown}${more > 0 ? ` and ${more} more` : ''}.`;
}

function formatWide(wide: readonly string[]): string[] {
  if (wide.length === 0) return [];
  const more = wide.length - MAX_RANGES;
  const shown = wide.slice(0, MAX_RANGES).join(', ');
  return [`It holds for every address of ${shown}${more > 0 ? ` and ${more} more` : ''}.`];
}
