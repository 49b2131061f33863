import { formatTooManyObjects } from '@wide-lattice/core/english';
import {
  buildingOf,
  bundleParts,
  checklistOf,
  checklistRow,
  handoverFiles,
  partIn,
  zipped,
  zoneFileNames,
} from '@wide-lattice/core/handover';
import { groupBy } from '@wide-lattice/core/plan';
import { MAX_OBJECTS } from '@wide-lattice/core/rehearsal';
import type { Scope } from '@wide-lattice/core/rehearsal';
import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';

/** What a bundle holds: its parts with how many files each has. */
export interface ShownBundle {
  readonly parts: readonly { readonly name: string; readonly about: string; readonly files: number }[];
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
    const parts = groupBy(files, ({ path }) => partIn(path));
    return {
      files: files.length,
      parts: [...parts].map(([name, all]) => ({ name, about: bundleParts[name] ?? '', files: all.length })),
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
    const run = yield* buildingOf(evaluation, scope);
    if (!run.ok) return { ok: false, message: formatTooManyObjects(run.objects, MAX_OBJECTS) };
    const steps = checklistOf(evaluation.plan, run);
    return { ok: true, steps: steps.slice(0, MAX_STEPS).map(checklistRow), found: steps.length, total: run.total };
  },
};
