import { performance } from 'node:perf_hooks';

/** A size of what is measured. WL_BENCH=small takes the small one: the tests run every benchmark so, that none rots. */
export const scaled = (whole, small) => (process.env['WL_BENCH'] === 'small' ? small : whole);

/** Median time of several runs in milliseconds, after one that is not counted. */
export function median(run, times = 7) {
  run();
  const taken = Array.from({ length: times }, () => {
    const from = performance.now();
    run();
    return performance.now() - from;
  }).sort((a, b) => a - b);
  return taken[Math.floor(times / 2)];
}

/** A generator of numbers from 0 to 1 that gives the same row for the same seed. */
export function seeded(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** Prints one row: what was measured, in milliseconds, and its ratio to the reference of the same run. */
export function row(what, ms, reference, referenceMs) {
  const ratio = ms / referenceMs;
  const words = ratio >= 1 ? `${ratio.toFixed(2)}x the time of` : `${(1 / ratio).toFixed(1)}x faster than`;
  console.log(`${what}: ${ms.toFixed(2)} ms, ${words} ${reference} (${referenceMs.toFixed(2)} ms)`);
}

/**
 * Median times of several ways in milliseconds, run in turn so that a slow moment of the machine meets all of them. What `prepare`
 * makes for a way is not counted, nor are the first rounds, in which code is still being compiled.
 */
export function alternate(ways, times = 7, { prepare = () => undefined, warmUp = 1 } = {}) {
  const taken = ways.map(() => []);
  for (let round = 0; round < warmUp + times; round++) {
    ways.forEach((way, i) => {
      const prepared = prepare(i);
      const from = performance.now();
      way(prepared);
      if (round >= warmUp) taken[i].push(performance.now() - from);
    });
  }
  return taken.map((list) => list.sort((a, b) => a - b)[Math.floor(times / 2)]);
}
