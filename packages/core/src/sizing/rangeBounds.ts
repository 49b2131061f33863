import type { Family } from '../address/index.js';
import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import type { Bound, LimitContext } from './bound.js';
import { common, memory, withNodes } from './bound.js';
import { nodesAtOnce } from './counts.js';
import { perNodeOf, servicesWithAddress } from './needs.js';
import { nodesServed } from './podRange.js';
import { raisePodRange, raiseServices, raiseSubnets } from './raises.js';
import { addressesOf, sayResidents } from './residents.js';
import type { Resident } from './residents.js';
import { serviceUsable } from './serviceRange.js';
import { nodeSubnetAddresses, podSubnetAddresses, reservedIn, subnetZones, usableAddresses } from './subnetDemand.js';

export function subnetBounds({ sizing, rangeOf, othersIn }: LimitContext, purpose: 'node' | 'pod'): Bound[] {
  const demand = purpose === 'node' ? nodeSubnetAddresses : podSubnetAddresses;
  return subnetZones(sizing).flatMap((zone) => {
    const range = rangeOf(purpose, zone, 4);
    if (range === undefined) return [];
    const others = othersIn?.(purpose, zone, 4) ?? [];
    const capacity = leftBeside(usableAddresses(range.length, reservedIn(sizing)), others);
    return [
      {
        code: purpose === 'node' ? 'node-subnets' : 'pod-subnets',
        name: purpose === 'node' ? 'Node subnets' : 'Pod subnets',
        what: `addresses in the ${purpose} subnet${zone === '' ? '' : ` of zone ${zone}`}${others.length === 0 ? '' : ` beside ${sayResidents(others)}`}`,
        capacity,
        demandOf: (counts) => demand(sizing, counts, zone),
        formula:
          purpose === 'node'
            ? '⌈n ÷ zones⌉ × (1 + surge) + entry'
            : '⌈n ÷ zones⌉ × (1 + surge) × (pods per node + spare)',
        source: common(
          purpose === 'node' ? 'nodes, their surge and entry addresses' : 'each pod takes one address of the subnet',
        ),
        raises: (target) =>
          raiseSubnets({ sizing, purpose, zone, length: range.length, target, taken: addressesOf(others) }),
      },
    ];
  });
}

/** What others leave of a subnet in which they live too; those that grow are taken as they are when they are largest. */
function leftBeside(usable: Figure, others: readonly Resident[]): Figure {
  if (others.length === 0) return usable;
  const taken = addressesOf(others);
  const value = Math.max(0, usable.value - taken);
  return figure(value, 'addresses', () => {
    const whole = usable.explain();
    return {
      ...whole,
      title: 'Addresses that others leave',
      formula: `${whole.formula} − what the others take`,
      inputs: [
        ...whole.inputs,
        ...others.map(({ name, addresses }) => ({ name: `Taken by ${name}`, value: sayNumber(addresses) })),
      ],
      steps: [
        ...whole.steps,
        `${sayNumber(usable.value)} − ${sayNumber(taken)} = ${sayNumber(usable.value - taken)}${usable.value < taken ? ', so none is left' : ''}`,
      ],
      result: `${sayNumber(value)} addresses`,
    };
  });
}

export function podRangeBound({ sizing, rangeOf }: LimitContext, family: Family): Bound[] {
  const range = rangeOf('pod', '', family);
  if (range === undefined) return [];
  return [
    {
      code: 'pod-range',
      name: family === 6 ? 'Pod range (IPv6)' : 'Pod range',
      what: `node prefixes in the pod range`,
      capacity: nodesServed(range.length, perNodeOf(sizing, family)),
      demandOf: (counts) => nodesAtOnce(sizing, counts),
      formula: 'n × (1 + surge) + control nodes',
      source: memory('Kubernetes API node address controller: a prefix per node, node part at most 16 bits'),
      raises: (target) => raisePodRange({ sizing, family, length: range.length, target }),
    },
  ];
}

export function serviceBound({ sizing, rangeOf }: LimitContext, family: Family): Bound[] {
  const range = rangeOf('service', '', family);
  if (range === undefined) return [];
  const services = servicesWithAddress(sizing.cluster);
  return [
    {
      code: 'service-range',
      name: family === 6 ? 'Service range (IPv6)' : 'Service range',
      what: 'addresses in the service range',
      capacity: serviceUsable(range),
      demandOf: (_, total) => withNodes(sizing, services, total) + 2,
      formula: '⌈services × n ÷ nodes at horizon⌉ + 2',
      source: memory('Documentation of the Kubernetes API on service addresses; services grow with the nodes'),
      raises: (target) => raiseServices(sizing, range, target),
    },
  ];
}
