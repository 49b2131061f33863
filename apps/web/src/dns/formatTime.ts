import { formatNumber } from '@wide-lattice/core/working';
const units = [
  { seconds: 86_400, name: 'd' },
  { seconds: 3600, name: 'h' },
  { seconds: 60, name: 'min' },
] as const;

/** A time in the unit that reads best: 90 s, 10 min, 24 h. */
export function formatTime(seconds: number): string {
  if (!Number.isFinite(seconds)) return 'until restarted';
  const at = Math.abs(seconds);
  const unit = units.find((each) => at >= 2 * each.seconds);
  if (unit === undefined) return `${formatNumber(Math.round(seconds))} s`;
  return `${(seconds / unit.seconds).toLocaleString('en-US', { maximumFractionDigits: 1 })} ${unit.name}`;
}
