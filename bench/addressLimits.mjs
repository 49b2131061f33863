// What a hand-written loop over IPv4 needs for each operation: no family, no message, no prefix made. A limit, not a way to do it.
const decimals = Array.from({ length: 256 }, (_, byte) => String(byte));

/** Reads "base/length" and writes it, trusting the text; the sum of the written lengths. */
export function readAndWrite(texts) {
  let sum = 0;
  for (const text of texts) {
    let value = 0;
    let part = 0;
    let at = 0;
    for (; at < text.length; at++) {
      const code = text.charCodeAt(at);
      if (code === 47) break;
      if (code === 46) {
        value = (value << 8) | part;
        part = 0;
      } else part = part * 10 + code - 48;
    }
    value = (value << 8) | part;
    let length = 0;
    for (at++; at < text.length; at++) length = length * 10 + text.charCodeAt(at) - 48;
    sum +=
      `${decimals[value >>> 24]}.${decimals[(value >>> 16) & 255]}.${decimals[(value >>> 8) & 255]}.${decimals[value & 255]}/${length}`
        .length;
  }
  return sum;
}

/** The same for IPv6 texts of hexadecimal groups with at most one gap. */
const groups = new Uint16Array(8);
export function readAndWrite6(texts) {
  let sum = 0;
  for (const text of texts) {
    let count = 0;
    let gap = -1;
    let group = 0;
    let digits = 0;
    let at = 0;
    groups.fill(0);
    for (; at < text.length; at++) {
      const code = text.charCodeAt(at);
      if (code === 58 || code === 47) {
        if (digits > 0) groups[count++] = group;
        group = 0;
        digits = 0;
        if (code === 47) break;
        if (text.charCodeAt(at + 1) === 58) {
          gap = count;
          at++;
        }
      } else {
        group = group * 16 + (code <= 57 ? code - 48 : code - 87);
        digits++;
      }
    }
    if (gap >= 0) {
      groups.copyWithin(8 - (count - gap), gap, count);
      groups.fill(0, gap, 8 - (count - gap));
    }
    let length = 0;
    for (at++; at < text.length; at++) length = length * 10 + text.charCodeAt(at) - 48;
    let longest = 1;
    let start = -1;
    for (let i = 0, run = 0; i < 8; i++) {
      run = groups[i] === 0 ? run + 1 : 0;
      if (run > longest) {
        longest = run;
        start = i - run + 1;
      }
    }
    let written = '';
    for (let i = 0; i < 8; i++) {
      if (i === start) {
        written += '::';
        i += longest - 1;
      } else written += (i === 0 || i === start + longest ? '' : ':') + groups[i].toString(16);
    }
    sum += `${written}/${length}`.length;
  }
  return sum;
}

/** Bases and lengths in order of base, then length. */
function ordered(bases, lengths) {
  const keys = new Float64Array(bases.length);
  for (let i = 0; i < bases.length; i++) keys[i] = bases[i] * 64 + lengths[i];
  return keys.sort();
}

/** Merges IPv4 prefixes, given and left in arrays of numbers; how many are left. */
export function mergeArrays(bases, lengths) {
  const keys = ordered(bases, lengths);
  const starts = new Float64Array(keys.length);
  const kept = new Uint8Array(keys.length);
  let top = 0;
  for (let i = 0; i < keys.length; i++) {
    let base = Math.floor(keys[i] / 64);
    let length = keys[i] % 64;
    if (top > 0 && base < starts[top - 1] + 2 ** (32 - kept[top - 1])) continue;
    while (top > 0 && kept[top - 1] === length && (starts[top - 1] ^ base) >>> 0 === 2 ** (32 - length)) {
      top--;
      base = starts[top];
      length--;
    }
    starts[top] = base;
    kept[top++] = length;
  }
  return top;
}

/** The free blocks of a whole around IPv4 prefixes, as numbers: each gap between two is cut at its powers of two. How many there are. */
export function freeArrays(first, last, bases, lengths) {
  const keys = ordered(bases, lengths);
  const starts = [];
  const sizes = [];
  let next = first;
  const gap = (end) => {
    while (next < end) {
      let size = next === 0 ? 2 ** 32 : (next & -next) >>> 0;
      while (next + size > end) size /= 2;
      starts.push(next);
      sizes.push(size);
      next += size;
    }
  };
  for (let i = 0; i < keys.length; i++) {
    const base = Math.floor(keys[i] / 64);
    gap(base);
    next = Math.max(next, base + 2 ** (32 - (keys[i] % 64)));
  }
  gap(last + 1);
  return starts.length;
}
