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
