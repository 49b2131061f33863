import type { Plan } from '../plan/index.js';
import { countsAtHorizon, countsRunning, publicAddressesOf, sizingOf, withNodes } from '../sizing/index.js';
import type { Counts, NodeGroup, Sizing } from '../sizing/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** The time a cost is for. */
export type CostTime = 'now' | 'horizon';

/** One item of what a cluster costs per month. */
export interface CostLine {
  readonly clusterId: string;
  readonly clusterName: string;
  /** "Nodes, main", "Load balancers", "Traffic out". */
  readonly item: string;
  readonly quantity: number;
  readonly unit: string;
  /** For one of the unit; null when it is not known. */
  readonly price: number | null;
  /** Quantity × price; undefined when it cannot be computed. */
  readonly monthly: Figure | undefined;
  /** Why it cannot be computed; empty when it can. */
  readonly cannot: string;
}

/** What a plan costs per month, item by item. */
export interface PlanCost {
  readonly lines: readonly CostLine[];
  /** The sum of the lines that can be computed. */
  readonly total: number;
}

/** An amount as people write it: two digits after the point, and the currency where the plan has one. */
export function formatMoney(value: number, currency = ''): string {
  const amount = value.toLocaleString('en-US', { minimumFractionDigits: 2, maximumFractionDigits: 2 });
  return currency === '' ? amount : `${amount} ${currency}`;
}

/** Every item of every cluster, now or at the horizon. Prices are the profile's and the shapes'; nothing is assumed where one is missing. */
export function planCost(plan: Plan, time: CostTime): PlanCost {
  const lines = plan.clusters.flatMap((cluster) => clusterCost(sizingOf(plan, cluster), time));
  return { lines, total: totalOf(lines) };
}

/** The sum of the lines that can be computed, to two digits. */
export function totalOf(lines: readonly CostLine[]): number {
  return Math.round(100 * lines.reduce((sum, { monthly }) => sum + (monthly?.value ?? 0), 0)) / 100;
}

interface Item {
  readonly item: string;
  readonly quantity: number;
  readonly unit: string;
  readonly price: number | null;
  /** How the quantity came about. */
  readonly how: string;
  /** What is missing when there is no price. */
  readonly lacks: string;
}

/** The items of one cluster; those of which it has none are left out. */
export function clusterCost(sizing: Sizing, time: CostTime): CostLine[] {
  const counts = time === 'now' ? countsRunning(sizing) : countsAtHorizon(sizing);
  return [...nodeItems(sizing, counts), ...controlItems(sizing), ...networkItems(sizing, counts)]
    .filter(({ quantity }) => quantity > 0)
    .map((item) => lineOf(sizing, item));
}

function nodeItems({ groups }: Sizing, { nodes }: Counts): Item[] {
  return groups.map(({ name, shape }, i) => ({
    item: groups.length === 1 ? 'Nodes' : `Nodes, ${name}`,
    quantity: nodes[i] ?? 0,
    unit: 'nodes',
    price: shape?.price ?? null,
    how: shape === undefined ? '' : `of shape ${shape.name}, at rest`,
    lacks: 'no machine shape is decided',
  }));
}

function controlItems({ cluster, control, profile }: Sizing): Item[] {
  return cluster.controlPlane === 'hosted'
    ? [
        {
          item: 'Control plane',
          quantity: 1,
          unit: 'hosted',
          price: profile.priceControlPlane,
          how: 'hosted by the provider',
          lacks: `${profile.name} has no price for a hosted control plane`,
        },
      ]
    : [
        {
          item: 'Control nodes',
          quantity: control.nodes,
          unit: 'nodes',
          price: control.shape?.price ?? null,
          how: control.shape === undefined ? '' : `of shape ${control.shape.name}`,
          lacks: 'no machine shape is decided for its control nodes',
        },
      ];
}

function networkItems(sizing: Sizing, counts: Counts): Item[] {
  const { cluster, profile, zones } = sizing;
  const total = counts.nodes.reduce((sum, count) => sum + count, 0);
  const hidden = counts.nodes.reduce((sum, count, i) => sum + (isOpen(sizing.groups[i]) ? 0 : count), 0);
  const leavesByNat = cluster.natAddresses > 0 && hidden > 0;
  const devices = profile.subnetScope === 'zone' ? zones.length : 1;
  const lacks = (what: string) => `${profile.name} has no price for ${what}`;
  return [
    {
      item: 'Load balancers',
      quantity: withNodes(sizing, cluster.balancerServices, total),
      unit: 'balancers',
      price: profile.priceBalancer,
      how: 'one for each LoadBalancer service, in proportion to the nodes',
      lacks: lacks('load balancers'),
    },
    {
      item: 'NAT',
      quantity: leavesByNat ? devices : 0,
      unit: 'devices',
      price: profile.priceNat,
      how: profile.subnetScope === 'zone' ? 'one in each of its zones' : 'one for the region',
      lacks: lacks('address translation'),
    },
    {
      item: 'NAT traffic',
      quantity: leavesByNat ? hidden * cluster.egressGb : 0,
      unit: 'GB',
      price: profile.priceNatGb,
      how: `${formatNumber(hidden)} private nodes × ${cluster.egressGb} GB`,
      lacks: lacks('traffic through address translation'),
    },
    {
      item: 'Public addresses',
      quantity: publicAddressesOf(sizing, counts, total),
      unit: 'addresses',
      price: profile.priceAddress,
      how: 'public nodes with surge, public load balancers, NAT addresses',
      lacks: lacks('public addresses'),
    },
    {
      item: 'Traffic between zones',
      quantity: zones.length > 1 ? total * cluster.zoneGb : 0,
      unit: 'GB',
      price: profile.priceZoneGb,
      how: `${formatNumber(total)} nodes × ${cluster.zoneGb} GB`,
      lacks: lacks('traffic between zones'),
    },
    {
      item: 'Traffic out',
      quantity: total * cluster.egressGb,
      unit: 'GB',
      price: profile.priceEgressGb,
      how: `${formatNumber(total)} nodes × ${cluster.egressGb} GB`,
      lacks: lacks('traffic out'),
    },
  ];
}

function isOpen(group: NodeGroup | undefined): boolean {
  return group?.isPublic === true;
}

function lineOf({ cluster }: Sizing, { item, quantity, unit, price, how, lacks }: Item): CostLine {
  const place = { clusterId: cluster.id, clusterName: cluster.name };
  if (price === null) return { ...place, item, quantity, unit, price, monthly: undefined, cannot: lacks };
  const value = Math.round(100 * quantity * price) / 100;
  return {
    ...place,
    item,
    quantity,
    unit,
    price,
    cannot: '',
    monthly: figure(value, 'per month', () => ({
      title: `${item} of ${cluster.name} per month`,
      formula: 'quantity × price',
      inputs: [
        { name: 'Quantity', value: `${formatNumber(quantity)} ${unit}${how === '' ? '' : `, ${how}`}` },
        { name: 'Price of one', value: formatNumber(price) },
      ],
      steps: [`${formatNumber(quantity)} × ${formatNumber(price)} = ${formatMoney(value)}`],
      result: `${formatMoney(value)} per month`,
      source: { mark: 'C', text: 'Common practice; prices are the plan’s own' },
    })),
  };
}
