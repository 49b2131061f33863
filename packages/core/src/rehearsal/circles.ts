import type { Graph } from './graph.js';

/** Circles among the tasks that are held up: each once, from its first task on, every task waiting for the next. */
export function circlesIn({ tasks }: Graph, isHeld: (task: number) => boolean): number[][] {
  const circles: number[][] = [];
  // 1 on the way that is followed, 2 done with.
  const marks = new Uint8Array(tasks.length);
  for (let root = 0; root < tasks.length; root++) {
    if (marks[root] !== 0 || !isHeld(root)) continue;
    const way: number[] = [root];
    const next: number[] = [0];
    marks[root] = 1;
    while (way.length > 0) {
      const task = way.at(-1) as number;
      const at = next.at(-1) as number;
      const need = tasks[task]?.needs[at];
      if (need === undefined) {
        marks[task] = 2;
        way.pop();
        next.pop();
        continue;
      }
      next[next.length - 1] = at + 1;
      if (marks[need] === 1) circles.push(way.slice(way.indexOf(need)));
      else if (marks[need] === 0 && isHeld(need)) {
        marks[need] = 1;
        way.push(need);
        next.push(0);
      }
    }
  }
  return circles;
}
