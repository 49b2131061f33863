import type { Rr } from '../zones/index.js';

const SPACE = 2 ** 32;

/**
 * The serial that follows another one, so that secondaries take the zone anew: the day with two digits (RFC 1912 2.2) where that is
 * greater by serial arithmetic (RFC 1982 3.2), else one more, past 4,294,967,295 from 0 on.
 *
 * @param serial 0 to 4,294,967,295.
 * @param today The day: 2026-12-01.
 */
export function nextSerial(serial: number, today: string): number {
  const dated = Number(`${today.replaceAll('-', '')}00`);
  const further = (dated - serial + SPACE) % SPACE;
  return further > 0 && further < SPACE / 2 ? dated : (serial + 1) % SPACE;
}

/**
 * A mark of what a zone holds, its serial apart: 16 digits of base 16, the same for the same records in any order. Of two zones
 * that differ it is alike once in 2^64, which is seldom enough to see whether one has changed, and no protection against
 * somebody who wants it to be (FNV-1a, twice; from memory of its description).
 */
export function contentMark(records: readonly Rr[]): string {
  const lines = records.map(({ name, type, ttl, value }) => {
    const [server = '', box = '', , ...times] = type === 'SOA' ? value.split(' ') : [];
    return `${name} ${ttl} ${type} ${type === 'SOA' ? [server, box, ...times].join(' ') : value}\n`;
  });
  const text = lines.sort().join('');
  let [one, other] = [0x811c9dc5, 0x01000193];
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    one = Math.imul(one ^ code, 0x01000193);
    other = Math.imul(other ^ code ^ (one >>> 16), 0x01000193);
  }
  return [one, other].map((each) => (each >>> 0).toString(16).padStart(8, '0')).join('');
}
