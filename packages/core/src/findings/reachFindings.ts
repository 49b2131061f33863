import { MatrixMaker } from '../forwarding/index.js';
import type { Forwarding, MatrixCell } from '../forwarding/index.js';
import type { Cluster, Network, Plan } from '../plan/index.js';
import { byId } from '../plan/index.js';
import { sayNumber } from '../working/index.js';
import { sayReason } from '../english/index.js';
import { causeOf } from '../road/index.js';
import { finding } from './finding.js';
import type { Finding, Subject } from './finding.js';

type Parts = Pick<Plan, 'clusters' | 'networks' | 'needs' | 'allocations'>;

/** Clusters named in one finding; the others are counted. */
const MOST_NAMED = 5;

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
      if (network.egress !== 'hub' || internet?.verdict !== 'refused') note(`egress ${network.id}`, cluster, internet);
    }
  }
  return [...failing].flatMap(([key, found]) =>
    byCause(found).map((group, at) => said(parts, forwarding, key, group, at)),
  );
}

/** An internet egress that is decided and not none. */
function hasEgress({ egress }: Network): boolean {
  return egress !== 'undecided' && egress !== 'none';
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

function said(
  { needs, networks }: Parts,
  forwarding: Forwarding,
  key: string,
  group: readonly Failing[],
  at: number,
): Finding {
  const [first] = group as [Failing];
  const need = byId(needs, key);
  const names = group
    .slice(0, MOST_NAMED)
    .map(({ cluster }) => cluster.name)
    .join(', ');
  const more = group.length > MOST_NAMED ? ` and ${sayNumber(group.length - MOST_NAMED)} more` : '';
  const subjects: Subject[] = group.slice(0, MOST_NAMED).map(({ cluster }) => ({ kind: 'clusters', id: cluster.id }));
  const { from, to, why } = first.cell;
  const say = sayReason(forwarding.parts, why);
  if (need !== undefined)
    return finding('need.unreached', 'error', [{ kind: 'needs', id: need.id }, ...subjects], {
      title: `${need.name} cannot be reached by ${names}${more}`,
      detail: `From ${from}: ${say} Its road offers the smallest changes that let it pass.`,
      part: `${need.id} ${at}`,
      ask: { from, to },
    });
  const network = byId(networks, first.cluster.networkId);
  return finding('egress.none', 'error', [{ kind: 'networks', id: network?.id ?? '' }, ...subjects], {
    title: `${names}${more}: the internet cannot be reached, though the egress of ${network?.name ?? ''} is ${network?.egress ?? ''}`,
    detail: `From ${from}: ${say} Without a way out, nodes cannot pull images (common practice).`,
    part: `${network?.id ?? ''} ${at}`,
    ask: { from, to },
  });
}
