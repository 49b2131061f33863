import { formatTooManyObjects } from '@wide-lattice/core/english';
import { checklistOf, checklistRow, handoverFiles, zipped, zoneFileNames } from '@wide-lattice/core/handover';
import { groupBy } from '@wide-lattice/core/plan';
import { bringUp, MAX_OBJECTS, usualWish } from '@wide-lattice/core/rehearsal';
import type { Scope } from '@wide-lattice/core/rehearsal';
import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';

/** A folder of a bundle, or one of its lists, with how many files it has. */
interface ShownFolder {
  readonly name: string;
  readonly files: number;
  readonly characters: number;
}

/** What a bundle holds. */
export interface ShownBundle {
  readonly folders: readonly ShownFolder[];
  readonly files: number;
}

/** The first steps of a checklist, and how many there are; or why there is none. */
export type ShownChecklist =
  | {
      readonly ok: true;
      readonly steps: readonly Readonly<Record<string, string | number>>[];
      readonly found: number;
      readonly total: number;
    }
  | { readonly ok: false; readonly message: string };

/** Steps that are shown; the bundle has all. */
const MAX_STEPS = 200;

/** What builders are given. */
export const handoverSlices = {
  *bundle({ evaluation }: SliceHost, scope: Scope): Steps<ShownBundle> {
    const files = yield* handoverFiles(evaluation, scope);
    const folders = groupBy(files, ({ path }) => path.split(/[/.]/)[0] ?? '');
    return {
      files: files.length,
      folders: [...folders].map(([name, all]) => ({
        name,
        files: all.length,
        characters: all.reduce((sum, { text }) => sum + text.length, 0),
      })),
    };
  },

  /** Zone files, by the ids of their zones, as one zip: those of one origin are two files. */
  zonesZipped: ({ plan }: SliceHost, texts: Readonly<Record<string, string>>): Uint8Array => {
    const zones = plan.zones.filter(({ id }) => id in texts);
    const named = zoneFileNames(zones);
    return zipped(
      zones.map(({ id }) => ({ path: named.get(id) ?? '', text: texts[id] ?? '' })),
      'zones',
    );
  },

  *checklist({ evaluation }: SliceHost, scope: Scope): Steps<ShownChecklist> {
    const run = yield* bringUp(evaluation, { ...usualWish, scope, isBuiltThere: true });
    if (!run.ok) return { ok: false, message: formatTooManyObjects(run.objects, MAX_OBJECTS) };
    const steps = checklistOf(evaluation.plan, run);
    return { ok: true, steps: steps.slice(0, MAX_STEPS).map(checklistRow), found: steps.length, total: run.total };
  },
};
