import { zonesOfRecordController } from '../naming/index.js';
import type { RecordController, Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Record controllers that touch the same zones and cannot tell their records apart. */
export function recordControllerFindings(parts: Pick<Plan, 'recordControllers' | 'zones'>): readonly Finding[] {
  const { recordControllers: all } = parts;
  const touched = all.map((recordController) => zonesOfRecordController(parts, recordController));
  const found: Finding[] = [];
  all.forEach((one, at) => {
    for (const [place, other] of all.entries()) {
      if (place <= at) continue;
      const shared = (touched[at] ?? []).filter((zone) => touched[place]?.includes(zone));
      if (shared.length === 0) continue;
      const subjects = [one, other].map(({ id }) => ({ kind: 'recordControllers' as const, id }));
      const fact = {
        one: one.name,
        other: other.name,
        zones: shared.map(({ name }) => name),
        removing: [one, other].filter(removes).map(({ name }) => name),
      };
      if (one.ownerMark === '' || other.ownerMark === '')
        found.push(finding('record-controller.no-mark', 'error', subjects, fact));
      else if (one.ownerMark === other.ownerMark)
        found.push(finding('record-controller.one-mark', 'error', subjects, { ...fact, mark: one.ownerMark }));
    }
  });
  return found;
}

function removes({ policy }: RecordController): boolean {
  return policy === 'create and remove';
}
