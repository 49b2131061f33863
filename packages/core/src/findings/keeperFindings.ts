import { zonesOfKeeper } from '../naming/index.js';
import type { Keeper, Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Record keepers that touch the same zones and cannot tell their records apart. */
export function keeperFindings(parts: Pick<Plan, 'keepers' | 'zones'>): readonly Finding[] {
  const { keepers: all } = parts;
  const touched = all.map((keeper) => zonesOfKeeper(parts, keeper));
  const found: Finding[] = [];
  all.forEach((one, at) => {
    for (const [place, other] of all.entries()) {
      if (place <= at) continue;
      const shared = (touched[at] ?? []).filter((zone) => touched[place]?.includes(zone));
      if (shared.length === 0) continue;
      const subjects = [one, other].map(({ id }) => ({ kind: 'keepers' as const, id }));
      const fact = {
        one: one.name,
        other: other.name,
        zones: shared.map(({ name }) => name),
        removing: [one, other].filter(removes).map(({ name }) => name),
      };
      if (one.ownerMark === '' || other.ownerMark === '')
        found.push(finding('keeper.no-mark', 'error', subjects, fact));
      else if (one.ownerMark === other.ownerMark)
        found.push(finding('keeper.one-mark', 'error', subjects, { ...fact, mark: one.ownerMark }));
    }
  });
  return found;
}

function removes({ policy }: Keeper): boolean {
  return policy === 'create and remove';
}
