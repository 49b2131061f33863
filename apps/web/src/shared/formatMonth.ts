/** Farther ahead nobody plans; a straight line says nothing there. */
const FARTHEST_MONTH = 600;

/** When a limit is exceeded, as people say it. */
export function formatMonth(month: number): string {
  if (month < 0) return 'never';
  if (month === 0) return 'now';
  return month > FARTHEST_MONTH ? 'beyond 50 years' : `month ${month}`;
}
