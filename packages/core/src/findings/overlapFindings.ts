import { comparePrefixes, formatPrefix } from '../address/index.js';
import type { Domains } from '../domains/index.js';
import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { chainOf, isNamedFirst } from '../verdicts/index.js';
import type { ReuseGroup, Use, Verdict } from '../verdicts/index.js';
import { beginning, sayCount, sayNumber } from '../working/index.js';
import { finding } from './finding.js';
import type { Finding, FindingMark, Fix, Subject } from './finding.js';

/** What a verdict counts as, without its words: there can be tens of thousands. */
export function overlapMark({ kind, a, isPlanned }: Verdict): FindingMark {
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
  const later = verdict.isPlanned ? ' once the planned link is made' : '';
  const title =
    verdict.kind === 'conflict'
      ? `${sayUse(a)} and ${sayUse(b)} conflict${later}`
      : `${sayUse(a)} hides ${sayUse(b)}${later}`;
  const clusters = [...new Set([a.clusterId, b.clusterId])].filter((id) => id !== null);
  const fixes = [a, b].flatMap(moveOf);
  const stuck = fixes.length > 0 ? '' : ` Neither can be moved here: ${sayLock(a)}; ${sayLock(b)}.`;
  const { code, severity } = overlapMark(verdict);
  return finding(
    code,
    severity,
    [asSubject(a), asSubject(b), ...clusters.map((id): Subject => ({ kind: 'clusters', id }))],
    {
      title: beginning(title),
      detail:
        (verdict.kind === 'conflict'
          ? 'Both are destinations in one routing domain.'
          : 'The destination cannot be reached from inside that cluster.') + stuck,
      chain: chainOf(verdict, domains, name),
    },
    fixes,
  );
}

function moveOf({ kind, id, label, prefix, isMovable }: Use): Fix[] {
  if (kind === 'blocks' || kind === 'subnets')
    return [{ kind: 'ground', title: `Move ${label} ${formatPrefix(prefix)} with all in it`, moving: kind, id }];
  return isMovable ? [{ kind: 'move', allocationId: id }] : [];
}

/** Why a range cannot be moved by a proposal, and what would let it. */
function sayLock({ kind, lock, label }: Use): string {
  switch (kind) {
    case 'allocations':
      return lock === 'fixed'
        ? `the ${label} is fixed (take the mark off where it may move)`
        : `the cluster of the ${label} is built (plan its rebuild)`;
    case 'subnets':
    case 'blocks':
      // They move with all in them, so that there is a fix and this is not asked.
      return `the ${label} is entered at Ground`;
    case 'inUse':
      return `the ${label} is somebody else’s (have it renumbered)`;
    case 'attachments':
      return `the ${label} is advertised by its network (have it advertise less)`;
    case 'members':
      return `the ${label} is what its connection shows (translate it to another)`;
  }
}

/** "node range of x 10.0.0.0/24". */
export function sayUse(use: Use): string {
  return `${use.label} ${formatPrefix(use.prefix)}`;
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
  const more = group.count - SHOWN;
  const broken = new Set(uses.flatMap(({ id }) => byConnections.get(id) ?? [])).size;
  const isHarmless = broken === 0;
  return finding('overlap.reuse', 'note', named.map(asSubject), {
    title: `${outermost} is used ${group.count} times`,
    detail: [
      `${sayCount(group.pairs, 'overlapping pair')}, ${isHarmless ? 'harmless while no network reaches both' : `of which connections make ${sayNumber(broken)} a conflict`}:`,
      `${named.map(sayUse).join('; ')}${more > 0 ? `; and ${more} more` : ''}.`,
    ].join(' '),
    part: outermost,
  });
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
