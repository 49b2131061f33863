import { formatPrefix } from '../address/index.js';
import {
  addOperation,
  around,
  byId,
  grouped,
  newId,
  rangeOf,
  readFieldChecked,
  rulesOf,
  setOperation,
  withFallbacks,
} from '../plan/index.js';
import type { Allocation, Cluster, Kind, Operation, Plan, Purpose } from '../plan/index.js';

/** Columns of a list of clusters that are no field of a cluster: its ranges, and an address block of its network. */
const rangeColumns = {
  '+node': { label: 'Node ranges', purpose: 'node' },
  '+pod': { label: 'Pod range', purpose: 'pod' },
  '+service': { label: 'Service range', purpose: 'service' },
  '+entry': { label: 'Entry range', purpose: 'entry' },
  '+block': { label: 'Address block of the network', purpose: undefined },
} as const satisfies Readonly<Record<string, { readonly label: string; readonly purpose: Purpose | undefined }>>;

/** A column for ranges. */
export type RangeColumn = keyof typeof rangeColumns;

/** What lists call whose addresses these are, and what they call addresses: "Node CIDR", "pod_subnet", "Services IP range". */
const owners: Readonly<Record<string, RangeColumn>> = {
  node: '+node',
  nodes: '+node',
  worker: '+node',
  workers: '+node',
  machine: '+node',
  machines: '+node',
  host: '+node',
  hosts: '+node',
  pod: '+pod',
  pods: '+pod',
  cluster: '+pod',
  container: '+pod',
  containers: '+pod',
  service: '+service',
  services: '+service',
  svc: '+service',
  clusterip: '+service',
  entry: '+entry',
  ingress: '+entry',
  loadbalancer: '+entry',
  lb: '+entry',
  network: '+block',
  vpc: '+block',
  virtualnetwork: '+block',
};
const addresses = /(?:cidrs?|ranges?|subnets?|prefix(?:es)?|networks?|blocks?|addresses|ips)(?:ipv[46])?$/;
const family = /(?:ipv[46]|ip|address)$/;

/** The column for ranges that a heading means, as letters and digits alone; undefined where it is none, or of nobody in particular. */
export function rangeColumnNamed(plain: string): RangeColumn | undefined {
  let rest = plain;
  // "podsubnetcidr" has two words for addresses: one is taken off after the other.
  while (addresses.test(rest)) {
    rest = rest.replace(addresses, '');
    const owner = [rest, rest.replace(family, '')].find((each) => Object.hasOwn(owners, each));
    if (owner !== undefined) return owners[owner];
  }
  return undefined;
}

/** Whether a name is that of a column for ranges. */
export function isRangeColumn(name: string): name is RangeColumn {
  return Object.hasOwn(rangeColumns, name);
}

/** The prefixes of one row by column. */
export type RowRanges = ReadonlyMap<RangeColumn, readonly string[]>;

type Report = (field: string, message: string, fix: string) => void;

/** The prefixes that a cell names, as texts: set apart by commas, semicolons, bars or spaces. */
export function rangeTexts(cell: unknown): string[] {
  return (Array.isArray(cell) ? cell.map(String) : String(cell).split(/[\s,;|]+/)).filter((text) => text !== '');
}

/** Reads the prefixes of a cell: set apart by commas, semicolons, bars or spaces, several for several zones. */
export function readRanges(plan: Plan, column: RangeColumn, cell: unknown, report: Report): string[] {
  const rule = rulesOf('allocations').prefix;
  if (rule === undefined) return [];
  return rangeTexts(cell).flatMap((text) => {
    const read = readFieldChecked(plan, rule, text);
    if (read.ok) return [formatPrefix(rangeOf({ prefix: read.value as string }))];
    report(rangeColumns[column].label, read.problem.message, read.problem.fix);
    return [];
  });
}

/** The ranges of a cluster as operations, with what each is in words; problems are reported and give none. */
export function rangeOperations(
  plan: Plan,
  cluster: Pick<Cluster, 'id' | 'siteId' | 'networkId'>,
  ranges: RowRanges,
  report: Report,
): { readonly operations: readonly Operation[]; readonly messages: readonly string[] } {
  const operations: Operation[] = [];
  const messages: string[] = [];
  const site = byId(plan.sites, cluster.siteId);
  const zones = site?.zones ?? [];
  // Where subnets span the region, several are filled one after the other.
  const isOneForAll = byId(plan.profiles, site?.profileId ?? '')?.subnetScope === 'region';
  const standing = grouped(plan.allocations, 'clusterId').get(cluster.id) ?? [];
  for (const [column, prefixes] of ranges) {
    const { label, purpose } = rangeColumns[column];
    if (purpose === undefined) continue;
    for (const family of [4, 6] as const) {
      const own = prefixes.filter((prefix) => rangeOf({ prefix }).family === family);
      const isRow = own.length > 1 && isOneForAll && (purpose === 'node' || purpose === 'entry');
      if (own.length > 1 && own.length !== zones.length && !isRow) {
        report(
          label,
          `${own.length} ${purpose} ranges, and the site has ${zones.length} ${zones.length === 1 ? 'zone' : 'zones'}.`,
          'Give one for each zone, in the order of the zones, or one for the whole cluster.',
        );
        continue;
      }
      own.forEach((prefix, at) => {
        const [zone, turn] = own.length === 1 ? ['', 1] : isRow ? ['', at + 1] : [zones[at] ?? '', 1];
        const is = (each: Allocation) =>
          each.purpose === purpose && each.zone === zone && each.turn === turn && rangeOf(each).family === family;
        const known = standing.find(is);
        if (known?.prefix === prefix) return;
        messages.push(`${purpose} range ${prefix}${zone === '' ? '' : ` in ${zone}`}`);
        operations.push(
          known === undefined
            ? addOperation(
                'allocations',
                withFallbacks('allocations', { id: newId(), clusterId: cluster.id, purpose, zone, prefix, turn }),
              )
            : setOperation('allocations', known.id, { prefix }),
        );
      });
    }
  }
  return { operations, messages };
}

/** Address blocks of a network that no block of it holds yet. */
export function blockOperations(plan: Plan, networkId: string, ranges: RowRanges, made: Set<string>): Operation[] {
  const own = grouped(plan.blocks, 'networkId').get(networkId) ?? [];
  return (ranges.get('+block') ?? []).flatMap((prefix) => {
    const key = `${networkId} ${prefix}`;
    if (made.has(key) || around(own, rangeOf({ prefix })).length > 0) return [];
    made.add(key);
    return [addOperation('blocks', withFallbacks('blocks', { id: newId(), networkId, prefix }))];
  });
}

/** The columns for ranges that rows of a kind may have. */
export function rangeColumnsOf(kind: Kind): readonly (readonly [RangeColumn, string])[] {
  return kind === 'clusters'
    ? (Object.keys(rangeColumns) as RangeColumn[]).map((name) => [name, rangeColumns[name].label] as const)
    : [];
}
