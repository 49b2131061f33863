import { formatPrefix } from '../address/index.js';
import type { Domains, Join } from '../domains/index.js';
import type { LinkKind } from '../plan/index.js';
import type { Use } from './use.js';
import { wayOfNodes } from './judge.js';
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
    const way = wayOfNodes(a, b, both(verdict), domains);
    const home = way?.fromId ?? from;
    return [
      `${say(a)} exists inside its cluster only; the cluster is in network ${networkName(from)}.`,
      ...(home === from ? [] : [`Nodes of it have a further interface in network ${networkName(home)}.`]),
      reach(networkName(home), way?.join, networkName),
      `${say(b)} answers there.`,
      'Inside the cluster these addresses are translated before they leave, so that destination cannot be reached from its pods and nodes.',
    ];
  }
  const meeting = domains.meeting(from, to, both(verdict));
  if (meeting === undefined || (meeting.isPlanned && !verdict.isPlanned))
    return metChain(verdict, domains, networkName);
  const vantage = networkName(meeting.vantageId);
  const homes =
    from === to
      ? [`${say(a)} and ${say(b, 'the')} both live in network ${vantage}.`]
      : [`${say(a)} lives in network ${networkName(from)}.`, `${say(b)} lives in network ${networkName(to)}.`];
  const reaches = [meeting.toFirst, meeting.toSecond].flatMap((join) =>
    join.hops.length === 0 ? [] : [reach(vantage, join, networkName)],
  );
  if (verdict.kind === 'hidden') {
    return [
      ...homes,
      ...reaches,
      `In ${vantage} the longer prefix wins, so packets to these addresses go to the ${a.label} and never to ${networkName(to)}.`,
    ];
  }
  return [...homes, ...reaches, `So in ${vantage} one address means two places: forwarding is ambiguous or refused.`];
}

/** Two destinations that only nodes with further interfaces see. */
function metChain({ a, b, kind }: Verdict, domains: Domains, networkName: (id: string) => string): string[] {
  const range = both({ a, b });
  for (const [one, other] of [
    [a, b],
    [b, a],
  ] as const) {
    const way = one.furtherIds === undefined ? undefined : wayOfNodes(one, other, range, domains);
    if (way === undefined) continue;
    return [
      [
        `${say(one)} lives in network ${networkName(one.networkId as string)};`,
        `its cluster has nodes with a further interface in network ${networkName(way.fromId)}.`,
      ].join(' '),
      reach(networkName(way.fromId), way.join, networkName),
      kind === 'hidden'
        ? `On those nodes the longer prefix wins, so packets to these addresses go to the ${a.label} and never to ${networkName(b.networkId as string)}.`
        : `So on those nodes one address means two places: theirs, and ${say(other, 'the')}.`,
    ];
  }
  return [];
}

function say(use: Use, article: 'The' | 'the' = 'The'): string {
  return `${article} ${use.label} ${formatPrefix(use.prefix)}`;
}

/** The addresses that both ranges hold: of two prefixes that overlap, the longer. */
function both({ a, b }: Pick<Verdict, 'a' | 'b'>) {
  return a.prefix.length > b.prefix.length ? a.prefix : b.prefix;
}

const linkWords: Readonly<Record<LinkKind, string>> = {
  hub: 'the transit hub',
  peering: 'the peering',
  tunnel: 'the tunnel',
  circuit: 'the private circuit',
};

/** One sentence on how a network reaches another: "Network a reaches b by the peering p", passing on named hop by hop. */
export function reach(from: string, join: Join | undefined, networkName: (id: string) => string): string {
  const last = join?.hops.at(-1);
  if (join === undefined || last === undefined) return 'The destination is in that same network.';
  const ways = join.hops.map(({ link, toNetworkId }, i) => {
    const planned = link.isPlanned ? ', which is planned' : '';
    const on =
      i === join.hops.length - 1
        ? ''
        : ` to ${networkName(toNetworkId)}${planned === '' ? '' : ','}, which passes it on`;
    return `by ${linkWords[link.kind]} ${link.name}${planned}${on}`;
  });
  return `Network ${from} reaches ${networkName(last.toNetworkId)} ${ways.join(', ')}.`;
}

/** How a conflict comes about that only a connection brings: what overlaps, what joins the two, and what follows. */
export function chainOfConnection(
  { a, b, isPlanned }: Verdict,
  connection: string,
  clusterName: (use: Use) => string,
): string[] {
  return [
    `${say(a)} and ${say(b, 'the')} share addresses.`,
    `${connection} joins ${clusterName(a)} with ${clusterName(b)}${isPlanned ? ', as is planned' : ''}, and neither range is translated.`,
    'Both clusters then use the same addresses for different pods or services.',
  ];
}
