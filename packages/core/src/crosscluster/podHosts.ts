import type { Family } from '../address/index.js';
import { podHost } from '../forwarding/index.js';
import type { Forwarding, Host } from '../forwarding/index.js';
import type { Found } from '../road/index.js';

type Which = 'first' | 'other';

/** The pods that stand for all of a cluster, each found once. */
export class PodHosts {
  private readonly known = new Map<string, Partial<Record<`${Which} ${Family}`, Found<Host>>>>();

  constructor(private readonly forwarding: Forwarding) {}

  /** The pod that stands for all of a cluster, or another one on another node; why it has no address yet. */
  of(clusterId: string, family: Family, which: Which = 'first'): Found<Host> {
    const own = this.known.get(clusterId) ?? {};
    this.known.set(clusterId, own);
    return (own[`${which} ${family}`] ??= podHost(
      this.forwarding,
      { clusterId, nodePoolId: null, zone: '' },
      family,
      which,
    ));
  }
}
