import type {
  Cluster,
  Firewall,
  Link,
  Member,
  NatDevice,
  Encapsulation,
  RouteTable,
  Subnet,
} from '../../plan/index.js';
import type { Crossing } from '../crossings.js';
import type { Host } from '../machine.js';

/** Where a packet is: lists are held against it when it goes from one of these to another one. */
export interface Premises {
  /** Empty on the internet. */
  readonly networkId: string;
  readonly subnet: Subnet | undefined;
  /** The machine whose own lists hold; undefined between machines. */
  readonly machine: Host | undefined;
}

/** What handles a packet at a place, with what it has to know. */
export type Station = { readonly premises: Premises } &
  /** A machine that is no node, or a load balancer that answers on the internet. */
  (
    | { readonly is: 'machine'; readonly machine: Host }
    | { readonly is: 'pod'; readonly pod: Host }
    | { readonly is: 'node'; readonly sender: Host; readonly node: Host; readonly cluster: Cluster }
    /** From node to node of a cluster, inside what wraps packets there. */
    | {
        readonly is: 'wrap';
        readonly node: Host;
        readonly other: Host;
        readonly cluster: Cluster;
        readonly layers: readonly Encapsulation[];
        readonly onward: Station;
      }
    /** At the gateway of its own cluster, then at that of each member on the way. */
    | { readonly is: 'gateway'; readonly crossing: Crossing; readonly gateway: Host }
    | { readonly is: 'tunnel'; readonly crossing: Crossing; readonly leg: number }
    | { readonly is: 'member'; readonly member: Member; readonly gateway: Host }
    | {
        readonly is: 'table';
        readonly table: RouteTable | undefined;
        /** The machine that sends, where the packet has not left its subnet yet. */
        readonly sender: Host | undefined;
        readonly zone: string;
      }
    | { readonly is: 'link'; readonly link: Link; readonly toId: string; readonly zone: string }
    | { readonly is: 'nat'; readonly device: NatDevice; readonly subnet: Subnet; readonly zone: string }
    | { readonly is: 'firewall'; readonly firewall: Firewall; readonly subnet: Subnet; readonly zone: string }
    /** Where a device takes its translation back of an answer. */
    | { readonly is: 'untranslate'; readonly key: string; readonly subnet: Subnet }
    /** From a network of the plan, empty where it comes from elsewhere. */
    | { readonly is: 'internet'; readonly fromNetworkId: string; readonly sender: Host | undefined }
    /** Whoever has the address in the network. */
    | { readonly is: 'delivery' }
    | { readonly is: 'host'; readonly host: Host }
    /** The end of a way that is looked at by itself. */
    | { readonly is: 'end'; readonly host: Host }
  );

/** Between the machines of a network. */
export function between(networkId: string, subnet?: Subnet): Premises {
  return { networkId, subnet: subnet?.networkId === networkId ? subnet : undefined, machine: undefined };
}

/** On the internet. */
export const outside: Premises = { networkId: '', subnet: undefined, machine: undefined };

/** Where a machine is: a pod on its node, in the subnet of its own where it has one. */
export function premisesOf(host: Host): Premises {
  const machine = host.kind === 'pod' ? (host.node ?? host) : host;
  const subnet = host.subnet ?? machine.subnet;
  return {
    networkId: host.networkId,
    subnet: subnet?.networkId === host.networkId ? subnet : undefined,
    machine: host.kind === 'internet' ? undefined : machine,
  };
}
