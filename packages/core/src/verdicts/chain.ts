import { formatPrefix } from '../address/index.js';
import type { Domains, Join } from '../domains/index.js';
import type { LinkKind } from '../plan/index.js';
import type { Use } from './use.js';
import { wayOfNodes } from './judge.js';
import type { Verdict } from './judge.js';

/** A use of addresses, by its label and prefix. */
export interface NamedUse {
  readonly label: string;
  readonly prefix: string;
}

/** A link on the way from one network to another, and the network that it leads to. */
interface NamedHop {
  readonly kind: LinkKind;
  readonly link: string;
  readonly isPlanned: boolean;
  readonly to: string;
}

/** A step of how a verdict comes about; networks, links and clusters stand here by their names. */
export type ChainStep =
  | { readonly code: 'one-cluster' | 'share'; readonly a: NamedUse; readonly b: NamedUse }
  | { readonly code: 'both-live'; readonly a: NamedUse; readonly b: NamedUse; readonly network: string }
  | { readonly code: 'one-cluster.then' | 'translated' | 'connection.then' }
  | { readonly code: 'inside' | 'lives'; readonly use: NamedUse; readonly network: string }
  | { readonly code: 'interface' | 'two-places'; readonly network: string }
  | { readonly code: 'interface.lives'; readonly use: NamedUse; readonly network: string; readonly seenFrom: string }
  | { readonly code: 'interface.two-places' | 'answers'; readonly use: NamedUse }
  /** No hops where the destination is in that same network. */
  | { readonly code: 'reach'; readonly from: string; readonly hops: readonly NamedHop[] }
  /** The longer prefix wins: in a network, or on the nodes with an interface in it where none is said. */
  | { readonly code: 'longer'; readonly network: string | undefined; readonly label: string; readonly hidden: string }
  | {
      readonly code: 'connection';
      readonly connection: string;
      readonly one: string;
      readonly other: string;
      readonly isPlanned: boolean;
    };

/** How a verdict comes about, step by step: which domain, by which links, from which place to which place. */
export function chainOf(verdict: Verdict, domains: Domains, networkName: (id: string) => string): ChainStep[] {
  const { a, b } = verdict;
  if (a.clusterId !== null && a.clusterId === b.clusterId)
    return [{ code: 'one-cluster', a: named(a), b: named(b) }, { code: 'one-cluster.then' }];
  // A verdict between two clusters or owners is only made for uses that live in networks.
  const from = a.networkId as string;
  const to = b.networkId as string;
  if (verdict.kind === 'shadowed') {
    const way = wayOfNodes(a, b, both(verdict), domains);
    const home = way?.fromId ?? from;
    return [
      { code: 'inside', use: named(a), network: networkName(from) },
      ...(home === from ? [] : [{ code: 'interface', network: networkName(home) } as const]),
      reach(networkName(home), way?.join, networkName),
      { code: 'answers', use: named(b) },
      { code: 'translated' },
    ];
  }
  const meeting = domains.meeting(from, to, both(verdict));
  if (meeting === undefined || (meeting.isPlanned && !verdict.isPlanned))
    return metChain(verdict, domains, networkName);
  const vantage = networkName(meeting.vantageId);
  const homes: ChainStep[] =
    from === to
      ? [{ code: 'both-live', a: named(a), b: named(b), network: vantage }]
      : [
          { code: 'lives', use: named(a), network: networkName(from) },
          { code: 'lives', use: named(b), network: networkName(to) },
        ];
  const reaches = [meeting.toFirst, meeting.toSecond].flatMap((join) =>
    join.hops.length === 0 ? [] : [reach(vantage, join, networkName)],
  );
  const end: ChainStep =
    verdict.kind === 'hidden'
      ? { code: 'longer', network: vantage, label: a.label, hidden: networkName(to) }
      : { code: 'two-places', network: vantage };
  return [...homes, ...reaches, end];
}

/** Two destinations that only nodes with additional interfaces see. */
function metChain({ a, b, kind }: Verdict, domains: Domains, networkName: (id: string) => string): ChainStep[] {
  const range = both({ a, b });
  for (const [one, other] of [
    [a, b],
    [b, a],
  ] as const) {
    const way = one.furtherIds === undefined ? undefined : wayOfNodes(one, other, range, domains);
    if (way === undefined) continue;
    const seenFrom = networkName(way.fromId);
    return [
      { code: 'interface.lives', use: named(one), network: networkName(one.networkId as string), seenFrom },
      reach(seenFrom, way.join, networkName),
      kind === 'hidden'
        ? { code: 'longer', network: undefined, label: a.label, hidden: networkName(b.networkId as string) }
        : { code: 'interface.two-places', use: named(other) },
    ];
  }
  return [];
}

function named({ label, prefix }: Use): NamedUse {
  return { label, prefix: formatPrefix(prefix) };
}

/** The addresses that both ranges hold: of two prefixes that overlap, the longer. */
function both({ a, b }: Pick<Verdict, 'a' | 'b'>) {
  return a.prefix.length > b.prefix.length ? a.prefix : b.prefix;
}

/** How a network reaches another, hop by hop. */
function reach(from: string, join: Join | undefined, networkName: (id: string) => string): ChainStep {
  const hops = (join?.hops ?? []).map(({ link, toNetworkId }) => ({
    kind: link.kind,
    link: link.name,
    isPlanned: link.isPlanned,
    to: networkName(toNetworkId),
  }));
  return { code: 'reach', from, hops };
}

/** How a conflict comes about that only a connection brings: what overlaps, what joins the two, and what follows. */
export function chainOfConnection(
  { a, b, isPlanned }: Verdict,
  connection: string,
  clusterName: (use: Use) => string,
): ChainStep[] {
  return [
    { code: 'share', a: named(a), b: named(b) },
    { code: 'connection', connection, one: clusterName(a), other: clusterName(b), isPlanned },
    { code: 'connection.then' },
  ];
}
