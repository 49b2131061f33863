import {
  compareAddresses,
  formatPrefix,
  overlaps,
  specialBlockAround,
  specialBlocksTouching,
  widelyUsedDefaults,
} from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding, Subject } from './finding.js';

interface Ranged {
  readonly id: string;
  readonly prefix: string;
}

/** Planning in space that cannot be routed, is for documents only, or belongs to the public internet. */
export function specialSpace(kind: 'pools' | 'allocations', range: Ranged, label: string): Finding[] {
  const value = rangeOf(range);
  const subject: Subject = { kind, id: range.id };
  const unroutable = specialBlocksTouching(value).find(
    (block) => block.use === 'unroutable' && block.prefix.length > 0,
  );
  if (unroutable !== undefined) {
    return [
      finding('space.unroutable', 'error', [subject], {
        title: `${label} ${range.prefix} lies in ${unroutable.name} space`,
        detail: `${formatPrefix(unroutable.prefix)} is ${unroutable.name} (${unroutable.source}) and is not forwarded between hosts. Choose private space.`,
      }),
    ];
  }
  const around = specialBlockAround(value);
  if (around?.use === 'documentation') {
    return [
      finding('space.documentation', 'note', [subject], {
        title: `${label} ${range.prefix} is ${around.name} space`,
        detail: `${formatPrefix(around.prefix)} (${around.source}) is reserved for examples; do not use it in a running network.`,
      }),
    ];
  }
  if (around === undefined) {
    return [
      finding('space.public', 'warning', [subject], {
        title: `${label} ${range.prefix} is public space`,
        detail:
          'It lies in no private block (RFC 1918, RFC 6598, RFC 4193). Unless the organisation holds it, its real owner cannot be reached.',
      }),
    ];
  }
  return [];
}

/** A range that is exactly, or holds, one that many installers choose unasked: others use it as well. */
export function widelyUsed(
  kind: 'pools' | 'allocations',
  range: Ranged,
  label: string,
  expectsJoins: boolean,
): Finding[] {
  if (!expectsJoins) return [];
  const value = rangeOf(range);
  const hit = widelyUsedDefaults.find((known) => isChosenDefault(known, value));
  if (hit === undefined) return [];
  return [
    finding('space.widely-used', 'note', [{ kind, id: range.id }], {
      title: `${label} ${range.prefix} is a widely used default`,
      detail: `Many installers use ${formatPrefix(hit)} by default (common practice), so a network joined later is likely to use it too.`,
    }),
  ];
}

function isChosenDefault(known: Prefix, value: Prefix): boolean {
  return compareAddresses(known, value) === 0 && overlaps(known, value);
}
