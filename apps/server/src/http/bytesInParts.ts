/** Bytes that are sent at once: packing or copying a whole file in one go would delay other requests. */
const SENT_AT_ONCE = 256_000;

/** The same bytes in parts, not copied. */
export function* bytesInParts({ buffer, byteOffset, byteLength }: Uint8Array): Generator<Buffer> {
  for (let at = 0; at < byteLength; at += SENT_AT_ONCE)
    yield Buffer.from(buffer, byteOffset + at, Math.min(SENT_AT_ONCE, byteLength - at));
}
