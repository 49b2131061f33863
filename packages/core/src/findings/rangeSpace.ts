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
import type { Owner } from '../english/index.js';
import { finding } from './finding.js';
import type { Finding, Subject } from './finding.js';

interface Ranged {
  readonly id: string;
  readonly prefix: string;
}

/** Planning in space that cannot be routed, is for documents only, or belongs to the public internet. */
export function specialSpace(kind: 'pools' | 'allocations', range: Ranged, owner: Owner): Finding[] {
  const value = rangeOf(range);
  const subject: Subject = { kind, id: range.id };
  const unroutable = specialBlocksTouching(value).find(
    (block) => block.use === 'unroutable' && block.prefix.length > 0,
  );
  if (unroutable !== undefined) {
    return [
      finding('space.unroutable', 'error', [subject], {
        owner,
        prefix: range.prefix,
        block: formatPrefix(unroutable.prefix),
        name: unroutable.name,
        source: unroutable.source,
      }),
    ];
  }
  const around = specialBlockAround(value);
  if (around?.use === 'documentation') {
    return [
      finding('space.documentation', 'note', [subject], {
        owner,
        prefix: range.prefix,
        block: formatPrefix(around.prefix),
        name: around.name,
        source: around.source,
      }),
    ];
  }
  if (around === undefined) {
    return [finding('space.public', 'warning', [subject], { owner, prefix: range.prefix })];
  }
  return [];
}

/** A range that is exactly, or holds, one that many installers choose unasked: others use it as well. */
export function widelyUsed(
  kind: 'pools' | 'allocations',
  range: Ranged,
  owner: Owner,
  expectsMergers: boolean,
): Finding[] {
  if (!expectsMergers) return [];
  const value = rangeOf(range);
  const hit = widelyUsedDefaults.find((known) => isChosenDefault(known, value));
  if (hit === undefined) return [];
  return [
    finding('space.widely-used', 'note', [{ kind, id: range.id }], {
      owner,
      prefix: range.prefix,
      block: formatPrefix(hit),
    }),
  ];
}

function isChosenDefault(known: Prefix, value: Prefix): boolean {
  return compareAddresses(known, value) === 0 && overlaps(known, value);
}
