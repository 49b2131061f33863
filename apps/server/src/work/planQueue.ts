/** Work on one plan waits for the work on it before; plans do not wait for one another. */
export class PlanQueue {
  private readonly last = new Map<string, Promise<unknown>>();

  /** Runs after what was handed in for the plan before. */
  run<T>(planId: string, work: () => Promise<T>): Promise<T> {
    const before = this.last.get(planId) ?? Promise.resolve();
    const result = before.then(work, work);
    this.last.set(planId, result);
    const done = () => {
      if (this.last.get(planId) === result) this.last.delete(planId);
    };
    result.then(done, done);
    return result;
  }
}
