import { formatNumber } from '../working/index.js';

/** A step in replacing an address: one to take, or one that happens by itself. */
export type CutOverStep =
  /** The TTL of names to seconds, so many seconds before. */
  | { readonly do: 'lower'; readonly names: readonly string[]; readonly ttl: number; readonly before: number }
  /** Records of a new name, so many seconds before any client asks for it. */
  | { readonly do: 'add'; readonly before: number }
  | { readonly do: 'lead' | 'left' | 'raise' }
  | { readonly do: 'restart'; readonly who: readonly string[] };

/** A step of a cut-over. */
export function formatCutOverStep(step: CutOverStep): string {
  switch (step.do) {
    case 'lower':
      return [
        `Lower the TTL of ${step.names.join(', ')} to ${formatNumber(step.ttl)} s,`,
        `at least ${formatNumber(step.before)} s before: until then resolvers hold the old TTL.`,
      ].join(' ');
    case 'add':
      return [
        'Where the new one has a name of its own, add its records before any client asks for it,',
        `at least ${formatNumber(step.before)} s before: resolvers cache for so long that a name does not exist.`,
      ].join(' ');
    case 'lead':
      return 'Let the names lead to the new address. Both must answer from now on.';
    case 'left':
      return 'The last client that follows the records has left. Open connections stay until they are closed.';
    case 'restart':
      return `Restart ${step.who.join(', ')}: they keep an address until they are restarted.`;
    case 'raise':
      return 'Raise the TTL again, and take the old one away.';
  }
}
