import type { Family } from '../address/index.js';
import { byId } from '../plan/index.js';
import type { RouteTable, Subnet } from '../plan/index.js';
import type { ForwardingState } from './forwardingState.js';
import { internetAddresses } from './host.js';

/** Next hops that are followed: far more than any sensible plan has on the way out. */
const MAX_HOPS = 8;

/** Whether packets of a subnet come to the internet by its tables, so that those from there find the way in. */
export function isOnInternet(
  forwarding: ForwardingState,
  networkId: string,
  /** The subnet, or the zone where none is planned. */
  at: Subnet | string,
  family: Family,
): boolean {
  const [address] = internetAddresses(forwarding, family);
  let where = networkId;
  let table: RouteTable | undefined =
    typeof at === 'string' ? forwarding.routes.mainTable(networkId, at) : forwarding.routes.tableOf(at);
  for (let hops = 0; hops < MAX_HOPS && address !== undefined; hops++) {
    const hop = forwarding.routes.lookUp(where, table, address).row?.hop;
    switch (hop?.kind) {
      case 'internet':
        return true;
      case 'firewall':
      case 'nat': {
        const { parts } = forwarding;
        const subnetId = byId(parts.firewalls, hop.id)?.subnetId ?? byId(parts.natDevices, hop.id)?.subnetId ?? '';
        const next = byId(parts.subnets, subnetId);
        if (next === undefined) return false;
        table = forwarding.routes.tableOf(next);
        break;
      }
      case 'link': {
        const next = hop.toNetworkId ?? forwarding.routes.nextHopOnLink(hop.link, where, address);
        if (next === undefined) return false;
        where = next;
        table = forwarding.routes.mainTable(next);
        break;
      }
      default:
        return false;
    }
  }
  return false;
}
