import { v7 } from 'uuid';

const IDS_A_FILL = 256;
const ID_BYTES = 16;

// Random bytes are cheap by the page and dear by the piece, and a proposal makes thousands of ids.
const random = new Uint8Array(IDS_A_FILL * ID_BYTES);
let used = random.length;
let lastMs = 0;
let sequence = 0;

/** A fresh id: UUID version 7 (RFC 9562 5.7), so later ids sort after earlier ones, also within a millisecond. */
export function newId(): string {
  if (used === random.length) {
    crypto.getRandomValues(random);
    used = 0;
  }
  const bytes = random.subarray(used, used + ID_BYTES);
  used += ID_BYTES;
  const now = Date.now();
  if (now > lastMs) {
    lastMs = now;
    // Half of the 32 bits are left for the ids that follow in this millisecond (RFC 9562 6.2, method 1).
    sequence = ((bytes[0] as number) << 8) | (bytes[1] as number);
  } else sequence++;
  return v7({ random: bytes, msecs: lastMs, seq: sequence });
}
