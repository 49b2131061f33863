import { contains, overlaps, prefix } from './prefix.js';
import type { Prefix } from './prefix.js';

/** How a plan may use a special block. */
type BlockUse =
  /** Meant for networks like these. */
  | 'private'
  /** For examples in documents only; allowed here and said. */
  | 'documentation'
  /** Cannot be forwarded between hosts: planning inside is an error. */
  | 'unroutable';

/** One entry of the special-purpose address registries. */
export interface SpecialBlock {
  readonly prefix: Prefix;
  readonly name: string;
  readonly source: string;
  readonly use: BlockUse;
}

const block = (text: string, name: string, source: string, use: BlockUse): SpecialBlock => ({
  prefix: prefix(text),
  name,
  source,
  use,
});

/** Special-purpose blocks (RFC 6890 registries and the RFCs they cite), most specific first where they nest. */
export const specialBlocks: readonly SpecialBlock[] = [
  block('10.0.0.0/8', 'private use', 'RFC 1918', 'private'),
  block('172.16.0.0/12', 'private use', 'RFC 1918', 'private'),
  block('192.168.0.0/16', 'private use', 'RFC 1918', 'private'),
  block('100.64.0.0/10', 'shared address space', 'RFC 6598', 'private'),
  block('fc00::/7', 'unique local', 'RFC 4193', 'private'),
  block('198.18.0.0/15', 'benchmarking', 'RFC 2544', 'documentation'),
  block('192.0.2.0/24', 'documentation', 'RFC 5737', 'documentation'),
  block('198.51.100.0/24', 'documentation', 'RFC 5737', 'documentation'),
  block('203.0.113.0/24', 'documentation', 'RFC 5737', 'documentation'),
  block('2001:db8::/32', 'documentation', 'RFC 3849', 'documentation'),
  block('3fff::/20', 'documentation', 'RFC 9637', 'documentation'),
  block('0.0.0.0/8', 'this network', 'RFC 791', 'unroutable'),
  block('127.0.0.0/8', 'loopback', 'RFC 1122', 'unroutable'),
  block('169.254.0.0/16', 'link local', 'RFC 3927', 'unroutable'),
  block('192.0.0.0/24', 'protocol assignments', 'RFC 6890', 'unroutable'),
  block('224.0.0.0/4', 'multicast', 'RFC 5771', 'unroutable'),
  block('240.0.0.0/4', 'reserved', 'RFC 1112', 'unroutable'),
  block('::/128', 'unspecified', 'RFC 4291', 'unroutable'),
  block('::1/128', 'loopback', 'RFC 4291', 'unroutable'),
  block('::ffff:0:0/96', 'IPv4-mapped', 'RFC 4291', 'unroutable'),
  block('100::/64', 'discard only', 'RFC 6666', 'unroutable'),
  block('fe80::/10', 'link local', 'RFC 4291', 'unroutable'),
  block('ff00::/8', 'multicast', 'RFC 4291', 'unroutable'),
];

/** The special block that holds the whole prefix; undefined when none does. */
export function specialBlockAround(value: Prefix): SpecialBlock | undefined {
  return specialBlocks.find((special) => contains(special.prefix, value));
}

/** Every special block that shares an address with the prefix. */
export function specialBlocksTouching(value: Prefix): SpecialBlock[] {
  return specialBlocks.filter((special) => overlaps(special.prefix, value));
}

/** Ranges that many installers and devices choose unasked; likely to be met when networks are joined. Common practice. */
export const widelyUsedDefaults: readonly Prefix[] = [
  '10.0.0.0/16',
  '10.96.0.0/12',
  '10.244.0.0/16',
  '172.17.0.0/16',
  '192.168.0.0/16',
].map(prefix);
