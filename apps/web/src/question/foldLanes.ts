import type { ShownLane, ShownStep } from '../worker/slices/question';

/** Lanes that fit beside one another at 1280 wide, with the words of their knots. */
const MAX_LANES = 7;

/** A column of the road: one lane, or several in which nothing but passing on happens. */
export interface Column {
  readonly title: string;
  readonly kind: string;
  readonly lanes: readonly number[];
}

/** Folds lanes in which nothing changed while there are more than fit. */
export function foldLanes(
  lanes: readonly ShownLane[],
  steps: readonly ShownStep[],
): { readonly shown: readonly Column[] } {
  const plain = (lane: number) =>
    lane > 0 &&
    lane < lanes.length - 1 &&
    steps.every((step) => step.lane !== lane || step.event === 'routed' || step.event === 'crossed');
  let surplus = lanes.length - MAX_LANES;
  const shown: Column[] = [];
  let isFolding = false;
  lanes.forEach(({ name, kind }, lane) => {
    const last = shown.at(-1);
    if (surplus > 0 && plain(lane)) {
      if (isFolding && last !== undefined) {
        shown[shown.length - 1] = {
          title: `${last.lanes.length + 1} passed on`,
          kind: 'folded',
          lanes: [...last.lanes, lane],
        };
        surplus--;
        return;
      }
      isFolding = true;
      shown.push({ title: name, kind, lanes: [lane] });
      return;
    }
    isFolding = false;
    shown.push({ title: name, kind, lanes: [lane] });
  });
  return { shown };
}
