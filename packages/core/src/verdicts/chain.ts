import { formatPrefix } from '../address/index.js';
import type { Domains, Join } from '../domains/index.js';
import type { Use } from './use.js';
import type { Verdict } from './judge.js';

/** How a verdict comes about, one step a line: which domain, by which links, from which place to which place. */
export function chainOf(verdict: Verdict, domains: Domains, networkName: (id: string) => string): string[] {
  const { a, b } = verdict;
  if (a.clusterId !== null && a.clusterId === b.clusterId) {
    return [
      `${say(a)} and ${say(b, 'the')} belong to one cluster.`,
      'Its nodes cannot tell which of the two an address means.',
    ];
  }
  // A verdict between two clusters or owners is only made for uses that live in networks.
  const from = a.networkId as string;
  const to = b.networkId as string;
  if (verdict.kind === 'shadowed') {
    const join = domains.join(from, to);
    return [
      `${say(a)} exists inside its cluster only; the cluster stands in network ${networkName(from)}.`,
      reach(networkName(from), networkName(to), join),
      `${say(b)} answers there.`,
      'Inside the cluster these addresses are translated before they leave, so that destination cannot be reached from its pods and nodes.',
    ];
  }
  const meeting = domains.meeting(from, to);
  if (meeting === undefined) return [];
  const vantage = networkName(meeting.vantageId);
  const homes =
    from === to
      ? [`${say(a)} and ${say(b, 'the')} both live in network ${vantage}.`]
      : [`${say(a)} lives in network ${networkName(from)}.`, `${say(b)} lives in network ${networkName(to)}.`];
  const reaches = [
    { name: networkName(from), join: meeting.toFirst },
    { name: networkName(to), join: meeting.toSecond },
  ].flatMap(({ name, join }) => (join.link === undefined ? [] : [reach(vantage, name, join)]));
  return [...homes, ...reaches, `So in ${vantage} one address means two places: forwarding is ambiguous or refused.`];
}

function say(use: Use, article: 'The' | 'the' = 'The'): string {
  return `${article} ${use.label} ${formatPrefix(use.prefix)}`;
}

function reach(from: string, to: string, join: Join | undefined): string {
  if (join?.link === undefined) return `The destination is in that same network.`;
  const kind = join.link.kind === 'hub' ? 'the transit hub' : 'the peering';
  return `Network ${from} reaches ${to} by ${kind} ${join.link.name}${join.isPlanned ? ', which is planned' : ''}.`;
}
