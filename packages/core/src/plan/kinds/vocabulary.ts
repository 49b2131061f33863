/** What a range is for: nodes, pods, services, or entry (load balancers and their virtual addresses). */
export const purposes = ['node', 'pod', 'service', 'entry'] as const;

/** What a range is for. */
export type Purpose = (typeof purposes)[number];

/** How pods get their addresses (handbook 6): inside the cluster only, a routed prefix per node, or from the network's own subnets. */
export const podModes = ['overlay', 'routed', 'native'] as const;

/** How pods get their addresses. */
export type PodMode = (typeof podModes)[number];

/** What wraps packets between two places; ESP with its cipher, and with NAT traversal or without. */
export const encapsulationNames = [
  'none',
  'vxlan',
  'geneve',
  'ipip',
  'gre',
  'wireguard',
  'esp-gcm',
  'esp-gcm-nat',
  'esp-cbc',
  'esp-cbc-nat',
] as const;

/** What wraps packets between two places. */
export type Encapsulation = (typeof encapsulationNames)[number];

/** What can encrypt the traffic between a cluster's nodes, beneath whatever its pod network wraps packets in. */
export const encryptionNames = [
  'none',
  'wireguard',
  'esp-gcm',
  'esp-gcm-nat',
] as const satisfies readonly Encapsulation[];

/** What encrypts the traffic between a cluster's nodes. */
export type Encryption = (typeof encryptionNames)[number];

/** What a cluster's pod network must be able to do; a mode that cannot is excluded. */
export const podRequirements = [
  'reachable',
  'reachable on-premises',
  'source kept',
  'network policy',
  'encryption',
  'multicast',
  'dual stack',
  'several attachments',
  'mtu floor',
] as const;

/** What a cluster's pod network must be able to do. */
export type PodRequirement = (typeof podRequirements)[number];

/** Which address families a cluster runs. */
export const clusterFamilies = ['ipv4', 'ipv6', 'dual'] as const;

/** Which address families a cluster runs. */
export type ClusterFamily = (typeof clusterFamilies)[number];

/** Protocols that rules tell apart; only TCP and UDP have ports. Numbers: IANA protocol numbers 6, 17, 1, 50, 4, 47. */
export const protocols = ['any', 'tcp', 'udp', 'icmp', 'esp', 'ipip', 'gre'] as const;

/** A protocol that rules tell apart. */
export type Protocol = (typeof protocols)[number];

/**
 * Messages of ICMP that rules tell apart, each of them the same to both families: types 8 and 128, 0 and 129, 3 and 1, code 4 of
 * type 3 and type 2, 11 and 3, 12 and 4. Source: RFC 792, RFC 4443; code 4 RFC 1191 4.
 */
export const icmpMessages = [
  'echo request',
  'echo reply',
  'unreachable',
  'too big',
  'time exceeded',
  'parameter problem',
] as const;

/** A message of ICMP that rules tell apart. */
export type IcmpMessage = (typeof icmpMessages)[number];

/** Bytes of a packet that nothing more is said of, headers included: the size that every IPv4 host takes. Source: RFC 791 3.1. */
export const USUAL_BYTES = 576;
