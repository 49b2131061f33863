/** What is asked of a rule to find a place beside it. */
interface Placed {
  readonly position: number;
  readonly action: 'allow' | 'deny';
}

const LAST_POSITION = 100_000;
/** Between rules, so that others find a place there. */
const APART = 10;
/** Of the first rule of a list that others are to come before and after. */
const FIRST_RULE = 1000;

/** A position in front of all rules of a list, so that none of them denies first; undefined when the first place is taken. */
export function positionInFront(rules: readonly Pick<Placed, 'position'>[]): number | undefined {
  if (rules.length === 0) return FIRST_RULE;
  const lowest = Math.min(...rules.map(({ position }) => position));
  return lowest > 1 ? Math.max(1, lowest - APART) : undefined;
}

/** A position just before one rule of a list; undefined when there is none free. */
export function positionBefore(
  rules: readonly Pick<Placed, 'position'>[],
  rule: Pick<Placed, 'position'>,
): number | undefined {
  const taken = new Set(rules.map(({ position }) => position));
  for (let position = rule.position - 1; position >= 1; position--) if (!taken.has(position)) return position;
  return undefined;
}

/**
 * A position behind all rules of a list. Where the end of the numbers is taken it is the last one that only rules that allow stand
 * behind: before those an allowing rule changes nothing for what they allow. Undefined when there is none.
 */
export function positionAtEnd(rules: readonly Placed[]): number | undefined {
  const last = Math.max(0, ...rules.map(({ position }) => position));
  if (last < LAST_POSITION) return Math.min(LAST_POSITION, last + APART);
  const at = new Map(rules.map((rule) => [rule.position, rule]));
  for (let position = LAST_POSITION; position >= 1; position--) {
    const rule = at.get(position);
    if (rule === undefined) return position;
    if (rule.action === 'deny') return undefined;
  }
  return undefined;
}
