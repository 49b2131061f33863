import type { Workload } from '@wide-lattice/core/plan';
import type { World } from '../world.js';

/** The stand-in pods: each workload’s, of which those that are ready take turns. */
export class Pods {
  private readonly turns = new Map<string, number>();

  constructor(private readonly world: World) {}

  /** The pod that takes the next call. Where none is ready, some service publishes them all the same. */
  next({ id, name, replicasNow, notReady }: Workload): string {
    const ready = replicasNow - notReady;
    const turn = (this.turns.get(id) ?? -1) + 1;
    this.turns.set(id, turn);
    return podName(name, turn % Math.max(1, ready > 0 ? ready : replicasNow));
  }

  /** Pods of a workload that run in the plan, and those of them that were stopped here. */
  countsOf({ id, replicasNow, notReady }: Workload): { readonly ready: number; readonly stopped: number } {
    return { ready: replicasNow - notReady, stopped: Math.min(replicasNow, this.world.stoppedPods(id)) };
  }
}

/** What a pod is called: by its workload and its place, from 0. Those that are not ready have the last places. */
export function podName(workload: string, place: number): string {
  return `${workload}-${place}`;
}
