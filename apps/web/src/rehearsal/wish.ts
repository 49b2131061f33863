import type { BringUpWish, Scope } from '@wide-lattice/core/rehearsal';

/** What is brought up, as the address says it. */
export function wishOf(search: URLSearchParams): BringUpWish {
  return {
    scope: scopeOf(search.get('scope') ?? ''),
    nodes: search.get('nodes') === 'horizon' ? 'horizon' : 'today',
    isBuiltThere: search.get('built') === 'there',
    secondPodNetworkIn: search.get('again') ?? '',
  };
}

/** A scope as a word of the address: "site~<id>"; the whole plan where it says none. */
export function scopeOf(text: string): Scope {
  const [kind, id = ''] = text.split('~');
  return (kind === 'cluster' || kind === 'site' || kind === 'template') && id !== '' ? { kind, id } : { kind: 'plan' };
}

/** The second that is shown: the end of the run until another is chosen. */
export function secondOf(search: URLSearchParams, total: number): number {
  const at = Number(search.get('at') ?? Number.NaN);
  return Number.isFinite(at) ? Math.min(Math.max(0, at), total) : total;
}
