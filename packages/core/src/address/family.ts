/** Address family: 4 (RFC 791) or 6 (RFC 8200). */
export type Family = 4 | 6;

/** Address width in bits: 32 for IPv4, 128 for IPv6. */
export function addressBits(family: Family): 32 | 128 {
  return family === 4 ? 32 : 128;
}

/** The family as people write it. */
export function familyName(family: Family): 'IPv4' | 'IPv6' {
  return family === 4 ? 'IPv4' : 'IPv6';
}
