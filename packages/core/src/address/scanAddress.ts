/** Where IPv6 words are left by `scanIpv6`. */
export const scanned = new Uint32Array(4);

const groups = new Uint16Array(8);
const NONE = -1;

/** The value of a dotted IPv4 address that fills `text` from one place to another; -1 when it is none, for the strict reader to say why. */
export function scanIpv4(text: string, from: number, to: number): number {
  let value = 0;
  let part = NONE;
  let dots = 0;
  for (let at = from; at < to; at++) {
    const code = text.charCodeAt(at);
    if (code === 46) {
      if (part < 0 || ++dots > 3) return NONE;
      value = (value << 8) | part;
      part = NONE;
    } else {
      const digit = code - 48;
      // A leading zero reads as octal elsewhere, so it is refused.
      if (digit < 0 || digit > 9 || part === 0) return NONE;
      part = part < 0 ? digit : part * 10 + digit;
      if (part > 255) return NONE;
    }
  }
  return part < 0 || dots !== 3 ? NONE : ((value << 8) | part) >>> 0;
}

/** Reads an IPv6 address that fills `text` from one place to another into `scanned`; false when it is none. */
export function scanIpv6(text: string, from: number, to: number): boolean {
  let at = from;
  let count = 0;
  let gap = NONE;
  if (isColon(text, at, to)) {
    if (!isColon(text, at + 1, to)) return false;
    gap = 0;
    at += 2;
  }
  while (at < to) {
    const start = at;
    let group = 0;
    for (let digit = hexDigit(text.charCodeAt(at)); at < to && digit >= 0; digit = hexDigit(text.charCodeAt(at))) {
      group = group * 16 + digit;
      at++;
    }
    if (at < to && text.charCodeAt(at) === 46) {
      const tail = scanIpv4(text, start, to);
      if (tail < 0 || count > 6) return false;
      groups[count++] = tail >>> 16;
      groups[count++] = tail & 0xffff;
      return spread(count, gap);
    }
    if (at === start || at - start > 4 || count > 7) return false;
    groups[count++] = group;
    if (at === to) break;
    if (!isColon(text, at, to)) return false;
    at++;
    if (isColon(text, at, to)) {
      if (gap >= 0) return false;
      gap = count;
      at++;
    } else if (at === to) return false;
  }
  return spread(count, gap);
}

function isColon(text: string, at: number, to: number): boolean {
  return at < to && text.charCodeAt(at) === 58;
}

function hexDigit(code: number): number {
  if (code >= 48 && code <= 57) return code - 48;
  const letter = code | 32;
  return letter >= 97 && letter <= 102 ? letter - 87 : NONE;
}

/** Moves the groups after the gap to the end and packs all eight as words. */
function spread(count: number, gap: number): boolean {
  if (gap < 0 ? count !== 8 : count > 7) return false;
  if (gap >= 0) {
    const after = count - gap;
    groups.copyWithin(8 - after, gap, count);
    groups.fill(0, gap, 8 - after);
  }
  for (let word = 0; word < 4; word++)
    scanned[word] = (groups[2 * word] as number) * 0x10000 + (groups[2 * word + 1] as number);
  return true;
}
