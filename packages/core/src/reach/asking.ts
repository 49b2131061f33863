import { traceFlow } from '../forwarding/index.js';
import type { ResolvedTarget, CompiledFilter, Forwarding, Host } from '../forwarding/index.js';
import { USUAL_BYTES } from '../plan/index.js';
import { decisionsOf, worstFirst } from '../road/index.js';
import type { Packet } from '../road/index.js';
import type { Judged } from './answers.js';

/** The answer of what passes, on nothing that could refuse it. */
export const passing: Judged = { verdict: 'pass', why: undefined, lists: [], refusing: [] };

/** Asks forwarding for cells of the matrix, and tells which lists each answer rests on. */
export class Asking {
  constructor(private readonly forwarding: Forwarding) {}

  /** The worst answer of several targets. */
  all(from: Host, aims: readonly ResolvedTarget[]): Judged {
    let worst: Omit<Judged, 'lists'> = passing;
    const lists = new Set<string>();
    let arrival: Packet | undefined;
    for (const aim of aims) {
      const { verdict, failed, forth, back } = traceFlow(this.forwarding, from, aim, USUAL_BYTES);
      const last = forth.findLast((event) => decisionsOf(event).length > 0);
      if (last !== undefined && decisionsOf(last)[0]?.direction === 'in') arrival = last.packet;
      for (const event of [...forth, ...back]) for (const { list } of decisionsOf(event)) lists.add(list.id);
      if (worstFirst.indexOf(verdict) < worstFirst.indexOf(worst.verdict))
        worst = {
          verdict,
          why: failed,
          refusing: failed?.failure.code === 'filter' ? failed.failure.filterIds : [],
        };
    }
    return { ...worst, arrival, lists: [...lists] };
  }

  /**
   * What the group of a target answers. It rests on no filter of either end by its name, since numbers tell what their rules are, and
   * change with them; but one that refuses is named in the answer, which is asked anew with its rules.
   */
  group(host: Host, target: Host, port: number): Judged {
    const judged = this.host(host, target, port);
    if (judged.lists.length === 0) return judged;
    // One that is at a subnet too may be asked there.
    const atEnds = this.forwarding.lists
      .at(...host.attachable, ...target.attachable)
      .flatMap(({ filter }) => (filter.subnetIds.length === 0 ? [filter.id] : []));
    const isNamed = (id: string) => judged.refusing.includes(id) || !atEnds.includes(id);
    return { ...judged, lists: judged.lists.filter(isNamed) };
  }

  /**
   * What is answered by a target whose rules alone changed, as far as it can be told without asking: what never came to its door
   * still does not; what went through goes in, and its answers out, when its filters know connections and let it in.
   */
  movedTo(before: Judged | undefined, target: Host): Judged | undefined {
    if (before === undefined) return undefined;
    const { arrival, verdict } = before;
    if (verdict !== 'pass') return arrival === undefined ? before : undefined;
    const attached = this.forwarding.lists.at(...target.attachable);
    const isKnowing = attached.every(({ filter }) => filter.isStateful && filter.subnetIds.length === 0);
    if (arrival === undefined || !isKnowing) return undefined;
    const isAllowed = ({ filter, in: list }: CompiledFilter) =>
      list.decide(arrival, filter.defaultIn).action === 'allow';
    const allowing = attached.filter(({ filter }) => filter.mode === 'allow-only');
    const isIn =
      (allowing.length === 0 || allowing.some(isAllowed)) &&
      attached.every((each) => each.filter.mode === 'allow-only' || isAllowed(each));
    return isIn ? before : undefined;
  }

  /** One target. */
  host(from: Host, target: Host, port: number): Judged {
    const { label } = target;
    return this.all(from, [
      {
        address: this.forwarding.tunnels.addressFor(from, target),
        protocol: 'tcp',
        port,
        host: target,
        isOutside: true,
        label,
      },
    ]);
  }
}
