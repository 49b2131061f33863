import type { FlowTrace } from '@wide-lattice/core/forwarding';
import { decisionsOf, lookUpOf } from '@wide-lattice/core/road';
import type { RoadEvent, Verdict } from '@wide-lattice/core/road';

/** Flows that met something and how they ended: by what was met, then by verdict. */
export class Coverage {
  private readonly counts = new Map<string, Map<Verdict, number>>();

  /** Counts a flow once for each kind of thing that it met. */
  add(flow: FlowTrace): void {
    const { forth, back, failed, verdict } = flow;
    const met = new Set([
      ...forth.flatMap(thingsIn),
      ...back.flatMap((event) => thingsIn(event).map((each) => `${each}, answer`)),
    ]);
    if (failed !== undefined) met.add(`fails: ${failed.failure.code}${failed.isBack ? ', answer' : ''}`);
    for (const what of met) {
      const of = this.counts.get(what) ?? new Map<Verdict, number>();
      this.counts.set(what, of);
      of.set(verdict, (of.get(verdict) ?? 0) + 1);
    }
  }

  merge(other: Coverage): void {
    for (const [what, of] of other.counts)
      for (const [verdict, count] of of) {
        const own = this.counts.get(what) ?? new Map<Verdict, number>();
        this.counts.set(what, own);
        own.set(verdict, (own.get(verdict) ?? 0) + count);
      }
  }

  /** Every thing that was met with every verdict, and by how many flows, in the order of the words. */
  rows(): { readonly what: string; readonly verdict: Verdict; readonly flows: number }[] {
    return [...this.counts]
      .flatMap(([what, of]) => [...of].map(([verdict, flows]) => ({ what, verdict, flows })))
      .sort((a, b) => (a.what < b.what ? -1 : a.what > b.what ? 1 : a.verdict < b.verdict ? -1 : 1));
  }
}

/** What an event is, as far as the kernel could see the difference. */
function thingsIn(event: RoadEvent): string[] {
  const at = event.spot.kind === 'subnet' ? 'subnet' : event.spot.kind === 'firewall' ? 'firewall' : 'machine';
  const decisions = decisionsOf(event).map(({ why }) => `${event.event} at ${at} by ${why}`);
  const row = lookUpOf(event)?.found.row;
  const routed = row === undefined ? [] : [`${event.event} by ${row.origin} row to ${row.hop.kind}`];
  switch (event.event) {
    case 'translated':
      return [`translated by ${event.translation.by}`];
    case 'wrapped':
      return [`wrapped in ${event.layers.join(' in ')}`];
    case 'allowed':
    case 'refused':
    case 'dropped':
    case 'routed':
      return [...decisions, ...routed];
    default:
      return [event.event];
  }
}
