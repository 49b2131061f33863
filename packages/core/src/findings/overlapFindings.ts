import { comparePrefixes, formatPrefix } from '../address/index.js';
import type { Domains } from '../domains/index.js';
import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { chainOf, isNamedFirst } from '../verdicts/index.js';
import type { ReuseGroup, Use, Verdict } from '../verdicts/index.js';
import type { UseFact } from '../english/index.js';
import { finding } from './finding.js';
import type { Finding, FindingMark, Fix, Subject } from './finding.js';

/** What a verdict counts as, without its words: there can be tens of thousands. */
export function overlapMark({
  kind,
  a,
  isPlanned,
}: Verdict): FindingMark & { readonly code: 'overlap.conflict' | 'overlap.shadowed' } {
  return {
    code: kind === 'conflict' ? 'overlap.conflict' : 'overlap.shadowed',
    severity: isPlanned ? 'warning' : 'error',
    kind: a.kind,
  };
}

const asSubject = ({ kind, id, advertised }: Use): Subject => ({ kind, id: advertised?.attachmentId ?? id });

/** A conflict or a shadowed destination, with its chain and the moves that would end it. */
export function verdictFinding(verdict: Verdict, networks: Plan['networks'], domains: Domains): Finding {
  const { a, b } = verdict;
  const name = (id: string) => byId(networks, id)?.name ?? 'unknown';
  const clusters = [...new Set([a.clusterId, b.clusterId])].filter((id) => id !== null);
  const fixes = [a, b].flatMap(moveOf);
  const { code, severity } = overlapMark(verdict);
  return finding(
    code,
    severity,
    [asSubject(a), asSubject(b), ...clusters.map((id): Subject => ({ kind: 'clusters', id }))],
    {
      a: useFact(a),
      b: useFact(b),
      isPlanned: verdict.isPlanned,
      isStuck: fixes.length === 0,
      chain: chainOf(verdict, domains, name),
    },
    { fixes },
  );
}

function moveOf({ kind, id, label, prefix, isMovable }: Use): Fix[] {
  if (kind === 'blocks' || kind === 'subnets')
    return [{ kind: 'ground', offer: { code: 'ground.move', label, prefix: formatPrefix(prefix) }, moving: kind, id }];
  return isMovable ? [{ kind: 'move', allocationId: id }] : [];
}

/** A use as findings say it, and why no proposal moves it. */
export function useFact({ kind, lock, label, prefix }: Use): UseFact {
  const locks = {
    allocations: lock === 'pinned' ? 'pinned' : 'built',
    // They move with all in them, so that there is a fix and this is not asked.
    subnets: 'ground',
    blocks: 'ground',
    inUse: 'in use',
    attachments: 'advertised',
    members: 'shown',
  } as const;
  return { label, prefix: formatPrefix(prefix), lock: locks[kind] };
}

const SHOWN = 12;

/** Ranges that overlap without harm today; breaks if their networks are ever joined. One note a group. */
export function reuseFinding(
  group: ReuseGroup,
  uses: readonly Use[],
  byConnections: ReadonlyMap<string, readonly Verdict[]>,
): Finding {
  const outermost = formatPrefix(group.outermost);
  const named = firstFew(uses, SHOWN);
  const broken = new Set(uses.flatMap(({ id }) => byConnections.get(id) ?? [])).size;
  return finding(
    'overlap.reuse',
    'note',
    named.map(asSubject),
    { outermost, count: group.count, pairs: group.pairs, broken, uses: named.map(useFact), more: group.count - SHOWN },
    { part: outermost },
  );
}

/** The first few in one order, whatever order equal prefixes came in; the uses come by prefix and can be thousands. */
export function firstFew(uses: Iterable<Use>, count: number): Use[] {
  const found: Use[] = [];
  for (const use of uses) {
    const last = found[count - 1];
    if (last !== undefined && comparePrefixes(use.prefix, last.prefix) > 0) break;
    if (last !== undefined && !comesBefore(use, last)) continue;
    const at = found.findIndex((each) => comesBefore(use, each));
    found.splice(at < 0 ? found.length : at, 0, use);
    if (found.length > count) found.pop();
  }
  return found;
}

function comesBefore(a: Use, b: Use): boolean {
  const order = comparePrefixes(a.prefix, b.prefix);
  if (order !== 0) return order < 0;
  return isNamedFirst(a, b);
}
