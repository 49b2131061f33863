import type { LinkKind } from '../plan/index.js';
import type { ChainStep, NamedUse } from '../verdicts/index.js';
import { formatByCode } from './words.js';
import type { Words } from './words.js';

/** One step of how a verdict comes about. */
export function formatChainStep(step: ChainStep): string {
  return formatByCode(words, step);
}

const the = ({ label, prefix }: NamedUse) => `the ${label} ${prefix}`;
const The = ({ label, prefix }: NamedUse) => `The ${label} ${prefix}`;

const links: Readonly<Record<LinkKind, string>> = {
  hub: 'the transit hub',
  peering: 'the peering',
  tunnel: 'the tunnel',
  circuit: 'the private circuit',
};

const words: Words<ChainStep, string, []> = {
  'one-cluster': ({ a, b }) => `${The(a)} and ${the(b)} belong to one cluster.`,
  'one-cluster.then': () => 'Its nodes cannot tell which of the two an address means.',
  'both-live': ({ a, b, network }) => `${The(a)} and ${the(b)} both live in network ${network}.`,
  lives: ({ use, network }) => `${The(use)} lives in network ${network}.`,
  inside: ({ use, network }) => `${The(use)} exists only inside its cluster, which is in network ${network}.`,
  interface: ({ network }) => `Its nodes have an additional interface in network ${network}.`,
  'interface.lives': ({ use, network, seenFrom }) =>
    `${The(use)} lives in network ${network}; its cluster has nodes with an additional interface in network ${seenFrom}.`,
  'interface.two-places': ({ use }) => `So on those nodes one address means two places: theirs, and ${the(use)}.`,
  answers: ({ use }) => `${The(use)} answers there.`,
  translated: () =>
    'Inside the cluster these addresses are translated before they leave, so that destination cannot be reached from its pods and nodes.',
  reach: ({ from, hops }) => {
    const last = hops.at(-1);
    if (last === undefined) return 'The destination is in that same network.';
    const ways = hops.map(({ kind, link, isPlanned, to }, at) => {
      const planned = isPlanned ? ', which is planned' : '';
      const on = at === hops.length - 1 ? '' : ` to ${to}${isPlanned ? ',' : ''}, which passes it on`;
      return `by ${links[kind]} ${link}${planned}${on}`;
    });
    return `Network ${from} reaches ${last.to} ${ways.join(', ')}.`;
  },
  longer: ({ network, label, hidden }) => {
    const where = network === undefined ? 'On those nodes' : `In ${network}`;
    return `${where} the longer prefix wins, so packets to these addresses go to the ${label} and never to ${hidden}.`;
  },
  'two-places': ({ network }) => `So in ${network} one address means two places: forwarding is ambiguous or refused.`,
  share: ({ a, b }) => `${The(a)} and ${the(b)} share addresses.`,
  connection: ({ connection, one, other, isPlanned }) =>
    `${connection} joins ${one} with ${other}${isPlanned ? ', as is planned' : ''}, and neither range is translated.`,
  'connection.then': () => 'Both clusters then use the same addresses for different pods or services.',
};
