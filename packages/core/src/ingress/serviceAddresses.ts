import { compareAddresses, containsAddress, formatPrefix, lastAddress } from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { hostPrefix, rangeOf, readServicePort } from '../plan/index.js';
import type { Cluster, ClusterService } from '../plan/index.js';
import type { FactCode, FactOf } from '../english/index.js';
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

type FaultCode = Extract<FactCode, `service.address:${string}` | `service.node-port:${string}`>;

/** What is wrong with a fixed address or port, and whether it breaks or may break; the service is known to who asks. */
export type AddressFault = {
  readonly [Code in FaultCode]: {
    readonly code: Code;
    readonly isBroken: boolean;
    readonly fact: Omit<FactOf<Code>, 'cluster' | 'service'>;
  };
}[FaultCode];

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
    return [{ code: 'service.address:outside', isBroken: true, fact: { address, ranges: ranges.map(formatPrefix) } }];
  const holder = others.find((each) => each.id !== service.id && each.address === address);
  if (holder !== undefined)
    return [
      {
        code: 'service.address:taken',
        isBroken: true,
        fact: { address, holder: `${holder.namespace}/${holder.name}` },
      },
    ];
  const bands = serviceBands(range);
  if (bands === undefined) return [];
  if (address === bands.apiServer) return [{ code: 'service.address:api', isBroken: true, fact: { address } }];
  const isStatic =
    compareAddresses(hostPrefix(bands.staticFirst), at) <= 0 && compareAddresses(at, hostPrefix(bands.staticLast)) <= 0;
  if (isStatic) return [];
  return [
    {
      code: 'service.address:band',
      isBroken: false,
      fact: { address, first: bands.staticFirst, last: bands.staticLast },
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
          code: 'service.node-port:outside',
          isBroken: true,
          fact: { nodePort, first: FIRST_NODE_PORT, last: LAST_NODE_PORT },
        },
      ];
    const holder = others.find(
      (each) => each.id !== service.id && each.ports.some((own) => isAt(own, nodePort, protocol)),
    );
    if (holder !== undefined)
      return [
        {
          code: 'service.node-port:taken',
          isBroken: true,
          fact: { nodePort, holder: `${holder.namespace}/${holder.name}` },
        },
      ];
    if (nodePort <= LAST_STATIC_NODE_PORT) return [];
    return [
      {
        code: 'service.node-port:band',
        isBroken: false,
        fact: { nodePort, first: FIRST_NODE_PORT, last: LAST_STATIC_NODE_PORT },
      },
    ];
  });
}

function isAt(text: string, nodePort: number, protocol: string | undefined): boolean {
  const read = readServicePort(text);
  return read?.nodePort === nodePort && read.protocol === protocol;
}
