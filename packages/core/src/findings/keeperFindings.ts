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
      const where = shared.map(({ name }) => name).join(', ');
      const subjects = [one, other].map(({ id }) => ({ kind: 'keepers' as const, id }));
      const removing = [one, other].filter(removes).map(({ name }) => name);
      const then =
        removing.length === 0
          ? 'Each takes the records of the other for its own.'
          : `${removing.join(' and ')} remove${removing.length === 1 ? 's' : ''} the records of the other as its own that nothing asks for.`;
      if (one.ownerMark === '' || other.ownerMark === '')
        found.push(
          finding('keeper.no-mark', 'error', subjects, {
            title: `${one.name} and ${other.name} both touch ${where}, and not both have an owner mark`,
            detail: `${then} Give each a mark of its own.`,
          }),
        );
      else if (one.ownerMark === other.ownerMark)
        found.push(
          finding('keeper.one-mark', 'error', subjects, {
            title: `${one.name} and ${other.name} share the owner mark ${one.ownerMark} in ${where}`,
            detail: `${then} Give each a mark of its own, or zones of its own.`,
          }),
        );
    }
  });
  return found;
}

function removes({ policy }: Keeper): boolean {
  return policy === 'create and remove';
}
