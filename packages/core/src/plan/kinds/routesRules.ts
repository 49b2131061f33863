import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { rangeOf } from '../rangeOf.js';
import type { Route } from './routes.js';
import type { RouteTable } from './routeTables.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';

const hopFields = { link: 'linkId', nat: 'natDeviceId', firewall: 'firewallId' } as const;

export const routesRules: KindRules<Route> = {
  label: ({ routeTableId, prefix }, plan) => `${prefix} in ${byId(plan.routeTables, routeTableId)?.name ?? ''}`,
  about: (route, plan) => `static route to ${formatHop(plan, route)}`,
  betweenFields: (route) => {
    const extra = (['link', 'nat', 'firewall'] as const).find(
      (hop) => hop !== route.nextHop && route[hopFields[hop]] !== null,
    );
    if (extra === undefined) return [];
    return [
      wrong(
        hopFields[extra],
        'route.two-hops',
        `The next hop is ${route.nextHop}, and a ${extra === 'nat' ? 'NAT device' : extra} is named too.`,
        'Name only the one it goes to.',
      ),
    ];
  },
  betweenEntities: (plan, route) => {
    const table = byId(plan.routeTables, route.routeTableId);
    return table === undefined ? [] : [...notAdjacent(plan, route, table), ...toItself(plan, route, table)];
  },
};

/** The next hop of a static route in words; what is gone says so. */
export function formatHop(plan: Pick<Plan, 'links' | 'natDevices' | 'firewalls'>, route: Route): string {
  const gone = 'that is gone';
  switch (route.nextHop) {
    case 'link':
      return `the link ${byId(plan.links, route.linkId ?? '')?.name ?? gone}`;
    case 'nat':
      return `the NAT device ${byId(plan.natDevices, route.natDeviceId ?? '')?.name ?? gone}`;
    case 'firewall':
      return `the firewall ${byId(plan.firewalls, route.firewallId ?? '')?.name ?? gone}`;
    case 'internet':
      return 'the internet';
    case 'drop':
      return 'nowhere: dropped';
  }
}

/** The subnet that a next hop stands in, for those that stand in one. */
function subnetOfHop(plan: Plan, { nextHop, natDeviceId, firewallId }: Route) {
  const device =
    nextHop === 'nat'
      ? byId(plan.natDevices, natDeviceId ?? '')
      : nextHop === 'firewall'
        ? byId(plan.firewalls, firewallId ?? '')
        : undefined;
  const subnet = byId(plan.subnets, device?.subnetId ?? '');
  return device === undefined || subnet === undefined ? undefined : { device, subnet };
}

/** A next hop must be where the table is: a device in its network, a link that its network is on. */
function notAdjacent(plan: Plan, route: Route, table: RouteTable): FieldProblem[] {
  const network = byId(plan.networks, table.networkId)?.name ?? '';
  if (route.nextHop === 'link') {
    const link = byId(plan.links, route.linkId ?? '');
    if (link === undefined || link.networkIds.includes(table.networkId)) return [];
    return [
      wrong(
        'linkId',
        'route.not-adjacent',
        `The network ${network} is not on the link ${link.name}.`,
        'Choose a link of that network, or add the network to the link first.',
      ),
    ];
  }
  const hop = subnetOfHop(plan, route);
  if (hop === undefined || hop.subnet.networkId === table.networkId) return [];
  return [
    wrong(
      route.nextHop === 'nat' ? 'natDeviceId' : 'firewallId',
      'route.not-adjacent',
      [
        `${hop.device.name} is in the network ${byId(plan.networks, hop.subnet.networkId)?.name ?? ''}, and this table is of ${network}:`,
        'the next hop must be adjacent.',
      ].join(' '),
      `Choose a device in ${network}, or route over the link that leads to that network.`,
    ),
  ];
}

/** A device whose own subnet sends it back what it was to forward. */
function toItself(plan: Plan, route: Route, table: RouteTable): FieldProblem[] {
  const hop = subnetOfHop(plan, route);
  if (hop === undefined || hop.subnet.routeTableId !== table.id || rangeOf(route).length > 0) return [];
  return [
    wrong(
      'routeTableId',
      'route.itself',
      `The subnet of ${hop.device.name} uses this table, so a default route to ${hop.device.name} would lead back to itself.`,
      'Give the subnet of the device a table of its own that leads on.',
    ),
  ];
}
