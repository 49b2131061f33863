import { formatPrefix, halves, parent, parsePrefix } from '@wide-lattice/core/address';

/** Grows by one bit, or shrinks by one keeping the lower or the upper half. */
export type Resize = 'grow' | 'keepLower' | 'keepUpper';

/** The prefix after one step; undefined when there is none. A grown prefix keeps its natural alignment, so it may reach to either side. */
export function resized(text: string, how: Resize): string | undefined {
  const parsed = parsePrefix(text);
  if (!parsed.ok) return undefined;
  if (how === 'grow') {
    const wider = parent(parsed.value);
    return wider === undefined ? undefined : formatPrefix(wider);
  }
  const pair = halves(parsed.value);
  if (pair === undefined) return undefined;
  return formatPrefix(how === 'keepLower' ? pair[0] : pair[1]);
}

/** What dragging an edge asks for: outwards grows, inwards shrinks and keeps the far half; undefined while it is too little. */
export function resizeOfDrag(edge: 'left' | 'right', moved: number, threshold: number): Resize | undefined {
  if (Math.abs(moved) < threshold) return undefined;
  const isOutward = edge === 'right' ? moved > 0 : moved < 0;
  if (isOutward) return 'grow';
  return edge === 'right' ? 'keepLower' : 'keepUpper';
}
