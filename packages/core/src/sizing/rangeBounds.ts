import type { Family } from '../address/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import type { Bound, HeldRange, LimitContext } from './bound.js';
import { common, memory, withNodes } from './bound.js';
import { nodesAtOnce } from './counts.js';
import { perNodeOf, servicesWithAddress } from './needs.js';
import { nodesServed } from './podRange.js';
import { raisePodRange, raiseServices, raiseSubnets } from './raises.js';
import { addressesOf, formatResidents } from './residents.js';
import type { Resident } from './residents.js';
import { serviceUsable } from './serviceRange.js';
import { monthFull } from './sharedMonth.js';
import type { Sizing } from './sizing.js';
import { nodeSubnetAddresses, podSubnetAddresses, subnetZones, usableAddresses } from './subnetDemand.js';

export function subnetBounds({ sizing, rangesOf }: LimitContext, purpose: 'node' | 'pod'): Bound[] {
  const demand = purpose === 'node' ? nodeSubnetAddresses : podSubnetAddresses;
  return subnetZones(sizing).flatMap((zone) => {
    const held = rangesOf(purpose, zone, 4);
    if (held.length === 0) return [];
    const others = held.flatMap((each) => each.others);
    const capacity = roomIn(sizing, held);
    const where = zone === '' ? '' : ` of zone ${zone}`;
    const subnets = held.length === 1 ? `the ${purpose} subnet` : `the ${held.length} ${purpose} subnets`;
    return [
      {
        code: purpose === 'node' ? 'node-subnets' : 'pod-subnets',
        name: purpose === 'node' ? 'Node subnets' : 'Pod subnets',
        what: `addresses in ${subnets}${where}${others.length === 0 ? '' : ` beside ${formatResidents(others)}`}`,
        capacity,
        demandOf: (counts) => demand(sizing, counts, zone),
        formula:
          purpose === 'node'
            ? '⌈n ÷ zones⌉ × (1 + surge) + entry'
            : '⌈n ÷ zones⌉ × (1 + surge) × (pods per node + spare)',
        source: common(
          purpose === 'node' ? 'nodes, their surge and entry addresses' : 'each pod takes one address of the subnet',
        ),
        raises: (target) => raiseSubnets({ sizing, purpose, zone, held, target }),
        ...(others.some(({ placement }) => placement !== undefined)
          ? { monthFull: () => monthFull({ sizing, held, demand: (counts) => demand(sizing, counts, zone) }) }
          : {}),
      },
    ];
  });
}

/** What the subnets of a need have for it beside all others in them; those that grow are taken as they are when they are largest. */
function roomIn(sizing: Sizing, held: readonly HeldRange[]): Figure {
  const rooms = held.map(({ range, others }) => leftBeside(usableAddresses(range.length, sizing.profile), others));
  const [only] = rooms;
  if (only !== undefined && rooms.length === 1) return only;
  const value = rooms.reduce((sum, room) => sum + room.value, 0);
  return figure(value, 'addresses', () => ({
    title: 'Addresses in all its subnets',
    formula: 'sum of what each leaves',
    inputs: rooms.map((room, at) => ({
      name: `Turn ${at + 1}, a /${held[at]?.range.length}`,
      value: formatNumber(room.value),
    })),
    steps: [
      ...rooms.flatMap((room) => room.explain().steps),
      `${rooms.map((room) => formatNumber(room.value)).join(' + ')} = ${formatNumber(value)}`,
    ],
    result: `${formatNumber(value)} addresses`,
    source: { mark: 'C', text: 'Common practice: a subnet that is full is followed by another one' },
  }));
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
        ...others.map(({ name, addresses }) => ({ name: `Taken by ${name}`, value: formatNumber(addresses) })),
      ],
      steps: [
        ...whole.steps,
        `${formatNumber(usable.value)} − ${formatNumber(taken)} = ${formatNumber(usable.value - taken)}${usable.value < taken ? ', so none is left' : ''}`,
      ],
      result: `${formatNumber(value)} addresses`,
    };
  });
}

export function podRangeBound({ sizing, rangesOf }: LimitContext, family: Family): Bound[] {
  const [held] = rangesOf('pod', '', family);
  if (held === undefined) return [];
  const { range } = held;
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

export function serviceBound({ sizing, rangesOf }: LimitContext, family: Family): Bound[] {
  const [held] = rangesOf('service', '', family);
  if (held === undefined) return [];
  const { range } = held;
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
