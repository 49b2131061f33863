import type { FlowTrace } from '@wide-lattice/core/forwarding';
import { decisionsOf, lookUpOf } from '@wide-lattice/core/road';
import type { Failure, RoadEvent, Verdict } from '@wide-lattice/core/road';

/** Flows from which on it counts that something was met. */
export const ENOUGH = 20;

/** Endings that flows between namespaces cannot come to, and why. */
export const BEYOND_KERNEL: Partial<Readonly<Record<Failure['code'], string>>> = {
  ambiguous: 'of two routes that are as good the kernel takes one',
  'many-ways': 'so many links that are as good are not built',
  'zone-lost': 'what is lost is not built',
  'device-lost': 'what is lost is not built',
  'zone-unsaid': 'what is lost is not built',
  'ipv6-narrow': 'an interface of 1,279 bytes has no IPv6 address to build a plan with: tried by a test of its own',
  'service-address': 'services are proved by a test of their own',
  shadowed: 'services are proved by a test of their own',
  policy: 'network policies are proved by a test of their own',
  'no-gateway': 'tunnels of connections are proved by a test of their own',
  'too-big': 'met by packets that are one byte too large, which are counted apart',
};

/** Seeds beyond the first 200 whose random plans hold what is rare in those: found by trying further ones in their order. */
const RARE = [
  214, 234, 243, 244, 246, 249, 254, 263, 277, 301, 351, 352, 380, 383, 390, 393, 472, 492, 493, 521, 540, 558, 566,
  575, 601, 606, 870, 895, 908, 1007, 1010, 1902, 1963, 1990, 2255, 2310, 2426, 2522, 3255, 3276, 3391, 3696, 4082,
  4109, 4127, 4142, 4145,
];

/** The seeds of random plans whose flows meet everything that flows can meet, with every verdict, often enough. */
export const SUITE: readonly number[] = [...Array.from({ length: 200 }, (_, i) => i + 1), ...RARE];

/** Flows that met something and how they ended: by what was met, then by verdict. */
export class Coverage {
  private readonly counts = new Map<string, Map<Verdict, number>>();

  /** Counts a flow once for each kind of thing that it met. */
  add(flow: FlowTrace): void {
    for (const what of metBy(flow)) this.count(what, flow.verdict);
  }

  /** Counts a packet that is too large, of which its sender hears or does not. */
  addTooLarge(isHeard: boolean): void {
    this.count(`too large, and its sender ${isHeard ? 'hears of it' : 'does not hear of it'}`, 'broken');
  }

  private count(what: string, verdict: Verdict): void {
    const of = this.counts.get(what) ?? new Map<Verdict, number>();
    this.counts.set(what, of);
    of.set(verdict, (of.get(verdict) ?? 0) + 1);
  }

  /** Whether a flow met something that too few have met with its verdict. */
  isRare(flow: FlowTrace): boolean {
    return [...metBy(flow)].some((what) => (this.counts.get(what)?.get(flow.verdict) ?? 0) < ENOUGH);
  }

  /** Every thing that was met with every verdict, and by how many flows, in the order of the words. */
  rows(): { readonly what: string; readonly verdict: Verdict; readonly flows: number }[] {
    return [...this.counts]
      .flatMap(([what, of]) => [...of].map(([verdict, flows]) => ({ what, verdict, flows })))
      .sort((a, b) => (a.what < b.what ? -1 : a.what > b.what ? 1 : a.verdict < b.verdict ? -1 : 1));
  }
}

function metBy({ forth, back, failed }: FlowTrace): Set<string> {
  const met = new Set([
    ...forth.flatMap(thingsIn),
    ...back.flatMap((event) => thingsIn(event).map((each) => `${each}, answer`)),
  ]);
  if (failed !== undefined) met.add(`fails: ${failed.failure.code}${failed.isBack ? ', answer' : ''}`);
  return met;
}

/** What an event is, as far as the kernel could see the difference. */
function thingsIn(event: RoadEvent): string[] {
  const at = event.spot.kind === 'subnet' ? 'subnet' : event.spot.kind === 'firewall' ? 'firewall' : 'machine';
  // Of the lists that a refused packet met, the last one refused it.
  const lists = decisionsOf(event);
  const decisions = lists.map(({ why }, i) => `${i < lists.length - 1 ? 'allowed' : event.event} at ${at} by ${why}`);
  const row = lookUpOf(event)?.found.row;
  const routed = row === undefined ? [] : [`${event.event} by ${row.origin} row to ${row.hop.kind}`];
  const isPreferred = lookUpOf(event)?.found.lost.some(({ why }) => why === 'preference') === true;
  if (isPreferred) routed.push('routed by preference');
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
