import { formatAddress, formatPrefix } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { prefixesOf, prefixList, rangeOf } from '../plan/index.js';
import type { Forwarding } from './forwarding.js';
import type { Host } from './host.js';
import { RowLookup } from './rowLookup.js';

/** Tells hosts apart as far as forwarding can: by where they are, what is attached to them, and every prefix that rules and routes name. */
export class Distinct {
  private readonly lookup: RowLookup;
  private readonly rows: readonly Prefix[];
  private readonly ranges: RowLookup;

  constructor(private readonly forwarding: Forwarding) {
    const { parts } = forwarding;
    const routes = parts.routes.map(rangeOf);
    const rules = [
      ...parts.filterRules.flatMap(({ peers }) => prefixList(peers)),
      ...parts.firewallRules.flatMap(({ sources, destinations }) => prefixList([...sources, ...destinations])),
      ...parts.prefixSets.flatMap(({ prefixes }) => prefixList(prefixes)),
    ];
    const lists = [
      ...parts.attachments.flatMap(prefixesOf),
      ...parts.clusters.flatMap(({ untranslated }) => prefixList(untranslated)),
    ];
    const spaces = [...parts.inUse, ...parts.subnets, ...parts.blocks].map(rangeOf);
    const members = parts.filterRules.flatMap(({ peerFilterIds }) =>
      peerFilterIds.flatMap((id) => [...forwarding.membersOf(id)]),
    );
    this.rows = unique([...routes, ...rules, ...lists, ...spaces, ...members]);
    this.lookup = new RowLookup(this.rows);
    // A cluster's range that lies on another's can draw its packets away.
    const ranges = parts.clusters.flatMap(({ id, podMode }) =>
      forwarding
        .rangesOf(id)
        .filter(({ purpose }) => purpose !== 'service' && (purpose !== 'pod' || podMode !== 'overlay')),
    );
    this.ranges = new RowLookup(ranges.map(rangeOf));
  }

  keyOf(host: Host): string {
    const node = host.node ?? host;
    const table = this.forwarding.tableOf({ routeTableId: node.subnet?.routeTableId ?? null, networkId: host.networkId, zone: node.subnet?.zone ?? node.zone }); // prettier-ignore
    const filters = this.forwarding.filtersAt(...host.attachable).map(({ filter }) => filter.id);
    const { podMode = '', encapsulation = '', encryption = '' } = host.cluster ?? {};
    return [
      host.kind,
      host.networkId,
      table?.id ?? '',
      node.subnet?.id ?? '',
      String(node.isPublic),
      podMode,
      podMode === 'overlay' ? encapsulation : '',
      encryption,
      host.cluster?.untranslated.join() ?? '',
      ...filters,
      this.around(host.address),
      this.around(node.address),
    ].join(' ');
  }

  private around(address: Address): string {
    const at = this.lookup.best(address);
    const isShared = this.ranges.all(address).length > 1;
    return `${at < 0 ? '' : formatPrefix(this.rows[at] as Prefix)}${isShared ? ` ${formatAddress(address)}` : ''}`;
  }
}

function unique(prefixes: readonly Prefix[]): Prefix[] {
  return [...new Map(prefixes.map((prefix) => [formatPrefix(prefix), prefix])).values()];
}
