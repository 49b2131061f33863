import type { PodMode } from '../plan/index.js';
import { encapsulations } from '../wire/index.js';
import type { Consequence } from '../weighing/index.js';
import type { Context } from './modeContext.js';

/** What holds of a mode wherever it runs. Common practice. */
export const facts: Readonly<Record<PodMode, readonly Consequence[]>> = {
  overlay: [
    { label: 'Pods reached from the network', words: 'no, only by a service', isGood: false },
    { label: 'Pods reached on-premises', words: 'no, their addresses are advertised nowhere', isGood: false },
    {
      label: 'Load balancer sends to',
      words: 'a node’s port, one more hop; the source is lost unless the traffic policy is Local',
      isGood: false,
    },
    { label: 'Network policy', words: 'by the network add-on', isGood: true },
    { label: 'Needs of the system', words: 'a tunnel device in each node’s kernel', isGood: true },
    { label: 'Dual stack', words: 'by the network add-on', isGood: true },
    { label: 'Effort to run', words: 'an add-on to keep; the network knows nothing of it', isGood: true },
  ],
  routed: [
    { label: 'Pods reached from the network', words: 'yes, by their routes', isGood: true },
    { label: 'Pods reached on-premises', words: 'where their routes are advertised over the link', isGood: true },
    { label: 'Load balancer sends to', words: 'pods or a node’s port', isGood: true },
    { label: 'Network policy', words: 'by the network add-on', isGood: true },
    { label: 'Needs of the system', words: 'a route for each node, by route table or BGP', isGood: false },
    { label: 'Dual stack', words: 'twice the routes', isGood: true },
    { label: 'Effort to run', words: 'routes or sessions to keep in step with the nodes', isGood: false },
  ],
  native: [
    { label: 'Pods reached from the network', words: 'yes, like any machine', isGood: true },
    { label: 'Pods reached on-premises', words: 'yes, wherever the network itself is', isGood: true },
    { label: 'Load balancer sends to', words: 'pods', isGood: true },
    { label: 'Network policy', words: 'by filter groups or the network add-on', isGood: true },
    { label: 'Needs of the system', words: 'the provider’s interface agent on each node', isGood: true },
    { label: 'Dual stack', words: 'where subnets have both families', isGood: true },
    { label: 'Effort to run', words: 'little; free addresses have to be watched', isGood: true },
  ],
};

export function encryptionFact({ cluster }: Context): Consequence {
  const label = 'Encryption between nodes';
  const { podMode, encapsulation, encryption } = cluster;
  if (encryption !== 'none') return { label, words: `by ${encapsulations[encryption].name}`, isGood: true };
  if (podMode === 'overlay' && encapsulation === 'wireguard')
    return { label, words: 'by the overlay itself', isGood: true };
  return { label, words: 'none: choose what it encrypts with', isGood: false };
}
