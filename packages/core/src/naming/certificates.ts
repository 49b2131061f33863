import type { Certificate } from '../plan/index.js';

const DAY_MS = 86_400_000;

/** The day on which a certificate ends. */
export function certificateEnd({ validFrom, validDays }: Pick<Certificate, 'validFrom' | 'validDays'>): string {
  return dayAfter(validFrom, validDays);
}

/** Whether a certificate has ended by a day; one that renews itself is taken to have done so. */
export function isExpired(
  certificate: Pick<Certificate, 'validFrom' | 'validDays' | 'renewsItself'>,
  day: string,
): boolean {
  return !certificate.renewsItself && certificateEnd(certificate) <= day;
}

/** This day in UTC, as 2026-11-26. */
export function thisDay(): string {
  return new Date().toISOString().slice(0, 10);
}

/** The day on which a certificate is to be renewed. */
export function renewalOf(certificate: Pick<Certificate, 'validFrom' | 'validDays' | 'renewDays'>): string {
  return dayAfter(certificateEnd(certificate), -certificate.renewDays);
}

/** A day some days after another one, both as 2026-11-26. */
function dayAfter(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * DAY_MS).toISOString().slice(0, 10);
}

/** Whole days from one day to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / DAY_MS);
}
