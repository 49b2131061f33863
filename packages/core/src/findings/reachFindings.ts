import { MatrixMaker } from '../reach/index.js';
import type { Forwarding } from '../forwarding/index.js';
import type { MatrixCell } from '../reach/index.js';
import type { Cluster, Network, Plan } from '../plan/index.js';
import { byId } from '../plan/index.js';
import { causeOf } from '../road/index.js';
import { finding } from './finding.js';
import type { Finding, Subject } from './finding.js';

type Parts = Pick<Plan, 'clusters' | 'networks' | 'needs' | 'allocations'>;

/** Clusters named in one finding; the others are counted. */
const MAX_NAMED = 5;

interface Failing {
  readonly cluster: Cluster;
  readonly cell: MatrixCell;
}

/** What clusters cannot reach: needs of theirs, and the internet where their network has an egress. One finding for each cause, whoever it meets. */
export function reachFindings(parts: Parts, { forwarding }: { readonly forwarding: Forwarding }): readonly Finding[] {
  const wanting = parts.clusters.filter((cluster) => isAsking(parts, cluster));
  if (wanting.length === 0) return [];
  const maker = new MatrixMaker(forwarding);
  const columns = parts.needs.map((need) => ({ kind: 'need', label: need.name, need }) as const);
  const failing = new Map<string, Failing[]>();
  const note = (key: string, cluster: Cluster, cell: MatrixCell | undefined) => {
    // Clusters without ranges are told so elsewhere.
    if (cell === undefined || cell.verdict === 'pass' || cell.verdict === 'unknown') return;
    failing.set(key, [...(failing.get(key) ?? []), { cluster, cell }]);
  };
  for (const cluster of wanting) {
    const cells = maker.row(cluster, columns);
    cells.forEach((cell, at) => note(columns[at]?.need.id ?? '', cluster, cell));
    const network = byId(parts.networks, cluster.networkId);
    if (network !== undefined && hasEgress(network)) {
      const [internet] = maker.row(cluster, [{ kind: 'internet', label: '' }]);
      // Behind a firewall only what is needed passes; there a refusal is meant.
      if (network.internetEgress !== 'hub' || internet?.verdict !== 'refused')
        note(`egress ${network.id}`, cluster, internet);
    }
  }
  return [...failing].flatMap(([key, found]) => byCause(found).map((group, at) => unreached(parts, key, group, at)));
}

/** An internet egress that is decided and not none. */
function hasEgress({ internetEgress }: Network): boolean {
  return internetEgress !== 'undecided' && internetEgress !== 'none';
}

function isAsking({ needs, networks }: Parts, cluster: Cluster): boolean {
  const network = byId(networks, cluster.networkId);
  return needs.length > 0 || (network !== undefined && hasEgress(network));
}

/** Those that fail in the same way: the same entities decide. */
function byCause(found: readonly Failing[]): Failing[][] {
  const groups = new Map<string, Failing[]>();
  for (const each of found) {
    const cause = causeOf(each.cell.why);
    groups.set(cause, [...(groups.get(cause) ?? []), each]);
  }
  return [...groups.values()];
}

function unreached({ needs, networks }: Parts, key: string, group: readonly Failing[], at: number): Finding {
  const [first] = group as [Failing];
  const need = byId(needs, key);
  const named = group.slice(0, MAX_NAMED);
  const clusters = named.map(({ cluster }) => cluster.name);
  const more = group.length - named.length;
  const subjects: Subject[] = named.map(({ cluster }) => ({ kind: 'clusters', id: cluster.id }));
  const { from, to, why } = first.cell;
  if (need !== undefined)
    return finding(
      'need.unreached',
      'error',
      [{ kind: 'needs', id: need.id }, ...subjects],
      { need: need.name, clusters, more, from, why },
      { part: `${need.id} ${at}`, ask: { from, to } },
    );
  const network = byId(networks, first.cluster.networkId);
  return finding(
    'egress.none',
    'error',
    [{ kind: 'networks', id: network?.id ?? '' }, ...subjects],
    { clusters, more, network: network?.name ?? '', egress: network?.internetEgress ?? '', from, why },
    { part: `${network?.id ?? ''} ${at}`, ask: { from, to } },
  );
}
