import { comparePrefixes, formatPrefix } from '../address/index.js';
import { byId } from '../plan/index.js';
import type { Network } from '../plan/index.js';
import { section } from '../section/index.js';
import { domains } from '../domains/index.js';
import type { Domains } from '../domains/index.js';
import { advertisedUses, chainOf, verdicts } from '../verdicts/index.js';
import type { Use, Verdict } from '../verdicts/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';
import { firstFew, useFact } from './overlapFindings.js';

const SHOWN = 6;

/** Advertised summaries of which other networks use a part, each with its finding, by the id of the advertised prefix. */
export const hiddenParts = section({
  name: 'hidden parts',
  reads: ['networks'],
  needs: { advertised: advertisedUses, verdicts, domains },
  build: ({ networks }, needed): ReadonlyMap<string, Finding> => {
    const found = new Map<string, Finding>();
    for (const use of needed.advertised) {
      const hiding = needed.verdicts.verdictsOf(use.id).filter(({ kind, b }) => kind === 'hidden' && b.id === use.id);
      if (hiding.length > 0) found.set(use.id, hiddenPart(use, hiding, networks, needed.domains));
    }
    return found;
  },
});

function hiddenPart(use: Use, hiding: readonly Verdict[], networks: readonly Network[], known: Domains): Finding {
  const name = (id: string) => byId(networks, id)?.name ?? '';
  const standing = hiding.filter(({ isPlanned }) => !isPlanned);
  const chosen = standing.length > 0 ? standing : hiding;
  const named = firstFew(
    chosen.map(({ a }) => a).sort((one, other) => comparePrefixes(one.prefix, other.prefix)),
    SHOWN,
  );
  const first = chosen.find(({ a }) => a === named[0]) as Verdict;
  return finding(
    'overlap.hidden',
    standing.length > 0 ? 'warning' : 'note',
    [{ kind: 'attachments', id: use.advertised?.attachmentId ?? '' }],
    {
      prefix: formatPrefix(use.prefix),
      owner: name(use.networkId as string),
      isPlanned: standing.length === 0,
      hiding: named.map(useFact),
      more: chosen.length - named.length,
      chain: chainOf(first, known, name),
    },
    { part: use.id },
  );
}
