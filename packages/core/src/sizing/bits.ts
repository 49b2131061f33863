/** The fewest bits that tell `count` things apart: ceil(log2(count)), 0 for one thing. */
export function bitsFor(count: number): number {
  return count <= 1 ? 0 : 32 - Math.clz32(count - 1);
}
