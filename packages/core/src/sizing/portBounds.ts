import { figure, formatNumber } from '../working/index.js';
import type { Bound, LimitContext } from './bound.js';
import { common, given, memory, SNAT_PORTS, withNodes } from './bound.js';
import { countsOf, countsToHold, nodesAtOnce, workersAtOnce } from './counts.js';
import type { Counts } from './counts.js';
import { mostNodes } from './growth.js';
import { raiseNodePorts, raisePublicAddresses, raiseSnat } from './raises.js';
import type { Sizing } from './sizing.js';

/** Ports 30000 to 32767. From memory: Kubernetes API, NodePort range. */
export const NODE_PORTS = 2768;

export function nodePortBound(sizing: Sizing): Bound {
  const { nodePortServices, balancerServices } = sizing.cluster;
  const services = nodePortServices + balancerServices;
  const source = memory('Kubernetes API: ports 30000 to 32767');
  return {
    code: 'node-ports',
    name: 'NodePorts',
    what: 'ports that services can have on every node',
    capacity: given(NODE_PORTS, 'ports', 'NodePorts', 'Ports 30000 to 32767', source),
    demandOf: (_, total) => withNodes(sizing, services, total),
    formula: '⌈NodePort and LoadBalancer services × n ÷ nodes at horizon⌉',
    source,
    raises: (target) => raiseNodePorts(withNodes(sizing, services, target) - NODE_PORTS),
  };
}

/** Ports kept for each node decide how many nodes one public address carries. */
export function snatBound(sizing: Sizing): Bound {
  const { natAddresses, snatPorts } = sizing.cluster;
  const perAddress = Math.floor(SNAT_PORTS / snatPorts);
  const source = common('65,536 − 1,024 ports for each public address and destination');
  return {
    code: 'snat-ports',
    name: 'SNAT ports',
    what: 'nodes that the NAT addresses carry',
    capacity: figure(natAddresses * perAddress, 'nodes', () => ({
      title: 'Nodes the NAT addresses carry',
      formula: 'addresses × ⌊64,512 ÷ ports per node⌋',
      inputs: [
        { name: 'NAT addresses', value: formatNumber(natAddresses) },
        { name: 'SNAT ports per node', value: formatNumber(snatPorts) },
      ],
      steps: [`⌊64,512 ÷ ${formatNumber(snatPorts)}⌋ = ${perAddress} nodes per address`],
      result: `${formatNumber(natAddresses * perAddress)} nodes`,
      source,
    })),
    demandOf: (counts) => privateNodes(sizing, counts),
    formula: 'private nodes × (1 + surge) + control nodes',
    source,
    raises: (target) => raiseSnat(sizing, privateNodes(sizing, countsOf(sizing, target)), perAddress),
  };
}

function privateNodes(sizing: Sizing, counts: Counts): number {
  return nodesAtOnce(sizing, counts) - publicNodes(sizing, counts);
}

function publicNodes(sizing: Sizing, counts: Counts): number {
  return workersAtOnce(sizing, counts, ({ isPublic }) => isPublic);
}

/** Public addresses a cluster takes: of public nodes with their surge, of public load balancers, and those its nodes leave under. */
export function publicAddressesOf(sizing: Sizing, counts: Counts, total: number): number {
  const { cluster } = sizing;
  const nodes = publicNodes(sizing, counts);
  const balancers = cluster.hasPublicBalancers ? withNodes(sizing, cluster.balancerServices, total) : 0;
  return nodes + balancers + cluster.natAddresses;
}

/** Public addresses a cluster takes until the horizon: with the more of today's nodes and the horizon's. */
export function publicAddressesToHold(sizing: Sizing): number {
  return publicAddressesOf(sizing, countsToHold(sizing), mostNodes(sizing.growth));
}

export function publicBound({ sizing, neighbours }: LimitContext): Bound {
  const { profile } = sizing;
  const source = common('one for each public node, public load balancer and NAT address; the limit is the profile’s');
  const left = Math.max(0, profile.publicAddresses - neighbours.publicAddresses);
  return {
    code: 'public-addresses',
    name: 'Public addresses',
    what: 'public addresses that the site has left',
    capacity: figure(left, 'addresses', () => ({
      title: 'Public addresses left at the site',
      formula: 'addresses per site − what its other clusters take',
      inputs: [
        { name: `Public addresses per site, ${profile.name}`, value: formatNumber(profile.publicAddresses) },
        { name: 'Other clusters at the site', value: formatNumber(neighbours.publicAddresses) },
      ],
      steps: [`${formatNumber(left)} left`],
      result: `${formatNumber(left)} addresses`,
      source,
    })),
    demandOf: (counts, total) => publicAddressesOf(sizing, counts, total),
    formula: 'public nodes × (1 + surge) + public load balancers + NAT addresses',
    source,
    raises: (target) =>
      raisePublicAddresses(
        sizing,
        publicAddressesOf(sizing, countsOf(sizing, target), target) + neighbours.publicAddresses,
      ),
  };
}
