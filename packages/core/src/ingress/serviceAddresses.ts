import { compareAddresses, containsAddress, formatPrefix, lastAddress } from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { hostPrefix, rangeOf, readServicePort } from '../plan/index.js';
import type { Cluster, ClusterService } from '../plan/index.js';
import { NODE_PORTS, serviceBands } from '../sizing/index.js';

/** The first NodePort. From memory: Kubernetes API, 30000 to 32767. */
export const FIRST_NODE_PORT = 30_000;
export const LAST_NODE_PORT = FIRST_NODE_PORT + NODE_PORTS - 1;

/** The last NodePort that the cluster does not give by itself: min(max(16, size / 32), 128) from the bottom. From memory: Kubernetes API. */
export const LAST_STATIC_NODE_PORT = FIRST_NODE_PORT + Math.min(Math.max(16, Math.floor(NODE_PORTS / 32)), 128) - 1;

/** The cluster address of a service; the last of its range stands for one that the cluster gives. Undefined while there is no range. */
export function standingAddress(
  forwarding: Forwarding,
  cluster: Cluster,
  { address }: ClusterService,
  family: Family,
): Address | undefined {
  if (address !== null) return hostPrefix(address);
  const range = forwarding
    .rangesOf(cluster.id)
    .map((each) => ({ ...each, own: rangeOf(each) }))
    .find(({ purpose, own }) => purpose === 'service' && own.family === family);
  return range === undefined ? undefined : lastAddress(range.own);
}

/** What is wrong with a fixed address or port, and whether it breaks or may break. */
export interface AddressFault {
  readonly isBroken: boolean;
  readonly title: string;
  readonly detail: string;
}

/** What is wrong with the fixed cluster address of a service, against the service ranges of its cluster and its other services. */
export function addressFaults(
  service: ClusterService,
  ranges: readonly Prefix[],
  others: readonly ClusterService[],
): AddressFault[] {
  const { address } = service;
  if (address === null || ranges.length === 0) return [];
  const at = hostPrefix(address);
  const range = ranges.find((each) => containsAddress(each, at));
  if (range === undefined)
    return [
      {
        isBroken: true,
        title: `${address} is in no service range`,
        detail: `The service range is ${ranges.map(formatPrefix).join(' and ')}. Take an address of it, or leave the address to the cluster.`,
      },
    ];
  const holder = others.find((each) => each.id !== service.id && each.address === address);
  if (holder !== undefined)
    return [
      {
        isBroken: true,
        title: `${address} is also that of ${holder.namespace}/${holder.name}`,
        detail: 'A cluster address belongs to one service. Give one of them another.',
      },
    ];
  const bands = serviceBands(range);
  if (bands === undefined) return [];
  if (address === bands.apiServer)
    return [
      {
        isBroken: true,
        title: `${address} is that of the API itself`,
        detail: 'The first address of the service range belongs to the API server’s own service.',
      },
    ];
  const isStatic =
    compareAddresses(hostPrefix(bands.staticFirst), at) <= 0 && compareAddresses(at, hostPrefix(bands.staticLast)) <= 0;
  if (isStatic) return [];
  return [
    {
      isBroken: false,
      title: `${address} may be given to another service first`,
      detail: `The cluster gives addresses above ${bands.staticLast} by itself. Fix addresses from ${bands.staticFirst} to ${bands.staticLast}.`,
    },
  ];
}

/** What is wrong with the fixed NodePorts of a service, against its cluster's other services. */
export function nodePortFaults(service: ClusterService, others: readonly ClusterService[]): AddressFault[] {
  return service.ports.flatMap((text): AddressFault[] => {
    const { nodePort, protocol } = readServicePort(text) ?? {};
    if (nodePort === undefined) return [];
    if (nodePort < FIRST_NODE_PORT || nodePort > LAST_NODE_PORT)
      return [
        {
          isBroken: true,
          title: `NodePort ${nodePort} is out of range`,
          detail: `NodePorts are ${FIRST_NODE_PORT} to ${LAST_NODE_PORT}.`,
        },
      ];
    const holder = others.find(
      (each) => each.id !== service.id && each.ports.some((own) => isAt(own, nodePort, protocol)),
    );
    if (holder !== undefined)
      return [
        {
          isBroken: true,
          title: `NodePort ${nodePort} is also that of ${holder.namespace}/${holder.name}`,
          detail:
            'A NodePort belongs to one service of the cluster. Give one of them another, or leave it to the cluster.',
        },
      ];
    if (nodePort <= LAST_STATIC_NODE_PORT) return [];
    return [
      {
        isBroken: false,
        title: `NodePort ${nodePort} may be given to another service first`,
        detail: `The cluster gives NodePorts above ${LAST_STATIC_NODE_PORT} by itself. Fix ports from ${FIRST_NODE_PORT} to ${LAST_STATIC_NODE_PORT}.`,
      },
    ];
  });
}

function isAt(text: string, nodePort: number, protocol: string | undefined): boolean {
  const read = readServicePort(text);
  return read?.nodePort === nodePort && read.protocol === protocol;
}
