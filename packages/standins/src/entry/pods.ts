import type { Workload } from '@wide-lattice/core/plan';
import type { World } from '../world.js';

/** The stand-in pods: each workload’s, of which those that are ready take turns. */
export class Pods {
  private readonly turns = new Map<string, number>();

  constructor(private readonly world: World) {}

  /** The pod that takes the next call, and whether it answers. Where none is ready, some service publishes them all the same. */
  next({ id, name, replicasNow, notReady }: Workload): { readonly pod: string; readonly answers: boolean } {
    const ready = replicasNow - notReady;
    const turn = (this.turns.get(id) ?? -1) + 1;
    this.turns.set(id, turn);
    const place = turn % Math.max(1, ready > 0 ? ready : replicasNow);
    return { pod: podName(name, place), answers: this.world.answers(id, place) };
  }

  /** Pods of a workload that are called, those of them that were stopped here, and whether health checks know of these. */
  countsOf({ id, replicasNow, notReady }: Workload) {
    const stopped = Math.min(replicasNow, this.world.stoppedPods(id));
    return { ready: replicasNow - notReady, stopped, isFound: this.world.isFound(id) };
  }
}

/** What a pod is called: by its workload and its place, from 0. Those that are not ready have the last places. */
export function podName(workload: string, place: number): string {
  return `${workload}-${place}`;
}
